"""The shape of a variable: how its values are spread, in a few bars."""

from __future__ import annotations

from dataclasses import dataclass
from math import floor, log10
from typing import Any, cast

import polars as pl

from skavo.core.cleaning.profile.robust import Fence
from skavo.core.cleaning.work import as_texts
from skavo.core.dataset.layout import Column, label_in

MOST_BARS = 24
_MOST_VALUES = 12


@dataclass(frozen=True)
class Bar:
    """So many rows with one value, or with numbers and dates from `low` up to `high`; `far` ones lie beyond the fence."""

    label: str
    count: int
    low: float | None = None
    high: float | None = None
    far: bool = False


def bars_of(column: Column, values: pl.Series, fence: Fence | None) -> list[Bar]:
    """Bars of the values that are there: codes in the order of their list, numbers and dates in classes, texts by how
    common they are."""
    present = values.drop_nulls()
    if column.measure in ("code", "codes", "yes/no"):
        return _of_codes(column, present)
    if column.measure == "number":
        return _of_numbers(present.cast(pl.Float64), fence)
    if column.measure in ("date", "date-time"):
        return _of_years(present)
    return [Bar(str(value), count) for value, count in counted(present)[:_MOST_VALUES]]


def _of_codes(column: Column, values: pl.Series) -> list[Bar]:
    each = values.explode(empty_as_null=True).drop_nulls() if column.measure == "codes" else as_texts(values)
    counts = dict(counted(each))
    known = {"yes": "Yes", "no": "No"} if column.measure == "yes/no" else column.codes
    listed = [code for code in known if code in counts or len(known) <= MOST_BARS]
    labels = {code: label_in(texts, "en", code) if isinstance(texts, dict) else texts for code, texts in known.items()}
    bars = [Bar(labels[code], counts.get(code, 0)) for code in listed]
    return bars + [Bar(str(code), count, far=True) for code, count in counts.items() if code not in known]


def counted(values: pl.Series) -> list[tuple[Any, int]]:
    """Distinct values with their counts, commonest first, equally common ones in their own order."""
    found = values.alias("value").value_counts(name="n").sort(["n", "value"], descending=[True, False])
    return list(found.iter_rows())


def _of_numbers(values: pl.Series, fence: Fence | None) -> list[Bar]:
    if values.is_empty():
        return []
    distinct = values.unique().sort()
    if distinct.len() <= _MOST_VALUES:
        far = _far(distinct, fence)
        counts = dict(counted(values))
        return [Bar(_plain(v), counts[v], v, v, far=f) for v, f in zip(distinct, far, strict=True)]
    near = values if fence is None else values.filter(~_far(values, fence))
    width = _nice((cast(float, near.max()) - cast(float, near.min())) / (MOST_BARS - 6) or 1.0)
    start = floor(cast(float, near.min()) / width) * width
    classes = ((near - start) / width).floor().cast(pl.Int64)
    counts = dict(classes.value_counts(name="n").iter_rows())
    bars = [
        Bar(f"{_plain(start + n * width)} –", counts.get(n, 0), start + n * width, start + (n + 1) * width)
        for n in range(cast(int, classes.max()) + 1)
    ]
    if fence is not None:
        below, above = values.filter(values < fence.low), values.filter(values > fence.high)
        bars = [*_together(below), *bars, *_together(above)]
    return bars


def _far(values: pl.Series, fence: Fence | None) -> pl.Series:
    return pl.select(
        fence.beyond(pl.lit(values)) if fence else pl.repeat(False, values.len(), dtype=pl.Boolean)
    ).to_series()


def _together(values: pl.Series) -> list[Bar]:
    """What lies far on one side, in one bar."""
    if values.is_empty():
        return []
    low, high = cast(float, values.min()), cast(float, values.max())
    label = _plain(low) if low == high else f"{_plain(low)} – {_plain(high)}"
    return [Bar(label, values.len(), low, high, far=True)]


def _nice(width: float) -> float:
    """1, 2 or 5 times a power of ten, not below `width`."""
    power = 10.0 ** floor(log10(width))
    return next(step * power for step in (1, 2, 5, 10) if step * power >= width * 0.999999)


def _plain(value: float) -> str:
    return str(int(value)) if value == int(value) else f"{value:.6g}"


def _of_years(values: pl.Series) -> list[Bar]:
    if values.is_empty():
        return []
    years = values.dt.year().cast(pl.Int64)
    few = cast(int, years.max()) - cast(int, years.min()) < 2
    texts = values.dt.strftime("%Y-%m" if few else "%Y")
    found = sorted(counted(texts))
    return [Bar(label, count) for label, count in found][-MOST_BARS:]
