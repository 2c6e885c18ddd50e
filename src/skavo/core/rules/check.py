"""Syntax tree to typed tree: names resolved, types held against each other, faults with their place and mend."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Any

from skavo.core.rules.check_rows import check_aggregate
from skavo.core.rules.functions import AGGREGATES, FUNCTIONS, ROW_TESTS, duration_of
from skavo.core.rules.syntax import Fault, Node, RuleSyntaxError, Span, parse_rule
from skavo.core.rules.types import (
    DATE,
    DURATION,
    NUMBER,
    ROWS,
    TEXT,
    TIME,
    UNKNOWN,
    YES_NO,
    Scope,
    Symbol,
    Type,
    nearest,
)

Typed = tuple[Any, Type]
_NOTHING: Typed = (["literal", "text", None], UNKNOWN)

OUTSIDE: dict[str, Type] = {
    "today": DATE,
    "interview.language": TEXT,
    "enumerator.name": TEXT,
}
_ORDERED = ("number", "date", "time", "duration")


def check_rule(text: str, scope: Scope, expected: Type | None) -> tuple[Any | None, list[Fault]]:
    """Return (typed tree, faults) of a rule's text; the tree is None when there is an error.

    `expected` is the type the rule's place asks for, None where any value will do.
    """
    try:
        node = parse_rule(text)
    except RuleSyntaxError as error:
        return None, [error.fault]
    checker = Checker(scope)
    tree, kind = checker.check(node)
    if expected is not None and kind not in (expected, UNKNOWN):
        mend = "Compare it with something, as in: age >= 15" if expected == YES_NO else ""
        checker.fault("wrong_type", f"This gives {kind.words}; {expected.words} is needed here.", node.span, mend)
    errors = [f for f in checker.faults if f.severity == "error"]
    return (None if errors else tree), checker.faults


def rule_type(text: str, scope: Scope) -> Type:
    """The type of what a rule gives; *unknown* where it has an error."""
    try:
        return Checker(scope).check(parse_rule(text))[1]
    except RuleSyntaxError:
        return UNKNOWN


class Checker:
    """Walks a syntax tree once; faults are collected, not raised. One method for each op of the grammar."""

    def __init__(self, scope: Scope) -> None:
        self.scope = scope
        self.faults: list[Fault] = []

    def fault(self, code: str, message: str, span: Span, mend: str = "", severity: str = "error") -> Typed:
        found = Fault(code, message, span, mend, severity)
        if found not in self.faults:
            self.faults.append(found)
        return _NOTHING

    def check(self, node: Node) -> Typed:
        method: Callable[[Node], Typed] = getattr(self, f"_{node.op}".rstrip("_"))
        return method(node)

    def expect(self, node: Node, *wanted: Type) -> Any:
        tree, kind = self.check(node)
        if kind != UNKNOWN and kind.name not in [w.name for w in wanted]:
            names = " or ".join(w.words for w in wanted)
            self.fault("wrong_type", f"This is {kind.words}; {names} is needed here.", node.span)
        return tree

    # literals

    def _number(self, node: Node) -> Typed:
        return ["literal", "number", node.text], NUMBER

    def _text(self, node: Node) -> Typed:
        return ["literal", "text", node.text[1:-1]], TEXT

    def _yes(self, node: Node) -> Typed:
        return ["literal", "yes/no", True], YES_NO

    def _no(self, node: Node) -> Typed:
        return ["literal", "yes/no", False], YES_NO

    def _date(self, node: Node) -> Typed:
        from datetime import date

        try:
            date.fromisoformat(node.text)
        except ValueError:
            return self.fault("no_such_date", f"There is no day {node.text}.", node.span, "Write year-month-day.")
        return ["literal", "date", node.text], DATE

    def _time(self, node: Node) -> Typed:
        hours, minutes = node.text.split(":")
        if int(hours) > 23 or int(minutes) > 59:
            return self.fault("no_such_time", f"There is no time {node.text}.", node.span, "Write 00:00 to 23:59.")
        return ["literal", "time", f"{int(hours):02}:{minutes}"], TIME

    def _amount(self, node: Node) -> Typed:
        from decimal import Decimal

        number, unit = node.args
        duration = duration_of(Decimal(number.text), unit.text)
        if duration is None:
            known = ["minutes", "hours", "days", "weeks", "months", "years"]
            hint = nearest(unit.text, known)
            mend = f"Did you mean {hint}?" if hint else "Units of time: " + ", ".join(known) + "."
            return self.fault("unknown_unit", f"There is no unit “{unit.text}”.", unit.span, mend)
        return ["literal", "duration", [duration.months, duration.seconds]], DURATION

    # names

    def _name(self, node: Node) -> Typed:
        if node.text == "row":
            return self._row(node)
        if node.text in OUTSIDE:
            return ["outside", node.text], OUTSIDE[node.text]
        symbol = self.scope.symbols.get(node.text)
        if symbol is None:
            return self.unknown_name(node.text, node.span)
        if not self.reachable(symbol, node):
            return _NOTHING
        return ["variable", symbol.index, len(symbol.rosters)], symbol.type

    def _row(self, node: Node) -> Typed:
        if not self.scope.rosters:
            return self.fault("row_outside", "“row” has a meaning only inside a roster.", node.span)
        return ["row", len(self.scope.rosters), self.scope.rosters[-1]], NUMBER

    def unknown_name(self, name: str, span: Span) -> Typed:
        hint = nearest(name, [*self.scope.symbols, *OUTSIDE])
        mend = f"Did you mean {hint}?" if hint else "Use the variable of a question that is asked earlier."
        return self.fault("unknown_name", f"There is no variable “{name}”.", span, mend)

    def reachable(self, symbol: Symbol, node: Node) -> bool:
        if symbol.index > self.scope.latest:
            self.fault(
                "asked_later",
                f"“{symbol.name}” is asked later, so there is no answer to it here.",
                node.span,
                "Move this rule behind it, or move the question up.",
            )
            return False
        around = symbol.rosters
        if self.scope.rosters[: len(around)] != around:
            roster = self.scope.roster_names.get(around[-1], "the roster")
            self.fault(
                "needs_aggregate",
                f"“{symbol.name}” is asked in every row of {roster}; here it has many answers.",
                node.span,
                f"Say which: sum({roster}.{symbol.name}), any({roster} where {symbol.name} …), count({roster} where …).",
            )
            return False
        return True

    def _dotted(self, node: Node) -> Typed:
        owner, name = node.args
        whole = f"{owner.text}.{name.text}"
        if whole in OUTSIDE:
            return ["outside", whole], OUTSIDE[whole]
        if self.scope.filtered_list == owner.text:
            return self._attribute(owner, name)
        roster, symbol = self.scope.symbols.get(owner.text), self.scope.symbols.get(name.text)
        if roster is None:
            return self.unknown_name(owner.text, owner.span)
        if symbol is None or roster.type != ROWS or roster.index not in symbol.rosters:
            inside = [s.name for s in self.scope.symbols.values() if roster.index in s.rosters]
            hint = nearest(name.text, inside)
            mend = (
                f"Did you mean {owner.text}.{hint}?"
                if hint
                else f"{owner.text} asks: {', '.join(inside) or 'nothing'}."
            )
            return self.fault("unknown_name", f"“{owner.text}” asks nothing called “{name.text}”.", name.span, mend)
        if not self.reachable(symbol, node):
            return _NOTHING
        return ["variable", symbol.index, len(symbol.rosters)], symbol.type

    def _attribute(self, owner: Node, name: Node) -> Typed:
        known = list(self.scope.attributes(owner.text))
        if name.text == "code" or name.text in known:
            return ["attribute", name.text], TEXT
        hint = nearest(name.text, known)
        mend = f"Did you mean {owner.text}.{hint}?" if hint else f"Attributes: {', '.join(known) or 'none'}."
        return self.fault("unknown_name", f"The list {owner.text} has no attribute “{name.text}”.", name.span, mend)

    # logic

    def _logic(self, op: str, node: Node) -> Typed:
        return [op, *[self.expect(arg, YES_NO) for arg in node.args]], YES_NO

    def _and(self, node: Node) -> Typed:
        return self._logic("and", node)

    def _or(self, node: Node) -> Typed:
        return self._logic("or", node)

    def _not(self, node: Node) -> Typed:
        return self._logic("not", node)

    def _if(self, node: Node) -> Typed:
        condition = self.expect(node.args[0], YES_NO)
        yes, kind = self.check(node.args[1])
        no, other = self.check(node.args[2])
        if UNKNOWN not in (kind, other) and kind != other:
            self.fault("wrong_type", f"One branch gives {kind.words}, the other {other.words}.", node.args[2].span)
        return ["if", condition, yes, no], kind if kind != UNKNOWN else other

    # comparing

    def _is(self, node: Node) -> Typed:
        return self._equality("is", node)

    def _is_not(self, node: Node) -> Typed:
        return self._equality("is_not", node)

    def _equality(self, op: str, node: Node) -> Typed:
        left, right = node.args
        tree, kind = self.check_left(left, right)
        return [op, tree, self._operand(right, kind, left)], YES_NO

    def check_left(self, left: Node, right: Node) -> Typed:
        """A bare code may stand on the left as well: `bicycle is trade`."""
        if left.op in ("name", "number", "text") and left.text not in self.scope.symbols and right.op == "name":
            symbol = self.scope.symbols.get(right.text)
            if symbol and symbol.type.name == "code":
                return self._code(left, symbol.type), symbol.type
        return self.check(left)

    def _operand(self, node: Node, kind: Type, against: Node) -> Any:
        """`node` as something comparable with a value of type `kind`."""
        if kind.name == "codes":
            mend = f"Write: {against.text or 'it'} includes …"
            return self.fault("wrong_type", "Several codes are compared with “includes”.", against.span, mend)[0]
        if kind.name == "code" and not self._is_variable(node, kind):
            return self._code(node, kind)
        tree, other = self.check(node)
        if UNKNOWN in (kind, other) or kind.name == other.name:
            return tree
        if {kind.name, other.name} == {"text", "code"}:
            return tree
        self.fault("wrong_type", f"{_sentence(kind.words)} is compared with {other.words}.", node.span)
        return tree

    def _is_variable(self, node: Node, kind: Type) -> bool:
        if node.op not in ("name", "number", "text"):
            return True
        if kind.code_list and _bare(node) in set(self.scope.codes(kind.code_list)):
            return False
        symbol = self.scope.symbols.get(node.text) if node.op == "name" else None
        return symbol is not None

    def _code(self, node: Node, kind: Type) -> Any:
        codes = list(self.scope.codes(kind.code_list or ""))
        code = _bare(node)
        if code in codes:
            return ["literal", "code", code]
        hint = nearest(code, codes)
        mend = f"Did you mean {hint}?" if hint else f"Codes: {', '.join(codes[:12])}{' …' if len(codes) > 12 else ''}."
        message = f"The list {kind.code_list} has no code “{code}”."
        return self.fault("impossible_code", message, node.span, mend)[0]

    def _ordering(self, op: str, node: Node) -> Typed:
        left, right = node.args
        tree, kind = self.check(left)
        other_tree, other = self.check(right)
        for operand, found in ((left, kind), (right, other)):
            if found != UNKNOWN and found.name not in _ORDERED:
                self.fault("wrong_type", f"{_sentence(found.words)} has no larger or smaller.", operand.span)
                return _NOTHING
        if UNKNOWN not in (kind, other) and kind != other:
            self.fault("wrong_type", f"{_sentence(kind.words)} is compared with {other.words}.", right.span)
        return [op, tree, other_tree], YES_NO

    def _lt(self, node: Node) -> Typed:
        return self._ordering("lt", node)

    def _le(self, node: Node) -> Typed:
        return self._ordering("le", node)

    def _gt(self, node: Node) -> Typed:
        return self._ordering("gt", node)

    def _ge(self, node: Node) -> Typed:
        return self._ordering("ge", node)

    def _between(self, node: Node) -> Typed:
        value, low, high = node.args
        first, _ = self._ordering("ge", Node("ge", (value, low), node.span))
        if first[0] != "ge":
            return _NOTHING
        second, _ = self._ordering("le", Node("le", (value, high), node.span))
        if low.op == high.op == "number" and float(low.text) > float(high.text):
            self.fault("empty_range", "The first limit is above the second.", low.span, "Write the smaller one first.")
        return ["between", first[1], first[2], second[2]], YES_NO

    def _membership(self, op: str, node: Node) -> Typed:
        value, items = node.args
        tree, kind = self.check(value)
        return [op, tree, [self._operand(item, kind, value) for item in items.args]], YES_NO

    def _one_of(self, node: Node) -> Typed:
        return self._membership("one_of", node)

    def _none_of(self, node: Node) -> Typed:
        return self._membership("none_of", node)

    def _inclusion(self, mode: str, node: Node, items: Iterable[Node]) -> Typed:
        value = node.args[0]
        tree, kind = self.check(value)
        if kind == UNKNOWN:
            return _NOTHING
        if kind.name != "codes":
            mend = f"Write: {value.text} is …" if kind.name == "code" else ""
            return self.fault("wrong_type", "“includes” needs a multiple answer on its left.", value.span, mend)
        codes = [self._code(item, kind) for item in items]
        return ["includes", tree, mode, [code[2] for code in codes]], YES_NO

    def _includes(self, node: Node) -> Typed:
        return self._inclusion("any", node, [node.args[1]])

    def _includes_any(self, node: Node) -> Typed:
        return self._inclusion("any", node, node.args[1].args)

    def _includes_all(self, node: Node) -> Typed:
        return self._inclusion("all", node, node.args[1].args)

    def _includes_only(self, node: Node) -> Typed:
        return self._inclusion("only", node, node.args[1].args)

    def _status(self, test: str, node: Node) -> Typed:
        target = node.args[0]
        tree, kind = self.check(target)
        if kind == UNKNOWN:
            return _NOTHING
        if tree[0] != "variable":
            return self.fault("not_a_variable", "Only a variable can be answered or missing.", target.span)
        return ["status", test, tree[1], tree[2]], YES_NO

    def _is_answered(self, node: Node) -> Typed:
        return self._status("answered", node)

    def _is_missing(self, node: Node) -> Typed:
        return self._status("missing", node)

    def _is_not_known(self, node: Node) -> Typed:
        return self._status("not_known", node)

    def _is_refused(self, node: Node) -> Typed:
        return self._status("refused", node)

    def _was_asked(self, node: Node) -> Typed:
        return self._status("asked", node)

    def _matches_mask(self, node: Node) -> Typed:
        return ["matches", self.expect(node.args[0], TEXT), "mask", node.args[1].text[1:-1]], YES_NO

    def _matches_pattern(self, node: Node) -> Typed:
        pattern = node.args[1]
        try:
            re.compile(pattern.text[1:-1])
        except re.error as error:
            return self.fault("wrong_pattern", f"The pattern cannot be read: {error.msg}.", pattern.span)
        if _may_run_away(pattern.text):
            message = "This pattern repeats a repetition and can run for hours on some answers."
            return self.fault("runaway_pattern", message, pattern.span, "Remove one of the two repetitions.")
        return ["matches", self.expect(node.args[0], TEXT), "pattern", pattern.text[1:-1]], YES_NO

    # numbers and dates

    def _add(self, node: Node) -> Typed:
        return self._sum("add", node)

    def _subtract(self, node: Node) -> Typed:
        return self._sum("subtract", node)

    def _sum(self, op: str, node: Node) -> Typed:
        tree, kind = self.check(node.args[0])
        if kind == DATE:
            return [op, tree, self.expect(node.args[1], DURATION)], DATE
        if kind not in (NUMBER, UNKNOWN):
            self.fault("wrong_type", f"{_sentence(kind.words)} cannot be added or subtracted.", node.args[0].span)
        return [op, tree, self.expect(node.args[1], NUMBER)], NUMBER

    def _multiply(self, node: Node) -> Typed:
        return ["multiply", *[self.expect(a, NUMBER) for a in node.args]], NUMBER

    def _divide(self, node: Node) -> Typed:
        return ["divide", *[self.expect(a, NUMBER) for a in node.args]], NUMBER

    def _negative(self, node: Node) -> Typed:
        return ["negative", self.expect(node.args[0], NUMBER)], NUMBER

    # calls

    def _call(self, node: Node) -> Typed:
        if node.text in AGGREGATES or node.text in ROW_TESTS:
            return check_aggregate(self, node)
        if node.text == "label":
            return self._label(node)
        function = FUNCTIONS.get(node.text)
        if function is None:
            hint = nearest(node.text, [*FUNCTIONS, *AGGREGATES, *ROW_TESTS, "label"])
            span = Span(node.span.start, node.span.start + len(node.text))
            mend = f"Did you mean {hint}?" if hint else "See the list of functions."
            return self.fault("unknown_function", f"There is no function “{node.text}”.", span, mend)
        needed = len(function.parameters)
        if len(node.args) < needed or (len(node.args) > needed and not function.variadic):
            wanted = f"{needed} value{'s' if needed > 1 else ''}"
            return self.fault("wrong_count", f"“{node.text}” takes {wanted}, here are {len(node.args)}.", node.span)
        trees = []
        for i, arg in enumerate(node.args):
            parameter = function.parameters[min(i, needed - 1)]
            trees.append(self.check(arg)[0] if parameter == "any" else self.expect(arg, Type(parameter)))  # type: ignore[arg-type]
        return ["call", node.text, *trees], Type(function.result)  # type: ignore[arg-type]

    def _label(self, node: Node) -> Typed:
        if len(node.args) != 1:
            return self.fault("wrong_count", "“label” takes one variable.", node.span)
        tree, kind = self.check(node.args[0])
        if kind.name != "code":
            return self.fault("wrong_type", "“label” needs a single answer.", node.args[0].span)
        return ["label", kind.code_list, tree], TEXT


def _bare(node: Node) -> str:
    return node.text[1:-1] if node.op == "text" else node.text


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:]


def _may_run_away(pattern: str) -> bool:
    """Whether a repetition stands directly on a group that itself repeats, the usual cause of endless matching."""
    return re.search(r"\([^()]*[+*}][^()]*\)\s*[+*{]", pattern) is not None
