"""How many interviews went which way: from block to block, past those in which nothing was asked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import polars as pl

from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, KEY


@dataclass(frozen=True)
class Way:
    """`interviews` went from block `start` straight to block `end`; None is the beginning, and the end."""

    start: int | None
    end: int | None
    interviews: int


@dataclass(frozen=True)
class Went:
    """Of so many interviews: in how many each part was asked, by its identity, and the ways between blocks."""

    interviews: int
    asked: dict[str, int]
    ways: list[Way]


def went(data: DataSet, blocks: Sequence[Sequence[str]]) -> Went:
    """Count the interviews of a data set; `blocks` are the identities of the parts of each block, in order.

    Statements leave no answer and are not counted.
    """
    keys = data[INTERVIEWS].frame[KEY]
    asked = {part: keys_asked for table in data.values() for part, keys_asked in _asked_in(table).items()}
    none = keys.clear()
    visited = [pl.concat([none, *[asked[part] for part in block if part in asked]]).unique() for block in blocks]
    seen = pl.DataFrame({KEY: keys}).with_columns(
        pl.col(KEY).is_in(names.implode()).alias(str(number)) for number, names in enumerate(visited)
    )
    return Went(keys.len(), {part: names.n_unique() for part, names in asked.items()}, _ways(seen, len(blocks)))


def _asked_in(table: Table) -> dict[str, pl.Series]:
    """The interviews in which each part of a table was asked, in any of its rows."""
    found: dict[str, pl.Series] = {}
    for column in table.layout.columns:
        reason = pl.col(why(column.variable))
        names = table.frame.filter(reason.is_null() | (reason != "not_asked"))[KEY].unique()
        known = found.get(column.part_id)
        found[column.part_id] = names if known is None else pl.concat([known, names]).unique()
    return found


def _ways(seen: pl.DataFrame, blocks: int) -> list[Way]:
    """Each interview goes to the next block in which anything was asked of it."""
    after = pl.lit(blocks)
    steps = []
    for number in reversed(range(blocks)):
        steps.append(pl.struct(pl.lit(number).alias("start"), after.alias("end"), pl.col(str(number)).alias("there")))
        after = pl.when(pl.col(str(number))).then(number).otherwise(after)
    steps.append(pl.struct(pl.lit(-1).alias("start"), after.alias("end"), pl.lit(True).alias("there")))
    found = []
    for step in reversed(steps):
        counted = (
            seen.select(step.alias("step")).unnest("step").filter("there").group_by("start", "end").len().sort("end")
        )
        for start, end, interviews in counted.iter_rows():
            found.append(Way(None if start < 0 else start, None if end == blocks else end, interviews))
    return found
