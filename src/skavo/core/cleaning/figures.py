"""What a variable looks like in figures, before a step and after it."""

from __future__ import annotations

from dataclasses import dataclass

import polars as pl

from skavo.core.cleaning.work import as_texts
from skavo.core.dataset.flatten import DataSet, why
from skavo.core.dataset.rules import table_of

MOST_VALUES = 12


@dataclass(frozen=True)
class Figures:
    """`values` are the commonest, with their counts, `missing` the kinds of nothing; mean and the others of numbers only."""

    base: int
    values: dict[str, int]
    missing: dict[str, int]
    mean: float | None = None
    median: float | None = None
    lowest: float | None = None
    highest: float | None = None


def figures_of(data: DataSet, variable: str) -> Figures | None:
    """The figures of a variable, None where there is none of that name."""
    name = table_of(data, variable)
    if name is None:
        return None
    frame = data[name].frame
    values = frame[variable].drop_nulls()
    missing = {str(kind): count for kind, count in _counted(frame[why(variable)].drop_nulls())}
    commonest = dict(counted_values(values)[:MOST_VALUES])
    if not values.dtype.is_numeric():
        return Figures(values.len(), commonest, missing)
    as_floats = values.cast(pl.Float64)
    return Figures(
        values.len(), commonest, missing, _float(as_floats.mean()), _float(as_floats.median()), _float(as_floats.min()),
        _float(as_floats.max()),
    )  # fmt: skip


def counted_values(values: pl.Series) -> list[tuple[str, int]]:
    """Distinct values as texts with their counts, commonest first; a multiple answer counts for each of its codes."""
    each = values.explode(empty_as_null=True) if values.dtype == pl.List(pl.String) else values
    return [(str(value), count) for value, count in _counted(as_texts(each.drop_nulls()))]


def _counted(values: pl.Series) -> list[tuple[object, int]]:
    """Distinct values with their counts, commonest first, equally common ones in their own order."""
    counted = values.alias("value").value_counts(name="n")
    return list(counted.sort([pl.col("n"), pl.col("value").cast(pl.String)], descending=[True, False]).iter_rows())


def _float(value: object) -> float | None:
    return float(value) if isinstance(value, int | float) else None
