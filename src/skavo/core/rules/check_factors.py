"""Checking how much a unit is: a number, a rule over earlier answers, or an amount of another unit of its dimension."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING, Any

from skavo.core.rules.faults import Fault, RuleSyntaxError, Span
from skavo.core.rules.syntax import parse_rule
from skavo.core.rules.types import NOTHING, UNKNOWN, Typed
from skavo.core.rules.units import Unit

if TYPE_CHECKING:
    from skavo.core.rules.check import Checker

# What is wrong with a factor only from where it is used; all else is wrong with the unit itself.
_OF_THE_PLACE = ("asked_later", "random_order", "needs_aggregate")
_RING = "unit_ring"


def factor_faults(checker: Checker, unit: Unit) -> list[Fault]:
    """What is wrong with the factor of a unit itself; `checker` stands nowhere in particular."""
    inner = checker.beside(unit)
    _factor(inner, unit)
    return [f for f in inner.faults if f.code not in _OF_THE_PLACE]


def factor_tree(checker: Checker, unit: Unit, span: Span) -> Any | None:
    """The typed tree of a unit's factor where the unit is used, at `span` of a rule.

    Told there is only what keeps the factor from being known at this place; what is wrong with the unit itself is told
    once, with the unit (factor_faults).
    """
    inner = checker.beside(unit)
    tree = _factor(inner, unit)
    for fault in inner.faults:
        if fault.code in _OF_THE_PLACE:
            checker.fault("wrong_factor", f"How much a {unit.name} is: {fault.message}", span, fault.mend)
        elif fault.code == _RING and checker.units_open:
            checker.fault(_RING, fault.message, span, fault.mend)
    return None if inner.has_errors else tree


def ring_of_units(checker: Checker, unit: Unit, span: Span) -> Typed:
    """What comes of a unit whose factor needs itself; told with each unit of the ring and with no other."""
    if unit != checker.units_open[0]:
        return NOTHING
    steps = ", ".join(f"a {a.name} is told in {b.name}" for a, b in pairwise([*checker.units_open, unit]))
    message = f"Nothing says it: {steps}."
    return checker.fault(_RING, message, span, "Tell one of them in base units.")


def _factor(checker: Checker, unit: Unit) -> Any | None:
    try:
        node = parse_rule(unit.factor)
    except RuleSyntaxError as error:
        checker.faults.append(error.fault)
        return None
    tree, kind = checker.check(node)
    if kind.name == "quantity" and kind.dimension != unit.dimension:
        message = f"This is {kind.words}; a {unit.name} measures {unit.dimension}."
        checker.fault("dimension_clash", message, node.span)
    elif kind.name not in ("number", "quantity") and kind != UNKNOWN:
        checker.fault("wrong_type", f"This is {kind.words}; a number is needed here.", node.span)
    return tree
