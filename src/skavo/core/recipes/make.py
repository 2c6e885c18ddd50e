"""A data set made by its recipe."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from types import MappingProxyType

import polars as pl

from skavo.core.cleaning.plan import apply_step
from skavo.core.cleaning.steps import Derive
from skavo.core.cleaning.work import Work
from skavo.core.combining.sides import table_named
from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, Column
from skavo.core.dataset.nesting import only_rows, tables_above
from skavo.core.dataset.rules import DataRules, error_of
from skavo.core.errors import DataError
from skavo.core.recipes.recipe import Alone, LeavesOut, Recipe, Source, Wide
from skavo.core.recipes.stack import Clash, stack
from skavo.core.recipes.turn import rows_beyond, turn_long, turn_wide

_STARTED, _STATE, _RELEASE = "interview.started", "interview.state", "interview.release"


@dataclass(frozen=True)
class Narrowed:
    """Of `interviews` of a source, how many stay out by their state, their release, their day; `kept` are the rest."""

    interviews: int
    not_accepted: int
    other_release: int
    other_day: int
    kept: int


@dataclass
class Made:
    """`narrowed` goes source by source, `left_out` counts rows line by line of the recipe, `beyond` the rows that found no
    room by turn; `tables` are those that rows can be of. With `clashes` there is no data set."""

    data: DataSet
    narrowed: list[Narrowed] = field(default_factory=list)
    left_out: list[int] = field(default_factory=list)
    beyond: list[int] = field(default_factory=list)
    clashes: list[Clash] = field(default_factory=list)
    tables: list[str] = field(default_factory=list)


def make(
    recipe: Recipe, data: Mapping[int, DataSet], titles: Sequence[str], zone: str = "UTC",
    alone: Mapping[Alone, DataSet] = MappingProxyType({}),
) -> Made:  # fmt: skip
    """`data` are the data sets of the questionnaires, with their sensitive columns marked, `alone` the outside tables that are
    sources; `titles` go by the sources, days by the clock of `zone`.

    A variable that is made from sensitive ones is sensitive as well. Raise DataError, with the line of the recipe in
    `details`, where something in it does not fit.
    """
    narrowed = [
        narrow(data[source.questionnaire], source, zone, accepted_only=recipe.accepted_only)
        if source.alone is None
        else _whole(alone[source.alone])
        for source in recipe.sources
    ]
    sources = [(source, found) for source, (found, _) in zip(recipe.sources, narrowed, strict=True)]
    stacked = stack(sources, titles)
    made = Made(stacked.data, narrowed=[told for _, told in narrowed], clashes=stacked.clashes)
    if made.clashes:
        return made
    telling = {c.part_id for found in (*data.values(), *alone.values()) for t in found.values()
               for c in t.layout.columns if c.sensitive}  # fmt: skip
    for line, step in enumerate(recipe.derived):
        with _line("derived", line):
            made.data = _derived(made.data, step, line, telling)
    for line, left in enumerate(recipe.left_out):
        before = made.data
        with _line("left_out", line):
            made.data = _without(before, left)
        made.left_out.append(before[left.table].frame.height - made.data[left.table].frame.height)
    for line, turn in enumerate(recipe.turned):
        with _line("turned", line):
            made.data = turn_wide(made.data, turn) if isinstance(turn, Wide) else turn_long(made.data, turn)
            made.beyond.append(rows_beyond(made.data, turn) if isinstance(turn, Wide) else 0)
    made.tables = list(made.data)
    made.data = rows_of(made.data, recipe.rows)
    return made


@contextmanager
def _line(part: str, line: int) -> Iterator[None]:
    """An error in a line of the recipe names the line."""
    try:
        yield
    except DataError as error:
        raise DataError(error.code, error.message, {**error.details, "part": part, "line": line}) from error


def _whole(data: DataSet) -> tuple[DataSet, Narrowed]:
    rows = data[INTERVIEWS].frame.height
    return data, Narrowed(rows, 0, 0, 0, rows)


def narrow(data: DataSet, source: Source, zone: str, *, accepted_only: bool) -> tuple[DataSet, Narrowed]:
    """The interviews of a source that the recipe takes; one without a time of beginning is on no day."""
    frame = data[INTERVIEWS].frame
    accepted = (pl.col(_STATE) == "accepted") if accepted_only else pl.lit(True)
    release = pl.col(_RELEASE).is_in(source.releases) if source.releases else pl.lit(True)
    on = pl.col(_STARTED).dt.replace_time_zone("UTC").dt.convert_time_zone(zone).dt.date()
    day = pl.lit(True)
    if source.since is not None:
        day &= on >= source.since
    if source.until is not None:
        day &= on <= source.until
    reason = (
        pl.when(~accepted.fill_null(False)).then(1).when(~release.fill_null(False)).then(2)
        .when(~day.fill_null(False)).then(3).otherwise(0)
    )  # fmt: skip
    why_not = frame.with_columns(reason.alias("@"))["@"]
    counted = [int((why_not == n).sum()) for n in (1, 2, 3, 0)]
    return only_rows(data, INTERVIEWS, why_not == 0), Narrowed(frame.height, *counted)


def _derived(data: DataSet, step: Derive, line: int, telling: set[str]) -> DataSet:
    # A variable of the plan and one of the recipe are never the same part: lines of a recipe count below 0.
    found = apply_step(Work(data), -1 - line, step).data
    table = found[step.table]
    columns = tuple(
        replace(c, sensitive=c.sensitive or not telling.isdisjoint(c.sources), origin="recipe")
        if c.variable == step.into
        else c
        for c in table.layout.columns
    )
    return {**found, step.table: Table(replace(table.layout, columns=columns), table.frame)}


def _without(data: DataSet, left: LeavesOut) -> DataSet:
    table = table_named(data, left.table)
    rules = DataRules(data)
    tree, faults = rules.check(left.rule, left.table)
    if tree is None:
        raise error_of(faults[0], "rule")
    out = rules.outcome(tree, left.table).values.fill_null(False)
    return only_rows(data, table.layout.name, ~out)


def rows_of(data: DataSet, name: str) -> DataSet:
    """The data set whose rows are those of a table: that one, with what is above carried down into it, and what is below."""
    table = table_named(data, name)
    if name == INTERVIEWS:
        return data
    columns: list[Column] = []
    frame = table.frame
    for above in reversed(tables_above(data, table)):
        layout, keys = data[above].layout, list(data[above].layout.keys)
        carried = [n for c in layout.columns for n in (c.variable, why(c.variable))]
        columns += layout.columns
        frame = frame.join(data[above].frame.select(*keys, *carried), on=keys, how="left", maintain_order="left")
    own = [n for c in (*columns, *table.layout.columns) for n in (c.variable, why(c.variable))]
    layout = replace(table.layout, parent=None, columns=(*columns, *table.layout.columns))
    below = {n: t for n, t in data.items() if name in tables_above(data, t)}
    return {name: Table(layout, frame.select(*table.layout.keys, *own)), **below}
