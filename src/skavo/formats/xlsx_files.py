"""Spreadsheets (.xlsx): a sheet for the interviews and one per roster, linked by their keys."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date, datetime, time
from math import isfinite
from typing import IO, Any

import xlsxwriter

from skavo.core.dataset.flatten import DataSet
from skavo.formats.extract import ExtractOptions, fields_of, headings, shown_cell
from skavo.formats.limits import LIMITS, check_size, cut, notes_of
from skavo.formats.packing import MOMENT

_CODEBOOK, _NOTES = "Codebook", "Notes"
# Names of sheets that are ours, and one that spreadsheets keep for themselves.
_OURS = (_CODEBOOK, _NOTES, "History")
_LONGEST_NAME = 31


def write_xlsx(out: IO[bytes], data: DataSet, options: ExtractOptions, about: Sequence[str] = ()) -> None:
    """All tables of `data` in one workbook, a sheet `Codebook` with every variable and its codes, and a sheet `Notes` with what is said
    `about` them and where a cell could not be held as it is. Raise DataError where a table is too large for a sheet."""
    check_size(data, options)
    book = xlsxwriter.Workbook(out, {"constant_memory": False, "strings_to_formulas": False, "strings_to_urls": False})
    book.set_properties({"created": datetime(*MOMENT)})
    bold = book.add_format({"bold": True, "bottom": 1})
    formats = {
        date: book.add_format({"num_format": "yyyy-mm-dd"}),
        datetime: book.add_format({"num_format": "yyyy-mm-dd hh:mm"}),
        time: book.add_format({"num_format": "hh:mm"}),
    }
    codebook: list[tuple[str, ...]] = []
    for (name, table), sheet_name in zip(data.items(), _sheet_names(data), strict=True):
        fields = fields_of(table, options)
        sheet = book.add_worksheet(sheet_name)
        for c, heading in enumerate(headings(fields, options)):
            sheet.write_string(0, c, cut(heading, LIMITS["xlsx"]), bold)
        for i in range(table.frame.height):
            for c, field in enumerate(fields):
                _write(sheet, i + 1, c, shown_cell(field, i, options), formats)
        sheet.freeze_panes(1, len(table.layout.keys))
        sheet.autofilter(0, 0, max(1, table.frame.height), max(0, len(fields) - 1))
        sheet.set_column(0, max(0, len(fields) - 1), 14)
        for field in fields:
            codes = list(field.codes.items()) or [("", "")]
            codebook += [(name, field.name, field.label, field.measure, code, label) for code, label in codes]
    _write_codebook(book, bold, codebook)
    if notes := [*about, *notes_of(data, options)]:
        sheet = book.add_worksheet(_NOTES)
        for r, note in enumerate(notes):
            sheet.write_string(r, 0, note)
    book.close()


def _sheet_names(tables: Iterable[str]) -> list[str]:
    """Names as a spreadsheet takes them: at most 31 characters, unique without regard to case."""
    names: list[str] = []
    for table in tables:
        name, number = table[:_LONGEST_NAME], 2
        while name.lower() in {taken.lower() for taken in (*names, *_OURS)}:
            name, number = f"{table[: _LONGEST_NAME - 4]}_{number}", number + 1
        names.append(name)
    return names


def _write_codebook(book: Any, bold: Any, lines: list[tuple[str, ...]]) -> None:
    sheet = book.add_worksheet(_CODEBOOK)
    for c, heading in enumerate(("Table", "Variable", "Label", "Type", "Code", "Code label")):
        sheet.write_string(0, c, heading, bold)
    for r, line in enumerate(lines):
        for c, cell in enumerate(line):
            sheet.write_string(r + 1, c, cut(cell, LIMITS["xlsx"]))
    sheet.freeze_panes(1, 0)
    sheet.set_column(1, 2, 30)


def _write(sheet: Any, row: int, column: int, value: Any, formats: dict[type, Any]) -> None:
    if value is None:
        return
    if isinstance(value, str):
        sheet.write_string(row, column, cut(value, LIMITS["xlsx"]))
    elif isinstance(value, float) and not isfinite(value):
        sheet.write_string(row, column, str(value))
    elif isinstance(value, int | float):
        sheet.write_number(row, column, value)
    else:
        sheet.write_datetime(row, column, value, formats[type(value)])
