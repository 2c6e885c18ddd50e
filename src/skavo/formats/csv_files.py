"""Comma-separated values (RFC 4180), UTF-8 with a byte order mark, one file per table in a zip."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from datetime import date, datetime, time
from typing import IO, Any

from skavo.core.dataset.flatten import DataSet, Table
from skavo.formats.extract import ExtractOptions, fields_of, headings, shown_cell
from skavo.formats.limits import notes_of
from skavo.formats.packing import pack_into

# What a spreadsheet begins a formula with; the wide forms are taken for the narrow ones by some, a line break is passed over.
_FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")


# Rows that are plain values at the same time.
_AT_ONCE = 2_000


def write_csv_zip(out: IO[bytes], data: DataSet, options: ExtractOptions, about: Sequence[str] = ()) -> None:
    """All tables of `data` as a zip of .csv files; `about` is said of them in the notes."""
    files: dict[str, str | Iterable[str]] = {f"{name}.csv": _pieces(table, options) for name, table in data.items()}
    if notes := [*about, *notes_of(data, options)]:
        files["notes.txt"] = "\n".join(notes)
    pack_into(out, files)


def csv_tables(data: DataSet, options: ExtractOptions) -> dict[str, str]:
    """The text of each table's .csv file, by file name."""
    return {f"{name}.csv": "".join(_pieces(table, options)) for name, table in data.items()}


def _pieces(table: Table, options: ExtractOptions) -> Iterator[str]:
    """The text of a table in pieces of so many rows: of a million, never all are plain values at once."""
    yield rows_text(headings(fields_of(table.with_frame(table.frame.clear()), options), options), ())
    for piece in table.frame.iter_slices(_AT_ONCE):
        fields = fields_of(table.with_frame(piece), options)
        yield _lines([shown_cell(field, i, options) for field in fields] for i in range(piece.height))


def rows_text(heading: list[str], rows: Iterable[Sequence[Any]]) -> str:
    """The text of a .csv file with a heading and rows of plain values."""
    return "\ufeff" + _lines([heading]) + _lines(rows)


def _lines(rows: Iterable[Sequence[Any]]) -> str:
    text = io.StringIO(newline="")
    csv.writer(text, lineterminator="\r\n").writerows([_cell(value) for value in row] for row in rows)
    return text.getvalue()


def _cell(value: Any) -> Any:
    if isinstance(value, str):
        return safe_text(value)
    if isinstance(value, datetime | date):
        return value.isoformat()
    if isinstance(value, time):
        return value.isoformat(timespec="minutes")
    if isinstance(value, float):
        return int(value) if value.is_integer() else value
    return "" if value is None else value


def safe_text(text: str) -> str:
    """A text that no spreadsheet will take for a formula, with a sign in front that `as_was` takes away."""
    return f"'{text}" if _may_begin_formula(text) else text


def as_was(text: str) -> str:
    """A text as it was before `safe_text`."""
    return text[1:] if text[:1] == "'" and _may_begin_formula(text) else text


def _may_begin_formula(text: str) -> bool:
    """Also behind signs that stood in front of it already: one more has to be told from none."""
    return text.lstrip("'").startswith(_FORMULA_STARTS)
