"""Texts for a translator: one sheet, a row for each text, out as .xlsx and back."""

from __future__ import annotations

import io
from collections.abc import Mapping

import xlsxwriter

from skavo.core.errors import DataError
from skavo.core.languages.take import Brought
from skavo.core.languages.texts import source_language, texts_of
from skavo.core.questionnaire.script import Script
from skavo.formats.read_table import read_table

KEY, WHERE, WHAT, STATE = "Key", "Where", "What it is", "State"
_NEW, _CHANGED = "new", "the source was: "


def write_translation(script: Script, language: str, outdated: Mapping[str, Mapping[str, str]]) -> bytes:
    """All texts of a script beside their translation into one language, as an .xlsx file.

    What is between braces comes from answers and has to stay as it is; the sheet says so.
    """
    packed = io.BytesIO()
    options = {"strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    book = xlsxwriter.Workbook(packed, options)
    sheet = book.add_worksheet("Translation")
    bold = book.add_format({"bold": True, "bottom": 1})
    plain = book.add_format({"text_wrap": True, "valign": "top"})
    grey = book.add_format({"text_wrap": True, "valign": "top", "font_color": "#6B7770"})
    due = book.add_format({"text_wrap": True, "valign": "top", "bg_color": "#FBF0DC"})
    source = f"Source [{script.languages[0]}]"
    for column, heading in enumerate((WHERE, WHAT, source, f"Translation [{language}]", STATE, KEY)):
        sheet.write_string(0, column, heading, bold)
    for row, text in enumerate(texts_of(script), start=1):
        said = text.texts.get(language, "")
        was = outdated.get(text.key, {}).get(language)
        state = _NEW if not said.strip() else _CHANGED + was if was is not None else ""
        cells = (text.place, text.field, text.texts.get(source_language(script, text.key), ""), said, state, text.key)
        for column, cell in enumerate(cells):
            style = due if column == 3 and state else grey if column in (0, 1, 5) else plain
            sheet.write_string(row, column, cell, style) if cell else sheet.write_blank(row, column, None, style)
    for column, width in enumerate((20, 14, 60, 60, 24, 40)):
        sheet.set_column(column, column, width)
    sheet.freeze_panes(1, 0)
    sheet.write_comment(0, 3, "Leave {what stands between braces} as it is: it comes from answers.")
    book.close()
    return packed.getvalue()


def read_translation(name: str, content: bytes, script: Script, language: str) -> list[Brought]:
    """What a translator wrote, in any order of rows and columns; raise DataError where it is no such sheet."""
    frame = read_table(name, content)
    wanted = f"Translation [{language}]"
    columns = {column.strip().lower(): column for column in frame.columns}
    missing = next((heading for heading in (KEY, wanted) if heading.lower() not in columns), None)
    if missing is not None:
        others = [c for c in frame.columns if c.lower().startswith("translation [")]
        mend = (
            f" It has {others[0]}: choose that language." if others else " Take the sheet out again and fill that one."
        )
        raise DataError("no_translation", f"{name} has no column “{missing}”.{mend}", {"column": missing})
    source = columns.get(f"source [{script.languages[0]}]".lower())
    return [
        Brought(row, cells[columns[KEY.lower()]] or "", (cells[source] if source else None) or "", cells[columns[wanted.lower()]] or "")
        for row, cells in enumerate(frame.iter_rows(named=True), start=2)
        if cells[columns[KEY.lower()]]
    ]  # fmt: skip
