"""A sheet of an .xlsx file as a table from elsewhere."""

from __future__ import annotations

import re
import zipfile
from pathlib import Path
from typing import Any

import polars as pl

from skavo.core.errors import DataError
from skavo.formats.read_table import open_workbook, sheet_rows
from skavo.formats.tables_in.told import FileReading, TableIn, headings_of, likely_heading, tidy_frame

_LOOKED_AT = 50
_MERGED = re.compile(rb'<mergeCell ref="([A-Z]{1,3}\d{1,7}:[A-Z]{1,3}\d{1,7})"')
_TOLD = 3


def read_sheet(name: str, path: Path, reading: FileReading) -> TableIn:
    workbook = open_workbook(name, path.read_bytes())
    sheets = {sheet.title: sheet for sheet in workbook.worksheets}
    if reading.sheet and reading.sheet not in sheets:
        raise DataError("unknown_sheet", f"{name} has no sheet “{reading.sheet}”. It has: {', '.join(sheets)}.")
    if not sheets:
        raise DataError("empty_file", f"{name} has no sheet with cells.")
    title = reading.sheet or next(iter(sheets))
    rows = list(sheet_rows(name, sheets[title]))
    told = _merged(path, sheets[title])
    if not any(cell is not None for row in rows for cell in row):
        raise DataError("empty_file", f"The sheet “{title}” of {name} is empty. It has: {', '.join(sheets)}.")
    heading = likely_heading(rows[:_LOOKED_AT]) if reading.heading is None else reading.heading
    width = max(len(row) for row in rows)
    while width > 1 and all(len(row) < width or row[width - 1] is None for row in rows):
        width -= 1
    cells: list[str | None] = [None] * width
    if heading:
        cells = [*rows[min(heading, len(rows)) - 1], *cells][:width]
    names, named = headings_of(cells)
    body = rows[heading:]
    columns = {names[at]: [row[at] if at < len(row) else None for row in body] for at in range(width)}
    frame = pl.DataFrame(columns, schema=dict.fromkeys(names, pl.String))
    read = FileReading(sheet=title, heading=heading)
    return TableIn("xlsx", tidy_frame(frame), read, sheets=list(sheets), told=told + (named if heading else []))


def _merged(path: Path, sheet: Any) -> list[str]:
    """What is merged in a sheet: the reader of large sheets does not say."""
    member = str(sheet._worksheet_path).lstrip("/")
    found: list[str] = []
    with zipfile.ZipFile(path) as packed, packed.open(member) as content:
        before = b""
        while piece := content.read(1 << 20):
            text = before + piece
            found += [match.decode() for match in _MERGED.findall(text)]
            before = text[-60:] if not _MERGED.search(text[-60:]) else b""
    if not found:
        return []
    shown = ", ".join(found[:_TOLD]) + (" …" if len(found) > _TOLD else "")
    return [f"{len(found)} merged ranges ({shown}): what they say stands in their first cell only."]
