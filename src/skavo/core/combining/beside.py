"""Our own data held against an outside table, group by group: counts, shares, means and totals, ours with their intervals."""

from __future__ import annotations

from dataclasses import dataclass, field
from math import isnan, nan
from typing import Annotated

import polars as pl
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.combining.keys import Alike, made_alike
from skavo.core.combining.outside import read_cells
from skavo.core.combining.sides import Outside, our_texts, their_texts
from skavo.core.combining.spec import Heading, Name
from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.errors import DataError
from skavo.core.estimation.intervals import Estimate, mean, proportion
from skavo.core.rules.types import nearest

_NUMBER = "number"


class SideBySide(BaseModel):
    """Which variable is which column, as in a key of a join. `our_number` and `their_number` are compared by their means and
    totals; where there is none, rows are counted. `their_count` is a column that says how many a row stands for."""

    model_config = ConfigDict(extra="forbid")

    table: Name = INTERVIEWS
    ours: Name
    theirs: Heading
    words: Annotated[str, Field(max_length=35)] = ""
    alike: list[Alike] = Field(default=["case"], max_length=5)
    our_number: Name = ""
    their_number: Heading = ""
    their_count: Heading = ""


@dataclass(frozen=True)
class Side:
    """One side of a group: how many, their share of all, the mean and the total of a number (nan where there is none)."""

    count: float
    share: Estimate
    mean: Estimate
    total: float


@dataclass(frozen=True)
class Group:
    """`name` as ours writes it, as theirs where we have none. `apart` says whether theirs lies outside of our interval."""

    name: str
    ours: Side
    theirs: Side
    apart: bool


@dataclass(frozen=True)
class Compared:
    """`whole` is all groups together; `without` are how many rows of ours and of theirs belong to no group."""

    groups: list[Group] = field(default_factory=list)
    whole: Group | None = None
    without: tuple[int, int] = (0, 0)


def side_by_side(data: DataSet, outside: Outside, asked: SideBySide) -> Compared:
    """Raise DataError where something is named that is not there, or is no number."""
    ours = _ours(data, asked)
    theirs = _theirs(outside, asked)
    keys = [key for key in dict.fromkeys([*ours["key"].to_list(), *theirs["key"].to_list()]) if key is not None]
    named = {
        key: name for frame in (theirs, ours) for key, name in frame.select("key", "name").drop_nulls().iter_rows()
    }
    of_ours, of_theirs = ours.drop_nulls("key"), theirs.drop_nulls("key")
    groups = [
        _group(named[key], of_ours.filter(pl.col("key") == key), of_theirs.filter(pl.col("key") == key), of_ours, of_theirs, asked)
        for key in sorted(keys, key=lambda key: named[key])
    ]  # fmt: skip
    whole = _group("", of_ours, of_theirs, of_ours, of_theirs, asked) if groups else None
    return Compared(groups, whole, (ours["key"].null_count(), theirs["key"].null_count()))


def _ours(data: DataSet, asked: SideBySide) -> pl.DataFrame:
    """key, name, number and count (1) of every row of ours."""
    if asked.table not in data:
        raise DataError("unknown_table", f"There is no table “{asked.table}”. There is: {', '.join(data)}.")
    table = data[asked.table]
    texts = our_texts(data, table, asked.ours, asked.words)
    numbers = pl.repeat(None, texts.len(), dtype=pl.Float64, eager=True)
    if asked.our_number:
        column = table.layout.column(asked.our_number)
        if column is None or column.measure != _NUMBER:
            known = [c.variable for c in table.layout.columns if c.measure == _NUMBER]
            hint = nearest(asked.our_number, known) or ", ".join(known[:12])
            raise DataError("no_number", f"“{asked.our_number}” is no number of {asked.table}. There is: {hint}.")
        numbers = table.frame[asked.our_number].cast(pl.Float64)
    return _frame(texts, numbers, pl.repeat(1.0, texts.len(), eager=True), asked)


def _theirs(outside: Outside, asked: SideBySide) -> pl.DataFrame:
    texts = their_texts(outside, asked.theirs)
    counts = pl.repeat(1.0, texts.len(), dtype=pl.Float64, eager=True)
    if asked.their_count:
        counts = _numbers(outside, asked.their_count).fill_null(0.0)
    numbers = pl.repeat(None, texts.len(), dtype=pl.Float64, eager=True)
    if asked.their_number:
        numbers = _numbers(outside, asked.their_number)
    return _frame(texts, numbers, counts, asked)


def _numbers(outside: Outside, name: str) -> pl.Series:
    known = [column.name for column in outside.columns if column.read_as == _NUMBER]
    if name not in known:
        hint = nearest(name, known) or ", ".join(known[:12]) or "none"
        raise DataError("no_number", f"“{name}” is no column of numbers in {outside.name}. There is: {hint}.")
    return read_cells(outside.frame[name], outside.column(name)).values


def _frame(texts: pl.Series, numbers: pl.Series, counts: pl.Series, asked: SideBySide) -> pl.DataFrame:
    names = texts.str.strip_chars()
    alike = {name: made_alike(name, asked.alike) or None for name in names.drop_nulls().unique().to_list()}
    keys = names.replace_strict(alike, default=None, return_dtype=pl.String)
    return pl.DataFrame({"key": keys, "name": names, "number": numbers, "count": counts})


def _group(
    name: str, ours: pl.DataFrame, theirs: pl.DataFrame, all_ours: pl.DataFrame, all_theirs: pl.DataFrame, asked: SideBySide
) -> Group:  # fmt: skip
    mine = Side(
        ours.height, proportion(ours.height, all_ours.height), mean(ours["number"].fill_null(nan).to_numpy()),
        _total(ours, asked.our_number),
    )  # fmt: skip
    count, whole = float(theirs["count"].sum()), float(all_theirs["count"].sum())
    share = count / whole if whole else nan
    other = Side(
        count, _said(share, theirs.height), _said(_weighted(theirs), theirs.height), _total(theirs, asked.their_number)
    )
    compared, said = (mine.mean, other.mean) if asked.our_number and asked.their_number else (mine.share, other.share)
    apart = not isnan(said.value) and not isnan(compared.low) and not compared.low <= said.value <= compared.high
    return Group(name, mine, other, apart)


def _said(value: float, base: int) -> Estimate:
    """What another source says: without an interval, for how it was found is not known."""
    return Estimate(value, nan, nan, base, nan)


def _weighted(rows: pl.DataFrame) -> float:
    known = rows.drop_nulls("number")
    weight = float(known["count"].sum())
    return float((known["number"] * known["count"]).sum()) / weight if weight else nan


def _total(rows: pl.DataFrame, asked: str) -> float:
    return float((rows["number"] * rows["count"]).sum()) if asked else nan
