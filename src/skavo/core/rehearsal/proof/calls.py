"""Functions of the rule language, for the solver: exact where it can follow them, else left open within what is sure."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from typing import TYPE_CHECKING, Any

import z3

from skavo.core.rehearsal.proof.symbols import NOTHING, TRUE, Expr, Truth, Value, both, definite, either
from skavo.core.rules.functions import MONTHS, shift_date
from skavo.core.rules.values import Duration

if TYPE_CHECKING:
    from skavo.core.rehearsal.proof.translate import Translator

DAY = 86_400
LAST_DAY = 3_652_059
_MOST_YEARS, _MOST_MONTHS = 130, 240
_UNEVEN = 36
# The days of four years, and days by which a span has to miss the border between two counts, both times twelve times four.
_CYCLE, _APART = 1461, 144


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
            return Value(there, _since(tr, a.value, b.value.as_long(), months))
        if z3.is_int_value(a.value):
            # Counted backwards it is the same with another sign.
            return Value(there, -_since(tr, b.value, a.value.as_long(), months))
        tr.doubt(f"completed {unit}s between two unknown dates")
        count = tr.fresh_for(f"completed {unit}s", a.value, b.value)
        _keep_between(tr, count, b.value - a.value, months)
        _keep_between(tr, -count, a.value - b.value, months)
        return Value(there, count)

    return of


def _keep_between(tr: Translator, count: Expr, days: Expr, months: int, where: Expr = TRUE) -> None:
    """How many spans so many `days` can hold, if they are not below 0; if `clear`, so that there is no doubt about it."""
    where = both(where, days >= 0)
    tr.is_bounded = True
    # Months differ from the twelfth part of a year by less than three days.
    least, most = 365 * count * months <= 12 * days + _UNEVEN, 12 * days <= 366 * (count + 1) * months + _UNEVEN
    tr.facts.append(z3.Implies(where, z3.And(count >= 0, least, most)))
    more, fewer = _CYCLE * count * months + _APART, _CYCLE * (count + 1) * months - _APART
    tr.facts.append(z3.Implies(both(tr.world.clear, where), z3.And(more <= 48 * days, 48 * days <= fewer)))


def _since(tr: Translator, start: Expr, end: int, months: int) -> Expr:
    """Completed spans from `start` to a known day: one for each threshold that `start` does not pass."""
    steps = range(months, months * (_MOST_YEARS if months == 12 else _MOST_MONTHS) + 1, months)
    day = date.fromordinal(end)
    before = [found for n in steps if (found := _latest_start(day, n)) is not None]
    later = (shift_date(day, Duration(months=n), 1) for n in steps)
    after = [found.toordinal() for found in later if found is not None]
    passed = [*[z3.If(start <= first, 1, 0) for first in before], *[z3.If(start >= last, -1, 0) for last in after]]
    # Further away than the thresholds go.
    further = tr.fresh(z3.IntSort())
    first, last = before[-1] if before else 0, after[-1] if after else LAST_DAY + 1
    tr.facts += [z3.Implies(start > first, further <= 0), z3.Implies(start < last, further >= 0)]
    _keep_between(tr, further + len(before), end - start, months, start <= first)
    _keep_between(tr, len(after) - further, start - end, months, start >= last)
    return z3.Sum([further, *passed])


def _latest_start(end: date, months: int) -> int | None:
    """The last day from which so many months are complete at `end`; None before the calendar begins.

    It may be later than `end` moved back: two years are complete from 2024-02-29 to 2026-02-28.
    """
    found = shift_date(end, Duration(months=months), -1)
    if found is None:
        return None
    following = found + timedelta(days=1)
    while (reached := shift_date(following, Duration(months=months), 1)) is not None and reached <= end:
        found, following = following, following + timedelta(days=1)
    return found.toordinal()


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


def shifted(tr: Translator, start: Value, months: int, seconds: int, is_moment: bool) -> Value:
    """A date, or a date-time in seconds, moved by a span of time; missing where the calendar ends."""
    unit = DAY if is_moment else 1
    moved = start.value + seconds // (DAY // unit)
    if months and z3.is_int_value(start.value) and not is_moment:
        day = shift_date(date.fromordinal(start.value.as_long()), Duration(abs(months), 0), 1 if months > 0 else -1)
        if day is None:
            return NOTHING
        moved = z3.IntVal(day.toordinal() + seconds // DAY)
    elif months:
        tr.doubt("months added to an unknown date")
        days = tr.fresh_for(f"{months} months in days", start.value)
        low, high = sorted((months * 28, months * 31))
        tr.facts.append(z3.And(days >= low, days <= high))
        moved = moved + days * unit
    return Value(both(start.there, moved >= unit, moved < (LAST_DAY + 1) * unit), moved)


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
