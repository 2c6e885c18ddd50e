"""Rules with what they give, for three sets of answers: everything answered, little answered, nothing answered.

The same table is run in CPython and, in the browser, in Pyodide: both must give just this. A value is written as the
interview hands it in (kinds.py): numbers that are not whole as text. N stands for missing.
"""

from __future__ import annotations

from typing import Any

from skavo.core.questionnaire.script import Code, CodeList, Part, Script

N = None

FULL: dict[str, Any] = {
    "a": 7, "b": 3, "d": "2.5", "e": "0.1", "t": "KE4X_123456", "u": " Bo ", "y": True, "z": False, "c": "bicycle",
    "m": ["saw", "vice"], "day": "2027-01-31", "day2": "2028-02-29", "clock": "14:30", "n": 3,
    "staff/1/age": 30, "staff/1/hours": "40.5", "staff/1/role": "owner",
    "staff/2/age": 12, "staff/2/role": "mender",
    "staff/3/hours": 10, "staff/3/role": {"special": "refused"},
}  # fmt: skip
LITTLE: dict[str, Any] = {
    "a": 0, "b": {"special": "dont_know"}, "d": {"special": "refused"}, "y": False, "c": "3", "m": ["none"], "n": 1,
    "staff/1/age": 15,
}  # fmt: skip
ANSWER_SETS: list[dict[str, Any]] = [FULL, LITTLE, {}]

# rule: what it gives for FULL, LITTLE, nothing
CASES: dict[str, tuple[Any, Any, Any]] = {
    # numbers
    "a + b": (10, N, N),
    "a - b": (4, N, N),
    "a * b": (21, N, N),
    "a / b": ("2.333333333333333333333333333", N, N),
    "b / a": ("0.4285714285714285714285714286", N, N),
    "a / 0": (N, N, N),
    "1 / 3 + 1 / 3 + 1 / 3 = 1": (True, True, True),
    "d / 3 * 3 is d": (True, N, N),
    "a / 3 + 0.5": ("2.833333333333333333333333333", "0.5", N),
    "a / 3 - 1 / 3 * a": (0, 0, N),
    "a / 3 > 2.33333": (True, False, N),
    "round(a / 3, 2) + floor(a / 3) + ceiling(a / 3)": ("7.33", 0, N),
    "abs(-a / 3) = remainder(a / 3, 3)": (True, True, N),
    "smallest(a / 3, 2.4)": ("2.333333333333333333333333333", 0, "2.4"),
    "sum(staff.hours) / 7 * 7 = sum(staff.hours)": (True, N, N),
    "join(a / 3)": ("2.333333333333333333333333333", "0", N),
    "d + e": ("2.6", N, N),
    "e + e + e": ("0.3", N, N),
    "0.1 + 0.2 = 0.3": (True, True, True),
    "-a": (-7, 0, N),
    "a - -1": (8, 1, N),
    "2 + 3 * 4 - 6 / 4": ("12.5", "12.5", "12.5"),
    "(2 + 3) * 4": (20, 20, 20),
    "round(d, 0)": (3, N, N),
    "round(a / b, 3)": ("2.333", N, N),
    "round(-d, 0)": (-3, N, N),
    "round(1250, -2)": (1300, 1300, 1300),
    "floor(d)": (2, N, N),
    "ceiling(d)": (3, N, N),
    "floor(-d)": (-3, N, N),
    "abs(b - a)": (4, N, N),
    "remainder(a, b)": (1, N, N),
    "remainder(-a, b)": (2, N, N),
    "remainder(a, 0)": (N, N, N),
    "smallest(a, b, d)": ("2.5", 0, N),
    "largest(a, b, d)": (7, 0, N),
    # comparing
    "a > b": (True, N, N),
    "a >= 7": (True, False, N),
    "a < 7": (False, True, N),
    "a <= 7": (True, True, N),
    "a = 7": (True, False, N),
    "a != 7": (False, True, N),
    "a is b": (False, N, N),
    "a is not b": (True, N, N),
    "a between 0 and 7": (True, True, N),
    "a between b and 10": (True, N, N),
    "a between 8 and b": (False, False, N),
    "d = 2.50": (True, N, N),
    "day < day2": (True, N, N),
    "day between 2027-01-01 and 2027-12-31": (True, N, N),
    "clock >= 14:30": (True, N, N),
    "clock < 08:00": (False, N, N),
    # logic
    "y and z": (False, False, N),
    "y or z": (True, N, N),
    "y and a > 3": (True, False, N),
    "z or a > 3": (True, N, N),
    "not y": (False, True, N),
    "not (y and a > 3)": (False, True, N),
    "y is yes": (True, False, N),
    "y is no": (False, True, N),
    "y is z": (False, N, N),
    "if y then a else b": (7, N, N),
    "if a > 3 then 1 else 2": (1, 2, N),
    "if not y then a + 1 else 0": (0, 1, N),
    # codes
    "c is bicycle": (True, False, N),
    "c is 3": (False, True, N),
    "c is not bicycle": (False, True, N),
    "c is one of (bicycle, phone)": (True, False, N),
    "c is none of (bicycle, phone)": (False, True, N),
    "m includes saw": (True, False, N),
    "m includes none": (False, True, N),
    "m includes any of (vice, none)": (True, True, N),
    "m includes all of (saw, vice)": (True, False, N),
    "m includes only (saw, vice)": (True, False, N),
    "count(m)": (2, 1, N),
    "count(m) > 1": (True, False, N),
    "label(c)": ("Bicycles", "Three", N),
    # answered or not
    "a is answered": (True, True, False),
    "b is answered": (True, False, False),
    "b is missing": (False, True, True),
    "b is not known": (False, True, False),
    "d is refused": (False, True, False),
    "d is not known": (False, False, False),
    "a was asked": (True, True, True),
    "skipped was asked": (True, False, False),
    "m is answered": (True, True, False),
    # text
    'length(u)': (4, N, N),
    'length(trim(u))': (2, N, N),
    'upper(trim(u))': ("BO", N, N),
    'lower(t)': ("ke4x_123456", N, N),
    'join(trim(u), "-", a)': ("Bo-7", N, N),
    't matches "****_999999"': (True, N, N),
    't matches "AA9A_999999"': (True, N, N),
    't matches "9999_999999"': (False, N, N),
    't matches pattern "[A-Z0-9]{4}_[0-9]+"': (True, N, N),
    't is "KE4X_123456"': (True, N, N),
    'check_digit_ok("79927398713", "luhn")': (True, True, True),
    'check_digit_ok("79927398710", "luhn")': (False, False, False),
    'check_digit_ok(t, "luhn")': (False, N, N),
    # time
    "days(day, day2)": (394, N, N),
    "months(day, day2)": (13, N, N),
    "years(day, day2)": (1, N, N),
    "months(day2, day)": (-13, N, N),
    "day + 1 month": ("2027-02-28", N, N),
    "day + 13 months": ("2028-02-29", N, N),
    "day2 + 1 year": ("2029-02-28", N, N),
    "day - 31 days": ("2026-12-31", N, N),
    "day + 2 weeks": ("2027-02-14", N, N),
    "year(day2)": (2028, N, N),
    "month(day2)": (2, N, N),
    "day(day2)": (29, N, N),
    "weekday(day2)": (2, N, N),
    # rosters
    "different(a, b, n)": (False, N, N),
    "different(a, b, 9)": (True, N, N),
    "occurs(3, a, b, n)": (2, 0, 0),
    "occurs(yes, y, z)": (1, 0, 0),
    "different(staff.age)": (True, True, N),
    "different(staff.hours where age > 3)": (True, N, N),
    "count(staff)": (3, 1, 0),
    "count(staff where age >= 15)": (1, 1, 0),
    "count(staff where age is missing)": (1, 0, 0),
    "sum(staff.hours)": ("50.5", N, N),
    "sum(staff.hours where role is owner)": ("40.5", N, N),
    "sum(staff.hours) / 40": ("1.2625", N, N),
    "mean(staff.hours)": ("25.25", N, N),
    "mean(staff.age)": (21, 15, N),
    "lowest(staff.age)": (12, 15, N),
    "highest(staff.age)": (30, 15, N),
    "first(staff.hours where age is missing)": (10, N, N),
    "first(staff.age where age > 12)": (30, 15, N),
    "any(staff where age < 14)": (True, False, False),
    "any(staff where age > 90)": (N, False, False),
    "every(staff where age > 10)": (N, True, True),
    "every(staff where age > 20)": (False, False, True),
    "count(staff where role is refused)": (1, 0, 0),
    "count(staff where role is not owner)": (1, 0, 0),
    "sum(staff.age) = 42 and count(staff) = n": (True, False, N),
}  # fmt: skip


def _part(kind: str, variable: str, level: int = 1, **more: Any) -> Part:
    return Part(id=variable, level=level, kind=kind, variable=variable, wording={"en": variable}, **more)


def _list(name: str, **codes: str) -> CodeList:
    return CodeList(
        name=name, codes=[Code(code=code.lstrip("_"), label={"en": label}) for code, label in codes.items()]
    )


def conformance_script() -> Script:
    """The questions that the rules speak of, then each rule as the derived value r0, r1, …"""
    special = ["dont_know", "refused"]
    parts = [
        _part("whole number", "a"),
        _part("whole number", "b", special_answers=special),
        _part("decimal", "d", special_answers=special),
        _part("decimal", "e"),
        _part("text", "t"),
        _part("text", "u"),
        _part("yes/no", "y"),
        _part("yes/no", "z"),
        _part("single answer", "c", code_list="trade"),
        _part("multiple answer", "m", code_list="tool"),
        _part("date", "day"),
        _part("date", "day2"),
        _part("time", "clock"),
        _part("text", "skipped", asked_when="a > 3"),
        _part("whole number", "n"),
        _part("roster", "staff", repeated="n times"),
        _part("whole number", "age", 2),
        _part("decimal", "hours", 2),
        _part("single answer", "role", 2, code_list="role", special_answers=special),
    ]
    parts += [_part("derived value", f"r{i}", derived=rule) for i, rule in enumerate(CASES)]
    lists = [
        _list("trade", bicycle="Bicycles", phone="Phones", _3="Three"),
        _list("tool", saw="Saw", vice="Vice", none="None"),
        _list("role", owner="Owner", mender="Mender"),
    ]
    return Script(name="conformance", languages=["en"], parts=parts, code_lists=lists)


def expected(number: int) -> dict[str, Any]:
    """What the derived values are for ANSWER_SETS[number], missing ones left out."""
    values = {f"r{i}": results[number] for i, results in enumerate(CASES.values())}
    return {name: value for name, value in values.items() if value is not None}
