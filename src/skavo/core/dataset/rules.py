"""Rules of the rule language over a data set: the same evaluator, with the interviews as the outermost roster."""

from __future__ import annotations

from datetime import UTC
from decimal import Decimal
from typing import Any

from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, Column
from skavo.core.rules.check import check_rule
from skavo.core.rules.evaluate import bind
from skavo.core.rules.faults import Fault
from skavo.core.rules.state import Row, variables_in
from skavo.core.rules.types import ROWS, YES_NO, Scope, Symbol, Type
from skavo.core.rules.values import as_decimal

_Known = tuple[Table, Column | None]


class DataRules:
    """Checks and evaluates rules that stand in a table of `data`."""

    def __init__(self, data: DataSet) -> None:
        self.data = data
        self.known: list[_Known] = []
        self.rosters: dict[str, tuple[int, ...]] = {}
        symbols: dict[str, Symbol] = {}
        for table in data.values():
            outer = self.rosters[table.layout.parent] if table.layout.parent else ()
            own = len(self.known)
            symbols[table.layout.name] = Symbol(table.layout.name, own, ROWS, outer)
            self.rosters[table.layout.name] = (*outer, own)
            self.known.append((table, None))
            for column in table.layout.columns:
                code_list = column.variable if column.measure in ("code", "codes") else None
                kind = Type(column.measure, code_list)  # type: ignore[arg-type]
                symbols[column.variable] = Symbol(
                    column.variable, len(self.known), kind, self.rosters[table.layout.name]
                )
                self.known.append((table, column))
        names = {rosters[-1]: name for name, rosters in self.rosters.items()}
        self.scope = Scope(symbols, self._codes, roster_names=names, exclusive=self._exclusive)

    def _codes(self, variable: str) -> list[str]:
        return [code for column in self._columns(variable) for code in column.codes]

    def _exclusive(self, variable: str) -> list[str]:
        return [code for column in self._columns(variable) for code in sorted(column.exclusive)]

    def _columns(self, variable: str) -> list[Column]:
        return [column for _, column in self.known if column is not None and column.variable == variable][:1]

    def check(self, text: str, table: str, expected: Type | None = YES_NO) -> tuple[Any | None, list[Fault]]:
        """Typed tree and faults of a rule that is asked of every row of `table`."""
        return check_rule(text, self.scope_in(table), expected)

    def scope_in(self, table: str) -> Scope:
        """What a rule that stands in a row of `table` can see."""
        return self.scope.inside(self.rosters[table])

    def evaluate(self, tree: Any, table: str) -> list[Any]:
        """What the rule gives in each row of `table`, in its order: Python values, None for missing."""
        state = _Columns(self, variables_in(tree))
        rule = bind(tree)
        return [as_decimal(rule(state, row)) for row in _rows(self.data[table])]


def _rows(table: Table) -> list[Row]:
    return list(table.frame.select(table.layout.keys).iter_rows())


class _Columns:
    """The columns that a rule reads, as the evaluator wants them (rules.evaluate.State)."""

    def __init__(self, rules: DataRules, needed: set[int]) -> None:
        size = len(rules.known)
        self.values: list[dict[Row, Any]] = [{} for _ in range(size)]
        self.special: list[dict[Row, str]] = [{} for _ in range(size)]
        self.asked: list[dict[Row, bool]] = [{} for _ in range(size)]
        self.rows: list[dict[Row, list[Any]]] = [{} for _ in range(size)]
        self.outside: dict[str, Any] = {}
        for index in needed:
            self._load(rules, index)

    def _load(self, rules: DataRules, index: int) -> None:
        table, column = rules.known[index]
        rows = _rows(table)
        if column is None:
            for row in rows:
                self.rows[index].setdefault(row[:-1], []).append(row[-1])
            return
        values = table.frame[column.variable].to_list()
        if column.measure == "number":
            values = [v if v is None or isinstance(v, int) else Decimal(repr(v)) for v in values]
        elif column.measure == "date-time":
            values = [v if v is None else v.replace(tzinfo=UTC) for v in values]
        self.values[index] = {row: v for row, v in zip(rows, values, strict=True) if v is not None}
        reasons = table.frame[why(column.variable)].to_list()
        self.special[index] = {row: r for row, r in zip(rows, reasons, strict=True) if r is not None}
        self.asked[index] = {row: r != "not_asked" for row, r in zip(rows, reasons, strict=True)}

    def label(self, code_list: str, code: str) -> str:
        return code


def table_of(data: DataSet, variable: str) -> str | None:
    """The name of the table that has `variable`, interviews first."""
    for name in [INTERVIEWS, *data]:
        if name in data and data[name].layout.column(variable) is not None:
            return name
    return None
