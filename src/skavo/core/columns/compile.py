"""Typed trees to expressions over the columns of a place, with the exact meaning of rules.evaluate."""

from __future__ import annotations

from collections.abc import Callable
from functools import reduce
from typing import Any

import polars as pl

from skavo.core.columns import numbers
from skavo.core.columns.aggregates import aggregate
from skavo.core.columns.by_value import by_value
from skavo.core.columns.numbers import COMPARED, Number, RowByRow
from skavo.core.columns.place import Place
from skavo.core.rules.automaton import text_fits
from skavo.core.rules.functions import FUNCTIONS, completed_months, shift_date
from skavo.core.rules.state import Tree, read_literal
from skavo.core.rules.values import Duration

# A number, a span of time, or anything else as it stands in a column.
Value = Number | Duration | pl.Expr


class Compiler:
    """Compiles trees that stand in `place`; raises RowByRow for a form that only the engine knows."""

    def __init__(self, place: Place, labels: Callable[[str], dict[str, str]]) -> None:
        self.place = place
        self.labels = labels

    def inside(self, rosters: list[int], depth: int) -> Compiler:
        """A compiler for what stands in the rows of `rosters`, below the row `depth` deep."""
        return Compiler(self.place.below(rosters, depth), self.labels)

    def compile(self, tree: Tree) -> Value:
        form = _FORMS.get(tree[0])
        if form is None:
            raise RowByRow
        return form(self, *tree[1:])

    def expr(self, tree: Tree) -> pl.Expr:
        """A value that is no number."""
        found = self.compile(tree)
        if not isinstance(found, pl.Expr):
            raise RowByRow
        return found

    def number(self, tree: Tree) -> Number:
        found = self.compile(tree)
        if not isinstance(found, Number):
            raise RowByRow
        return found


def _literal(c: Compiler, type_name: str, value: Any) -> Value:
    found = read_literal(type_name, value)
    if type_name == "number":
        return numbers.literal(found)
    if isinstance(found, Duration):
        return found
    return pl.lit(found, dtype=pl.String) if found is None else pl.lit(found)


def _variable(c: Compiler, index: int, depth: int) -> Value:
    is_number = c.place.tables.values(index).dtype.is_numeric()
    return c.place.number(index, depth) if is_number else c.place.column(index, depth)


def _row(c: Compiler, depth: int, roster: int) -> Value:
    rows = c.place.tables.table(roster).frame.height
    return numbers.of_whole(c.place.row_number(depth), rows)


def _known(c: Compiler, tree: Tree, wanted: bool) -> Value:
    found = c.compile(tree)
    there = _is_there(found)
    return there if wanted else ~there


def _is_there(value: Value) -> pl.Expr:
    if isinstance(value, Duration):
        return pl.lit(True)
    if isinstance(value, Number):
        if value.plain is not None:
            return value.plain.is_not_null()
        x = value.ratio()
        return x.num.is_not_null() & (x.den.is_not_null() if isinstance(x.den, pl.Expr) else pl.lit(True))
    return value.is_not_null()


def _and(c: Compiler, *trees: Tree) -> Value:
    return reduce(lambda a, b: a & b, [c.expr(tree) for tree in trees])


def _or(c: Compiler, *trees: Tree) -> Value:
    return reduce(lambda a, b: a | b, [c.expr(tree) for tree in trees])


def _not(c: Compiler, tree: Tree) -> Value:
    return ~c.expr(tree)


def _if(c: Compiler, condition: Tree, yes: Tree, no: Tree) -> Value:
    test, then, other = c.expr(condition), c.compile(yes), c.compile(no)
    if isinstance(then, Number) and isinstance(other, Number):
        return numbers.only_where(test.is_not_null(), numbers.choose(test, then, other))
    if not isinstance(then, pl.Expr) or not isinstance(other, pl.Expr):
        raise RowByRow
    return pl.when(test).then(then).when(~test).then(other)


def _comparing(op: str) -> Callable[[Compiler, Tree, Tree], Value]:
    def compare(c: Compiler, left: Tree, right: Tree) -> Value:
        return _compared(op, c.compile(left), c.compile(right))

    return compare


def _compared(op: str, a: Value, b: Value) -> pl.Expr:
    if isinstance(a, Number) and isinstance(b, Number):
        return numbers.compare(op, a, b)
    if not isinstance(a, pl.Expr) or not isinstance(b, pl.Expr):
        raise RowByRow
    return COMPARED[op](a, b)


def _between(c: Compiler, value: Tree, low: Tree, high: Tree) -> Value:
    return c.expr(["and", ["ge", value, low], ["le", value, high]])


def _one_of(c: Compiler, value: Tree, items: list[Tree]) -> Value:
    if all(item[0] == "literal" and item[1] != "number" for item in items):
        return c.expr(value).is_in([read_literal(*item[1:]) for item in items])
    return c.expr(["or", *[["is", value, item] for item in items]])


def _none_of(c: Compiler, value: Tree, items: list[Tree]) -> Value:
    return c.expr(["not", ["one_of", value, items]])


def _includes(c: Compiler, value: Tree, mode: str, codes: list[Tree]) -> Value:
    if any(code[0] != "literal" for code in codes):
        raise RowByRow
    chosen, wanted = c.expr(value), list(dict.fromkeys(code[2] for code in codes))
    if mode == "only":
        return chosen.list.eval(pl.element().is_in(wanted)).list.all()
    has = [chosen.list.contains(pl.lit(code)) for code in wanted]
    return reduce((lambda a, b: a | b) if mode == "any" else (lambda a, b: a & b), has)


def _count_codes(c: Compiler, value: Tree) -> Value:
    return _small(c.expr(value).list.len())


def _small(whole: pl.Expr) -> Number:
    """A whole number that is made of a single value: the number of a day, of characters, of codes."""
    return numbers.of_whole(whole.cast(pl.Int64), 4_000_000)


def _status(c: Compiler, test: str, index: int, depth: int) -> Value:
    special = {"not_known": "dont_know", "refused": "refused"}.get(test)
    if special:
        return c.place.reason(index, depth).eq_missing(pl.lit(special))
    if test == "asked":
        return c.place.reason(index, depth).ne_missing(pl.lit("not_asked"))
    there = c.place.column(index, depth).is_not_null()
    return ~there if test == "missing" else there


def _matches(c: Compiler, value: Tree, form: str, pattern: str) -> Value:
    return by_value(lambda text: text_fits(form, pattern, text), pl.Boolean, c.expr(value))


def _add(c: Compiler, left: Tree, right: Tree) -> Value:
    return _moved(c, left, right, 1)


def _subtract(c: Compiler, left: Tree, right: Tree) -> Value:
    return _moved(c, left, right, -1)


def _moved(c: Compiler, left: Tree, right: Tree, sign: int) -> Value:
    a, b = c.compile(left), c.compile(right)
    if isinstance(a, Number) and isinstance(b, Number):
        return numbers.add(a, b) if sign > 0 else numbers.subtract(a, b)
    if isinstance(a, pl.Expr) and isinstance(b, Duration):
        dtype = c.place.frame.head(0).select(a).dtypes[0]
        return by_value(lambda moment: shift_date(moment, b, sign), dtype, a)
    raise RowByRow


def _arithmetic(operation: Callable[[Number, Number], Number]) -> Callable[[Compiler, Tree, Tree], Value]:
    return lambda c, left, right: operation(c.number(left), c.number(right))


def _negative(c: Compiler, tree: Tree) -> Value:
    return numbers.negative(c.number(tree))


def _date_of(c: Compiler, tree: Tree) -> Value:
    return c.expr(tree).dt.date()


def _call(c: Compiler, name: str, *trees: Tree) -> Value:
    if name in _NUMBERS:
        return _NUMBERS[name](*[c.number(tree) for tree in trees])
    if name in ("smallest", "largest"):
        return numbers.extreme("lt" if name == "smallest" else "gt", [c.number(tree) for tree in trees])
    if name in _OF_DATES:
        return _small(_OF_DATES[name](*[c.expr(tree) for tree in trees]))
    if name not in _OF_TEXTS:
        raise RowByRow
    return by_value(FUNCTIONS[name].compute, _OF_TEXTS[name], *[_as_it_stands(c.compile(tree)) for tree in trees])


def _as_it_stands(value: Value) -> pl.Expr:
    column = value.plain if isinstance(value, Number) else value
    if not isinstance(column, pl.Expr):
        raise RowByRow
    return column


_NUMBERS: dict[str, Callable[..., Number]] = {
    "round": numbers.rounded,
    "floor": numbers.floor,
    "ceiling": numbers.ceiling,
    "abs": numbers.absolute,
    "remainder": numbers.remainder,
}
_OF_DATES: dict[str, Callable[..., pl.Expr]] = {
    "days": lambda a, b: (b - a).dt.total_days(),
    "year": lambda d: d.dt.year(),
    "month": lambda d: d.dt.month(),
    "day": lambda d: d.dt.day(),
    "weekday": lambda d: d.dt.weekday(),
    "months": lambda a, b: by_value(completed_months, pl.Int64, a, b),
    "years": lambda a, b: by_value(lambda x, y: int(completed_months(x, y) / 12), pl.Int64, a, b),
    "length": lambda text: by_value(len, pl.Int64, text),
}
# What Python makes of texts is not in every letter what polars makes of them.
_OF_TEXTS: dict[str, Any] = {
    "upper": pl.String,
    "lower": pl.String,
    "trim": pl.String,
    "join": pl.String,
    "check_digit_ok": pl.Boolean,
}


def _label(c: Compiler, code_list: str, value: Tree) -> Value:
    texts = c.labels(code_list)
    code = c.expr(value)
    return code.replace_strict(texts, default=code, return_dtype=pl.String) if texts else code


_FORMS: dict[str, Callable[..., Value]] = {
    "literal": _literal,
    "variable": _variable,
    "row": _row,
    "known": _known,
    "and": _and,
    "or": _or,
    "not": _not,
    "if": _if,
    "is": _comparing("is"),
    "is_not": _comparing("is_not"),
    "lt": _comparing("lt"),
    "le": _comparing("le"),
    "gt": _comparing("gt"),
    "ge": _comparing("ge"),
    "between": _between,
    "one_of": _one_of,
    "none_of": _none_of,
    "includes": _includes,
    "count_codes": _count_codes,
    "status": _status,
    "matches": _matches,
    "add": _add,
    "subtract": _subtract,
    "multiply": _arithmetic(numbers.multiply),
    "divide": _arithmetic(numbers.divide),
    "negative": _negative,
    "date_of": _date_of,
    "call": _call,
    "aggregate": aggregate,
    "label": _label,
}
