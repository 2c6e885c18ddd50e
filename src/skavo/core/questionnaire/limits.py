"""The limits that a questionnaire declares for its numbers: least and most, and hard checks that are plain limits."""

from __future__ import annotations

from decimal import Decimal

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.script import Part
from skavo.core.rules.faults import RuleSyntaxError
from skavo.core.rules.limits import OPEN, Limits
from skavo.core.rules.syntax import Node, parse_rule


def declared_limits(part: Part) -> Limits | None:
    """The limits of a number's answers; None for whatever is no number or has no limits."""
    kind = KINDS.get(part.kind)
    if kind is None or not kind.is_number:
        return None
    limits = Limits(_decimal(part.least), _decimal(part.most))
    for check in part.must_hold:
        try:
            node = parse_rule(check.rule)
        except RuleSyntaxError:
            continue
        limits = limits.within(_plain_limits(node, part.variable, part.kind == "whole number"))
    return None if limits == OPEN else limits


def _decimal(x: int | float | None) -> Decimal | None:
    return None if x is None else Decimal(str(x))


def _plain_limits(node: Node, variable: str, whole: bool) -> Limits:
    """What a rule says of the variable alone, as in `hours between 0 and 84 and …`."""
    if node.op == "and_":
        limits = OPEN
        for arg in node.args:
            limits = limits.within(_plain_limits(arg, variable, whole))
        return limits
    if not node.args or node.args[0].op != "name" or node.args[0].text != variable:
        return OPEN
    numbers = [_number(arg) for arg in node.args[1:]]
    if any(n is None for n in numbers) or not numbers:
        return OPEN
    first, last = numbers[0], numbers[-1]
    assert first is not None
    step = Decimal(1) if whole and first == first.to_integral_value() else Decimal(0)
    forms = {
        "between": Limits(first, last),
        "ge": Limits(low=first),
        "gt": Limits(low=first + step),
        "le": Limits(high=first),
        "lt": Limits(high=first - step),
    }
    return forms.get(node.op, OPEN)


def _number(node: Node) -> Decimal | None:
    if node.op == "number":
        return Decimal(node.text)
    if node.op == "negative" and node.args[0].op == "number":
        return -Decimal(node.args[0].text)
    return None
