"""The rows of an outside table on their own, each as if it were an interview: to stand under those of our own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType

import polars as pl

from skavo.core.combining.join import names_taken, typed_column
from skavo.core.combining.our_codes import compared, in_our_codes
from skavo.core.combining.sides import Outside
from skavo.core.combining.spec import Join
from skavo.core.dataset.flatten import FACTS, WHY, DataSet, Table, dtype_of, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout
from skavo.core.questionnaire.variables import MOST_CHARACTERS, suggest_lawful

# Between the name of the table and the number of the row, which no interview has in its key.
_ROW = ":"


def as_interviews(
    outside: Outside,
    join: Join | None,
    rows: pl.Series | None = None,
    ours: Mapping[str, Column] = MappingProxyType({}),
) -> DataSet:
    """The table of interviews that an outside table is; `rows` are those taken, from 1 below the heading, all without. `ours`
    are the variables of our interviews, whose codes it has where the join compares them.

    A row is called `roll:17`, and nothing is known of when, by whom and how it was made. Variables are called as `names_alone`
    says.
    """
    numbers = pl.int_range(1, outside.frame.height + 1, eager=True) if rows is None else rows
    taken = outside if rows is None else replace(outside, frame=outside.frame[numbers - 1])
    taken = in_our_codes(taken, join, ours)
    known_by = pl.concat_str(pl.lit(f"{outside.name}{_ROW}"), pl.col("row"))
    keys = numbers.alias("row").to_frame().select(known_by.alias(KEY))[KEY]
    nothing = [pl.repeat(None, len(numbers), dtype=kind, eager=True).alias(name) for name, kind in FACTS.items()]
    columns: list[Column] = []
    values: list[pl.Series] = []
    for heading, variable in names_alone(outside, join).items():
        column, read = typed_column(taken, heading, variable)
        columns.append(column)
        values += [read.values.cast(dtype_of(column)).alias(variable), read.reasons.cast(WHY).alias(why(variable))]
    frame = pl.DataFrame([keys, *(fact for fact in nothing if fact.name != KEY), *values])
    layout = TableLayout(INTERVIEWS, None, (KEY,), tuple(columns), {"en": outside.name})
    return {INTERVIEWS: Table(layout, frame)}


def names_alone(outside: Outside, join: Join | None) -> dict[str, str]:
    """The variable that each column is: those that the join takes to the interviews as they are there, what it compares as the
    variable that is compared, the others after their headings."""
    names: dict[str, str] = {}
    if join is not None and join.into == INTERVIEWS and join.several != "rows":
        names = names_taken(outside.name, join)
    for ours, heading, _, _ in compared(join):
        if "." not in ours and heading not in names and ours not in names.values():
            names[heading] = ours
    found: dict[str, str] = {}
    for heading in outside.frame.columns:
        found[heading] = names.get(heading) or _free(suggest_lawful(heading), [*names.values(), *found.values()])
    return found


def _free(wanted: str, taken: list[str]) -> str:
    name, number = wanted, 2
    while name in taken or name == INTERVIEWS:
        tail = f"_{number}"
        name, number = f"{wanted[: MOST_CHARACTERS - len(tail)]}{tail}", number + 1
    return name


def without_rows_of(data: DataSet, tables: frozenset[str]) -> DataSet:
    """A data set without the rows that are those of some outside tables."""
    if not tables:
        return data
    return {name: table.with_frame(table.frame.filter(~_is_of(tables))) for name, table in data.items()}


def _is_of(tables: frozenset[str]) -> pl.Expr:
    return pl.any_horizontal([pl.col(KEY).str.starts_with(f"{name}{_ROW}") for name in sorted(tables)])
