"""Checking what goes over the rows of a roster: `sum(staff.hours where …)`, `count(staff)`, `any(staff where …)`."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from skavo.core.rules.check_names import reachable, unknown_name
from skavo.core.rules.functions import ROW_TESTS
from skavo.core.rules.syntax import Node
from skavo.core.rules.types import NOTHING, NUMBER, ORDERED, ROWS, UNKNOWN, YES_NO, Symbol, Typed, sentence

if TYPE_CHECKING:
    from skavo.core.rules.check import Checker


def check_aggregate(checker: Checker, node: Node) -> Typed:
    if len(node.args) != 1:
        return checker.fault("wrong_count", f"“{node.text}” takes one thing: a roster or roster.variable.", node.span)
    target = node.args[0]
    symbol = checker.scope.symbols.get(target.text) if target.op == "name" else None
    if node.text == "count" and symbol and symbol.type.name == "codes" and node.where is None:
        return _count_codes(checker, checker.check(target)[0], symbol.type.code_list or ""), NUMBER
    if node.text in ROW_TESTS:
        return _over_rows(checker, node, target, symbol)
    if target.op == "name":
        return _over_bare_name(checker, node, target, symbol)
    owner = checker.scope.symbols.get(target.args[0].text) if target.op == "dotted" else None
    if owner is None or owner.type != ROWS:
        return checker.fault(
            "needs_roster", f"“{node.text}” goes over a roster.", target.span, "Write roster.variable."
        )
    inside = checker.scope.symbols.get(target.args[1].text)
    inner = inside.rosters if inside and owner.index in inside.rosters else _rosters_of(checker, owner)
    outer, checker.scope = checker.scope, checker.scope.inside(inner)
    tree, kind = checker.check(target)
    where = checker.expect(node.where, YES_NO) if node.where else None
    checker.scope = outer
    if kind == UNKNOWN:
        return NOTHING
    if node.text in ("sum", "mean") and kind.name not in ("number", "quantity"):
        checker.fault("wrong_type", f"“{node.text}” needs numbers; {target.args[1].text} is {kind.words}.", target.span)
    if node.text in ("lowest", "highest") and kind.name not in ORDERED:
        message = f"“{node.text}” needs something with larger and smaller; {target.args[1].text} is {kind.words}."
        checker.fault("wrong_type", message, target.span)
    if node.text == "different":
        if kind.name not in (*ORDERED, "text", "code", "yes/no"):
            checker.fault("wrong_type", f"{sentence(kind.words)} cannot be compared.", target.span)
        return _over(checker, node.text, inner, tree, where), YES_NO
    return _over(checker, node.text, inner, tree, where), kind


def _count_codes(checker: Checker, chosen: Any, code_list: str) -> Any:
    """How many codes were chosen; one that goes with no other, such as *none of these*, is none."""
    alone = [["literal", "code", code] for code in checker.scope.exclusive(code_list)]
    count = ["count_codes", chosen]
    return ["if", ["includes", chosen, "any", alone], ["literal", "number", "0"], count] if alone else count


def _over_bare_name(checker: Checker, node: Node, target: Node, symbol: Symbol | None) -> Typed:
    if symbol is None:
        return unknown_name(checker, target.text, target.span)
    roster = checker.scope.roster_names.get(symbol.rosters[-1]) if symbol.rosters else None
    within = [s for s in checker.scope.symbols.values() if s.rosters[-1:] == (symbol.index,)]
    inside = [s.name for s in within if node.text == "first" or s.type.name in ORDERED]
    mend = f"Write: {node.text}({roster}.{target.text})" if roster else "Write roster.variable."
    if symbol.type == ROWS and inside:
        mend = f"Say of what: {node.text}({target.text}.{inside[0]})"
    return checker.fault("needs_roster", f"“{node.text}” goes over a roster.", target.span, mend)


def _over_rows(checker: Checker, node: Node, target: Node, symbol: Symbol | None) -> Typed:
    if symbol is None:
        return (
            unknown_name(checker, target.text, target.span)
            if target.op == "name"
            else checker.fault(
                "needs_roster", f"“{node.text}” goes over the rows of a roster.", target.span, _whole(node, target)
            )
        )
    if symbol.type != ROWS:
        return checker.fault("needs_roster", f"“{target.text}” is not a roster.", target.span)
    if symbol.index > checker.scope.latest:
        reachable(checker, symbol, target)
        return NOTHING
    if node.where is None and node.text != "count":
        return checker.fault("needs_where", f"“{node.text}” needs a condition.", node.span, f"{target.text} where …")
    inner = _rosters_of(checker, symbol)
    outer, checker.scope = checker.scope, checker.scope.inside(inner)
    where = checker.expect(node.where, YES_NO) if node.where else None
    checker.scope = outer
    return _over(checker, node.text, inner, None, where), NUMBER if node.text == "count" else YES_NO


def _whole(node: Node, target: Node) -> str:
    if target.op != "dotted":
        return "Write its variable."
    roster, name = (a.text for a in target.args)
    return f"Write: {node.text}({roster} where {name} …)"


def _rosters_of(checker: Checker, roster: Symbol) -> tuple[int, ...]:
    return (*roster.rosters, roster.index)


def _over(checker: Checker, name: str, inner: tuple[int, ...], tree: Any, where: Any) -> Any:
    around, depth = checker.scope.rosters, 0
    # Inside its own roster too an aggregate goes over all rows, not only over the one at hand.
    while depth < len(inner) - 1 and around[depth : depth + 1] == inner[depth : depth + 1]:
        depth += 1
    return ["aggregate", name, list(inner[depth:]), depth, tree, where]
