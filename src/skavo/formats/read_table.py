"""An outside table from a .csv or .xlsx file: all cells as text, read whole or not at all."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Iterator
from datetime import date, datetime, time
from typing import Any

import openpyxl
import polars as pl

from skavo.core.errors import DataError, SkavoError

MOST_BYTES = 100 * 1024 * 1024
_MOST_UNPACKED = 1024 * 1024 * 1024
_MOST_ROWS, _MOST_CELLS = 1_048_576, 20_000_000
# A row with something in it, and its number in the file.
_Row = tuple[int, list[str | None]]


def read_table(name: str, content: bytes) -> pl.DataFrame:
    """Columns of text, null where a cell is empty; raise DataError with the place of what is wrong."""
    return read_numbered_table(name, content)[0]


def read_numbered_table(name: str, content: bytes) -> tuple[pl.DataFrame, list[int]]:
    """The same with the number that each row has in the file: empty rows are left out, and the heading is a row."""
    if len(content) > MOST_BYTES:
        raise DataError("file_too_large", f"{name} has {len(content) // 2**20} MB; 100 MB is the most.", {})
    if not content.strip():
        raise DataError("empty_file", f"{name} is empty.", {})
    rows = _xlsx_rows(name, content) if content[:2] == b"PK" else _csv_rows(name, content)
    if not rows:
        raise DataError("empty_file", f"{name} has no rows.", {})
    return _frame(name, rows), [number for number, _ in rows[1:]]


def _frame(name: str, rows: list[_Row]) -> pl.DataFrame:
    (_, header), *body = rows
    while header and header[-1] is None:
        header = header[:-1]
    seen: dict[str, int] = {}
    for place, heading in enumerate(header):
        if heading is None:
            raise DataError(
                "no_heading", f"Column {place + 1} of {name} has no heading. Name it.", {"column": place + 1}
            )
        if heading in seen:
            message = f"{name} has two columns called “{heading}” ({seen[heading] + 1} and {place + 1}). Rename one."
            raise DataError("double_heading", message, {"column": place + 1})
        seen[heading] = place
    for number, row in body:
        extra = [cell for cell in row[len(header) :] if cell is not None]
        if extra:
            message = f"Row {number} of {name} has {len(row)} cells; the headings are {len(header)}."
            raise DataError(
                "too_many_cells", message + " Look for a missing quote or an unquoted comma.", {"row": number}
            )
    columns = {h: [row[i] if i < len(row) else None for _, row in body] for i, h in enumerate(header) if h}
    return pl.DataFrame(columns, schema=dict.fromkeys(columns, pl.String), strict=False)


def _csv_rows(name: str, content: bytes) -> list[_Row]:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = content[: error.start].count(b"\n") + 1
        message = f"Line {line} of {name} is not UTF-8. Save the file as “CSV UTF-8”."
        raise DataError("wrong_encoding", message, {"row": line}) from None
    if "\0" in text:
        raise DataError("not_a_table", f"{name} is not a text file. Bring a .csv or an .xlsx file.", {})
    first = text.split("\n", 1)[0]
    delimiter = max(",;\t", key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True))
    except csv.Error as error:
        raise DataError("broken_csv", f"{name} cannot be read as CSV: {error}.", {}) from None
    return _filled([cell.strip() or None for cell in row] for row in rows)


def _filled(rows: Iterable[list[str | None]]) -> list[_Row]:
    return [(number, row) for number, row in enumerate(rows, start=1) if any(cell is not None for cell in row)]


def open_workbook(name: str, content: bytes) -> Any:
    """An .xlsx file, opened for reading values; refuses archives that unpack to more than a gigabyte."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > _MOST_UNPACKED:
                raise DataError("file_too_large", f"{name} unpacks to more than 1 GB.", {})
        return openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    except SkavoError:
        raise
    # Whatever a damaged file makes its reader stumble over.
    except Exception as error:
        raise DataError(
            "not_a_workbook", f"{name} is not a readable .xlsx file ({type(error).__name__}).", {}
        ) from None


def _xlsx_rows(name: str, content: bytes) -> list[_Row]:
    sheets = open_workbook(name, content).worksheets
    return _filled(sheet_rows(name, sheets[0])) if sheets else []


def sheet_rows(name: str, sheet: Any) -> Iterator[list[str | None]]:
    """The rows of a sheet, empty ones as well; raise DataError where it has more than a spreadsheet can or is damaged."""
    cells = 0
    try:
        # What a file says of its own size may be wrong; then rows would be left out without a word.
        sheet.reset_dimensions()
        for number, row in enumerate(sheet.iter_rows(values_only=True), start=1):
            cells += len(row) + 1
            if number > _MOST_ROWS or cells > _MOST_CELLS:
                raise DataError(
                    "file_too_large", f"{name} has a cell in row {number} or beyond, or more than {_MOST_CELLS:,} cells. "
                    "Remove what stands far below or far to the right of the table.", {"row": number},
                )  # fmt: skip
            yield [cell_text(cell) for cell in row]
    except SkavoError:
        raise
    # Whatever a damaged file makes its reader stumble over.
    except Exception as error:
        raise DataError("not_a_workbook", f"{name} is damaged ({type(error).__name__}).", {}) from None


def cell_text(value: Any) -> str | None:
    """A spreadsheet cell as the text a person sees in it; empty is None."""
    if value is None:
        return None
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float) and value == int(value):
        return str(int(value))
    if isinstance(value, datetime) and value.time() == time():
        return value.date().isoformat()
    if isinstance(value, datetime | date | time):
        return value.isoformat()
    return str(value).strip() or None
