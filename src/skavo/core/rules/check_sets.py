"""Checking what is said of several values in one go: that they all differ, how often one of them occurs.

Between variables this is short for sentences that could be written out, and the typed tree is theirs: nothing else has
to know of it. Over the rows of a roster it is an aggregate like the others (check_rows).
"""

from __future__ import annotations

from collections.abc import Callable
from itertools import combinations
from typing import TYPE_CHECKING, Any

from skavo.core.rules.check_compare import compared, operand
from skavo.core.rules.check_rows import check_aggregate
from skavo.core.rules.syntax import Node
from skavo.core.rules.types import NOTHING, NUMBER, UNKNOWN, YES_NO, Typed

if TYPE_CHECKING:
    from skavo.core.rules.check import Checker


def _different(checker: Checker, node: Node) -> Typed:
    """`different(staff.name)` over rows; `different(first, second, third)`: no two of them are the same."""
    if len(node.args) == 1:
        return check_aggregate(checker, node)
    if node.where is not None:
        return checker.fault("wrong_where", "Only over rows “different” takes a “where”.", node.where.span)
    pairs = [compared(checker, "is_not", a, b, node.span) for a, b in combinations(node.args, 2)]
    tree: Any = pairs[0]
    for pair in pairs[1:]:
        tree = ["and", tree, pair]
    return tree, YES_NO


def _occurs(checker: Checker, node: Node) -> Typed:
    """`occurs(yes, has_radio, has_phone)`: how many of the variables are answered by that value."""
    if len(node.args) < 3 or node.where is not None:
        message = "“occurs” takes a value and at least two variables."
        return checker.fault("wrong_count", message, node.span, "Write: occurs(yes, has_radio, has_phone)")
    value, *variables = node.args
    tree: Any = None
    for variable in variables:
        own, kind = checker.check(variable)
        if kind == UNKNOWN:
            return NOTHING
        answer = own[1] if own[0] == "size" else own
        if answer[0] != "variable":
            return checker.fault("not_a_variable", "Only variables are counted here.", variable.span)
        wanted = operand(checker, value, kind, variable)[0]
        is_so = ["and", ["status", "answered", answer[1], answer[2]], ["is", own, wanted]]
        one = ["if", is_so, ["literal", "number", "1"], ["literal", "number", "0"]]
        tree = one if tree is None else ["add", tree, one]
    return tree, NUMBER


SETS: dict[str, Callable[[Checker, Node], Typed]] = {"different": _different, "occurs": _occurs}
OCCURS_WORDS = "how many of the variables have that answer"
