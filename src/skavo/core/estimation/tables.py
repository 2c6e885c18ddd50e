"""Tables written as a sentence: *count of trade across island*, *mean of hours by role*.

Every figure comes with its unweighted base. Don't know, refused, unanswered and not asked stay outside the base
unless `special_in_base` takes don't know and refused in as categories of their own.
"""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any, Literal

import numpy as np
import polars as pl
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, MISSING_WORDS, Column, MissingKind, label_in
from skavo.core.dataset.rules import DataRules, table_of
from skavo.core.documents import Format
from skavo.core.errors import EstimationError
from skavo.core.estimation.intervals import Estimate, chi_square, mean, proportion
from skavo.core.rules.types import nearest

SPECIAL: tuple[MissingKind, ...] = ("dont_know", "refused")
ALL = "*"
_CATEGORICAL = ("code", "codes", "yes/no")
MOST_CATEGORIES = 60


class TableRequest(BaseModel):
    """`show` a distribution of `variable` or its mean, `by` the rows' variable (means), `across` the columns'."""

    model_config = ConfigDict(extra="forbid")
    show: Literal["share", "mean"] = "share"
    variable: str = Field(max_length=64)
    by: str | None = Field(default=None, max_length=64)
    across: str | None = Field(default=None, max_length=64)
    where: str = Field(default="", max_length=4000)
    special_in_base: bool = False
    language: str = "en"


TABLE = Format("table", unmarked=1)


def read_request(document: dict[str, Any]) -> TableRequest:
    """The sentence of a saved table, of any version."""
    return TableRequest.model_validate(TABLE.read_body(document))


def write_request(request: TableRequest) -> dict[str, Any]:
    """The sentence of a table as it is saved."""
    return TABLE.write(request.model_dump(mode="json"))


class Category(BaseModel):
    """`value` is a code, `yes`/`no`, or a special answer; `*` stands for all."""

    value: str
    label: str
    special: bool = False


class Cell(BaseModel):
    count: int
    base: int
    value: float | None
    low: float | None
    high: float | None
    standard_error: float | None


class ResultTable(BaseModel):
    """`cells[row][column]`; the last column is all columns together, the last row of a mean all rows."""

    request: TableRequest
    unit: str
    title: str
    rows: list[Category]
    columns: list[Category]
    cells: list[list[Cell]]
    outside_base: dict[str, int]
    interviews: int
    test: dict[str, float] | None


def make_table(data: DataSet, request: TableRequest) -> ResultTable:
    """Compute a table; raise EstimationError where the sentence does not make sense for the variables."""
    prepared = _prepare(data, request)
    if request.show == "share":
        return _shares(request, *prepared)
    return _means(request, *prepared)


_Prepared = tuple[Table, pl.DataFrame]


def _prepare(data: DataSet, request: TableRequest) -> _Prepared:
    if not request.variable:
        raise EstimationError("unknown_variable", "Choose the variable that the table is about.")
    named = [v for v in (request.variable, request.by, request.across) if v]
    names = {v: table_of(data, v) for v in named}
    for variable, found in names.items():
        if found is None:
            known = [c.variable for t in data.values() for c in t.layout.columns]
            hint = nearest(variable, known)
            mend = f" Did you mean {hint}?" if hint else ""
            raise EstimationError("unknown_variable", f"There is no variable “{variable}”.{mend}")
    deepest = max((n for n in names.values() if n), key=lambda n: len(data[n].layout.keys))
    table, frame = data[deepest], data[deepest].frame
    columns = list(table.layout.columns)
    for variable, found in names.items():
        if found and found != deepest:
            frame = _bring_in(data, table, frame, found, variable)
            column = data[found].layout.column(variable)
            assert column is not None
            columns.append(column)
    if request.where.strip():
        frame = frame.filter(pl.Series(_where(data, deepest, request.where)))
    layout = type(table.layout)(table.layout.name, table.layout.parent, table.layout.keys, tuple(columns))
    return Table(layout, frame), frame


def _bring_in(data: DataSet, table: Table, frame: pl.DataFrame, outer: str, variable: str) -> pl.DataFrame:
    keys = list(data[outer].layout.keys)
    if keys != list(table.layout.keys[: len(keys)]):
        message = f"“{variable}” and the other variables are asked in different rosters."
        raise EstimationError("different_rosters", message)
    return frame.join(
        data[outer].frame.select([*keys, variable, why(variable)]), on=keys, how="left", maintain_order="left"
    )


def _where(data: DataSet, table: str, text: str) -> pl.Series:
    rules = DataRules(data)
    tree, faults = rules.check(text, table)
    if tree is None:
        fault = faults[0]
        details = {"field": "where", "start": fault.span.start, "length": fault.span.end - fault.span.start}
        raise EstimationError(fault.code, f"{fault.message} {fault.mend}".strip(), details)
    return rules.outcome(tree, table).values.fill_null(False)


def _column(table: Table, variable: str) -> Column:
    column = table.layout.column(variable)
    if column is None:
        raise EstimationError("unknown_variable", f"There is no variable “{variable}” to make a table of. Choose one.")
    return column


def categories_of(table: Table, frame: pl.DataFrame, variable: str, request: TableRequest) -> list[Category]:
    """The categories of a variable, in the order of its code list; numbers in their own order."""
    column = _column(table, variable)
    if column.measure == "yes/no":
        found = [Category(value="yes", label="Yes"), Category(value="no", label="No")]
    elif column.codes:
        found = [
            Category(value=code, label=label_in(label, request.language, code)) for code, label in column.codes.items()
        ]
    else:
        values = frame[variable].drop_nulls().unique().sort().to_list()
        if len(values) > MOST_CATEGORIES:
            message = f"“{variable}” has {len(values)} different values: too many for the rows of a table."
            raise EstimationError("too_many_categories", message + " Take its mean, or choose a variable with codes.")
        found = [Category(value=_as_text(v), label=_as_text(v)) for v in values]
    if request.special_in_base:
        given = set(frame[why(variable)].cast(pl.String).drop_nulls().unique().to_list())
        found += [Category(value=s, label=MISSING_WORDS[s].capitalize(), special=True) for s in SPECIAL if s in given]
    return found


def _as_text(value: Any) -> str:
    return str(int(value)) if isinstance(value, float) and value == int(value) else str(value)


def memberships(table: Table, frame: pl.DataFrame, variable: str, categories: list[Category]) -> np.ndarray[Any, Any]:
    """Which row is in which category, shape (rows, categories), bool; a multiple answer may be in several."""
    column = _column(table, variable)
    reasons = frame[why(variable)].cast(pl.String)
    series = frame[variable]
    member = np.zeros((frame.height, len(categories)), dtype=bool)
    for i, category in enumerate(categories):
        if category.special:
            hits = reasons == category.value
        elif column.measure == "codes":
            hits = series.list.contains(category.value)
        elif column.measure == "yes/no":
            hits = series == (category.value == "yes")
        elif column.measure in ("code", "text"):
            hits = series == category.value
        else:
            hits = series.map_elements(_as_text, return_dtype=pl.String) == category.value
        member[:, i] = hits.fill_null(False).to_numpy()
    return member


def in_base(frame: pl.DataFrame, variable: str, special_in_base: bool) -> np.ndarray[Any, Any]:
    """Rows that have a value, and with the switch also those whose special answer counts as one."""
    answered = frame[variable].is_not_null()
    if special_in_base:
        answered = answered | frame[why(variable)].cast(pl.String).is_in(list(SPECIAL)).fill_null(False)
    return answered.to_numpy()


def _shares(request: TableRequest, table: Table, frame: pl.DataFrame) -> ResultTable:
    rows = categories_of(table, frame, request.variable, request)
    base = in_base(frame, request.variable, request.special_in_base)
    member = memberships(table, frame, request.variable, rows)
    columns, splits = _splits(request, table, frame, base)
    cells = [
        [_share(int((member[:, r] & split).sum()), int(split.sum())) for split in splits] for r in range(len(rows))
    ]
    counts = np.array([[cell.count for cell in row[:-1]] for row in cells], dtype=np.int64)
    multiple = _column(table, request.variable).measure == "codes"
    test = chi_square(counts) if request.across and not multiple and counts.size else None
    return ResultTable(
        request=request,
        unit=table.layout.name,
        title=label_in(_column(table, request.variable).label, request.language),
        rows=rows,
        columns=columns,
        cells=cells,
        outside_base=outside_base(frame, request.variable, request.special_in_base),
        interviews=int(frame[KEY].n_unique()),
        test={k: float(v) for k, v in asdict(test).items()} if test else None,
    )


def _splits(
    request: TableRequest, table: Table, frame: pl.DataFrame, base: np.ndarray[Any, Any]
) -> tuple[list[Category], list[np.ndarray[Any, Any]]]:
    everything = Category(value=ALL, label="All")
    if not request.across:
        return [everything], [base]
    columns = categories_of(table, frame, request.across, request)
    member = memberships(table, frame, request.across, columns)
    within = in_base(frame, request.across, request.special_in_base)
    return [*columns, everything], [*(member[:, c] & base for c in range(len(columns))), base & within]


def _share(count: int, base: int) -> Cell:
    return _cell(count, proportion(count, base))


def _cell(count: int, estimate: Estimate) -> Cell:
    figures = (estimate.value, estimate.low, estimate.high, estimate.standard_error)
    value, low, high, error = [None if math.isnan(f) else f for f in figures]
    return Cell(count=count, base=estimate.base, value=value, low=low, high=high, standard_error=error)


def _means(request: TableRequest, table: Table, frame: pl.DataFrame) -> ResultTable:
    column = _column(table, request.variable)
    if column.measure != "number":
        message = f"A mean needs numbers; “{column.variable}” holds {column.kind}."
        raise EstimationError("not_a_number", message + " Show its shares instead.")
    everything = Category(value=ALL, label="All")
    rows, member = [everything], np.ones((frame.height, 1), dtype=bool)
    if request.by:
        groups = categories_of(table, frame, request.by, request)
        rows = [*groups, everything]
        within = in_base(frame, request.by, request.special_in_base)
        member = np.column_stack([memberships(table, frame, request.by, groups), within])
    columns, splits = _splits(request, table, frame, in_base(frame, request.variable, False))
    values = frame[request.variable].cast(pl.Float64).fill_null(math.nan).to_numpy()
    cells = []
    for r in range(len(rows)):
        estimates = [mean(values[member[:, r] & split]) for split in splits]
        cells.append([_cell(estimate.base, estimate) for estimate in estimates])
    return ResultTable(
        request=request,
        unit=table.layout.name,
        title=label_in(column.label, request.language),
        rows=rows,
        columns=columns,
        cells=cells,
        outside_base=outside_base(frame, request.variable, False),
        interviews=int(frame[KEY].n_unique()),
        test=None,
    )


def outside_base(frame: pl.DataFrame, variable: str, special_in_base: bool) -> dict[str, int]:
    """How many rows are outside the base, by kind of missing."""
    reasons = frame[why(variable)].cast(pl.String).drop_nulls().value_counts()
    counts = dict(reasons.iter_rows())
    return {k: n for k, n in counts.items() if not (special_in_base and k in SPECIAL)}


def interviews_behind(data: DataSet, request: TableRequest, row: str, column: str) -> list[str]:
    """The keys of the interviews behind one figure, each once, in order of the data set."""
    table, frame = _prepare(data, request)
    selected = in_base(frame, request.variable, request.special_in_base and request.show == "share")
    for variable, value in (
        (request.variable if request.show == "share" else request.by, row),
        (request.across, column),
    ):
        if variable and value == ALL and variable != request.variable:
            selected &= in_base(frame, variable, request.special_in_base)
        elif variable and value != ALL:
            wanted = [c for c in categories_of(table, frame, variable, request) if c.value == value]
            if not wanted:
                raise EstimationError("no_such_category", f"“{variable}” has no category “{value}”.")
            selected &= memberships(table, frame, variable, wanted)[:, 0]
    return frame.filter(pl.Series(selected))[KEY].unique(maintain_order=True).to_list()


__all__ = ["INTERVIEWS", "Category", "Cell", "ResultTable", "TableRequest", "interviews_behind", "make_table"]
