"""Which numbers lie far from the others, by measures that the far ones cannot move."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, log
from typing import cast

import polars as pl

# A modified z-score beyond this is a potential outlier: B. Iglewicz and D. C. Hoaglin, How to Detect and Handle Outliers
# (ASQC, 1993).
FAR = 3.5
# Of a normal distribution: the median absolute deviation and the mean absolute deviation, in standard deviations.
_MAD, _MEAN_AD = 0.6745, 0.7979
_FEWEST = 10


@dataclass(frozen=True)
class Fence:
    """Values below `low` or above `high` lie far from the others."""

    low: float
    high: float

    def beyond(self, column: pl.Expr) -> pl.Expr:
        return (column < self.low) | (column > self.high)


def modified_z(values: pl.Series) -> pl.Series:
    """0.6745 (x − median) / MAD; where more than half are alike, by the mean absolute deviation; 0 where all are."""
    middle = cast(float, values.median())
    away = (values - middle).abs()
    spread = cast(float, away.median()) / _MAD or cast(float, away.mean()) / _MEAN_AD
    return (values - middle) / spread if spread else values * 0.0


def fence_of(values: pl.Series) -> Fence | None:
    """The fence of some numbers: on a scale of logarithms where all are above 0 and the upper half is far the wider, as
    with money; None of fewer than ten numbers, or where nearly all are the same."""
    present = values.drop_nulls().cast(pl.Float64)
    if present.len() < _FEWEST:
        return None
    low, middle, high = (cast(float, present.quantile(q, "linear")) for q in (0.25, 0.5, 0.75))
    is_skewed = cast(float, present.min()) > 0 and high - middle > 1.5 * (middle - low)
    scaled = present.log() if is_skewed else present
    centre = cast(float, scaled.median())
    away = (scaled - centre).abs()
    spread = cast(float, away.median()) / _MAD or cast(float, away.mean()) / _MEAN_AD
    if not spread or cast(float, away.median()) == 0:
        return None
    below, above = centre - FAR * spread, centre + FAR * spread
    if is_skewed:
        return Fence(exp(below), exp(min(above, log(1e300))))
    return Fence(below, above)
