"""Typed trees to functions of an interview's state; the only implementation of the rules.

A typed tree is a JSON list `[op, ...]`. `bind` turns it into a function of (state, row) once; the function
is then called as often as needed. Missing is None throughout; comparisons and logic follow Kleene's strong
three-valued logic (S. C. Kleene, Introduction to Metamathematics, 1952, § 64). Standard library only.
"""

from __future__ import annotations

import operator
from collections.abc import Callable
from datetime import date
from fractions import Fraction
from typing import Any

from skavo.core.rules.automaton import text_fits
from skavo.core.rules.functions import AGGREGATES, FUNCTIONS, shift_date
from skavo.core.rules.state import Row, Rule, State, Tree, read_attribute, read_literal, rows_under
from skavo.core.rules.values import Duration, bounded, exactly, size_of


def bind(tree: Tree) -> Rule:
    """Return the function that evaluates `tree`; raise KeyError for an op that does not exist."""
    return _BINDERS[tree[0]](*tree[1:])


def _literal(type_name: str, value: Any) -> Rule:
    constant = read_literal(type_name, value)
    return lambda state, row: constant


def _variable(index: int, depth: int) -> Rule:
    if depth == 0:
        return lambda state, row: state.values[index].get(())
    return lambda state, row: state.values[index].get(row[:depth])


def _row_number(depth: int, roster: int) -> Rule:
    def number(state: State, row: Row) -> Any:
        rows = state.rows[roster].get(row[: depth - 1], [])
        return rows.index(row[depth - 1]) + 1 if row[depth - 1] in rows else None

    return number


def _row_name(depth: int) -> Rule:
    return lambda state, row: row[depth - 1]


def _outside(name: str) -> Rule:
    if name == "today":
        return lambda state, row: state.outside["now"].date()
    if name == "interview.started":
        return lambda state, row: state.outside.get(name) or state.outside["now"]
    return lambda state, row: state.outside.get(name)


def _unit(unit: Tree, attribute: str, type_name: str) -> Rule:
    which = bind(unit)

    def read(state: State, row: Row) -> Any:
        found = which(state, row)
        if found is None:
            return None
        known = state.outside.get("units", {}).get(found, {})
        # A unit without facts is known by its identity alone.
        return known.get("id", found) if attribute == "id" else read_attribute(type_name, known.get(attribute))

    return read


def _earlier(index: int, depth: int) -> Rule:
    return lambda state, row: state.outside.get("earlier", {}).get((index, row[:depth]))


def _size(tree: Tree) -> Rule:
    rule = bind(tree)
    return lambda state, row: size_of(rule(state, row))


def _date_of(tree: Tree) -> Rule:
    rule = bind(tree)

    def day(state: State, row: Row) -> date | None:
        moment = rule(state, row)
        return None if moment is None else moment.date()

    return day


def _known(tree: Tree, wanted: bool) -> Rule:
    rule = bind(tree)
    return lambda state, row: (rule(state, row) is not None) is wanted


def _and(*trees: Tree) -> Rule:
    rules = [bind(t) for t in trees]

    def both(state: State, row: Row) -> bool | None:
        result: bool | None = True
        for rule in rules:
            value = rule(state, row)
            if value is False:
                return False
            if value is None:
                result = None
        return result

    return both


def _or(*trees: Tree) -> Rule:
    rules = [bind(t) for t in trees]

    def either(state: State, row: Row) -> bool | None:
        result: bool | None = False
        for rule in rules:
            value = rule(state, row)
            if value is True:
                return True
            if value is None:
                result = None
        return result

    return either


def _not(tree: Tree) -> Rule:
    rule = bind(tree)

    def negation(state: State, row: Row) -> bool | None:
        value = rule(state, row)
        return None if value is None else not value

    return negation


def _if(condition: Tree, yes: Tree, no: Tree) -> Rule:
    test, then, other = bind(condition), bind(yes), bind(no)

    def choose(state: State, row: Row) -> Any:
        value = test(state, row)
        return None if value is None else then(state, row) if value else other(state, row)

    return choose


def _lifted(operation: Callable[..., Any]) -> Callable[..., Rule]:
    """An operation on present values, missing as soon as one operand is missing."""

    def binder(left: Tree, right: Tree) -> Rule:
        first, second = bind(left), bind(right)

        def apply(state: State, row: Row) -> Any:
            a = first(state, row)
            if a is None:
                return None
            b = second(state, row)
            return None if b is None else operation(a, b)

        return apply

    return binder


def _between(value: Tree, low: Tree, high: Tree) -> Rule:
    inner, least, most = bind(value), bind(low), bind(high)
    if low[0] == high[0] == "literal":
        from_, to = read_literal(*low[1:]), read_literal(*high[1:])

        def within(state: State, row: Row) -> bool | None:
            x = inner(state, row)
            return None if x is None else from_ <= x <= to

        return within

    def between(state: State, row: Row) -> bool | None:
        x = inner(state, row)
        if x is None:
            return None
        a, b = least(state, row), most(state, row)
        # Either limit alone can make it a definite no.
        if (a is not None and x < a) or (b is not None and x > b):
            return False
        return None if a is None or b is None else True

    return between


def _divide(a: Any, b: Any) -> Any:
    return None if b == 0 else bounded(Fraction(a) / Fraction(b))


def _multiply(a: Any, b: Any) -> Any:
    return exactly(operator.mul, a, b)


def _add(a: Any, b: Any) -> Any:
    if isinstance(b, Duration):
        return shift_date(a, b, 1)
    return exactly(operator.add, a, b)


def _subtract(a: Any, b: Any) -> Any:
    if isinstance(b, Duration):
        return shift_date(a, b, -1)
    return exactly(operator.sub, a, b)


def _negative(tree: Tree) -> Rule:
    return _subtract_rule(["literal", "number", "0"], tree)


def _one_of(value: Tree, items: list[Tree]) -> Rule:
    return _or(*[["is", value, item] for item in items])


def _none_of(value: Tree, items: list[Tree]) -> Rule:
    return _not(["one_of", value, items])


def _elapsed(start: Any, end: Any) -> Duration:
    return Duration(seconds=int((end - start).total_seconds()))


def _includes(value: Tree, mode: str, codes: list[Tree]) -> Rule:
    chosen = bind(value)
    rules = [bind(code) for code in codes if code[0] != "literal"]
    fixed = frozenset(code[2] for code in codes if code[0] == "literal")
    tests: dict[str, Callable[[frozenset[str], frozenset[str]], bool]] = {
        "any": lambda has, wanted: bool(has & wanted),
        "all": lambda has, wanted: wanted <= has,
        "only": lambda has, wanted: has <= wanted,
    }
    test = tests[mode]

    def includes(state: State, row: Row) -> bool | None:
        has = chosen(state, row)
        if has is None:
            return None
        wanted = fixed
        doubtful = False
        if rules:
            found = [rule(state, row) for rule in rules]
            wanted = fixed.union(code for code in found if code is not None)
            doubtful = None in found
        result = test(frozenset(has), wanted)
        # A code that is missing could only add to what is wanted: "all" may turn to no by it, the others to yes.
        return None if doubtful and result is (mode == "all") else result

    return includes


def _count_codes(value: Tree) -> Rule:
    chosen = bind(value)

    def count(state: State, row: Row) -> int | None:
        has = chosen(state, row)
        return None if has is None else len(has)

    return count


def _status(test: str, index: int, depth: int) -> Rule:
    def answered(state: State, row: Row) -> bool:
        return row[:depth] in state.values[index]

    def asked(state: State, row: Row) -> bool:
        return state.asked[index].get(row[:depth], False)

    special = {"not_known": "dont_know", "refused": "refused"}.get(test)
    if special:
        return lambda state, row: state.special[index].get(row[:depth]) == special
    if test == "missing":
        return lambda state, row: not answered(state, row)
    return answered if test == "answered" else asked


def _matches(value: Tree, form: str, pattern: str) -> Rule:
    text = bind(value)

    def matches(state: State, row: Row) -> bool | None:
        found = text(state, row)
        return None if found is None else text_fits(form, pattern, found)

    return matches


def _call(name: str, *trees: Tree) -> Rule:
    function, rules = FUNCTIONS[name], [bind(t) for t in trees]

    def call(state: State, row: Row) -> Any:
        values = [rule(state, row) for rule in rules]
        if function.passes_missing:
            values = [v for v in values if v is not None]
            return function.compute(values) if values else None
        return None if None in values else function.compute(*values)

    return call


def _aggregate(name: str, rosters: list[int], depth: int, value: Tree | None, where: Tree | None) -> Rule:
    condition = bind(where) if where is not None else None
    if name in ("count", "any", "every"):
        return _row_test(name, rosters, depth, condition)
    assert value is not None
    of_row, combine = bind(value), AGGREGATES[name]

    def aggregate(state: State, row: Row) -> Any:
        found = [
            of_row(state, r)
            for r in rows_under(state, rosters, row[:depth])
            if condition is None or condition(state, r) is True
        ]
        present = [v for v in found if v is not None]
        return combine(present) if present else None

    return aggregate


def _row_test(name: str, rosters: list[int], depth: int, condition: Rule | None) -> Rule:
    def outcomes(state: State, row: Row) -> list[bool | None]:
        return [condition(state, r) if condition else True for r in rows_under(state, rosters, row[:depth])]

    def count(state: State, row: Row) -> int:
        return sum(1 for outcome in outcomes(state, row) if outcome is True)

    def some(state: State, row: Row) -> bool | None:
        found = outcomes(state, row)
        return True if True in found else None if None in found else False

    def every(state: State, row: Row) -> bool | None:
        found = outcomes(state, row)
        return False if False in found else None if None in found else True

    tests: dict[str, Rule] = {"count": count, "any": some, "every": every}
    return tests[name]


def _label(code_list: str, value: Tree) -> Rule:
    code = bind(value)

    def label(state: State, row: Row) -> str | None:
        found = code(state, row)
        return None if found is None else state.label(code_list, found)

    return label


def _attribute(name: str) -> Rule:
    return lambda state, row: state.outside["code"].get(name)


def _is(a: Any, b: Any) -> bool:
    return bool(a == b)


_subtract_rule = _lifted(_subtract)

_BINDERS: dict[str, Callable[..., Rule]] = {
    "literal": _literal,
    "variable": _variable,
    "row": _row_number,
    "row_name": _row_name,
    "outside": _outside,
    "unit": _unit,
    "earlier": _earlier,
    "size": _size,
    "date_of": _date_of,
    "known": _known,
    "elapsed": _lifted(_elapsed),
    "attribute": _attribute,
    "and": _and,
    "or": _or,
    "not": _not,
    "if": _if,
    "is": _lifted(_is),
    "is_not": _lifted(lambda a, b: a != b),
    "lt": _lifted(lambda a, b: a < b),
    "le": _lifted(lambda a, b: a <= b),
    "gt": _lifted(lambda a, b: a > b),
    "ge": _lifted(lambda a, b: a >= b),
    "between": _between,
    "one_of": _one_of,
    "none_of": _none_of,
    "includes": _includes,
    "count_codes": _count_codes,
    "status": _status,
    "matches": _matches,
    "add": _lifted(_add),
    "subtract": _subtract_rule,
    "multiply": _lifted(_multiply),
    "divide": _lifted(_divide),
    "negative": _negative,
    "call": _call,
    "aggregate": _aggregate,
    "label": _label,
}
