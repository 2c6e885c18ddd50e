"""Aggregates over the rows of a roster: worked out in its own table, brought up to the row that they lie under."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import polars as pl

from skavo.core.columns import numbers
from skavo.core.columns.numbers import Number, RowByRow

if TYPE_CHECKING:
    from skavo.core.columns.compile import Compiler, Value
    from skavo.core.rules.state import Tree

# What stands for *unknown* among the outcomes of a test of rows, apart from there being no row.
_UNKNOWN = 2


def aggregate(c: Compiler, name: str, rosters: list[int], depth: int, value: Tree | None, where: Tree | None) -> Value:
    """An aggregate of the rows of `rosters` below the row `depth` deep, of those where `where` is a definite yes."""
    inner = c.inside(rosters, depth)
    condition = inner.expr(where) if where is not None else pl.lit(True)
    column = f"{name} {rosters} {depth} {value} {where}"
    if name in _TESTS:
        rows = inner.place.frame.with_columns(up=inner.place.up(depth), value=condition)
        found = rows.group_by("up").agg(_TESTS[name].alias("value"))
        return _tested(name, c.place.fold(column, found, depth), inner.place.frame.height)
    assert value is not None
    taken, read = _combined(name, inner.compile(value), inner.place.frame.height)
    rows = inner.place.frame.with_columns(up=inner.place.up(depth), here=condition).filter("here")
    found = rows.group_by("up", maintain_order=True).agg(taken.alias("value"))
    return read(c.place.fold(column, found, depth))


_TESTS: dict[str, pl.Expr] = {
    "count": pl.col("value").sum().cast(pl.Int64),
    "any": pl.col("value").any(ignore_nulls=False).cast(pl.Int8).fill_null(_UNKNOWN),
    "every": pl.col("value").all(ignore_nulls=False).cast(pl.Int8).fill_null(_UNKNOWN),
}


def _tested(name: str, folded: pl.Expr, rows: int) -> Value:
    if name == "count":
        return numbers.of_whole(folded.fill_null(0), rows)
    without_rows = pl.lit(name == "every")
    return pl.when(folded.is_null()).then(without_rows).when(folded != _UNKNOWN).then(folded == 1)


def _combined(name: str, value: Value, rows: int) -> tuple[pl.Expr, Callable[[pl.Expr], Value]]:
    """What is made of the values of a group, and how its column is read."""
    if name == "different":
        each = _one_column(value).drop_nulls()
        return pl.when(each.len() > 0).then(each.n_unique() == each.len()), lambda column: column
    if not isinstance(value, Number):
        if name not in _TAKEN:
            raise RowByRow
        return _TAKEN[name](_one_column(value)), lambda column: column
    if name in _TAKEN:
        one, read = numbers.as_aggregated(value)
        return _TAKEN[name](one), read
    return numbers.sum_of(value, rows) if name == "sum" else numbers.mean_of(value, rows)


_TAKEN: dict[str, Callable[[pl.Expr], pl.Expr]] = {
    "lowest": lambda column: column.min(),
    "highest": lambda column: column.max(),
    "first": lambda column: column.drop_nulls().first(),
}


def _one_column(value: Any) -> pl.Expr:
    if isinstance(value, Number):
        return numbers.as_aggregated(value)[0]
    if not isinstance(value, pl.Expr):
        raise RowByRow
    return value
