"""Two data sets of the same interviews compared: what differs between two states of a plan."""

from __future__ import annotations

from dataclasses import dataclass

import polars as pl

from skavo.core.cleaning.work import as_texts, row_names
from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import KEY

MOST_SHOWN = 200


@dataclass(frozen=True)
class Cell:
    """A cell that differs; a missing value is its kind in `…_why`."""

    table: str
    interview: str
    row: tuple[str, ...]
    variable: str
    before: str | None
    before_why: str | None
    after: str | None
    after_why: str | None


@dataclass(frozen=True)
class Difference:
    """`cells` counts what differs by variable, `shown` are the first of them; rows and variables that only one side has."""

    cells: dict[str, int]
    shown: list[Cell]
    rows_gone: dict[str, int]
    rows_come: dict[str, int]
    variables_gone: list[str]
    variables_come: list[str]


def difference(before: DataSet, after: DataSet) -> Difference:
    """What `after` has otherwise than `before`, by the keys of rows and the names of variables."""
    cells: dict[str, int] = {}
    shown: list[Cell] = []
    gone: dict[str, int] = {}
    come: dict[str, int] = {}
    for name in before.keys() & after.keys():
        left, right = before[name], after[name]
        keys = list(left.layout.keys)
        gone[name] = left.frame.join(right.frame, on=keys, how="anti").height
        come[name] = right.frame.join(left.frame, on=keys, how="anti").height
        both = left.frame.select(keys).join(right.frame.select(keys), on=keys, how="semi", maintain_order="left")
        here = both.join(left.frame, on=keys, how="left", maintain_order="left")
        there = both.join(right.frame, on=keys, how="left", maintain_order="left")
        for column in left.layout.columns:
            if column.variable in right.frame.columns:
                found = _differing(left, here, there, column.variable)
                if not found.is_empty():
                    cells[column.variable] = found.height
                    shown += _cells(name, column.variable, found.head(MOST_SHOWN - len(shown)))
    old, new = _names(before), _names(after)
    return Difference(
        cells, shown, {n: c for n, c in gone.items() if c}, {n: c for n, c in come.items() if c},
        [v for v in old if v not in new], [v for v in new if v not in old],
    )  # fmt: skip


def _names(data: DataSet) -> list[str]:
    return [column.variable for table in data.values() for column in table.layout.columns]


def _differing(table: Table, here: pl.DataFrame, there: pl.DataFrame, variable: str) -> pl.DataFrame:
    """The rows in which a variable differs, with both cells."""
    pairs = pl.DataFrame(
        {
            KEY: here[KEY], "row": row_names(here.select(table.layout.keys)),
            "before": as_texts(here[variable]), "before_why": here[why(variable)].cast(pl.String),
            "after": as_texts(there[variable]), "after_why": there[why(variable)].cast(pl.String),
        }
    )  # fmt: skip
    differs = pl.col("before").ne_missing(pl.col("after")) | pl.col("before_why").ne_missing(pl.col("after_why"))
    return pairs.filter(differs)


def _cells(table: str, variable: str, found: pl.DataFrame) -> list[Cell]:
    return [Cell(table, key, tuple(row), variable, *cells) for key, row, *cells in found.iter_rows()]
