"""How columns of outside tables are read: recognised where nothing else can be meant, told where something can."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

import polars as pl
import pytest

from skavo.core.combining.differences import differences
from skavo.core.combining.laid import laid_out
from skavo.core.combining.outside import OutsideColumn, doubts_of, read_cells, recognised
from skavo.core.combining.sides import Outside
from skavo.core.errors import DataError


def cells(*texts: str | None) -> pl.Series:
    return pl.Series("c", texts, dtype=pl.String)


@pytest.mark.parametrize(
    ("texts", "read_as", "values"),
    [
        (["1", "2.5", "-3"], "number", [1.0, 2.5, -3.0]),
        (["1 234,5", "7,25"], "number", [1234.5, 7.25]),
        (["1.234.567,5", "2"], "number", [1234567.5, 2.0]),
        (["1,234.5", "2"], "number", [1234.5, 2.0]),
        (["1’234", "5"], "number", [1234.0, 5.0]),
        (["1e3", "2"], "number", [1000.0, 2.0]),
        (["007", "8"], "text", ["007", "8"]),
        (["1", "two"], "text", ["1", "two"]),
        (["2026-01-31", "2026-02-01"], "date", [date(2026, 1, 31), date(2026, 2, 1)]),
        (["31/01/2026", "01/02/2026"], "date", [date(2026, 1, 31), date(2026, 2, 1)]),
        (["01/31/2026", "2/1/2026"], "date", [date(2026, 1, 31), date(2026, 2, 1)]),
        (["31.1.2026", "1.2.2026"], "date", [date(2026, 1, 31), date(2026, 2, 1)]),
        (["2026-01-31T12:30:00Z", "2026-02-01 08:00"], "date-time", [datetime(2026, 1, 31, 12, 30), datetime(2026, 2, 1, 8)]),
        (["yes", "No", "TRUE"], "yes/no", [True, False, True]),
        (["A", "B", "A", "A"], "code", ["A", "B", "A", "A"]),
        (["2026-02-30", "2026-01-01"], "text", ["2026-02-30", "2026-01-01"]),
        (["12 34", "5"], "text", ["12 34", "5"]),
        (["inf", "1"], "text", ["inf", "1"]),
    ],
)  # fmt: skip
def test_a_column_is_read_as_what_all_of_its_cells_are(texts: list[str], read_as: str, values: list[Any]) -> None:
    (column,) = recognised(cells(*texts).to_frame())
    assert column.read_as == read_as
    assert read_cells(cells(*texts), column).values.to_list() == values


@pytest.mark.parametrize(("counted", "how", "doubt"), [
    ({"1,234": 1, "2,345": 1}, {"read_as": "number"}, "decimal"),
    ({"1,5": 1}, {"read_as": "number", "decimal": ","}, ""),
    ({"03/04/2026": 1}, {"read_as": "date", "order": "dmy"}, "order"),
    ({"31/04/2026": 1}, {"read_as": "date", "order": "dmy"}, ""),
    ({"1": 1, "2": 1, "3": 1, "oui": 1}, {}, "number"),
    ({"1": 1, "two": 1}, {}, ""),
    # How often a cell stands there counts, not that it does.
    ({"1": 3, "two": 1}, {}, "number"),
    ({"1": 1, "2": 1, "3": 1, "oui": 9}, {}, ""),
])  # fmt: skip
def test_what_may_be_meant_otherwise_is_told(counted: dict[str, int], how: dict[str, Any], doubt: str) -> None:
    counts = pl.Series(list(counted.values()))
    assert doubts_of(cells(*counted), counts, OutsideColumn(name="c", **how)) == doubt


def test_what_cannot_be_read_is_marked_and_nothing_is_unanswered() -> None:
    column = OutsideColumn(name="c", read_as="number", missing={"-9": "dont_know"})
    read = read_cells(cells("1", "many", None, " ", "-9"), column)
    assert read.values.to_list() == [1.0, None, None, None, None]
    assert read.reasons.to_list() == [None, "unanswered", "unanswered", "unanswered", "dont_know"]
    assert read.unread.to_list() == [False, True, False, False, False]


def test_a_table_lies_like_interviews() -> None:
    frame = pl.DataFrame({"a b": ["1", "2"], "c": ["x", None]})
    table = laid_out(Outside("t", frame, recognised(frame)))["interviews"]
    assert table.frame["interview.key"].to_list() == ["1", "2"]
    assert [c.label["en"] for c in table.layout.columns] == ["a b (t)", "c (t)"]


BEFORE = pl.DataFrame({"k": ["1", "2", "3", "4", "4"], "v": ["a", "b", None, "d", "e"], "old": ["x"] * 5})
AFTER = pl.DataFrame({"k": ["2", "1", "3", "5"], "v": ["b", "A", "c", "f"], "new": ["y"] * 4})


def test_what_has_changed_is_told_row_by_row() -> None:
    found = differences(BEFORE, AFTER, ["k"])
    assert (found.new, found.gone, found.changed, found.same, found.repeated) == (1, 0, 2, 1, 1)
    cells = [(cell.key, cell.column, cell.before, cell.after) for cell in found.cells]
    assert cells == [("1", "v", "a", "A"), ("3", "v", None, "c")]
    assert (found.columns_new, found.columns_gone, found.by_column) == (["new"], ["old"], {"v": 2})
    assert (found.new_keys, found.gone_keys) == (["5"], [])


def test_without_a_key_that_both_have_nothing_is_compared() -> None:
    with pytest.raises(DataError, match="no column “new”"):
        differences(BEFORE, AFTER, ["new"])
    with pytest.raises(DataError, match="by which columns"):
        differences(BEFORE, AFTER, [])
