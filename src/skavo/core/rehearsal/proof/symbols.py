"""Values as the solver sees them: whether there is one, and which; yes and no each on its own, as Kleene has it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import z3

# Expressions of z3 carry no useful types.
Expr = Any

TRUE, FALSE = z3.BoolVal(True), z3.BoolVal(False)
# The name of the row that stands for any of those not unrolled.
BEYOND = "beyond"


@dataclass(frozen=True)
class Value:
    """A number, date, text or code: `there` says whether it is not missing."""

    there: Expr
    value: Expr


@dataclass(frozen=True)
class Truth:
    """Definitely yes, definitely no; neither is unknown."""

    yes: Expr
    no: Expr


@dataclass(frozen=True)
class Chosen:
    """Several codes: whether anything was answered, and each code."""

    there: Expr
    codes: dict[str, Expr]


NOTHING = Value(FALSE, z3.RealVal(0))
UNKNOWN = Truth(FALSE, FALSE)


def both(*parts: Expr) -> Expr:
    """All of them, without building what is plain."""
    left = [p for p in parts if not z3.is_true(p)]
    if any(z3.is_false(p) for p in left):
        return FALSE
    return TRUE if not left else left[0] if len(left) == 1 else z3.And(*left)


def either(*parts: Expr) -> Expr:
    """At least one of them, without building what is plain."""
    left = [p for p in parts if not z3.is_false(p)]
    if any(z3.is_true(p) for p in left):
        return TRUE
    return FALSE if not left else left[0] if len(left) == 1 else z3.Or(*left)


def opposite(part: Expr) -> Expr:
    if z3.is_true(part):
        return FALSE
    return TRUE if z3.is_false(part) else z3.Not(part)


def truth_and(parts: list[Truth]) -> Truth:
    return Truth(both(*[p.yes for p in parts]), either(*[p.no for p in parts]))


def truth_or(parts: list[Truth]) -> Truth:
    return Truth(either(*[p.yes for p in parts]), both(*[p.no for p in parts]))


def truth_not(part: Truth) -> Truth:
    return Truth(part.no, part.yes)


def definite(condition: Expr, there: Expr = TRUE) -> Truth:
    """Yes or no by a condition, unknown where something it needs is not there."""
    return Truth(both(there, condition), both(there, opposite(condition)))


def choose(condition: Truth, yes: Any, no: Any) -> Any:
    """`if A then B else C`: missing where the condition is unknown."""
    if isinstance(yes, Truth):
        return Truth(
            either(both(condition.yes, yes.yes), both(condition.no, no.yes)),
            either(both(condition.yes, yes.no), both(condition.no, no.no)),
        )
    there = either(both(condition.yes, yes.there), both(condition.no, no.there))
    return Value(there, z3.If(condition.yes, yes.value, no.value))
