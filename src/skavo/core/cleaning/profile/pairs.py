"""Pairs of numbers of which one never exceeds the other, but for a few rows: a part that is more than its whole."""

from __future__ import annotations

from itertools import permutations
from typing import cast

import polars as pl

from skavo.core.cleaning.profile.findings import MOST_ROWS, Finding, found_rows
from skavo.core.cleaning.steps import MarkMissing
from skavo.core.dataset.flatten import DataSet, Table

# Looked at among so many variables of a table, in so many rows at least; a rule that holds in this share has exceptions.
_MOST, _FEWEST, _HOLDS, _GOES_ALONG = 40, 50, 0.97, 0.5


def pairs_that_clash(data: DataSet) -> dict[str, list[Finding]]:
    """By variable: the other numbers of its table that it exceeds in a few rows only."""
    found: dict[str, list[Finding]] = {}
    for table in data.values():
        names = [c.variable for c in table.layout.columns if c.measure == "number" and c.whole and not c.piece][:_MOST]
        for part, whole in permutations(names, 2):
            finding = _exceeds(table, part, whole)
            if finding is not None:
                found.setdefault(part, []).append(finding)
    return found


def _exceeds(table: Table, part: str, whole: str) -> Finding | None:
    both = table.frame.select(*table.layout.keys, pl.col(part).alias("part"), pl.col(whole).alias("whole")).drop_nulls()
    if both.height < _FEWEST:
        return None
    more = both.filter(pl.col("part") > pl.col("whole"))
    equal = both.filter(pl.col("part") == pl.col("whole")).height
    # Where they are never the same they count different things: everybody's age is below their year of birth.
    if more.is_empty() or more.height > (1 - _HOLDS) * both.height or equal < 0.02 * both.height:
        return None
    goes_along = both.select(pl.corr("part", "whole", method="spearman"))["part"][0]
    if goes_along is None or cast(float, goes_along) < _GOES_ALONG:
        return None
    rule = f"{part} > {whole}"
    rows = found_rows(
        more.head(MOST_ROWS).select(*table.layout.keys, value=pl.format("{} > {}", pl.col("part"), pl.col("whole")))
    )
    shown = [row.value for row in rows[:5]]
    return Finding(f"more_than {whole}", more.height, shown, rows, rule, MarkMissing(variable=part, rule=rule))
