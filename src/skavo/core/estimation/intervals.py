"""Estimates of proportions and means from a simple random sample, with their intervals. Unweighted."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import stats


@dataclass(frozen=True)
class Estimate:
    """`value` with its interval from `low` to `high`; `base` is the number of cases; nan where undefined."""

    value: float
    low: float
    high: float
    base: int
    standard_error: float


def proportion(count: int, base: int, confidence: float = 0.95) -> Estimate:
    """Share of `count` in `base`, between 0 and 1, with Wilson's score interval.

    Source: E. B. Wilson, "Probable inference, the law of succession, and statistical inference",
    Journal of the American Statistical Association 22 (1927), 209-212. Undefined (nan) for base 0.

    >>> round(proportion(10, 20).low, 4)
    0.2993
    """
    if base == 0:
        return Estimate(math.nan, math.nan, math.nan, 0, math.nan)
    z = float(stats.norm.ppf(0.5 + confidence / 2))
    p = count / base
    shrink = 1 + z * z / base
    centre = (p + z * z / (2 * base)) / shrink
    half = z * math.sqrt(p * (1 - p) / base + z * z / (4 * base * base)) / shrink
    low, high = max(0.0, centre - half), min(1.0, centre + half)
    return Estimate(p, 0.0 if count == 0 else low, 1.0 if count == base else high, base, math.sqrt(p * (1 - p) / base))


def mean(values: NDArray[np.float64], confidence: float = 0.95) -> Estimate:
    """Mean of `values`, shape (n,), nan passed over, with Student's t interval on n - 1 degrees of freedom.

    Source: Student, "The probable error of a mean", Biometrika 6 (1908), 1-25. One value has no interval (nan).

    >>> round(mean(np.array([1.0, 2.0, 3.0])).high, 3)
    4.484
    """
    present = values[~np.isnan(values)]
    n = len(present)
    if n == 0:
        return Estimate(math.nan, math.nan, math.nan, 0, math.nan)
    centre = float(present.mean())
    if n == 1:
        return Estimate(centre, math.nan, math.nan, 1, math.nan)
    error = float(present.std(ddof=1)) / math.sqrt(n)
    half = float(stats.t.ppf(0.5 + confidence / 2, n - 1)) * error
    return Estimate(centre, centre - half, centre + half, n, error)


@dataclass(frozen=True)
class ChiSquare:
    """Pearson's test of independence; `smallest_expected` below 5 makes `p` doubtful (Cochran 1954)."""

    statistic: float
    degrees: int
    p: float
    smallest_expected: float


def chi_square(counts: NDArray[np.int64]) -> ChiSquare | None:
    """Pearson's chi-square of a table of counts, shape (rows, columns), without continuity correction.

    Rows and columns of zeros are left out; None where fewer than two of either remain.
    Source: K. Pearson, Philosophical Magazine 50 (1900), 157-175.
    """
    table = counts[counts.sum(axis=1) > 0][:, counts.sum(axis=0) > 0]
    if table.shape[0] < 2 or table.shape[1] < 2:
        return None
    result = stats.chi2_contingency(table, correction=False)
    return ChiSquare(float(result.statistic), int(result.dof), float(result.pvalue), float(result.expected_freq.min()))
