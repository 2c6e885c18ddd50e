"""How a file is to be read, and what came of it."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

import polars as pl
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.combining.outside import OutsideColumn

_FIGURES = re.compile(r"[-+]?\d+([.,]\d+)?")


class FileReading(BaseModel):
    """`encoding`, `delimiter` and `sheet` as the file has them, "" where that is to be found out; `heading` is the number
    of the row that names the columns, 0 where none does, None where that is to be found out."""

    model_config = ConfigDict(extra="forbid")

    encoding: str = Field(default="", max_length=40)
    delimiter: str = Field(default="", max_length=1)
    sheet: str = Field(default="", max_length=200)
    heading: int | None = Field(default=None, ge=0, le=10_000)


@dataclass(frozen=True)
class TableIn:
    """`frame` holds texts, null where nothing stands; `known` the columns that the file describes; `reading` how it was
    read; `sheets` what else there is to read in it. `told` are things to know, in words."""

    kind: str
    frame: pl.DataFrame
    reading: FileReading
    known: dict[str, OutsideColumn] = field(default_factory=dict)
    sheets: list[str] = field(default_factory=list)
    told: list[str] = field(default_factory=list)


def headings_of(cells: list[str | None]) -> tuple[list[str], list[str]]:
    """A name for each column, none twice, and what had to be named."""
    names: list[str] = []
    told: list[str] = []
    for place, cell in enumerate(cells, 1):
        heading = (cell or "").strip()[:180] or f"column {place}"
        name, number = heading, 2
        while name in names:
            name, number = f"{heading} ({number})", number + 1
        if not (cell or "").strip():
            told.append(f"Column {place} has no heading; it is called “{name}”.")
        elif name != heading:
            told.append(f"Two columns are called “{heading}”; column {place} is called “{name}”.")
        names.append(name)
    return names, told


def likely_heading(rows: list[list[str | None]]) -> int:
    """The number of the row that names the columns: the first with cells in most of the columns that rows usually have.

    Rows above it are titles. A first row of figures only is no heading (common practice).
    """
    counts = [sum(cell is not None for cell in row) for row in rows]
    filled = [count for count in counts if count]
    usual = max(set(filled), key=filled.count, default=1)
    for number, (row, count) in enumerate(zip(rows, counts, strict=True), 1):
        if count and 2 * count > usual:
            figures = all(_FIGURES.fullmatch(cell) for cell in row if cell is not None)
            return 0 if figures and number == 1 else number
    return 1


def tidy_frame(frame: pl.DataFrame) -> pl.DataFrame:
    """Cells without space around them, null where nothing is left; rows and last columns in which nothing stands are gone."""
    texts = frame.select(pl.all().cast(pl.String).str.strip_chars())
    filled = texts.select(pl.when(pl.col(name) != "").then(pl.col(name)).alias(name) for name in texts.columns)
    return filled.filter(~pl.all_horizontal(pl.all().is_null())) if filled.width else filled
