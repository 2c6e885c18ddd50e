"""Checking names: variables, `row`, what is known outside, attributes of codes and units, the earlier round."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING, Any

from skavo.core.rules.faults import Span
from skavo.core.rules.phrasings import WORDS
from skavo.core.rules.syntax import Node
from skavo.core.rules.types import (
    DATE,
    DATE_TIME,
    NOTHING,
    NUMBER,
    ROWS,
    TEXT,
    UNIT,
    Scope,
    Symbol,
    Type,
    Typed,
    TypeName,
    nearest,
)
from skavo.core.rules.units import find_units

if TYPE_CHECKING:
    from skavo.core.rules.check import Checker


OUTSIDE: dict[str, Type] = {
    "today": DATE,
    "now": DATE_TIME,
    "interview.started": DATE_TIME,
    "interview.language": TEXT,
    "enumerator.name": TEXT,
}
# What every register knows of a unit besides its own fields.
# Stands for the register of a unit that may be of any of them: which it is shows when somebody goes there.
ANY_REGISTER = ""
UNIT_FACTS: dict[str, TypeName] = {"id": "text", "label": "text", "kind": "text", "under": "text"}


def _name(checker: Checker, node: Node) -> Typed:
    scope = checker.scope
    if node.text == "row":
        return _row(checker, node)
    if node.text == "unit":
        return visited_unit(checker), UNIT
    if node.text in OUTSIDE:
        return ["outside", node.text], OUTSIDE[node.text]
    symbol = scope.symbols.get(node.text)
    if symbol is None:
        return unknown_name(checker, node.text, node.span)
    return _row_thing(checker, symbol) or variable(checker, symbol, node)


def _row_thing(checker: Checker, roster: Symbol) -> Typed | None:
    """What the row at hand stands for, by the name of its roster: a code or a unit; None for all other names."""
    kind = checker.scope.row_types.get(roster.index)
    if kind is None or roster.index not in checker.scope.rosters:
        return None
    return ["row_name", checker.scope.rosters.index(roster.index) + 1], kind


def variable(checker: Checker, symbol: Symbol, node: Node) -> Typed:
    """A variable read from where the rule stands; quantities are read by their size."""
    if not reachable(checker, symbol, node):
        # Its type is known all the same: what stands beside it is still checked, and raises no echo.
        return NOTHING[0], symbol.type
    tree: Any = ["variable", symbol.index, len(symbol.rosters)]
    return (["size", tree] if symbol.sized else tree), symbol.type


def _row(checker: Checker, node: Node) -> Typed:
    if not checker.scope.rosters:
        return checker.fault("row_outside", "“row” has a meaning only inside a roster.", node.span)
    return ["row", len(checker.scope.rosters), checker.scope.rosters[-1]], NUMBER


def unknown_name(checker: Checker, name: str, span: Span) -> Typed:
    hint = nearest(name, [*checker.scope.symbols, *OUTSIDE, "unit"])
    mend = f"Did you mean {hint}?" if hint else "Use the variable of a question that is asked earlier."
    mend = WORDS.get(name, mend)
    if find_units(checker.scope.units, name):
        mend = f"{name} is a unit: write a number before it, as in 1 {name}."
    return checker.fault("unknown_name", f"There is no variable “{name}”.", span, mend)


def reachable(checker: Checker, symbol: Symbol, node: Node) -> bool:
    scope = checker.scope
    if symbol.index > scope.latest:
        message = f"“{symbol.name}” is asked later, so there is no answer to it here."
        checker.fault("asked_later", message, node.span, "Move this rule behind it, or move the question up.")
        return False
    if symbol.index in scope.hidden:
        message = f"“{symbol.name}” stands in the same section of random order, so it may come later."
        checker.fault("random_order", message, node.span, "Give the section a fixed order, or move one of them out.")
        return False
    around = symbol.rosters
    if scope.rosters[: len(around)] != around:
        roster = scope.roster_names.get(around[-1], "the roster")
        checker.fault(
            "needs_aggregate",
            f"“{symbol.name}” is asked in every row of {roster}; here it has many answers.",
            node.span,
            f"Say which: sum({roster}.{symbol.name}), any({roster} where {symbol.name} …), count({roster} where …).",
        )
        return False
    return True


def _dotted(checker: Checker, node: Node) -> Typed:
    owner, name = node.args
    scope = checker.scope
    whole = f"{owner.text}.{name.text}"
    if whole in OUTSIDE:
        return ["outside", whole], OUTSIDE[whole]
    if scope.filtered_list == owner.text:
        return _attribute(checker, owner, name)
    if owner.text == "unit":
        return _unit_attribute(checker, visited_unit(checker), register_here(checker), name)
    if owner.text == "earlier":
        return _earlier(checker, name)
    symbol = scope.symbols.get(owner.text)
    if symbol is None:
        if owner.text in ("interview", "enumerator"):
            return _one_of_known(checker, whole, node.span, [n for n in OUTSIDE if n.startswith(owner.text)])
        return unknown_name(checker, owner.text, owner.span)
    if symbol.type.name == "unit":
        tree, _ = variable(checker, symbol, owner)
        return _unit_attribute(checker, tree, symbol.type.register, name)
    stands_for = _row_thing(checker, symbol)
    if stands_for and stands_for[1].name == "unit" and name.text not in scope.symbols:
        return _unit_attribute(checker, stands_for[0], stands_for[1].register, name)
    return _in_roster(checker, node, symbol)


def _in_roster(checker: Checker, node: Node, roster: Symbol) -> Typed:
    owner, name = node.args
    symbol = checker.scope.symbols.get(name.text)
    if symbol is not None and roster.type == ROWS and roster.index in symbol.rosters:
        return variable(checker, symbol, node)
    inside = [s.name for s in checker.scope.symbols.values() if roster.index in s.rosters]
    if roster.type != ROWS:
        mend = f"Write {name.text}." if symbol else ""
        message = f"“{owner.text}” is not a roster, so nothing can follow the dot."
        return checker.fault("unknown_name", message, name.span, mend)
    hint = nearest(name.text, inside)
    mend = f"Did you mean {owner.text}.{hint}?" if hint else f"{owner.text} asks: {', '.join(inside) or 'nothing'}."
    return checker.fault("unknown_name", f"“{owner.text}” asks nothing called “{name.text}”.", name.span, mend)


def _one_of_known(checker: Checker, word: str, span: Span, known: Iterable[str]) -> Typed:
    names = list(known)
    hint = nearest(word, names)
    mend = f"Did you mean {hint}?" if hint else f"There are: {', '.join(names)}."
    return checker.fault("unknown_name", f"There is nothing called “{word}”.", span, mend)


def _attribute(checker: Checker, owner: Node, name: Node) -> Typed:
    known = list(checker.scope.attributes(owner.text))
    if name.text == "code" or name.text in known:
        return ["attribute", name.text], TEXT
    hint = nearest(name.text, known)
    mend = f"Did you mean {owner.text}.{hint}?" if hint else f"Attributes: {', '.join(known) or 'none yet'}."
    return checker.fault("unknown_attribute", f"The list {owner.text} has no attribute “{name.text}”.", name.span, mend)


def visited_unit(checker: Checker) -> Any:
    """The unit of the row in a roster over units, else the unit that the interview is about."""
    scope = checker.scope
    for depth in range(len(scope.rosters), 0, -1):
        if _is_of_units(scope, scope.rosters[depth - 1]):
            return ["row_name", depth]
    return ["outside", "unit"]


def _is_of_units(scope: Scope, roster: int) -> bool:
    return roster in scope.row_types and scope.row_types[roster].name == "unit"


def list_of(register: str, field: str) -> str:
    """What the code list of a register's field is called where rules and releases name lists."""
    return f"{register}.{field}"


def register_here(checker: Checker) -> str | None:
    """The register that the unit of visited_unit belongs to, where it is known."""
    scope = checker.scope
    found = [scope.row_types[r].register for r in scope.rosters if _is_of_units(scope, r)]
    return found[-1] if found else scope.visited


def _unit_attribute(checker: Checker, unit: Any, register: str | None, name: Node) -> Typed:
    fields = checker.scope.registers.get(register or ANY_REGISTER)
    if fields is None:
        return ["unit", unit, name.text, UNIT_FACTS.get(name.text, "any")], Type("any")
    known = {**UNIT_FACTS, **fields}
    if name.text in known:
        listed = list_of(register or ANY_REGISTER, name.text)
        code_list = listed if checker.scope.codes(listed) else None
        return ["unit", unit, name.text, known[name.text]], Type(known[name.text], code_list)
    hint = nearest(name.text, known)
    mend = f"Did you mean {hint}?" if hint else f"Its fields: {', '.join(known)}."
    whose = f"The register {register}" if register else "No kind of unit of this study"
    has = "has no" if register else "has a"
    return checker.fault("unknown_attribute", f"{whose} {has} field “{name.text}”.", name.span, mend)


def read_as(tree: Any, type_name: str) -> Any:
    """A tree whose register fields of unknown type are read as what they are compared, counted or asked for with."""
    if tree[0] == "if":
        return ["if", tree[1], *[read_as(branch, type_name) for branch in tree[2:]]]
    return [*tree[:3], type_name] if tree[0] == "unit" and tree[3] == "any" else tree


def _earlier(checker: Checker, name: Node) -> Typed:
    symbol = checker.scope.symbols.get(name.text)
    if symbol is None:
        return unknown_name(checker, name.text, name.span)
    around = symbol.rosters
    if checker.scope.rosters[: len(around)] != around:
        message = (
            f"“{name.text}” has an answer for every row; only in the same row can it be read from the earlier round."
        )
        return checker.fault("needs_aggregate", message, name.span, "Move the rule into the roster.")
    tree: Any = ["earlier", symbol.index, len(around)]
    return (["size", tree] if symbol.sized else tree), symbol.type


OPS: dict[str, Callable[[Checker, Node], Typed]] = {"name": _name, "dotted": _dotted}
