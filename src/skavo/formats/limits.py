"""What a format cannot hold: refused before anything is written, or cut and told in the file's own notes."""

from __future__ import annotations

from dataclasses import dataclass

import polars as pl

from skavo.core.dataset.flatten import DataSet, Table
from skavo.core.dataset.layout import KEY
from skavo.core.errors import DataError
from skavo.formats.extract import ExtractOptions, fields_of

_TOLD = 5


@dataclass(frozen=True)
class Limits:
    """`text` is the length of a text in `signs` (characters or bytes), 0 for any."""

    rows: int
    columns: int
    text: int
    signs: str


# A sheet by ECMA-376 as every usual program limits it; a labelled file as its readers limit a string. A .csv has none.
LIMITS: dict[str, Limits] = {
    "xlsx": Limits(1_048_576 - 1, 16_384, 32_767, "characters"),
    "sav": Limits(2**31 - 1, 32_767, 32_767, "bytes"),
}


def check_size(data: DataSet, options: ExtractOptions) -> None:
    """Raise DataError, with what to take instead, where a table has more rows or columns than its format can hold."""
    limits = LIMITS.get(options.format)
    if limits is None:
        return
    for name, table in data.items():
        width = len(fields_of(table.with_frame(table.frame.clear()), options))
        for count, most, what in ((table.frame.height, limits.rows, "rows"), (width, limits.columns, "columns")):
            if count > most:
                raise DataError(
                    "too_large", f"{name} has {count:,} {what}; a .{options.format} file holds {most:,}. Take .csv, which has no such "
                    "limit, or narrow the data down.", {"table": name},
                )  # fmt: skip


def notes_of(data: DataSet, options: ExtractOptions) -> list[str]:
    """What of the cells the format cannot hold as it is, in words, and what stands there instead."""
    limits = LIMITS.get(options.format)
    notes: list[str] = []
    for name, table in data.items():
        for column in table.layout.columns:
            if column.sensitive and options.masked:
                continue
            values = table.frame[column.variable]
            if values.dtype == pl.String and limits is not None:
                length = values.str.len_bytes() if limits.signs == "bytes" else values.str.len_chars()
                notes += _note(
                    table, name, column.variable, (length > limits.text).fill_null(False),
                    f"is longer than the {limits.text:,} {limits.signs} of a cell and was cut; a .csv holds all of it",
                )  # fmt: skip
            if values.dtype == pl.Float64:
                instead = "stands as the text inf" if options.format != "sav" else "was left empty"
                notes += _note(
                    table, name, column.variable, values.is_infinite().fill_null(False), f"is without end and {instead}"
                )
    return notes


def _note(table: Table, name: str, variable: str, where: pl.Series, what: str) -> list[str]:
    if not where.any():
        return []
    keys = table.frame.filter(where)[KEY].unique(maintain_order=True).to_list()
    named = ", ".join(keys[:_TOLD]) + (" …" if len(keys) > _TOLD else "")
    return [f"{variable} ({name}) {what}, in interview {named}."]


def cut(text: str, limits: Limits) -> str:
    """A text as far as the format can hold it."""
    if limits.signs == "characters":
        return text[: limits.text]
    return text.encode()[: limits.text].decode("utf-8", "ignore")
