"""Syntax tree to typed tree: names resolved, types held against each other, faults with their place and mend.

Each module check_… checks one family of forms and gives a table from the op of the grammar to its function.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from skavo.core.rules import check_compare, check_names, check_values
from skavo.core.rules.check_names import read_as
from skavo.core.rules.faults import Fault, RuleSyntaxError, Span
from skavo.core.rules.syntax import Node, parse_rule
from skavo.core.rules.types import NOTHING, TEXT, UNKNOWN, YES_NO, Scope, Type, Typed
from skavo.core.rules.units import Unit


def check_rule(text: str, scope: Scope, expected: Type | None) -> tuple[Any | None, list[Fault]]:
    """Return (typed tree, faults) of a rule's text; the tree is None when there is an error.

    `expected` is the type the rule's place asks for, None where any value will do.
    """
    tree, _, faults = check_typed(text, scope, expected)
    return tree, faults


def check_typed(text: str, scope: Scope, expected: Type | None) -> tuple[Any | None, Type, list[Fault]]:
    """As check_rule, with the type of what the rule gives; *unknown* where it has an error."""
    try:
        node = parse_rule(text)
    except RuleSyntaxError as error:
        return None, UNKNOWN, [error.fault]
    checker = Checker(scope)
    tree, kind = checker.check(node)
    if kind.name == "any":
        kind = expected or TEXT
        tree = read_as(tree, kind.name)
    if expected is not None and not fits(kind, expected):
        message = f"This gives {kind.words}; {expected.words} is needed here."
        checker.fault("wrong_type", message, node.span, _COMPARE if expected == YES_NO else "")
    if checker.has_errors:
        return None, UNKNOWN, checker.faults
    return tree, kind, checker.faults


_COMPARE = "Compare it with something, as in: age >= 15"


def fits(kind: Type, expected: Type) -> bool:
    """Whether a value of type `kind` may stand where `expected` is asked for."""
    if kind == UNKNOWN or (kind.name == expected.name and kind.name != "code"):
        return kind.dimension == expected.dimension or None in (kind.dimension, expected.dimension)
    return kind.name == expected.name and kind.code_list == expected.code_list


class Checker:
    """Walks a syntax tree once; faults are collected, not raised. `trees` keeps the typed tree of every piece, `codes`
    the pieces that were read as a code, with its list.

    `units_open` are the units whose factors are being checked, so that a ring of them is seen.
    """

    def __init__(self, scope: Scope, units_open: tuple[Unit, ...] = ()) -> None:
        self.scope = scope
        self.units_open = units_open
        self.faults: list[Fault] = []
        self.trees: dict[int, Typed] = {}
        self.codes: list[tuple[Node, str]] = []

    def fault(self, code: str, message: str, span: Span, mend: str = "", severity: str = "error") -> Typed:
        found = Fault(code, message, span, mend, severity)
        if found not in self.faults:
            self.faults.append(found)
        return NOTHING

    def beside(self, unit: Unit) -> Checker:
        """A checker for the factor of a unit that is used here, with faults of its own."""
        return Checker(self.scope, (*self.units_open, unit))

    @property
    def has_errors(self) -> bool:
        return any(f.severity == "error" for f in self.faults)

    def check(self, node: Node) -> Typed:
        typed = OPS[node.op](self, node)
        self.trees[id(node)] = typed
        return typed

    def expect(self, node: Node, *wanted: Type) -> Any:
        """The typed tree of `node`, which has to be of one of the `wanted` types."""
        tree, kind = self.check(node)
        if kind.name == "any":
            return read_as(tree, wanted[0].name)
        if kind.name == "date-time" and "date" in [w.name for w in wanted]:
            return ["date_of", tree]
        if kind != UNKNOWN and kind.name not in [w.name for w in wanted]:
            names = " or ".join(w.words for w in wanted)
            mend = _COMPARE if YES_NO in wanted else ""
            self.fault("wrong_type", f"This is {kind.words}; {names} is needed here.", node.span, mend)
        return tree


OPS: dict[str, Callable[[Checker, Node], Typed]] = {**check_names.OPS, **check_values.OPS, **check_compare.OPS}
