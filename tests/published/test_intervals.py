"""Intervals and tests against statsmodels and scipy, on their own data and on random tables."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats
from statsmodels.datasets import fair
from statsmodels.stats.contingency_tables import Table
from statsmodels.stats.proportion import proportion_confint
from statsmodels.stats.weightstats import DescrStatsW

from skavo.core.estimation.intervals import chi_square, mean, proportion


@settings(max_examples=200, deadline=None)
@given(st.integers(1, 5000).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n))))
def test_wilsons_interval_is_that_of_statsmodels(count_and_base: tuple[int, int]) -> None:
    """statsmodels.stats.proportion.proportion_confint(method="wilson"); Wilson (1927)."""
    count, base = count_and_base
    found = proportion(count, base)
    assert (found.low, found.high) == pytest.approx(proportion_confint(count, base, method="wilson"), abs=1e-12)


def test_means_of_the_fair_data_have_the_intervals_of_statsmodels() -> None:
    """R. Fair's survey of 1978 as shipped with statsmodels (datasets.fair), variable age, by children or none."""
    data = fair.load_pandas().data
    for _, group in data.groupby(data["children"] > 0):
        values = group["age"].to_numpy(dtype=float)
        found = mean(values)
        reference = DescrStatsW(values)
        assert found.value == pytest.approx(reference.mean, rel=1e-12)
        assert found.standard_error == pytest.approx(reference.std_mean, rel=1e-9)
        assert (found.low, found.high) == pytest.approx(reference.tconfint_mean(), rel=1e-9)


def test_chi_square_of_the_fair_data_is_that_of_statsmodels() -> None:
    """Religiousness by happiness of marriage (datasets.fair), Table.test_nominal_association."""
    data = fair.load_pandas().data
    counts = np.array(
        [[((data["religious"] == r) & (data["rate_marriage"] == m)).sum() for m in range(1, 6)] for r in range(1, 5)]
    )
    found = chi_square(counts)
    reference = Table(counts, shift_zeros=False).test_nominal_association()
    assert found is not None
    assert (found.statistic, found.degrees) == (pytest.approx(reference.statistic), reference.df)
    assert found.p == pytest.approx(reference.pvalue, abs=1e-12)


def test_student_interval_of_darwins_maize_heights() -> None:
    """Differences in height of 15 pairs, R. A. Fisher, The Design of Experiments (1935), § 17: mean 20.93, t = 2.148."""
    differences = np.array([49, -67, 8, 16, 6, 23, 28, 41, 14, 29, 56, 24, 75, 60, -48], dtype=float)
    found = mean(differences)
    assert found.value == pytest.approx(20.93, abs=0.005)
    assert found.value / found.standard_error == pytest.approx(2.148, abs=0.0005)
    assert found.low == pytest.approx(stats.t.interval(0.95, 14, found.value, found.standard_error)[0])


def test_empty_rows_and_columns_do_not_change_the_test() -> None:
    counts = np.array([[10, 0, 5], [0, 0, 0], [3, 0, 12]])
    assert chi_square(counts) == chi_square(np.array([[10, 5], [3, 12]]))
    assert chi_square(np.array([[1, 2]])) is None
