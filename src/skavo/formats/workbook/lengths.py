"""Cells that hold more than a script may: told, and cut so that the rest is read."""

from __future__ import annotations

from skavo.core.questionnaire.script import MOST_RULE, MOST_SHORT
from skavo.formats.workbook.columns import CHECK, LANG
from skavo.formats.workbook.sheets import Faults, Sheet

_LONG = (
    "code filter", "asked when", "repeated", "derived", "default", "answer needed", "factor", "remark", "media",
)  # fmt: skip
_SHORT = (
    "level", "kind", "variable", "code list", "special answers", "mask", "unit", "least", "most", "reads back", "register",
    "sensitive", "read aloud", "order", "list", "code", "specify", "exclusive", "unit list", "dimension",
)  # fmt: skip


def cut_long_cells(faults: Faults, sheet: Sheet) -> None:
    """Tell each cell of `sheet` that is too long for its column; attributes and texts in a language may be any length."""
    for row, cells in sheet.rows:
        for column, (heading, cell) in enumerate(zip(sheet.headings, cells, strict=False)):
            most = _most_about(cells) if sheet.name.lower() == "about" else _most(heading.lower())
            if cell is not None and most is not None and len(cell) > most:
                message = f"This has {len(cell)} characters; {most} is the most here."
                faults.add(sheet.name, row, column + 1, "too_long", message, "Shorten it.")
                cells[column] = cell[:most]


def _most_about(cells: list[str | None]) -> int | None:
    return None if LANG.match(cells[0] or "") else MOST_SHORT


def _most(heading: str) -> int | None:
    if heading in _LONG or CHECK.match(heading):
        return MOST_RULE
    return MOST_SHORT if heading in _SHORT else None
