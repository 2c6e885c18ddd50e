"""Robust outliers against the worked examples that are published."""

from __future__ import annotations

import polars as pl

from skavo.core.cleaning.profile.robust import FAR, modified_z


def test_the_example_of_iglewicz_and_hoaglin() -> None:
    """B. Iglewicz and D. C. Hoaglin, How to Detect and Handle Outliers (ASQC, 1993), ten values of which two are far off.

    The data and which of them are labelled are from memory; so is the limit of 3.5.
    """
    values = pl.Series([2.1, 2.6, 2.4, 2.5, 2.3, 2.1, 2.3, 2.6, 8.2, 8.3])
    assert FAR == 3.5
    assert values.filter(modified_z(values).abs() > FAR).to_list() == [8.2, 8.3]
    # The ordinary z-score labels neither: the two pull mean and deviation towards themselves.
    ordinary = (values - values.mean()) / values.std()
    assert ordinary.abs().max() < FAR  # type: ignore[operator]


def test_the_modified_score_is_the_published_formula() -> None:
    """0.6745 (x − median) / MAD, worked by hand for 1, 2, 3, 4, 100: median 3, MAD 1."""
    found = modified_z(pl.Series([1.0, 2.0, 3.0, 4.0, 100.0])).to_list()
    assert [round(z, 4) for z in found] == [-1.349, -0.6745, 0.0, 0.6745, 65.4265]
