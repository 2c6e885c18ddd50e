"""Tables turned: the rows of a roster beside each other, variables under each other."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import polars as pl

from skavo.core.combining.sides import check_known, table_named
from skavo.core.dataset.flatten import WHY, DataSet, Table, dtype_of, why
from skavo.core.dataset.layout import INTERVIEWS, Column, TableLayout, label_in
from skavo.core.errors import DataError
from skavo.core.questionnaire.variables import MOST_CHARACTERS
from skavo.core.recipes.recipe import Long, Wide

_PLACE = "@place"


def rows_beyond(data: DataSet, turn: Wide) -> int:
    """How many rows of the roster find no room beside the others."""
    return _placed(table_named(data, turn.table)).filter(pl.col(_PLACE) > turn.most).height


def turn_wide(data: DataSet, turn: Wide) -> DataSet:
    """The roster stays as it is; the table that it stands in has `most` columns more for each variable.

    Where there is no such row, the cell is *not asked*. Raise DataError where a name is taken, or there is no such roster.
    """
    table = table_named(data, turn.table)
    if table.layout.parent is None:
        raise DataError("no_roster", f"“{turn.table}” stands in no other table, so its rows have none to stand beside.")
    above = data[table.layout.parent]
    keys = list(above.layout.keys)
    placed, columns, frame = _placed(table), list(above.layout.columns), above.frame
    for place in range(1, turn.most + 1):
        row = placed.filter(pl.col(_PLACE) == place)
        for variable in turn.variables:
            check_known(variable, [c.variable for c in table.layout.columns], "variable")
            column = table.layout.column(variable)
            assert column is not None
            made = _beside(column, place)
            _check_free(data, made.variable, columns)
            columns.append(made)
            cells = row.select(
                *keys, pl.col(variable).alias(made.variable), pl.col(why(variable)).alias(why(made.variable))
            )
            frame = frame.join(cells, on=keys, how="left", maintain_order="left")
            frame = _not_asked_where_empty(frame, made.variable)
    return {**data, above.layout.name: Table(replace(above.layout, columns=tuple(columns)), frame)}


def _placed(table: Table) -> pl.DataFrame:
    above = list(table.layout.keys[:-1])
    return table.frame.with_columns(pl.int_range(1, pl.len() + 1).over(above).alias(_PLACE))


def _beside(column: Column, place: int) -> Column:
    tail = f"_{place}"
    label = {lang: f"{text} ({place})" for lang, text in column.label.items()}
    name = f"{column.variable[: MOST_CHARACTERS - len(tail)]}{tail}"
    # Each is a variable of its own: what is told of one part is not told of many.
    return replace(
        column, variable=name, label=label, part_id=f"{column.part_id}{tail}",
        sources=column.sources | {column.part_id}, origin="recipe" if column.origin == "questionnaire" else column.origin,
    )  # fmt: skip


def _not_asked_where_empty(frame: pl.DataFrame, variable: str) -> pl.DataFrame:
    empty = pl.col(variable).is_null() & pl.col(why(variable)).is_null()
    reason = pl.when(empty).then(pl.lit("not_asked", dtype=WHY)).otherwise(why(variable)).alias(why(variable))
    return frame.with_columns(reason)


def turn_long(data: DataSet, turn: Long) -> DataSet:
    """A new roster below the table, with a row for each place in the lists; a row of nothing but *not asked* is none.

    Raise DataError where a name is taken, or the variables of one column are not of one kind.
    """
    table = table_named(data, turn.table)
    _check_free(data, turn.into, ())
    columns: list[Column] = []
    for name, taken in turn.columns.items():
        _check_free(data, name, columns)
        columns.append(_of_one_kind(table, name, taken))
    keys = (*table.layout.keys, f"{turn.into}.row")
    places = [_one_place(table, turn, columns, place) for place in range(len(next(iter(turn.columns.values()))))]
    asked = pl.any_horizontal([(pl.col(why(c.variable)) != "not_asked").fill_null(True) for c in columns])
    frame = pl.concat(places).filter(asked).sort("@order", maintain_order=True).select(
        *keys, *[name for c in columns for name in (c.variable, why(c.variable))]
    )  # fmt: skip
    layout = TableLayout(turn.into, turn.table, keys, tuple(columns), {"en": turn.into})
    return {**data, turn.into: Table(layout, frame)}


def _one_place(table: Table, turn: Long, columns: list[Column], place: int) -> pl.DataFrame:
    row = f"{turn.into}.row"
    return table.frame.select(
        *table.layout.keys, pl.lit(str(place + 1)).alias(row), pl.int_range(pl.len()).alias("@order"),
        *[expr for c in columns for expr in _cells(c, turn.columns[c.variable][place])],
    )  # fmt: skip


def _cells(column: Column, taken: str) -> Iterator[pl.Expr]:
    yield pl.col(taken).cast(dtype_of(column)).alias(column.variable)
    yield pl.col(why(taken)).alias(why(column.variable))


def _of_one_kind(table: Table, name: str, taken: list[str]) -> Column:
    found = []
    for variable in taken:
        check_known(variable, [c.variable for c in table.layout.columns], "variable")
        column = table.layout.column(variable)
        assert column is not None
        found.append(column)
    first = found[0]
    codes: dict[str, dict[str, str]] = {}
    for column in found:
        if column.measure != first.measure:
            words = (
                f"“{first.variable}” and “{column.variable}” are not of one kind: they cannot stand under each other."
            )
            raise DataError("wrong_type", words, {"variable": column.variable})
        for code, label in column.codes.items():
            if codes.setdefault(code, label) != label:
                words = (
                    f"Code {code} is “{label_in(codes[code], 'en', code)}” in one and “{label_in(label, 'en', code)}” in "
                    f"“{column.variable}”: they cannot stand under each other."
                )
                raise DataError("other_codes", words, {"variable": column.variable})
    parts = frozenset(c.part_id for c in found)
    return replace(
        first, variable=name, part_id=f"recipe.{name}", codes=codes, origin="recipe",
        sensitive=any(c.sensitive for c in found), whole=all(c.whole for c in found),
        sources=parts.union(*(c.sources for c in found)), exclusive=frozenset().union(*(c.exclusive for c in found)),
    )  # fmt: skip


def _check_free(data: DataSet, name: str, made: Sequence[Column]) -> None:
    known = {
        *data,
        INTERVIEWS,
        *(c.variable for t in data.values() for c in t.layout.columns),
        *(c.variable for c in made),
    }
    if name in known:
        raise DataError("name_taken", f"There is a variable “{name}” already. Give this one another name.")
