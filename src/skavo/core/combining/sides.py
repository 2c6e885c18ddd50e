"""The two sides of a join: our tables and an outside one, their rows and what they are known by, as texts."""

from __future__ import annotations

from dataclasses import dataclass

import polars as pl

from skavo.core.combining.outside import OutsideColumn, read_cells, shown
from skavo.core.dataset.flatten import FACTS, DataSet, Table
from skavo.core.dataset.layout import INTERVIEWS, Column, label_in
from skavo.core.dataset.nesting import tables_above
from skavo.core.errors import DataError
from skavo.core.rules.types import nearest

# Between the keys that lead to a row.
PLACE = " / "


@dataclass(frozen=True)
class Outside:
    """A table from elsewhere: `frame` holds texts, row after row as they stand; `columns` say how they are read."""

    name: str
    frame: pl.DataFrame
    columns: list[OutsideColumn]

    def column(self, name: str) -> OutsideColumn:
        return next(column for column in self.columns if column.name == name)


def places_of(table: Table) -> list[str]:
    """What each row is called: its interview, and in a roster the rows that lead to it."""
    return table.frame.select(pl.concat_str(list(table.layout.keys), separator=PLACE))[table.layout.keys[0]].to_list()


def table_named(data: DataSet, name: str) -> Table:
    """Raise DataError where there is none."""
    check_known(name, list(data), "table")
    return data[name]


def check_known(name: str, known: list[str], what: str) -> None:
    """Raise DataError, with the nearest name that there is, where `name` is not among the known."""
    if name not in known:
        hint = nearest(name, known)
        mend = f"Did you mean {hint}?" if hint else f"There are: {', '.join(known[:12])}."
        raise DataError(f"unknown_{what}", f"There is no {what} “{name}”. {mend}", {what: name})


def our_texts(data: DataSet, table: Table, variable: str, words: str) -> pl.Series:
    """A variable of a table, or of one that it stands in, as texts; a code as its label where `words` names a language.

    What is known of an interview (`interview.key`) and the rows of a roster (`trade.row`) count as variables.
    """
    holder = table
    while not _holds(holder, variable):
        if holder.layout.parent is None:
            held = [data[name] for name in (table.layout.name, *tables_above(data, table))]
            check_known(variable, [c.variable for t in held for c in t.layout.columns], "variable")
        holder = data[holder.layout.parent or INTERVIEWS]
    column = holder.layout.column(variable) or Column(variable, variable, "text", "text")
    if column.measure == "codes":
        raise DataError(
            "several_codes", f"“{variable}” holds several codes at once; a key is one.", {"variable": variable}
        )
    told = _as_texts(holder.frame[variable], column, words).alias("@texts")
    if holder is table:
        return told
    keys = list(holder.layout.keys)
    values = holder.frame.select(*keys).with_columns(told)
    return table.frame.select(keys).join(values, on=keys, how="left", maintain_order="left")["@texts"]


def _holds(table: Table, variable: str) -> bool:
    known = variable in FACTS or variable in table.layout.keys
    return table.layout.column(variable) is not None or (known and variable in table.frame.columns)


def _as_texts(values: pl.Series, column: Column, words: str) -> pl.Series:
    if column.codes and words:
        labels = {code: texts.get(words) or label_in(texts, words, code) for code, texts in column.codes.items()}
        return values.replace_strict(labels, default=None, return_dtype=pl.String)
    if values.dtype == pl.String:
        return values
    different = values.drop_nulls().unique()
    told = {value: shown(value) for value in different.to_list()}
    return values.replace_strict(told, default=None, return_dtype=pl.String)


def their_texts(outside: Outside, name: str) -> pl.Series:
    """A column as it is compared: numbers and dates as the data set writes them, what cannot be read as it stands."""
    check_known(name, outside.frame.columns, "column")
    cells, column = outside.frame[name], outside.column(name)
    if column.read_as in ("text", "code", "yes/no"):
        return cells
    read = read_cells(cells, column)
    told = _as_texts(read.values, Column(name, name, "", ""), "")
    return pl.select(pl.coalesce(pl.lit(told), pl.lit(cells.str.strip_chars())).alias(name))[name]
