"""Distances and areas, check digits, exact decimals and dates, against what others publish or compute."""

from __future__ import annotations

import random
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pyproj import Geod
from stdnum import luhn, verhoeff
from stdnum.iso7064 import mod_11_2, mod_11_10, mod_37_2, mod_37_36, mod_97_10

from skavo.core.rules.check import check_rule
from skavo.core.rules.check_digits import ALGORITHMS, check_digit_ok
from skavo.core.rules.evaluate import bind
from skavo.core.rules.functions import FUNCTIONS, completed_months, shift_date
from skavo.core.rules.geodesy import distance_m, is_inside, length_m, size_m2
from skavo.core.rules.types import Scope
from skavo.core.rules.values import Area, Duration, Path, Point

GLOBE = Geod(ellps="WGS84")  # pyproj, geodesics after Karney 2013


def constant(rule: str) -> Any:
    tree, faults = check_rule(rule, Scope({}, lambda name: []), None)
    assert tree is not None, faults
    return bind(tree)(None, ())  # type: ignore[arg-type]


@given(st.floats(-89.9, 89.9), st.floats(-180, 180), st.floats(-40, 40), st.floats(-120, 120))
def test_a_distance_is_that_of_pyproj_to_the_millimetre(lat: float, lon: float, north: float, east: float) -> None:
    a, b = Point(lat, lon), Point(max(-89.9, min(89.9, lat + north)), (lon + east + 180) % 360 - 180)
    expected = GLOBE.inv(a.longitude, a.latitude, b.longitude, b.latitude)[2]
    found = distance_m(a, b)
    assert found is not None and float(found) == pytest.approx(expected, abs=0.0011)


def test_vincenty_s_own_example_line() -> None:
    """One degree of longitude on the equator is a(π/180): 111 319.491 m, from the definition of WGS 84."""
    assert distance_m(Point(0, 0), Point(0, 1)) == Decimal("111319.491")


def test_points_opposite_each_other_are_not_guessed() -> None:
    assert distance_m(Point(0.0, 0.0), Point(0.5, 179.7)) is None


@pytest.mark.parametrize("degrees", [0.0002, 0.002, 0.02, 0.2])
def test_an_area_is_that_of_pyproj(degrees: float) -> None:
    rng = random.Random(1)
    for _ in range(60):
        lat, lon, s = rng.uniform(-75, 75), rng.uniform(-180, 180), degrees
        corners = [(lat, lon), (lat + s, lon + 0.3 * s), (lat + 0.8 * s, lon + s), (lat - 0.1 * s, lon + 0.9 * s)]
        expected = abs(GLOBE.polygon_area_perimeter([c[1] for c in corners], [c[0] for c in corners])[0])
        found = size_m2(Area(tuple(Point(*c) for c in corners)))
        assert found is not None and float(found) == pytest.approx(expected, rel=1e-6, abs=0.02)


def test_a_path_is_as_long_as_its_legs() -> None:
    points = tuple(Point(0.01 * i, 0.02 * i) for i in range(6))
    legs = GLOBE.line_length([p.longitude for p in points], [p.latitude for p in points])
    assert float(length_m(Path(points)) or 0) == pytest.approx(legs, abs=0.005)


def test_inside_agrees_with_a_square_also_across_the_date_line() -> None:
    square = Area(tuple(Point(lat, lon) for lat, lon in ((-1, 179), (-1, -179), (1, -179), (1, 179))))
    assert [is_inside(Point(0, lon), square) for lon in (180, -179.5, 178.9, 0)] == [True, True, False, False]
    assert is_inside(Point(1, 180), square) is True
    assert is_inside(Point(0, 0), Area((Point(0, 0), Point(1, 1)))) is None


@pytest.mark.parametrize(
    ("name", "module"),
    [("luhn", luhn), ("verhoeff", verhoeff), ("mod 11-2", mod_11_2), ("mod 37-2", mod_37_2), ("mod 97-10", mod_97_10), ("mod 11-10", mod_11_10), ("mod 37-36", mod_37_36)],
)  # fmt: skip
def test_check_digits_agree_with_python_stdnum(name: str, module: Any) -> None:
    rng = random.Random(2)
    alphabet = "0123456789ABCXYZ" if "37" in name else "0123456789"
    make = getattr(module, "calc_check_digit", None) or module.calc_check_digits
    for _ in range(400):
        body = "".join(rng.choice(alphabet) for _ in range(rng.randint(3, 14)))
        right = body + make(body)
        assert ALGORITHMS[name](right)
        place = rng.randrange(len(body))
        other = rng.choice([c for c in alphabet if c != right[place]])
        wrong = right[:place] + other + right[place + 1 :]
        assert ALGORITHMS[name](wrong) == module.is_valid(wrong)


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("luhn", "79927398713"),  # the worked example given with ISO/IEC 7812-1 in textbooks (from memory)
        ("mod 97-10", "79444"),  # ISO/IEC 7064, MOD 97-10: 794 with 44 (from memory)
        ("verhoeff", "2363"),  # 236 with check digit 3, the example usually given (from memory)
        ("mod 11-10", "07945"),  # ISO/IEC 7064, MOD 11,10: 0794 with 5 (from memory)
    ],
)
def test_check_digits_of_worked_examples(name: str, text: str) -> None:
    assert ALGORITHMS[name](text)


@pytest.mark.parametrize("grouped", ["7992 7398 713", "7992-7398-713", "7992.7398/713", "79927398713"])
def test_what_stands_between_groups_is_no_part_of_a_code(grouped: str) -> None:
    """Common practice: numbers are printed in groups, by blanks, hyphens, points or strokes."""
    assert check_digit_ok(grouped, "luhn")
    assert not check_digit_ok(grouped.replace("3", "4", 1), "luhn")


def test_one_digit_changed_is_always_found_by_verhoeff() -> None:
    """Verhoeff 1969: every single error and every swap of neighbours is detected."""
    number = "142857" + verhoeff.calc_check_digit("142857")
    for place in range(len(number)):
        for digit in "0123456789":
            changed = number[:place] + digit + number[place + 1 :]
            assert ALGORITHMS["verhoeff"](changed) == (changed == number)
    for place in range(len(number) - 1):
        swapped = number[:place] + number[place + 1] + number[place] + number[place + 2 :]
        assert ALGORITHMS["verhoeff"](swapped) == (swapped == number)


@given(st.lists(st.decimals(-1000, 1000, places=3), min_size=1, max_size=8))
def test_sums_are_exact_as_fractions_are(numbers: list[Decimal]) -> None:
    rule = " + ".join(f"({'-' if n < 0 else ''}{abs(n):f})" for n in numbers)
    assert Fraction(constant(rule)) == sum((Fraction(n) for n in numbers), Fraction(0))


@given(st.decimals(-1000, 1000, places=4), st.integers(0, 3))
def test_rounding_goes_half_away_from_zero(number: Decimal, places: int) -> None:
    """ISO 80000-1:2009 annex B, rule B in its form for halves: away from zero (as common practice has it)."""
    scaled = Fraction(abs(number)) * 10**places
    expected = Fraction(int(scaled + Fraction(1, 2)), 10**places)
    assert Fraction(FUNCTIONS["round"].compute(number, places)) == (expected if number >= 0 else -expected)


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        ("2024-02-29 + 1 year", date(2025, 2, 28)),  # ISO 8601: no 29 February in 2025
        ("2023-01-31 + 1 month", date(2023, 2, 28)),
        ("2024-01-31 + 1 month", date(2024, 2, 29)),
        ("2000-02-28 + 1 day", date(2000, 2, 29)),  # divisible by 400: a leap year
        ("1900-02-28 + 1 day", date(1900, 3, 1)),  # divisible by 100 only: none
        ("2026-12-28 + 1 week", date(2027, 1, 4)),
        ("weekday(2027-01-01)", 5),
        ("days(2024-01-01, 2025-01-01)", 366),
        ("months(2024-01-31, 2024-02-29)", 1),  # the last day of the month completes it
        ("months(2024-01-30, 2024-02-28)", 0),
        ("years(2004-02-29, 2022-02-28)", 18),
        ("years(2004-03-01, 2022-02-28)", 17),
    ],
)
def test_edge_dates_of_the_calendar(rule: str, expected: Any) -> None:
    assert constant(rule) == expected


@given(st.dates(date(1900, 1, 1), date(2100, 1, 1)), st.integers(0, 1200))
def test_completed_months_and_moving_by_months_belong_together(start: date, months: int) -> None:
    end = shift_date(start, Duration(months=months), 1)
    assert end is not None
    assert completed_months(start, end) == months
    assert completed_months(start, end - timedelta(days=1)) <= max(0, months - 1)


@given(st.dates(date(1900, 1, 1), date(2100, 1, 1)))
def test_weekdays_are_those_of_iso_8601(day: date) -> None:
    assert FUNCTIONS["weekday"].compute(day) == day.isocalendar().weekday
