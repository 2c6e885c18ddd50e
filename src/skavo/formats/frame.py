"""A sampling frame from a file, and the sample that was drawn from it as a file."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass
from pathlib import Path

import polars as pl

from skavo.core.errors import DataError
from skavo.core.sampling.draw import Sample
from skavo.formats.read_table import read_table


@dataclass(frozen=True)
class TableFrame:
    """A frame that a table holds, all of its cells texts."""

    rows: pl.DataFrame

    @property
    def height(self) -> int:
        return self.rows.height

    def names(self, column: str) -> list[str]:
        return names_in(self.rows, column)

    def numbers(self, column: str) -> list[float]:
        return numbers_in(self.rows, column)


# What is written beside the columns of the frame.
OWN = ("probability", "weight", "stratum", "cluster", "order")


def read_frame(path: Path) -> pl.DataFrame:
    """The rows of a .csv or .xlsx file, all cells as text; raise DataError where it is no table or has a column of ours."""
    try:
        content = path.read_bytes()
    except OSError as error:
        raise DataError("no_file", f"{path} cannot be read: {error.strerror}.") from None
    frame = read_table(path.name, content)
    if frame.is_empty():
        raise DataError("empty_file", f"{path.name} has a heading and no rows.")
    taken = [name for name in OWN if name in frame.columns]
    if taken:
        message = f"{path.name} has a column “{taken[0]}”, which the sample writes itself. Rename that column."
        raise DataError("double_heading", message, {"column": taken[0]})
    return frame


def names_in(frame: pl.DataFrame, column: str) -> list[str]:
    """A column as it stands; raise DataError, with the row, where a cell is empty."""
    cells = _column(frame, column).to_list()
    for number, cell in enumerate(cells, start=1):
        if cell is None:
            raise _wrong(number, column, "is empty", "Fill it in, or take the row out of the frame.")
    return [str(cell) for cell in cells]


def numbers_in(frame: pl.DataFrame, column: str) -> list[float]:
    """A column of numbers; raise DataError, with the row, where a cell is none."""
    found = []
    for number, cell in enumerate(names_in(frame, column), start=1):
        try:
            value = float(cell)
        except ValueError:
            value = math.nan
        if not math.isfinite(value):
            raise _wrong(number, column, f"is “{cell}”", "Write a number, with a point before its decimals.")
        found.append(value)
    return found


def _column(frame: pl.DataFrame, column: str) -> pl.Series:
    if column not in frame.columns:
        known = ", ".join(frame.columns[:20])
        raise DataError("unknown_column", f"The frame has no column “{column}”; it has {known}.", {"column": column})
    return frame[column]


def _wrong(row: int, column: str, what: str, mend: str) -> DataError:
    message = f"Row {row} below the heading: “{column}” {what}. {mend}"
    return DataError("wrong_cell", message, {"row": row, "column": column})


def sample_file(frame: pl.DataFrame, sample: Sample) -> bytes:
    """A .csv file (RFC 4180) of the drawn rows, all columns of the frame and ours behind them, in the frame's order.

    Probabilities and weights are written with all digits that they have. Reserves are not among them.
    """
    drawn = sorted(sample.drawn, key=lambda one: one.place)
    rows = frame[[one.place for one in drawn]].with_columns(
        pl.Series("probability", [repr(one.probability) for one in drawn]),
        pl.Series("weight", [repr(one.weight) for one in drawn]),
        pl.Series("stratum", [one.stratum for one in drawn]),
        pl.Series("cluster", [one.cluster for one in drawn]),
        pl.Series("order", [one.order for one in drawn]),
    )
    out = io.BytesIO()
    rows.write_csv(out, line_terminator="\r\n", null_value="")
    return out.getvalue()
