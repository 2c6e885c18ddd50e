"""What a column of a table from elsewhere looks like, read in one way: before anything is kept, and afterwards."""

from __future__ import annotations

from dataclasses import dataclass

import polars as pl

from skavo.core.cleaning.figures import Figures, figures_of
from skavo.core.cleaning.profile.robust import fence_of
from skavo.core.cleaning.profile.shape import Bar, bars_of
from skavo.core.combining.laid import laid_out
from skavo.core.combining.outside import OutsideColumn, doubts_of, read_cells
from skavo.core.combining.sides import Outside
from skavo.core.dataset.layout import INTERVIEWS

# A shape is looked for in so many rows at most while somebody waits.
PROFILED = 100_000
_MOST_UNREAD = 5


@dataclass(frozen=True)
class ColumnLook:
    """A column as it is read: how many cells hold a value, how many nothing, and how many something else than it is read as,
    with the first of those by row. `doubt` names what may as well be read otherwise; the first PROFILED rows gave
    `distinct`, `bars` and `figures`."""

    column: OutsideColumn
    values: int
    missing: int
    unread: int
    unread_cells: list[str]
    doubt: str
    distinct: int
    bars: list[Bar]
    figures: Figures


def look_at_column(frame: pl.DataFrame, column: OutsideColumn) -> ColumnLook:
    """`frame` holds the cells of the table as texts."""
    cells = frame[column.name]
    # Each different cell is read once: a large table has the same few over and over.
    tally = cells.alias("cell").value_counts(name="n")
    read = read_cells(tally["cell"], column)
    counted = tally.select(
        values=pl.col("n").filter(read.values.is_not_null()).sum(), unread=pl.col("n").filter(read.unread).sum()
    )
    values, unread = counted.row(0)
    data = laid_out(Outside("table", frame.select(column.name).head(PROFILED), [column]))
    (laid,) = data[INTERVIEWS].layout.columns
    first = data[INTERVIEWS].frame[laid.variable]
    figures = figures_of(data, laid.variable)
    assert figures is not None
    return ColumnLook(
        column, values, cells.len() - values - unread, unread, _first_unread(cells, tally["cell"].filter(read.unread)),
        doubts_of(tally["cell"], tally["n"], column), first.drop_nulls().n_unique(),
        bars_of(laid, first, fence_of(first) if laid.measure == "number" else None), figures,
    )  # fmt: skip


def _first_unread(cells: pl.Series, unread: pl.Series) -> list[str]:
    if unread.is_empty():
        return []
    rows = cells.is_in(unread.to_list()).arg_true().head(_MOST_UNREAD)
    return [f"row {at + 1}: {cells[at]}" for at in rows]
