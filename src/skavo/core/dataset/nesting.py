"""How the tables of a data set lie below each other: rosters, and rows that are taken out with what is below them."""

from __future__ import annotations

import polars as pl

from skavo.core.dataset.flatten import DataSet, Table


def tables_above(data: DataSet, table: Table) -> list[str]:
    """The tables that a roster stands in, the nearest first."""
    names = []
    while table.layout.parent is not None:
        names.append(table.layout.parent)
        table = data[table.layout.parent]
    return names


def only_rows(data: DataSet, name: str, kept: pl.Series) -> DataSet:
    """The data set with some rows of a table only, and what lies below them."""
    # A million rows of which all stay are not copied.
    if kept.all(ignore_nulls=False):
        return data
    table = data[name]
    left = {**data, name: table.with_frame(table.frame.filter(kept))}
    for below, other in data.items():
        if name in tables_above(data, other):
            keys = list(table.layout.keys)
            frame = other.frame.join(left[name].frame.select(keys), on=keys, how="semi", maintain_order="left")
            left[below] = other.with_frame(frame)
    return left
