"""One interview, as the engine sees it, laid out as rows; many of them as typed frames.

In a frame each variable has two columns: `hours`, null where there is no value, and `hours?`, which says why not
(one of MISSING_KINDS, null where there is a value).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

import polars as pl

from skavo.core.dataset.layout import INTERVIEWS, KEY, MISSING_KINDS, Column, TableLayout
from skavo.core.dataset.pieces import cell, row_value
from skavo.core.interview.engine import Engine
from skavo.core.rules.state import Row, rows_under

WHY = pl.Enum(list(MISSING_KINDS))
_DTYPES: dict[str, Any] = {
    "number": pl.Float64,
    "text": pl.String,
    "date": pl.Date,
    "time": pl.Time,
    "date-time": pl.Datetime("ms"),
    "yes/no": pl.Boolean,
    "code": pl.Categorical,
    "codes": pl.List(pl.String),
}
# What is known of every interview besides its answers; dotted as in the rule language.
FACTS: dict[str, Any] = {
    KEY: pl.String,
    "interview.state": pl.Categorical,
    "interview.release": pl.Int64,
    "interview.enumerator": pl.Categorical,
    "interview.started": pl.Datetime("ms"),
    "interview.minutes": pl.Float64,
    "interview.language": pl.Categorical,
}


def why(variable: str) -> str:
    """The name of the column that says why `variable` has no value."""
    return f"{variable}?"


@dataclass(frozen=True)
class Table:
    layout: TableLayout
    frame: pl.DataFrame

    def with_frame(self, frame: pl.DataFrame) -> Table:
        return replace(self, frame=frame)


DataSet = dict[str, Table]


def parts_from(data: DataSet, sources: frozenset[str]) -> frozenset[str]:
    """What was taken over from some outside tables, by the identities of its columns."""
    columns = (c for table in data.values() for c in table.layout.columns)
    return frozenset(c.part_id for c in columns if c.origin in sources)


def without_parts(data: DataSet, parts: frozenset[str]) -> DataSet:
    """The data set without some columns and whatever was made of them; a roster of nothing else goes with them."""
    seen = {}
    for name, table in data.items():
        columns = tuple(c for c in table.layout.columns if parts.isdisjoint({c.part_id, *c.sources}))
        gone = [c.variable for c in table.layout.columns if c not in columns]
        if gone and not columns and name != INTERVIEWS:
            continue
        frame = table.frame.drop([*gone, *(why(variable) for variable in gone)])
        seen[name] = Table(replace(table.layout, columns=columns), frame)
    return seen


def without_sensitive(data: DataSet) -> DataSet:
    """The data set as somebody sees it who lacks the right to sensitive variables: without them."""
    seen = {}
    for name, table in data.items():
        hidden = [c.variable for c in table.layout.columns if c.sensitive]
        columns = tuple(c for c in table.layout.columns if not c.sensitive)
        frame = table.frame.drop([*hidden, *(why(variable) for variable in hidden)])
        seen[name] = Table(replace(table.layout, columns=columns), frame)
    return seen


def lay_out(engine: Engine) -> dict[str, list[dict[str, Any]]]:
    """Rows by table: {row: [names of the rows around], values: {part id: JSON value}, missing: {part id: kind}}."""
    tables: dict[str, list[dict[str, Any]]] = {INTERVIEWS: [_row_of(engine, (), ())]}
    for part in engine.release.parts:
        if part.repeat is None:
            continue
        around = (*part.rosters, part.index)
        rows = rows_under(engine, list(around), ())
        tables[part.variable] = [_row_of(engine, around, row) for row in rows]
    return tables


def _row_of(engine: Engine, rosters: tuple[int, ...], row: Row) -> dict[str, Any]:
    values: dict[str, Any] = {}
    missing: dict[str, str] = {}
    for part in engine.release.parts:
        if part.rosters != rosters or not (part.kind.takes_answer or part.derived is not None):
            continue
        identity = part.raw["id"]
        if row in engine.values[part.index]:
            values[identity] = row_value(engine.values[part.index][row])
        elif row in engine.special[part.index]:
            missing[identity] = engine.special[part.index][row]
        else:
            missing[identity] = "unanswered" if engine.asked[part.index].get(row) else "not_asked"
    return {"row": list(row), "values": values, "missing": missing}


def build_data_set(layouts: dict[str, TableLayout], interviews: Iterable[dict[str, Any]]) -> DataSet:
    """Typed tables of `interviews`, each {facts: {FACTS…}, tables: the result of lay_out}.

    A variable that a release did not have is *not asked* in its interviews.
    """
    documents = list(interviews)
    return {name: Table(layout, _frame(layout, documents)) for name, layout in layouts.items()}


def _frame(layout: TableLayout, documents: list[dict[str, Any]]) -> pl.DataFrame:
    rows = [(doc["facts"], row) for doc in documents for row in doc["tables"].get(layout.name, [])]
    columns: dict[str, pl.Series] = {}
    if layout.name == INTERVIEWS:
        for fact, dtype in FACTS.items():
            columns[fact] = pl.Series(fact, [facts.get(fact) for facts, _ in rows], dtype=dtype)
    else:
        columns[KEY] = pl.Series(KEY, [facts[KEY] for facts, _ in rows], dtype=pl.String)
        for depth, key in enumerate(layout.keys[1:]):
            columns[key] = pl.Series(key, [str(row["row"][depth]) for _, row in rows], dtype=pl.String)
    for column in layout.columns:
        columns |= _series(column, [row for _, row in rows])
    return pl.DataFrame(list(columns.values()))


def _series(column: Column, rows: list[dict[str, Any]]) -> dict[str, pl.Series]:
    identity, name = column.part_id, column.variable
    values = [_typed(column, row["values"].get(identity)) for row in rows]
    reasons = [None if value is not None else _reason(row, identity) for value, row in zip(values, rows, strict=True)]
    return {
        name: pl.Series(name, values, dtype=dtype_of(column)),
        why(name): pl.Series(why(name), reasons, dtype=WHY),
    }


def _reason(row: dict[str, Any], identity: str) -> str:
    """Why there is no value; an answer that its kind of today cannot hold counts as unanswered."""
    return "unanswered" if identity in row["values"] else row["missing"].get(identity, "not_asked")


def dtype_of(column: Column) -> Any:
    return pl.Int64 if column.whole else _DTYPES[column.measure]


def _typed(column: Column, value: Any) -> Any:
    found = cell(column.piece, column.measure, value)
    if found is None or column.measure != "number":
        return found
    if column.whole:
        return int(found) if found == found.to_integral_value() else None
    return float(found)
