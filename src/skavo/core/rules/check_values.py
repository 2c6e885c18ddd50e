"""Checking what gives values: literals, logic, arithmetic with numbers, quantities and dates, functions."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from decimal import Decimal
from functools import partial
from typing import TYPE_CHECKING, Any

from skavo.core.rules.check_digits import ALGORITHMS
from skavo.core.rules.check_factors import factor_tree, ring_of_units
from skavo.core.rules.check_names import read_as
from skavo.core.rules.check_rows import check_aggregate
from skavo.core.rules.check_sets import SETS
from skavo.core.rules.faults import Span
from skavo.core.rules.functions import AGGREGATES, FUNCTIONS, HIDDEN_FUNCTIONS, ROW_TESTS, Function, duration_of
from skavo.core.rules.phrasings import CALLS
from skavo.core.rules.syntax import Node
from skavo.core.rules.types import (
    DATE,
    DATE_TIME,
    DURATION,
    NOTHING,
    NUMBER,
    TEXT,
    TIME,
    UNKNOWN,
    YES_NO,
    Type,
    Typed,
    nearest,
    sentence,
)
from skavo.core.rules.types import WORDS as WORDS_OF_TYPES
from skavo.core.rules.units import Unit, find_units

if TYPE_CHECKING:
    from skavo.core.rules.check import Checker

_UNITS_OF_TIME = ["minutes", "hours", "days", "weeks", "months", "years"]
FUNCTION_NAMES = [*[f for f in FUNCTIONS if f not in HIDDEN_FUNCTIONS], *AGGREGATES, *ROW_TESTS, *SETS, "label"]


# literals


def _number(checker: Checker, node: Node) -> Typed:
    return ["literal", "number", node.text], NUMBER


def _text(checker: Checker, node: Node) -> Typed:
    return ["literal", "text", node.text[1:-1]], TEXT


def _yes(checker: Checker, node: Node) -> Typed:
    return ["literal", "yes/no", True], YES_NO


def _no(checker: Checker, node: Node) -> Typed:
    return ["literal", "yes/no", False], YES_NO


def _date(checker: Checker, node: Node) -> Typed:
    try:
        date.fromisoformat(node.text)
    except ValueError:
        return checker.fault("no_such_date", f"There is no day {node.text}.", node.span, "Write year-month-day.")
    return ["literal", "date", node.text], DATE


def _time(checker: Checker, node: Node) -> Typed:
    hours, minutes = node.text.split(":")
    if int(hours) > 23 or int(minutes) > 59:
        return checker.fault("no_such_time", f"There is no time {node.text}.", node.span, "Write 00:00 to 23:59.")
    return ["literal", "time", f"{int(hours):02}:{minutes}"], TIME


def _amount(checker: Checker, node: Node) -> Typed:
    number, word = node.args
    duration = duration_of(Decimal(number.text), word.text)
    if duration is not None:
        return ["literal", "duration", [duration.months, duration.seconds]], DURATION
    units = find_units(checker.scope.units, word.text)
    if not units:
        hint = nearest(word.text, [*_UNITS_OF_TIME, *checker.scope.units])
        own = [u.name for known in checker.scope.units.values() for u in known if u.unit_list]
        mend = f"Did you mean {hint}?" if hint else f"Units: {', '.join([*own, *_UNITS_OF_TIME])}."
        return checker.fault("unknown_unit", f"There is no unit “{word.text}”.", word.span, mend)
    if checker.units_open:
        # A factor means the units of its own list first.
        units = tuple(u for u in units if u.unit_list == checker.units_open[-1].unit_list) or units
    if len(units) > 1:
        lists = " and ".join(u.unit_list or "the standard units" for u in units)
        message = f"“{word.text}” is a unit of {lists}, and not the same in both."
        return checker.fault("ambiguous_unit", message, word.span, "Rename one of them, or write the base unit.")
    return _in_base_units(checker, number, word, units[0])


def _in_base_units(checker: Checker, number: Node, word: Node, unit: Unit) -> Typed:
    kind = Type("quantity", dimension=unit.dimension)
    amount = ["literal", "number", number.text]
    if unit.is_base:
        return amount, kind
    if unit in checker.units_open:
        return ring_of_units(checker, unit, word.span)
    factor = factor_tree(checker, unit, word.span)
    if factor is None:
        return NOTHING
    if factor[0] == "literal":
        return ["literal", "number", format(Decimal(number.text) * Decimal(factor[2]), "f")], kind
    return ["multiply", amount, factor], kind


# logic


def _joined(op: str, checker: Checker, node: Node) -> Typed:
    first, second = node.args
    tree = checker.expect(first, YES_NO)
    return [op, tree, _loose_code(checker, op, first, second) or checker.expect(second, YES_NO)], YES_NO


def _loose_code(checker: Checker, op: str, before: Node, node: Node) -> Any | None:
    """The fault of a code that stands alone behind a sentence about its list: `trade is bicycle or phone`."""
    if before.op not in ("is_", "includes") or node.op not in ("name", "number") or before.args[0].op != "name":
        return None
    asked = before.args[0].text
    symbol = checker.scope.symbols.get(asked)
    codes = set(checker.scope.codes(symbol.type.code_list)) if symbol and symbol.type.code_list else set()
    own = checker.scope.symbols.get(node.text)
    if node.text not in codes or (own is not None and own.type == YES_NO):
        return None
    listed = f"({before.args[1].text}, {node.text})"
    form = f"includes {'any' if op == 'or' else 'all'} of" if before.op == "includes" else "is one of"
    message = f"“{node.text}” alone says nothing: both sides of “{op}” are sentences of their own."
    return checker.fault("loose_code", message, node.span, f"Write: {asked} {form} {listed}")[0]


def _not(checker: Checker, node: Node) -> Typed:
    return ["not", *[checker.expect(arg, YES_NO) for arg in node.args]], YES_NO


def _if(checker: Checker, node: Node) -> Typed:
    condition = checker.expect(node.args[0], YES_NO)
    yes, kind = checker.check(node.args[1])
    no, other = checker.check(node.args[2])
    if "any" in (kind.name, other.name) and UNKNOWN not in (kind, other):
        kind = other if kind.name == "any" else kind
        yes, no = read_as(yes, kind.name), read_as(no, kind.name)
    elif UNKNOWN not in (kind, other) and kind != other:
        if kind.name != other.name or kind.dimension != other.dimension:
            checker.fault("wrong_type", f"One branch gives {kind.words}, the other {other.words}.", node.args[2].span)
        kind = replace(kind, code_list=None)
    return ["if", condition, yes, no], kind if kind != UNKNOWN else other


# arithmetic


def _add(checker: Checker, node: Node) -> Typed:
    return _sum(checker, "add", node)


def _subtract(checker: Checker, node: Node) -> Typed:
    return _sum(checker, "subtract", node)


def _sum(checker: Checker, op: str, node: Node) -> Typed:
    left, right = node.args
    tree, kind = checker.check(left)
    if kind.name in ("date", "date-time"):
        return _moved(checker, op, node, tree, kind)
    if kind.name == "any":
        tree, kind = read_as(tree, "number"), NUMBER
    if kind.name not in ("number", "quantity", "unknown"):
        mend = "Write: join(a, b)" if kind == TEXT else ""
        checker.fault("wrong_type", f"{sentence(kind.words)} cannot be added or subtracted.", left.span, mend)
        return NOTHING
    if kind.name == "quantity":
        other_tree, other = checker.check(right)
        if other != UNKNOWN and (other.name, other.dimension) != ("quantity", kind.dimension):
            _clash(checker, kind, other, right.span)
        return [op, tree, other_tree], kind
    return [op, tree, checker.expect(right, NUMBER)], NUMBER


def _moved(checker: Checker, op: str, node: Node, tree: Any, kind: Type) -> Typed:
    right = node.args[1]
    other_tree, other = checker.check(right)
    if op == "subtract" and other.name in ("date", "date-time"):
        if kind == other == DATE_TIME:
            return ["elapsed", other_tree, tree], DURATION
        message = "Two dates are not subtracted with a minus sign."
        return checker.fault("wrong_type", message, node.span, "Write: days(the earlier one, the later one)")
    if other not in (DURATION, UNKNOWN):
        message = f"This is {other.words}; a span of time is needed here."
        checker.fault("wrong_type", message, right.span, "Write a unit: 3 days, 2 months.")
    elif kind == DATE and other_tree[0] == "literal" and other_tree[1] == "duration" and other_tree[2][1] % 86400:
        checker.fault("wrong_type", "A date has no hours and minutes to move by.", right.span, "Use whole days.")
    return [op, tree, other_tree], kind


def _clash(checker: Checker, kind: Type, other: Type, span: Span) -> None:
    if other.name == "quantity":
        message = f"These measure different things: {kind.dimension} and {other.dimension}."
        checker.fault("dimension_clash", message, span)
    else:
        mend = "Write a unit behind the number, as in 400 kg." if other == NUMBER else ""
        checker.fault("dimension_clash", f"{sentence(kind.words)} meets {other.words}.", span, mend)


def _multiply(checker: Checker, node: Node) -> Typed:
    (left, kind), (right, other) = (_amount_of(checker, a) for a in node.args)
    if "quantity" == kind.name == other.name:
        return checker.fault("dimension_clash", "Two quantities cannot be multiplied.", node.span)
    return ["multiply", left, right], kind if kind.name == "quantity" else other if other.name == "quantity" else NUMBER


def _divide(checker: Checker, node: Node) -> Typed:
    (left, kind), (right, other) = (_amount_of(checker, a) for a in node.args)
    if other.name == "quantity":
        if kind == UNKNOWN or (kind.name == "quantity" and kind.dimension == other.dimension):
            return ["divide", left, right], NUMBER
        _clash(checker, other, kind, node.args[0].span)
        return NOTHING
    return ["divide", left, right], kind if kind.name == "quantity" else NUMBER


def _negative(checker: Checker, node: Node) -> Typed:
    tree, kind = _amount_of(checker, node.args[0])
    return ["negative", tree], kind


def _amount_of(checker: Checker, node: Node) -> Typed:
    """A number or a quantity."""
    tree, kind = checker.check(node)
    if kind.name == "any":
        return read_as(tree, "number"), NUMBER
    if kind.name not in ("number", "quantity", "unknown"):
        return checker.fault("wrong_type", f"This is {kind.words}; a number is needed here.", node.span)
    return tree, kind if kind.name == "quantity" else Type("number") if kind != UNKNOWN else UNKNOWN


# calls


def _call(checker: Checker, node: Node) -> Typed:
    if node.text in SETS:
        return SETS[node.text](checker, node)
    if node.text in AGGREGATES or node.text in ROW_TESTS:
        return check_aggregate(checker, node)
    if node.text == "label":
        return _label(checker, node)
    function = FUNCTIONS.get(node.text) if node.text not in HIDDEN_FUNCTIONS else None
    span = Span(node.span.start, node.span.start + len(node.text))
    if function is None:
        hint = nearest(node.text, FUNCTION_NAMES)
        mend = f"Did you mean {hint}?" if hint else "See the list of functions."
        mend = CALLS.get(node.text.lower(), mend)
        return checker.fault("unknown_function", f"There is no function “{node.text}”.", span, mend)
    if node.where is not None:
        message = f"“{node.text}” does not go over rows, so it takes no “where”."
        return checker.fault("wrong_where", message, node.where.span, "Use if … then … else …")
    needed = len(function.parameters)
    if len(node.args) < needed or (len(node.args) > needed and not function.variadic):
        wanted = f"{needed} value{'s' if needed > 1 else ''}"
        message = f"“{node.text}” takes {wanted}, here {'is' if len(node.args) == 1 else 'are'} {len(node.args)}."
        kinds = ", ".join(Type(p).words if p in WORDS_OF_TYPES else "a value" for p in function.parameters)  # type: ignore[arg-type]
        return checker.fault("wrong_count", message, node.span, f"Give {kinds}. It says: {function.words}.")
    return _called(checker, node, function)


def _called(checker: Checker, node: Node, function: Function) -> Typed:
    if function.for_path and checker.check(node.args[0])[1].name == "path":
        function = FUNCTIONS[function.for_path]
    trees: list[Any] = []
    amount: Type | None = None
    for i, arg in enumerate(node.args):
        parameter = function.parameters[min(i, len(function.parameters) - 1)]
        if parameter == "any":
            trees.append(checker.check(arg)[0])
        elif parameter == "amount":
            tree, kind = _amount_of(checker, arg)
            trees.append(tree)
            if amount is not None and UNKNOWN not in (amount, kind) and kind != amount:
                _clash(checker, amount, kind, arg.span)
            amount = amount or kind
        else:
            trees.append(checker.expect(arg, Type(parameter)))  # type: ignore[arg-type]
    if function.name == "check_digit_ok" and node.args[1].op == "text" and trees[1][2] not in ALGORITHMS:
        hint = nearest(trees[1][2], ALGORITHMS)
        mend = f"Did you mean “{hint}”?" if hint else f"There are: {', '.join(ALGORITHMS)}."
        message = f"There is no check digit called “{trees[1][2]}”."
        checker.fault("unknown_algorithm", message, node.args[1].span, mend)
    result = amount if function.result == "amount" and amount else Type(function.result, dimension=function.dimension)  # type: ignore[arg-type]
    return ["call", function.name, *trees], result


def _label(checker: Checker, node: Node) -> Typed:
    if len(node.args) != 1:
        return checker.fault("wrong_count", "“label” takes one variable.", node.span)
    tree, kind = checker.check(node.args[0])
    if kind.name == "unit":
        return ["unit", tree, "label", "text"], TEXT
    if kind.name != "code":
        return checker.fault("wrong_type", "“label” needs a single answer.", node.args[0].span)
    return ["label", kind.code_list, tree], TEXT


OPS: dict[str, Callable[[Checker, Node], Typed]] = {
    "number": _number, "text": _text, "yes": _yes, "no": _no, "date": _date, "time": _time, "amount": _amount,
    "and_": partial(_joined, "and"), "or_": partial(_joined, "or"), "not_": _not, "if_": _if, "add": _add, "subtract": _subtract, "multiply": _multiply,
    "divide": _divide, "negative": _negative, "call": _call,
}  # fmt: skip
