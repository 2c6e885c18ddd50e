"""The limits of what a rule can give, from the limits that the questionnaire declares; for comparisons that always or
never hold."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any


@dataclass(frozen=True)
class Limits:
    """A range, both ends included; None where it is open. Values that are missing are not meant."""

    low: Decimal | None = None
    high: Decimal | None = None

    def within(self, other: Limits) -> Limits:
        """The part common to both."""
        lows = [x for x in (self.low, other.low) if x is not None]
        highs = [x for x in (self.high, other.high) if x is not None]
        return Limits(max(lows, default=None), min(highs, default=None))


OPEN = Limits()
NOT_NEGATIVE = Limits(low=Decimal(0))


def limits_of(tree: Any, declared: Mapping[int, Limits]) -> Limits:
    """What a typed tree can give; `declared` holds the limits of parts by index. OPEN where nothing is known."""
    op = tree[0]
    if op == "literal":
        return Limits(Decimal(tree[2]), Decimal(tree[2])) if tree[1] == "number" else OPEN
    if op == "variable":
        return declared.get(tree[1], OPEN)
    if op == "size":
        return limits_of(tree[1], declared)
    if op == "count_codes" or (op == "aggregate" and tree[1] == "count"):
        return NOT_NEGATIVE
    if op == "aggregate" and tree[1] in ("mean", "lowest", "highest", "first"):
        return limits_of(tree[4], declared)
    if op in ("add", "subtract", "multiply", "negative"):
        return _ARITHMETIC[op](*[limits_of(t, declared) for t in tree[1:]])
    if op == "call":
        return _CALLS.get(tree[1], OPEN)
    return OPEN


def outcome(op: str, left: Limits, right: Limits) -> bool | None:
    """True where a comparison always holds, False where it never does, None where it depends."""
    if op in ("gt", "ge"):
        return outcome("lt" if op == "gt" else "le", right, left)
    below, above = _below(left, right, op == "lt"), _below(right, left, op == "le")
    if op in ("lt", "le"):
        return True if below else False if above else None
    apart = _below(left, right, True) or _below(right, left, True)
    single = left.low is not None and left == right and left.low == left.high
    equal = True if single else False if apart else None
    return equal if op == "is" or equal is None else not equal


def _below(left: Limits, right: Limits, strictly: bool) -> bool:
    if left.high is None or right.low is None:
        return False
    return left.high < right.low or (not strictly and left.high == right.low)


def _add(a: Limits, b: Limits) -> Limits:
    return Limits(_sum(a.low, b.low), _sum(a.high, b.high))


def _sum(a: Decimal | None, b: Decimal | None) -> Decimal | None:
    return None if a is None or b is None else a + b


def _negative(a: Limits) -> Limits:
    return Limits(None if a.high is None else -a.high, None if a.low is None else -a.low)


def _subtract(a: Limits, b: Limits) -> Limits:
    return _add(a, _negative(b))


def _multiply(a: Limits, b: Limits) -> Limits:
    ends = (a.low, a.high, b.low, b.high)
    if None in ends:
        both = all(x.low is not None and x.low >= 0 for x in (a, b))
        return NOT_NEGATIVE if both else OPEN
    products = [x * y for x in (a.low, a.high) for y in (b.low, b.high) if x is not None and y is not None]
    return Limits(min(products), max(products))


_ARITHMETIC: dict[str, Callable[..., Limits]] = {
    "add": _add,
    "subtract": _subtract,
    "multiply": _multiply,
    "negative": _negative,
}
_CALLS: dict[str, Limits] = {
    "length": NOT_NEGATIVE,
    "path_length": NOT_NEGATIVE,
    "abs": NOT_NEGATIVE,
    "size": NOT_NEGATIVE,
    "distance": NOT_NEGATIVE,
    "month": Limits(Decimal(1), Decimal(12)),
    "day": Limits(Decimal(1), Decimal(31)),
    "weekday": Limits(Decimal(1), Decimal(7)),
}
