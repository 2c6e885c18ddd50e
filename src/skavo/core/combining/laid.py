"""An outside table as a data set of its own, so that it is looked at as the interviews are."""

from __future__ import annotations

import polars as pl

from skavo.core.combining.join import typed_column
from skavo.core.combining.sides import Outside
from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout


def laid_out(outside: Outside) -> DataSet:
    """The rows as a table: the key of each is its number, 1 for the first below the heading."""
    frame = outside.frame.select(pl.int_range(1, pl.len() + 1).cast(pl.String).alias(KEY))
    columns: list[Column] = []
    for name in outside.frame.columns:
        column, read = typed_column(outside, name, f"c{len(columns)}")
        columns.append(column)
        frame = frame.with_columns(read.values.alias(column.variable), read.reasons.alias(why(column.variable)))
    return {INTERVIEWS: Table(TableLayout(INTERVIEWS, None, (KEY,), tuple(columns)), frame)}
