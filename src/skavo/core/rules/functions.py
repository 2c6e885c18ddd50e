"""The named functions of the rule language, one row each: words, types, computation.

Standard library only: the phone loads this. A function is called with values that are all present;
the evaluator answers *missing* when one of them is missing, unless `passes_missing` says that the
function itself passes over missing values.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from itertools import cycle
from math import ceil, floor
from typing import Any

from skavo.core.rules.check_digits import ALGORITHMS, check_digit_ok
from skavo.core.rules.geodesy import distance_m, is_inside, length_m, size_m2
from skavo.core.rules.values import MOST_CHARACTERS, Duration, Number, as_decimal, tidy, total


@dataclass(frozen=True)
class Function:
    """`parameters` are type names; the last one repeats if `variadic`.

    The type *amount* is a number or a quantity, and a result *amount* is what the first value was. `dimension` is that
    of a resulting number; `for_path` names the function that takes its place where a path is given.
    """

    name: str
    parameters: tuple[str, ...]
    result: str
    compute: Callable[..., Any]
    words: str
    variadic: bool = False
    passes_missing: bool = False
    dimension: str | None = None
    for_path: str = ""


SECONDS = {"minute": 60, "hour": 3600, "day": 86400, "week": 604800}
MONTHS = {"month": 1, "year": 12}


def duration_of(amount: Number, unit: str) -> Duration | None:
    """`30`, `minutes` gives a Duration; None where `unit` is not a unit of time."""
    singular = unit.removesuffix("s")
    if singular in SECONDS:
        return Duration(seconds=int(amount * SECONDS[singular]))
    if singular in MONTHS and amount == int(amount):
        return Duration(months=int(amount) * MONTHS[singular])
    return None


def shift_date(start: date, duration: Duration, sign: int) -> date | None:
    """`start` moved by `duration`; a day that the new month lacks becomes that month's last day.

    A date-time keeps its offset. Missing where the calendar ends (years 1 to 9999).
    """
    month_index = start.year * 12 + start.month - 1 + sign * duration.months
    year, month = divmod(month_index, 12)
    try:
        day = min(start.day, _days_in_month(year, month + 1))
        return start.replace(year=year, month=month + 1, day=day) + timedelta(seconds=sign * duration.seconds)
    except (ValueError, OverflowError):
        return None


def _days_in_month(year: int, month: int) -> int:
    following = date(year + month // 12, month % 12 + 1, 1)
    return (following - timedelta(days=1)).day


def completed_months(start: date, end: date) -> int:
    """Whole months from `start` to `end`; negative when `end` is earlier."""
    if end < start:
        return -completed_months(end, start)
    months = (end.year - start.year) * 12 + end.month - start.month
    reached = shift_date(start, Duration(months=months), 1)
    return months - 1 if reached is not None and reached > end else months


def mask_example(mask: str) -> str:
    """A text that fits a mask, for whoever does not read masks.

    >>> mask_example("A*_999")
    'KB_204'
    """
    letters, digits = cycle("KBMTRS"), cycle("2045718")
    signs = {"A": letters, "9": digits, "*": letters}
    return "".join(next(signs[c]) if c in signs else c for i, c in enumerate(mask) if c != "?" or not i)


def _round(x: Number, places: Number) -> Number | None:
    if not -20 <= places <= 20:
        return None
    scale = Fraction(10) ** int(places)
    away = floor(abs(Fraction(x)) * scale + Fraction(1, 2))
    return tidy((away if x >= 0 else -away) / scale)


def _remainder(a: Number, b: Number) -> Number | None:
    return None if b == 0 else tidy(Fraction(a) - Fraction(b) * floor(Fraction(a) / Fraction(b)))


def _check_digit_ok(text: str, algorithm: str) -> bool | None:
    return check_digit_ok(text, algorithm) if algorithm in ALGORITHMS else None


def as_text(value: Any) -> str:
    """A value as a text, numbers without an exponent."""
    number = as_decimal(value)
    return format(number, "f") if isinstance(number, Decimal) else str(number)


def _join(*parts: Any) -> str | None:
    joined = "".join(as_text(p) for p in parts)
    return joined if len(joined) <= MOST_CHARACTERS else None


FUNCTIONS: dict[str, Function] = {
    f.name: f
    for f in (
        Function("round", ("amount", "number"), "amount", _round, "x rounded to n places, halves away from zero"),
        Function("floor", ("number",), "number", floor, "the whole number at or below x"),
        Function("ceiling", ("number",), "number", ceil, "the whole number at or above x"),
        Function("abs", ("amount",), "amount", abs, "x without its sign"),
        Function("remainder", ("number", "number"), "number", _remainder, "what is left of a after dividing by b"),
        Function("smallest", ("amount",), "amount", min, "the smallest", variadic=True, passes_missing=True),
        Function("largest", ("amount",), "amount", max, "the largest", variadic=True, passes_missing=True),
        Function("length", ("text",), "number", len, "how many characters", for_path="path_length"),
        Function("upper", ("text",), "text", str.upper, "in capital letters"),
        Function("lower", ("text",), "text", str.lower, "in small letters"),
        Function("trim", ("text",), "text", str.strip, "without spaces at the ends"),
        Function("join", ("any",), "text", _join, "one text of several values", variadic=True),
        Function("check_digit_ok", ("text", "text"), "yes/no", _check_digit_ok, "whether the check digit fits"),
        Function("days", ("date", "date"), "number", lambda a, b: (b - a).days, "completed days from a to b"),
        Function("months", ("date", "date"), "number", completed_months, "completed months from a to b"),
        Function("years", ("date", "date"), "number", lambda a, b: int(completed_months(a, b) / 12), "completed years from a to b"),
        Function("year", ("date",), "number", lambda d: d.year, "the year of a date"),
        Function("month", ("date",), "number", lambda d: d.month, "the month of a date, 1 to 12"),
        Function("day", ("date",), "number", lambda d: d.day, "the day of a date, 1 to 31"),
        Function("weekday", ("date",), "number", lambda d: d.isoweekday(), "1 is Monday, 7 is Sunday"),
        Function("distance", ("point", "point"), "number", distance_m, "metres between two points", dimension="length"),
        Function("path_length", ("path",), "number", length_m, "metres along a path", dimension="length"),
        Function("size", ("area",), "number", size_m2, "square metres of an area", dimension="area"),
        Function("inside", ("point", "area"), "yes/no", is_inside, "whether a point lies in an area"),
        Function("accuracy", ("point",), "number", lambda p: _decimal(p.accuracy), "how many metres a point may be off", dimension="length"),
    )
}  # fmt: skip
HIDDEN_FUNCTIONS = {"path_length"}


def _decimal(x: float | None) -> Number | None:
    return None if x is None else tidy(Decimal(repr(x)))


def _mean(values: list[Number]) -> Number:
    return tidy(Fraction(total(values)) / len(values))


# What an aggregate makes of the values that are present; no value at all is missing.
AGGREGATES: dict[str, Callable[[list[Any]], Any]] = {
    "sum": total,
    "mean": _mean,
    "lowest": min,
    "highest": max,
    "first": lambda values: values[0],
    "different": lambda values: len(set(values)) == len(values),
}
AGGREGATE_WORDS = {
    "sum": "all of them added up",
    "mean": "their mean",
    "lowest": "the lowest of them",
    "highest": "the highest of them",
    "first": "the first that is there",
    "different": "whether no two of them are the same",
    "count": "how many rows, or how many codes",
    "any": "whether at least one row is so",
    "every": "whether every row is so",
}
ROW_TESTS = ("count", "any", "every")
