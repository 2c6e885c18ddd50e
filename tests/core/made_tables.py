"""Small tables written down by hand: interviews with their columns, rosters under them."""

from __future__ import annotations

from typing import Any

import polars as pl

from skavo.core.dataset.flatten import WHY, DataSet, Table, dtype_of, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout

# A cell that has no value, with its kind of missing.
DONT_KNOW, REFUSED, NOT_ASKED = object(), object(), object()
_REASONS = {id(None): "unanswered", id(DONT_KNOW): "dont_know", id(REFUSED): "refused", id(NOT_ASKED): "not_asked"}


def column(variable: str, measure: str, **more: Any) -> Column:
    """`whole` is a measure here as well."""
    whole = measure == "whole"
    given = {"label": {"en": variable.title()}, **more}
    given["codes"] = {code: {"en": code.title()} for code in given.get("codes", ())}
    return Column(variable, f"id.{variable}", measure, "number" if whole else measure, whole=whole, **given)


def table(name: str, rows: list[tuple[str, ...]], columns: list[tuple[Column, list[Any]]]) -> Table:
    """A table under the interviews, or that of the interviews; `rows` are its keys."""
    keys = (KEY,) if name == INTERVIEWS else (KEY, f"{name}.row")
    frame = pl.DataFrame(rows, schema=dict.fromkeys(keys, pl.String), orient="row")
    for made, cells in columns:
        reasons = [_REASONS.get(id(cell)) for cell in cells]
        values = [None if reason else cell for cell, reason in zip(cells, reasons, strict=True)]
        frame = frame.with_columns(
            pl.Series(made.variable, values, dtype=dtype_of(made)), pl.Series(why(made.variable), reasons, dtype=WHY)
        )
    parent = None if name == INTERVIEWS else INTERVIEWS
    return Table(TableLayout(name, parent, keys, tuple(made for made, _ in columns)), frame)


def interviews(**columns: tuple[Column, list[Any]]) -> DataSet:
    """A data set of interviews alone, numbered from 1."""
    height = len(next(iter(columns.values()))[1])
    keys = [(f"{n:04d}",) for n in range(1, height + 1)]
    return {INTERVIEWS: table(INTERVIEWS, keys, list(columns.values()))}


def cells(data: DataSet, variable: str) -> list[Any]:
    """What stands in a column: values, and the kinds of missing in square brackets."""
    found = next(t for t in data.values() if t.layout.column(variable) is not None)
    pairs = found.frame.select(variable, why(variable)).iter_rows()
    return [value if reason is None else f"[{reason}]" for value, reason in pairs]
