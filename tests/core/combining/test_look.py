"""What a column of a table from elsewhere looks like, each different cell read once."""

from __future__ import annotations

from typing import Any

import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.combining import look
from skavo.core.combining.look import look_at_column
from skavo.core.combining.outside import OutsideColumn, read_cells

CELLS = st.lists(st.none() | st.sampled_from(["1", "2,5", " 2.5", "x", "yes", "-9", "", "03/04/2026"]), max_size=30)
READ = st.sampled_from(["text", "number", "date", "yes/no", "code"])


@given(CELLS, READ)
def test_it_counts_what_reading_every_cell_finds(texts: list[str | None], read_as: Any) -> None:
    cells = pl.Series("c", texts, dtype=pl.String)
    column = OutsideColumn(name="c", read_as=read_as, missing={"-9": "refused"})
    read, seen = read_cells(cells, column), look_at_column(cells.to_frame(), column)
    unread = read.unread.arg_true().to_list()
    assert (seen.values, seen.unread) == (int(read.values.is_not_null().sum()), len(unread))
    assert seen.values + seen.missing + seen.unread == len(texts)
    assert seen.unread_cells == [f"row {at + 1}: {texts[at]}" for at in unread[:5]]
    assert seen.distinct == read.values.drop_nulls().n_unique()
    assert seen.figures.base == seen.values


def test_a_shape_is_that_of_the_first_rows(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(look, "PROFILED", 2)
    seen = look_at_column(pl.DataFrame({"c": ["1", "2", "3", "x"]}), OutsideColumn(name="c", read_as="number"))
    assert (seen.figures.base, seen.distinct, seen.values) == (2, 2, 3)
    assert seen.unread_cells == ["row 4: x"]
