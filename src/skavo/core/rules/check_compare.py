"""Checking comparisons: two values, ranges, codes, answered or not, masks and patterns."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from decimal import Decimal
from functools import partial
from typing import TYPE_CHECKING, Any

from skavo.core.rules.check_names import read_as
from skavo.core.rules.faults import Span
from skavo.core.rules.limits import Limits, limits_of, outcome
from skavo.core.rules.patterns import pattern_fault
from skavo.core.rules.syntax import Node
from skavo.core.rules.types import NOTHING, ORDERED, ROWS, TEXT, UNKNOWN, YES_NO, Type, Typed, nearest, sentence

if TYPE_CHECKING:
    from skavo.core.rules.check import Checker

_COMPARED_ONLY_AS_ANSWERED = ("point", "path", "area", "media", "rows")


# equality


def compared(checker: Checker, op: str, left: Node, right: Node, span: Span) -> Any:
    """The typed tree of `left is right` or `left is not right`, with all that may be wrong with it."""
    return _equality(op, checker, Node(op, (left, right), span))[0]


def _equality(op: str, checker: Checker, node: Node) -> Typed:
    left, right = node.args
    tree, kind = _left_side(checker, left, right)
    _doubt_same_sides(checker, node)
    if kind.name in _COMPARED_ONLY_AS_ANSWERED:
        message = f"{sentence(kind.words)} cannot be compared."
        mend = "Ask whether it is answered or is missing."
        if kind == ROWS:
            mend = f"Say of which rows: any({left.text} where …), count({left.text} where …)."
        return checker.fault("wrong_type", message, left.span, mend)
    other_tree, other = operand(checker, right, kind, left)
    tree, other_tree = _aligned(checker, (tree, kind), (other_tree, other), right.span)
    _always_or_never(checker, op, tree, other_tree, node.span)
    return [op, tree, other_tree], YES_NO


def _doubt_same_sides(checker: Checker, node: Node) -> None:
    left, right = node.args
    if left.op == right.op == "name" and left.text == right.text and left.text in checker.scope.symbols:
        message = "The same thing stands on both sides."
        checker.fault("same_sides", message, node.span, "Compare it with something else.", "doubt")


def _left_side(checker: Checker, left: Node, right: Node) -> Typed:
    """A bare code may stand on the left as well: `bicycle is trade`."""
    if left.op in ("name", "number", "text") and left.text not in checker.scope.symbols and right.op == "name":
        symbol = checker.scope.symbols.get(right.text)
        if symbol and symbol.type.name == "code":
            return _code(checker, left, symbol.type), symbol.type
    return checker.check(left)


def operand(checker: Checker, node: Node, kind: Type, against: Node) -> Typed:
    """`node` as something comparable with a value of type `kind`; a bare code where that is one of a list."""
    if kind.name == "codes":
        mend = f"Write: {against.text or 'it'} includes …"
        return checker.fault("wrong_type", "Several codes are compared with “includes”.", against.span, mend)
    if kind.name == "code" and kind.code_list and not _is_variable(checker, node, kind):
        return _code(checker, node, kind), kind
    if kind.name == "unit" and node.op == "name" and node.text not in checker.scope.symbols:
        message = f"There is no variable “{node.text}”."
        return checker.fault("unknown_name", message, node.span, f'A unit is named in quotes: "{node.text}"')
    if kind == UNKNOWN and node.op == "name" and node.text not in checker.scope.symbols:
        # The other side is at fault; this may be one of its codes.
        return NOTHING
    return checker.check(node)


def _aligned(checker: Checker, left: Typed, right: Typed, span: Span) -> tuple[Any, Any]:
    """Both trees, brought to one type, or the fault that there is none."""
    (tree, kind), (other_tree, other) = left, right
    names = {kind.name, other.name}
    if "unknown" in names:
        return tree, other_tree
    if "any" in names:
        known = other.name if kind.name == "any" else kind.name
        return read_as(tree, known), read_as(other_tree, known)
    if names == {"date", "date-time"}:
        return _as_date(tree, kind), _as_date(other_tree, other)
    if names == {"number", "quantity"}:
        number = kind if kind.name == "number" else other
        if number.dimension == (other if number is kind else kind).dimension:
            return tree, other_tree
        _clash(checker, kind, other, span)
    elif names == {"quantity"} and kind.dimension != other.dimension:
        _clash(checker, kind, other, span)
    elif names == {"duration"} and any(t[0] == "literal" and t[2][0] for t in (tree, other_tree)):
        mend = "Compare days instead, or use months(a, b)."
        checker.fault("wrong_type", "A month has no fixed length, so it cannot be compared.", span, mend)
    elif len(names) > 1 and names not in ({"text", "code"}, {"text", "unit"}):
        written = any(t[0] in ("literal", "divide") for t in (tree, other_tree))
        mend = _MENDS.get(frozenset(names), "") if written else ""
        checker.fault("wrong_type", f"{sentence(kind.words)} is compared with {other.words}.", span, mend)
    return tree, other_tree


_MENDS: dict[frozenset[str], str] = {
    frozenset(("number", "duration")): "Leave the unit out, or compare a span of time.",
    frozenset(("date", "number")): "A day is written year-month-day, as in 2027-03-14.",
    frozenset(("date", "text")): "A day is written year-month-day and without quotes, as in 2027-03-14.",
    frozenset(("number", "text")): "A number is written without quotes; a text cannot be one.",
}


def _as_date(tree: Any, kind: Type) -> Any:
    return ["date_of", tree] if kind.name == "date-time" else tree


def _clash(checker: Checker, kind: Type, other: Type, span: Span) -> None:
    if kind.name == other.name:
        checker.fault(
            "dimension_clash", f"These measure different things: {kind.dimension} and {other.dimension}.", span
        )
        return
    quantity = kind if kind.name == "quantity" else other
    message = f"A quantity ({quantity.dimension}) is compared with a number."
    checker.fault("dimension_clash", message, span, "Write a unit behind the number, as in 400 kg.")


def _is_variable(checker: Checker, node: Node, kind: Type) -> bool:
    if node.op not in ("name", "number", "text"):
        return True
    if kind.code_list and _bare(node) in set(checker.scope.codes(kind.code_list)):
        return False
    return node.op == "name" and node.text in checker.scope.symbols


def _code(checker: Checker, node: Node, kind: Type) -> Any:
    codes = list(checker.scope.codes(kind.code_list or ""))
    code = _bare(node)
    # A list without codes, or that is not there, is told of by itself.
    if code in codes or not codes:
        checker.codes.append((node, kind.code_list or ""))
        return ["literal", "code", code]
    hint = nearest(code, codes)
    mend = f"Did you mean {hint}?" if hint else f"Codes: {', '.join(codes[:12])}{' …' if len(codes) > 12 else ''}."
    message = f"The list {kind.code_list} has no code “{code}”."
    return checker.fault("impossible_code", message, node.span, mend)[0]


# larger and smaller


def _ordering(op: str, checker: Checker, node: Node) -> Typed:
    sides = _ordered(checker, *node.args)
    if sides is None:
        return NOTHING
    _doubt_same_sides(checker, node)
    _always_or_never(checker, op, *sides, node.span)
    return [op, *sides], YES_NO


def _ordered(checker: Checker, left: Node, right: Node) -> tuple[Any, Any] | None:
    (tree, kind), (other_tree, other) = checker.check(left), checker.check(right)
    for side, found in ((left, kind), (right, other)):
        if found.name not in (*ORDERED, "unknown", "any"):
            mend = "Write: count(…)" if found.name in ("codes", "rows") else _unquoted(side)
            checker.fault("wrong_type", f"{sentence(found.words)} has no larger or smaller.", side.span, mend)
            return None
    if kind.name == other.name == "any":
        return read_as(tree, "number"), read_as(other_tree, "number")
    return _aligned(checker, (tree, kind), (other_tree, other), right.span)


def _unquoted(side: Node) -> str:
    """How a date or number that stands between quotes is written."""
    plain = side.text[1:-1] if side.op == "text" else ""
    return f"Write it without quotes: {plain}" if re.fullmatch(r"\d{4}-\d\d-\d\d|\d+(\.\d+)?", plain) else ""


def _between(checker: Checker, node: Node) -> Typed:
    value, low, high = node.args
    if low.op == high.op == "number" and Decimal(low.text) > Decimal(high.text):
        checker.fault("empty_range", "The first limit is above the second.", low.span, "Write the smaller one first.")
        return NOTHING
    above, below = _ordered(checker, value, low), _ordered(checker, value, high)
    if above is None or below is None:
        return NOTHING
    declared = _declared(checker)
    holds = [_outcome("ge", *above, declared), _outcome("le", *below, declared)]
    always = False if False in holds else True if holds == [True, True] else None
    _tell(checker, always, node.span, above[0], declared)
    return ["between", above[0], above[1], below[1]], YES_NO


# always or never


def _declared(checker: Checker) -> Mapping[int, Limits]:
    own = checker.scope.own
    return {s.index: s.limits for s in checker.scope.symbols.values() if s.limits is not None and s.index != own}


def _outcome(op: str, left: Any, right: Any, declared: Mapping[int, Limits]) -> bool | None:
    return outcome(op, limits_of(left, declared), limits_of(right, declared))


def _always_or_never(checker: Checker, op: str, left: Any, right: Any, span: Span) -> None:
    declared = _declared(checker)
    _tell(checker, _outcome(op, left, right, declared), span, left, declared)


def _tell(checker: Checker, always: bool | None, span: Span, left: Any, declared: Mapping[int, Limits]) -> None:
    if always is None:
        return
    limits = limits_of(left, declared)
    told = [f"at least {limits.low}"] if limits.low is not None else []
    told += [f"at most {limits.high}"] if limits.high is not None else []
    because = f" The left side is {' and '.join(told)}." if told else ""
    code, words = ("always_true", "is always true") if always else ("always_false", "is never true")
    checker.fault(code, f"This comparison {words}.{because}", span, "Change a limit, or remove it.", "doubt")


# lists of codes


def _membership(op: str, checker: Checker, node: Node) -> Typed:
    value, items = node.args
    tree, kind = checker.check(value)
    if kind.name in _COMPARED_ONLY_AS_ANSWERED:
        return checker.fault("wrong_type", f"{sentence(kind.words)} cannot be compared.", value.span)
    found = []
    for item in items.args:
        item_tree, other = operand(checker, item, kind, value)
        _, item_tree = _aligned(checker, (tree, kind), (item_tree, other), item.span)
        found.append(item_tree)
    return [op, tree, found], YES_NO


def _inclusion(mode: str, checker: Checker, node: Node) -> Typed:
    value = node.args[0]
    items: Iterable[Node] = node.args[1].args if node.op != "includes" else [node.args[1]]
    tree, kind = checker.check(value)
    if kind == UNKNOWN:
        return NOTHING
    if kind.name != "codes":
        mend = f"Write: {value.text} is …" if kind.name == "code" else ""
        return checker.fault("wrong_type", "“includes” needs a multiple answer on its left.", value.span, mend)
    codes = [_included(checker, item, kind) for item in items]
    return ["includes", tree, mode, codes], YES_NO


def _included(checker: Checker, item: Node, kind: Type) -> Any:
    """The typed tree of a code of the list, or of what holds one: a variable, or in a code filter the code itself."""
    known = set(checker.scope.codes(kind.code_list or ""))
    if item.op == "dotted":
        return checker.expect(item, TEXT)
    symbol = checker.scope.symbols.get(item.text) if item.op == "name" and item.text not in known else None
    if symbol is not None and symbol.type.name == "code":
        return checker.check(item)[0]
    return _code(checker, item, kind)


# answered or not


def _status(test: str, checker: Checker, node: Node) -> Typed:
    target = node.args[0]
    tree, kind = checker.check(target)
    tree = tree[1] if tree[0] == "size" else tree
    if kind == UNKNOWN or tree == NOTHING[0]:
        return NOTHING
    if tree[0] == "unit" and test in ("answered", "missing"):
        return ["known", tree, test == "answered"], YES_NO
    if tree[0] == "earlier" and test in ("answered", "missing"):
        return ["known", tree, test == "answered"], YES_NO
    if tree[0] != "variable":
        return checker.fault("not_a_variable", "Only a variable can be answered or missing.", target.span)
    if kind.name == "rows":
        mend = f"Write: count({target.text}) > 0"
        return checker.fault("not_a_variable", "A roster has rows; it is not answered itself.", target.span, mend)
    if kind.code_list and test in checker.scope.codes(kind.code_list):
        message = f"“is {test}” asks how it was answered, and not for the code {test}."
        verb = "includes" if kind.name == "codes" else "is"
        mend = f'For the code write: {target.text} {verb} "{test}"'
        checker.fault("code_or_status", message, node.span, mend, "doubt")
    return ["status", test, tree[1], tree[2]], YES_NO


# texts


def _matches_mask(checker: Checker, node: Node) -> Typed:
    return ["matches", checker.expect(node.args[0], TEXT), "mask", node.args[1].text[1:-1]], YES_NO


def _matches_pattern(checker: Checker, node: Node) -> Typed:
    pattern = node.args[1]
    tree = checker.expect(node.args[0], TEXT)
    fault = pattern_fault(pattern.text[1:-1])
    if fault is not None:
        code, message, mend = fault
        return checker.fault(code, message, pattern.span, mend)
    return ["matches", tree, "pattern", pattern.text[1:-1]], YES_NO


def _bare(node: Node) -> str:
    return node.text[1:-1] if node.op == "text" else node.text


OPS: dict[str, Callable[[Checker, Node], Typed]] = {
    "is_": partial(_equality, "is"),
    "is_not": partial(_equality, "is_not"),
    **{op: partial(_ordering, op) for op in ("lt", "le", "gt", "ge")},
    "between": _between,
    "one_of": partial(_membership, "one_of"),
    "none_of": partial(_membership, "none_of"),
    "includes": partial(_inclusion, "any"),
    "includes_any": partial(_inclusion, "any"),
    "includes_all": partial(_inclusion, "all"),
    "includes_only": partial(_inclusion, "only"),
    "is_answered": partial(_status, "answered"),
    "is_missing": partial(_status, "missing"),
    "is_not_known": partial(_status, "not_known"),
    "is_refused": partial(_status, "refused"),
    "was_asked": partial(_status, "asked"),
    "matches_mask": _matches_mask,
    "matches_pattern": _matches_pattern,
}
