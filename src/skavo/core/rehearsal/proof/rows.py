"""What goes over the rows of a roster, for the solver."""

from __future__ import annotations

from decimal import Decimal
from itertools import combinations
from typing import TYPE_CHECKING, Any

import z3

from skavo.core.rehearsal.proof.symbols import (
    FALSE,
    NOTHING,
    TRUE,
    Expr,
    Truth,
    Value,
    both,
    definite,
    either,
    opposite,
    truth_and,
    truth_or,
)
from skavo.core.rules.limits import Limits, limits_of
from skavo.core.rules.state import Row

if TYPE_CHECKING:
    from skavo.core.rehearsal.proof.translate import Translator

_MORE = "more rows than are looked at"


def aggregate(tr: Translator, name: str, rosters: list[int], outer: Row, value: Any, where: Any) -> Any:
    """An aggregate over the unrolled rows below `outer`; what more rows could add is left open."""
    rows = list(_rows(tr, rosters, outer, TRUE))
    more = _more(tr, rosters, outer)
    if not z3.is_false(more):
        tr.doubt(_MORE)
    conditions = [
        Truth(both(exists, t.yes), both(exists, t.no)) if (t := _truth(tr, where, row)) else definite(exists)
        for row, exists in rows
    ]
    unseen = _unseen(tr, rosters, outer)
    if name == "count":
        extra = tr.fresh(z3.IntSort())
        tr.facts.append(z3.And(extra >= 0, z3.Implies(opposite(more), extra == 0)))
        if unseen is not None:
            tr.facts.append(extra <= unseen if where is not None else extra == unseen)
        return Value(TRUE, z3.Sum([z3.IntVal(0), *[z3.If(c.yes, 1, 0) for c in conditions]]) + extra)
    if name in ("any", "every"):
        return _test(tr, name, rows, conditions, more)
    values = [tr.in_row(value, row) for row, _ in rows]
    if any(not isinstance(v, Value) for v in values):
        return NOTHING
    present = [both(c.yes, v.there) for c, v in zip(conditions, values, strict=True)]
    if name == "different":
        return _all_differ(tr, present, [v.value for v in values], more)
    combined = _combine(tr, name, present, [v.value for v in values], more)
    if name == "sum" and unseen is not None:
        known = z3.Sum([z3.IntVal(0), *[z3.If(p, v.value, 0) for p, v in zip(present, values, strict=True)]])
        _bound(tr, combined.value - known, unseen, limits_of(value, tr.world.limits))
    return combined


def _all_differ(tr: Translator, present: list[Expr], values: list[Expr], more: Expr) -> Truth:
    """No two values that are there are the same; rows that are not looked at may hold one of them again."""
    places = list(zip(present, values, strict=True))
    same = either(*[both(p, q, v == w) for (p, v), (q, w) in combinations(places, 2)])
    again = FALSE if z3.is_false(more) else both(more, tr.fresh(z3.BoolSort()))
    return Truth(both(either(*present), opposite(either(same, again))), either(same, again))


def _unseen(tr: Translator, rosters: list[int], outer: Row) -> Expr | None:
    """How many rows are not looked at; None where that is not known, as in rosters within rosters."""
    place = (rosters[0], outer)
    if len(rosters) != 1 or place not in tr.world.counts:
        return None
    left = tr.world.counts[place] - tr.world.most_rows
    return z3.If(tr.world.more_rows[place], left, z3.IntVal(0))


def _bound(tr: Translator, extra: Expr, unseen: Expr, limits: Limits) -> None:
    """What the rows not looked at can add up to, by the limits of one."""
    if limits.high is not None:
        tr.facts.append(extra <= unseen * z3.RealVal(str(max(limits.high, Decimal(0)))))
    if limits.low is not None:
        tr.facts.append(extra >= unseen * z3.RealVal(str(min(limits.low, Decimal(0)))))


def _truth(tr: Translator, where: Any, row: Row) -> Truth | None:
    if where is None:
        return None
    found = tr.in_row(where, row)
    return found if isinstance(found, Truth) else Truth(FALSE, FALSE)


def _rows(tr: Translator, rosters: list[int], row: Row, exists: Expr) -> list[tuple[Row, Expr]]:
    if not rosters:
        return [(row, exists)]
    found = []
    for name, there in tr.world.rows.get((rosters[0], row), ()):
        found += _rows(tr, rosters[1:], (*row, name), both(exists, there))
    return found


def _more(tr: Translator, rosters: list[int], row: Row) -> Expr:
    if not rosters:
        return FALSE
    place = (rosters[0], row)
    inner = [_more(tr, rosters[1:], (*row, name)) for name, _ in tr.world.rows.get(place, ())]
    return either(tr.world.more_rows.get(place, FALSE), *inner)


def _test(tr: Translator, name: str, rows: list[tuple[Row, Expr]], conditions: list[Truth], more: Expr) -> Truth:
    """Every row that does not exist counts as passed over."""
    extra = Truth(FALSE, FALSE)
    if not z3.is_false(more):
        yes, no = tr.fresh(z3.BoolSort()), tr.fresh(z3.BoolSort())
        tr.facts.append(z3.Not(z3.And(yes, no)))
        extra = Truth(yes, no)
    if name == "any":
        present = [Truth(c.yes, either(opposite(e), c.no)) for c, (_, e) in zip(conditions, rows, strict=True)]
        found = truth_or([*present, definite(FALSE)])
        return Truth(either(found.yes, both(more, extra.yes)), both(found.no, either(opposite(more), extra.no)))
    present = [Truth(either(opposite(e), c.yes), c.no) for c, (_, e) in zip(conditions, rows, strict=True)]
    found = truth_and([*present, definite(TRUE)])
    return Truth(both(found.yes, either(opposite(more), extra.yes)), either(found.no, both(more, extra.no)))


def _combine(tr: Translator, name: str, present: list[Expr], values: list[Expr], more: Expr) -> Value:
    some = either(*present)
    if name == "sum":
        known = z3.Sum([z3.IntVal(0), *[z3.If(p, v, 0) for p, v in zip(present, values, strict=True)]])
        extra = tr.fresh()
        tr.facts.append(z3.Implies(opposite(more), extra == 0))
        return Value(either(some, _maybe(tr, more)), known + extra)
    result = tr.fresh(values[0].sort() if values else None)
    there = either(some, _maybe(tr, more))
    if name == "first":
        earlier: Expr = FALSE
        for p, v in zip(present, values, strict=True):
            tr.facts.append(z3.Implies(both(p, opposite(earlier)), result == v))
            earlier = either(earlier, p)
        return Value(there, result)
    sure = both(some, opposite(more))
    if name == "mean":
        result = tr.fresh()
        count = z3.Sum([z3.IntVal(0), *[z3.If(p, 1, 0) for p in present]])
        total = z3.Sum([z3.RealVal(0), *[z3.If(p, v, 0) for p, v in zip(present, values, strict=True)]])
        for n in range(1, len(present) + 1):
            tr.facts.append(z3.Implies(both(sure, count == n), result * n == total))
        return Value(there, result)
    for p, v in zip(present, values, strict=True):
        tr.facts.append(z3.Implies(p, result >= v if name == "highest" else result <= v))
    hits = [both(p, result == v) for p, v in zip(present, values, strict=True)]
    tr.facts.append(z3.Implies(sure, either(*hits)))
    return Value(there, result)


def _maybe(tr: Translator, more: Expr) -> Expr:
    """Whether there is a value among rows that are not looked at."""
    return FALSE if z3.is_false(more) else both(more, tr.fresh(z3.BoolSort()))
