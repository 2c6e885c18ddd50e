"""Rules of the rule language over a data set, with the interviews as the outermost roster."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC
from functools import partial
from typing import Any

import polars as pl

from skavo.core.columns.compile import Compiler
from skavo.core.columns.numbers import Number, RowByRow, as_float, exact
from skavo.core.columns.place import Place, Tables, rows_of
from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, Column, label_in
from skavo.core.errors import DataError
from skavo.core.rules.check import check_rule, check_typed
from skavo.core.rules.evaluate import bind
from skavo.core.rules.faults import Fault, RuleSyntaxError
from skavo.core.rules.state import Row, variables_in, with_names
from skavo.core.rules.syntax import Node, parse_rule
from skavo.core.rules.types import ROWS, UNKNOWN, YES_NO, Scope, Symbol, Type
from skavo.core.rules.values import as_decimal

# What is known of an interview besides its answers, by the names of the rule language: the fact that has it.
_FACTS: dict[str, tuple[str, str]] = {
    "interview.started": ("interview.started", "date-time"),
    "interview.language": ("interview.language", "text"),
    "enumerator.name": ("interview.enumerator", "text"),
}


@dataclass(frozen=True)
class Outcome:
    """What a rule gives in each row of its table; `by_rows` counts the rows that the engine had to go through."""

    values: pl.Series
    by_rows: int


def error_of(fault: Fault, field: str) -> DataError:
    """A fault of a rule as an error about the field of a form, with its place there."""
    details = {"field": field, "start": fault.span.start, "length": fault.span.end - fault.span.start}
    return DataError(fault.code, f"{fault.message} {fault.mend}".strip(), details)


class DataRules:
    """Checks and evaluates rules that stand in a table of `data`."""

    def __init__(self, data: DataSet) -> None:
        self.data = data
        known: list[tuple[Table, Column | None]] = []
        rosters: dict[str, tuple[int, ...]] = {}
        symbols: dict[str, Symbol] = {}
        for table in data.values():
            outer = rosters[table.layout.parent] if table.layout.parent else ()
            own = len(known)
            symbols[table.layout.name] = Symbol(table.layout.name, own, ROWS, outer)
            rosters[table.layout.name] = (*outer, own)
            known.append((table, None))
            for column in table.layout.columns:
                code_list = column.variable if column.measure in ("code", "codes") else None
                kind = Type(column.measure, code_list)  # type: ignore[arg-type]
                symbols[column.variable] = Symbol(column.variable, len(known), kind, rosters[table.layout.name])
                known.append((table, column))
        self.tables = Tables(known, rosters)
        self._columns = {column.variable: column for _, column in reversed(known) if column is not None}
        self._facts = self._with_facts() if INTERVIEWS in data else {}
        names = {of[-1]: name for name, of in rosters.items()}
        # Neither knows these rules: what points at itself would hold whole tables until they are looked for.
        codes, exclusive = partial(_codes, self._columns), partial(_exclusive, self._columns)
        self.scope = Scope(symbols, codes, roster_names=names, exclusive=exclusive)

    def _with_facts(self) -> dict[str, int]:
        """The indexes of the facts that rules may read, as columns of the interviews that no rule can name otherwise."""
        found = {}
        interviews = self.data[INTERVIEWS]
        for name, (fact, measure) in _FACTS.items():
            if fact not in interviews.frame.columns:
                continue
            absent = pl.when(pl.col(fact).is_null()).then(pl.lit("unanswered")).alias(why(fact))
            table = Table(interviews.layout, interviews.frame.select(*interviews.layout.keys, fact, absent))
            found[name] = len(self.tables.known)
            self.tables.known.append((table, Column(fact, fact, measure, measure)))
        return found

    def labels(self, variable: str) -> dict[str, str]:
        """The label of each code of a variable, in English or in another language that it has."""
        codes = self._columns[variable].codes if variable in self._columns else {}
        return {code: label_in(texts, "en", code) for code, texts in codes.items()}

    def check(self, text: str, table: str, expected: Type | None = YES_NO) -> tuple[Any | None, list[Fault]]:
        """Typed tree and faults of a rule that is asked of every row of `table`."""
        tree, faults = check_rule(text, self.scope_in(table), expected)
        return (None, [*faults, *changing]) if tree is not None and (changing := _changing(text)) else (tree, faults)

    def check_typed(self, text: str, table: str) -> tuple[Any | None, Type, list[Fault]]:
        """As `check` where anything will do, with the type of what the rule gives."""
        tree, kind, faults = check_typed(text, self.scope_in(table), None)
        if tree is not None and (changing := _changing(text)):
            return None, UNKNOWN, [*faults, *changing]
        return tree, kind, faults

    def names_in(self, text: str) -> set[str]:
        """The variables that a rule names; none of one that cannot be read."""
        try:
            return {node.text for node in _nodes(text) if node.op == "name"} & self._columns.keys()
        except RuleSyntaxError:
            return set()

    def scope_in(self, table: str) -> Scope:
        """What a rule that stands in a row of `table` can see."""
        return self.scope.inside(self.tables.rosters[table])

    def named(self, tree: Any) -> Any:
        """A typed tree that names its variables and rosters instead of numbering them."""
        return with_names(self._with_indexes(tree), self._name)

    def _name(self, index: int) -> str:
        table, column = self.tables.known[index]
        return table.layout.name if column is None else column.variable

    def outcome(self, tree: Any, table: str) -> Outcome:
        """What the rule gives in each row of `table`, in its order: null for missing; numbers as floating-point
        numbers, moments in UTC without an offset."""
        tree = self._with_indexes(tree)
        place = Place(self.tables, self.tables.rosters[table])
        try:
            found = Compiler(place, self.labels).compile(tree)
            if isinstance(found, Number):
                return self._numbers(found, place, tree)
            if isinstance(found, pl.Expr):
                return Outcome(_column_of(place.frame, found), 0)
        except RowByRow:
            pass
        values = self._by_engine(tree, self.data[table])
        return Outcome(_series(values), len(values))

    def _numbers(self, found: Number, place: Place, tree: Any) -> Outcome:
        as_floats, unsure = as_float(found)
        values, doubtful = _column_of(place.frame, as_floats), _column_of(place.frame, unsure)
        rows = doubtful.fill_null(False).arg_true()
        if rows.is_empty():
            return Outcome(values, 0)
        some = place.table.with_frame(place.table.frame[rows])
        return Outcome(values.scatter(rows, _series(self._by_engine(tree, some)).cast(pl.Float64)), rows.len())

    def _by_engine(self, tree: Any, table: Table) -> list[Any]:
        state = _Columns(self, variables_in(tree))
        rule = bind(tree)
        return [_stored(rule(state, row)) for row in rows_of(table)]

    def _with_indexes(self, tree: Any) -> Any:
        """With the facts of interviews read as columns of the outermost roster."""
        if not isinstance(tree, list) or not tree:
            return tree
        if tree[0] == "outside":
            return ["variable", self._facts[tree[1]], 1]
        return tree if tree[0] == "literal" else [self._with_indexes(piece) for piece in tree]


def _codes(columns: dict[str, Column], variable: str) -> list[str]:
    return list(columns[variable].codes) if variable in columns else []


def _exclusive(columns: dict[str, Column], variable: str) -> list[str]:
    return sorted(columns[variable].exclusive) if variable in columns else []


def _changing(text: str) -> list[Fault]:
    """What a rule over data cannot name, because it changes from day to day or was known on the phone only."""
    found = []
    for node in _nodes(text):
        name = node.text if node.op == "name" else _owner(node)
        if name in _NOT_HERE:
            message, mend = _NOT_HERE[name]
            found.append(Fault("not_in_data", message, node.span, mend))
    return found


def _nodes(text: str) -> Iterator[Node]:
    """Every piece of a rule."""
    ahead = [parse_rule(text)]
    while ahead:
        node = ahead.pop()
        ahead += [*node.args, *([node.where] if node.where is not None else [])]
        yield node


def _owner(node: Node) -> str:
    return node.args[0].text if node.op == "dotted" and node.args[0].text in ("unit", "earlier") else ""


_SLICE = 100_000
_DAILY = "“{}” is another one every day; the same data set must come out tomorrow."
_ON_PHONE = "“{}” was known while the interview was made; the data set has answers only."
_NOT_HERE = {
    "today": (_DAILY.format("today"), "Write the date, as in 2027-03-14, or take interview.started."),
    "now": (_DAILY.format("now"), "Write the date, or take interview.started."),
    "unit": (_ON_PHONE.format("unit"), "Use a variable that was filled in from the unit."),
    "earlier": (_ON_PHONE.format("earlier"), "Use a variable that was carried over from the earlier round."),
}


def _column_of(frame: pl.DataFrame, expr: pl.Expr) -> pl.Series:
    """A literal counts for every row.

    Every piece of a rule looks at its own row only, what stands around it having been brought there; so it is worked out
    in slices, and what comes up on the way takes little room whatever the number of rows."""
    slices = [frame] if frame.height <= _SLICE else frame.iter_slices(_SLICE)
    found = [some.with_columns(expr.alias("found"))["found"] for some in slices]
    return pl.concat(found).rechunk() if len(found) > 1 else found[0]


def _stored(value: Any) -> Any:
    """A value of the engine as columns hold it."""
    value = as_decimal(value)
    if hasattr(value, "tzinfo") and value.tzinfo is not None and hasattr(value, "astimezone"):
        return value.astimezone(UTC).replace(tzinfo=None)
    return float(value) if _is_number(value) else list(value) if isinstance(value, tuple | frozenset) else value


def _is_number(value: Any) -> bool:
    return not isinstance(value, bool | str) and hasattr(value, "as_integer_ratio")


def _series(values: list[Any]) -> pl.Series:
    return pl.Series("found", values) if any(v is not None for v in values) else pl.Series("found", values, pl.Boolean)


class _Columns:
    """The columns that a rule reads, as the evaluator wants them (rules.evaluate.State)."""

    def __init__(self, rules: DataRules, needed: set[int]) -> None:
        known = rules.tables.known
        size = len(known)
        self._rules = rules
        self.values: list[dict[Row, Any]] = [{} for _ in range(size)]
        self.special: list[dict[Row, str]] = [{} for _ in range(size)]
        self.asked: list[dict[Row, bool]] = [{} for _ in range(size)]
        self.rows: list[dict[Row, list[Any]]] = [{} for _ in range(size)]
        self.outside: dict[str, Any] = {}
        for index in needed:
            self._load(*known[index], index)

    def _load(self, table: Table, column: Column | None, index: int) -> None:
        rows = rows_of(table)
        if column is None:
            for row in rows:
                self.rows[index].setdefault(row[:-1], []).append(row[-1])
            return
        values = [exact(v) for v in table.frame[column.variable].to_list()]
        if column.measure == "date-time":
            values = [v if v is None else v.replace(tzinfo=UTC) for v in values]
        self.values[index] = {row: v for row, v in zip(rows, values, strict=True) if v is not None}
        reasons = table.frame[why(column.variable)].to_list()
        self.special[index] = {row: r for row, r in zip(rows, reasons, strict=True) if r is not None}
        self.asked[index] = {row: r != "not_asked" for row, r in zip(rows, reasons, strict=True)}

    def label(self, code_list: str, code: str) -> str:
        return self._rules.labels(code_list).get(code, code)


def table_of(data: DataSet, variable: str) -> str | None:
    """The name of the table that has `variable`, interviews first."""
    for name in [INTERVIEWS, *data]:
        if name in data and data[name].layout.column(variable) is not None:
            return name
    return None
