"""Functions of the rule language, for the solver: exact where it can follow them, else left open within what is sure."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING, Any

import z3

from skavo.core.rehearsal.proof.symbols import NOTHING, Expr, Truth, Value, both, definite, either
from skavo.core.rules.functions import MONTHS, shift_date
from skavo.core.rules.values import Duration

if TYPE_CHECKING:
    from skavo.core.rehearsal.proof.translate import Translator

DAY = 86_400
_MOST_YEARS = 130


def call(tr: Translator, name: str, values: list[Any]) -> Any:
    """The value of a function of values."""
    if name == "join" or not all(isinstance(v, Value) for v in values):
        tr.doubt(f"“{name}” of such values")
        return Value(both(*[v.there for v in values if isinstance(v, Value)]), tr.fresh(z3.IntSort()))
    if name in _EXACT:
        return _EXACT[name](tr, *values)
    there = both(*[v.there for v in values])
    tr.doubt(f"“{name}” is not worked out")
    if name in ("check_digit_ok", "inside"):
        known = tr.fresh(z3.BoolSort())
        return definite(known, there)
    if name in ("upper", "lower", "trim"):
        made = z3.Function(name, z3.IntSort(), z3.IntSort())
        return Value(there, made(values[0].value))
    open_number = tr.fresh(z3.IntSort() if name in ("length", "month", "day") else z3.RealSort())
    low, high = {"month": (1, 12), "day": (1, 31)}.get(name, (0, None))
    tr.facts.append(open_number >= low if high is None else z3.And(open_number >= low, open_number <= high))
    return Value(there, open_number)


def _floor(tr: Translator, x: Value) -> Value:
    return Value(x.there, x.value if z3.is_int(x.value) else z3.ToInt(x.value))


def _ceiling(tr: Translator, x: Value) -> Value:
    return Value(x.there, x.value if z3.is_int(x.value) else -z3.ToInt(-x.value))


def _round(tr: Translator, x: Value, places: Value) -> Value:
    if not z3.is_int_value(places.value):
        tr.doubt("rounding to an unknown number of places")
        return Value(both(x.there, places.there), tr.fresh())
    n = places.value.as_long()
    if z3.is_int(x.value) and n >= 0:
        return Value(x.there, x.value)
    scale = z3.RealVal(f"1e{n}" if n >= 0 else f"1/{10**-n}")
    scaled = _real(x.value) * scale
    half = z3.Q(1, 2)
    away = z3.If(scaled >= 0, z3.ToInt(scaled + half), -z3.ToInt(-scaled + half))
    return Value(x.there, z3.ToReal(away) / scale)


def _abs(tr: Translator, x: Value) -> Value:
    return Value(x.there, z3.If(x.value >= 0, x.value, -x.value))


def _remainder(tr: Translator, a: Value, b: Value) -> Value:
    if not (z3.is_int_value(b.value) or z3.is_rational_value(b.value)):
        tr.doubt("the remainder of a division by an unknown number")
    there = both(a.there, b.there, b.value != 0)
    quotient = z3.ToInt(_real(a.value) / _real(b.value))
    return Value(there, _real(a.value) - _real(b.value) * z3.ToReal(quotient))


def _extreme(smallest: bool) -> Callable[..., Value]:
    def of(tr: Translator, *values: Value) -> Value:
        there, best = values[0].there, values[0].value
        for v in values[1:]:
            closer = v.value < best if smallest else v.value > best
            best = z3.If(both(v.there, z3.Or(z3.Not(there), closer)), v.value, best)
            there = either(there, v.there)
        return Value(there, best)

    return of


def _days(tr: Translator, a: Value, b: Value) -> Value:
    return Value(both(a.there, b.there), b.value - a.value)


def _completed(unit: str) -> Callable[..., Value]:
    months = MONTHS[unit]

    def of(tr: Translator, a: Value, b: Value) -> Value:
        there = both(a.there, b.there)
        if z3.is_int_value(b.value):
            return Value(there, _since(a.value, b.value.as_long(), months))
        tr.doubt(f"completed {unit}s between two unknown dates")
        count, days = tr.fresh(z3.IntSort()), b.value - a.value
        shortest, longest = (28 * months, 31 * months) if months == 1 else (365, 366)
        tr.facts.append(z3.Implies(days >= 0, z3.And(count * shortest <= days, (count + 1) * longest >= days)))
        tr.facts.append(z3.Implies(days < 0, count <= 0))
        return Value(there, count)

    return of


def _since(start: Expr, end: int, months: int) -> Expr:
    """Completed spans up to a known day: one for each threshold that `start` does not pass; below 0 the other way."""
    day = date.fromordinal(end)
    most = _MOST_YEARS if months == 12 else 240
    before, after = [], []
    for n in range(1, most + 1):
        earlier, later = (
            shift_date(day, Duration(months=n * months), -1),
            shift_date(day, Duration(months=n * months), 1),
        )
        if earlier is not None:
            before.append(z3.If(start <= earlier.toordinal(), 1, 0))
        if later is not None:
            after.append(z3.If(start >= later.toordinal(), -1, 0))
    return z3.Sum(before) + z3.Sum(after)


def _year(tr: Translator, d: Value) -> Value:
    year = tr.fresh(z3.IntSort())
    tr.facts.append(z3.Implies(d.there, z3.And(_new_year(year) <= d.value, d.value < _new_year(year + 1))))
    return Value(d.there, year)


def _new_year(year: Expr) -> Expr:
    """The ordinal of 1 January."""
    past = year - 1
    return 365 * past + past / 4 - past / 100 + past / 400 + 1


def _weekday(tr: Translator, d: Value) -> Value:
    return Value(d.there, (d.value - 1) % 7 + 1)


def shifted(tr: Translator, start: Value, months: int, seconds: int) -> Value:
    """A date moved by a span of time."""
    if months == 0:
        return Value(start.there, start.value + seconds // DAY)
    if z3.is_int_value(start.value):
        moved = shift_date(date.fromordinal(start.value.as_long()), Duration(abs(months), 0), 1 if months > 0 else -1)
        return NOTHING if moved is None else Value(start.there, z3.IntVal(moved.toordinal() + seconds // DAY))
    tr.doubt("months added to an unknown date")
    days = tr.fresh(z3.IntSort())
    low, high = sorted((months * 28, months * 31))
    tr.facts.append(z3.And(days >= low, days <= high))
    return Value(start.there, start.value + days + seconds // DAY)


def _real(value: Expr) -> Expr:
    return z3.ToReal(value) if z3.is_int(value) else value


_EXACT: dict[str, Callable[..., Value | Truth]] = {
    "floor": _floor,
    "ceiling": _ceiling,
    "round": _round,
    "abs": _abs,
    "remainder": _remainder,
    "smallest": _extreme(True),
    "largest": _extreme(False),
    "days": _days,
    "months": _completed("month"),
    "years": _completed("year"),
    "year": _year,
    "weekday": _weekday,
}
