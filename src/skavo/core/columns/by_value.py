"""Functions of Python over columns: asked once for each value there is, so that texts keep the engine's meaning."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import polars as pl

from skavo.core.columns.numbers import exact


def by_value(function: Callable[..., Any], dtype: Any, *columns: pl.Expr) -> pl.Expr:
    """`function` of the values of `columns` of a place, missing where one of them is."""
    named = [column.alias(str(place)) for place, column in enumerate(columns)]

    def each(values: pl.Series) -> pl.Series:
        rows = values.struct.unnest().drop("#")
        distinct = rows.unique()
        found = [None if None in row else function(*map(exact, row)) for row in distinct.iter_rows()]
        known = distinct.with_columns(pl.Series("found", found, dtype=dtype))
        return rows.join(known, on=rows.columns, how="left", nulls_equal=True, maintain_order="left")["found"]

    # The number of the row is there so that a literal has one value for each row as well.
    return pl.struct("#", *named).map_batches(each, return_dtype=dtype)
