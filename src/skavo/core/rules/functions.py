"""The named functions of the rule language, one row each: words, types, computation.

Standard library only: the phone loads this. A function is called with values that are all present;
the evaluator answers *missing* when one of them is missing, unless `passes_missing` says that the
function itself passes over missing values.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import ROUND_CEILING, ROUND_FLOOR, ROUND_HALF_UP, Decimal
from functools import lru_cache
from typing import Any

Number = int | Decimal


@dataclass(frozen=True)
class Duration:
    """A span of time: whole `months` and `seconds` are kept apart, since months differ in length."""

    months: int = 0
    seconds: int = 0


@dataclass(frozen=True)
class Function:
    """`parameters` are type names; the last one repeats if `variadic`."""

    name: str
    parameters: tuple[str, ...]
    result: str
    compute: Callable[..., Any]
    words: str
    variadic: bool = False
    passes_missing: bool = False


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


def shift_date(start: date, duration: Duration, sign: int) -> date:
    """`start` moved by `duration`; a day that the new month lacks becomes that month's last day."""
    month_index = start.year * 12 + start.month - 1 + sign * duration.months
    year, month = divmod(month_index, 12)
    day = min(start.day, _days_in_month(year, month + 1))
    return start.replace(year=year, month=month + 1, day=day) + timedelta(seconds=sign * duration.seconds)


def _days_in_month(year: int, month: int) -> int:
    following = date(year + month // 12, month % 12 + 1, 1)
    return (following - timedelta(days=1)).day


def completed_months(start: date, end: date) -> int:
    """Whole months from `start` to `end`; negative when `end` is earlier."""
    if end < start:
        return -completed_months(end, start)
    months = (end.year - start.year) * 12 + end.month - start.month
    return months - 1 if shift_date(start, Duration(months=months), 1) > end else months


@lru_cache(maxsize=512)
def mask_pattern(mask: str) -> re.Pattern[str]:
    """The pattern of a mask: `A` letter, `9` digit, `*` letter or digit, `?` makes the one before optional."""
    pieces = {"A": r"[^\W\d_]", "9": r"\d", "*": r"[^\W_]"}
    parts = ["?" if c == "?" and i else pieces.get(c, re.escape(c)) for i, c in enumerate(mask)]
    return re.compile("".join(parts))


def _round(x: Number, places: Number) -> Number:
    return tidy(Decimal(x).quantize(Decimal(1).scaleb(-int(places)), rounding=ROUND_HALF_UP))


def _floor(x: Number) -> int:
    return int(Decimal(x).to_integral_value(ROUND_FLOOR))


def _ceiling(x: Number) -> int:
    return int(Decimal(x).to_integral_value(ROUND_CEILING))


def _remainder(a: Number, b: Number) -> Number | None:
    return None if b == 0 else tidy(Decimal(a) - Decimal(b) * _floor(Decimal(a) / Decimal(b)))


def tidy(x: Decimal) -> Number:
    """A whole Decimal as int, anything else as it is, so that equal numbers look equal."""
    return int(x) if x == x.to_integral_value() else x


def luhn_ok(text: str) -> bool:
    """Check digit by ISO/IEC 7812-1 annex B; separators are not allowed."""
    if not text.isdecimal():
        return False
    doubled = [int(c) * (1 + i % 2) for i, c in enumerate(reversed(text))]
    return sum(d - 9 if d > 9 else d for d in doubled) % 10 == 0


_ALGORITHMS: dict[str, Callable[[str], bool]] = {"luhn": luhn_ok}


def _check_digit_ok(text: str, algorithm: str) -> bool | None:
    check = _ALGORITHMS.get(algorithm)
    return None if check is None else check(text)


def _length(x: str) -> int:
    return len(x)


def _join(*parts: Any) -> str:
    return "".join(str(p) for p in parts)


FUNCTIONS: dict[str, Function] = {
    f.name: f
    for f in (
        Function("round", ("number", "number"), "number", _round, "x rounded to n places, halves away from zero"),
        Function("floor", ("number",), "number", _floor, "the whole number at or below x"),
        Function("ceiling", ("number",), "number", _ceiling, "the whole number at or above x"),
        Function("abs", ("number",), "number", abs, "x without its sign"),
        Function("remainder", ("number", "number"), "number", _remainder, "what is left of a after dividing by b"),
        Function("smallest", ("number",), "number", min, "the smallest", variadic=True, passes_missing=True),
        Function("largest", ("number",), "number", max, "the largest", variadic=True, passes_missing=True),
        Function("length", ("text",), "number", _length, "how many characters"),
        Function("upper", ("text",), "text", str.upper, "in capital letters"),
        Function("lower", ("text",), "text", str.lower, "in small letters"),
        Function("trim", ("text",), "text", str.strip, "without spaces at the ends"),
        Function("join", ("any",), "text", _join, "one text of several", variadic=True),
        Function("check_digit_ok", ("text", "text"), "yes/no", _check_digit_ok, "whether the check digit fits"),
        Function("days", ("date", "date"), "number", lambda a, b: (b - a).days, "completed days from a to b"),
        Function("months", ("date", "date"), "number", completed_months, "completed months from a to b"),
        Function("years", ("date", "date"), "number", lambda a, b: int(completed_months(a, b) / 12), "completed years"),
        Function("year", ("date",), "number", lambda d: d.year, "the year of a date"),
        Function("month", ("date",), "number", lambda d: d.month, "the month of a date, 1 to 12"),
        Function("day", ("date",), "number", lambda d: d.day, "the day of a date, 1 to 31"),
        Function("weekday", ("date",), "number", lambda d: d.isoweekday(), "1 is Monday, 7 is Sunday"),
    )
}


def _mean(values: list[Number]) -> Number:
    return tidy(Decimal(sum(values)) / len(values))


# What an aggregate makes of the values that are present; no value at all is missing.
AGGREGATES: dict[str, Callable[[list[Any]], Any]] = {
    "sum": sum,
    "mean": _mean,
    "lowest": min,
    "highest": max,
    "first": lambda values: values[0],
}
ROW_TESTS = ("count", "any", "every")
