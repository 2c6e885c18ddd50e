"""Cells copied from any spreadsheet, read as lines of a script: with the workbook's headings, or without."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from statistics import mean

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.script import Part
from skavo.core.questionnaire.variables import is_variable
from skavo.formats.workbook.columns import BY_HEADING, CHECK, LANG, MESSAGE
from skavo.formats.workbook.lengths import cut_long_cells
from skavo.formats.workbook.read import read_lines
from skavo.formats.workbook.sheets import CellFault, Faults, Sheet, unguarded

_MOSTLY = 0.8


@dataclass(frozen=True)
class ReadCells:
    """`headings` is what each column was taken to be, "" for one left out; `heads` says that the first row held them.

    `kindless` are the lines whose cells do not say of what kind they are, by their place among `parts`.
    """

    headings: list[str]
    heads: bool
    parts: list[Part]
    kindless: frozenset[int]
    faults: list[CellFault]


def read_cells(rows: Sequence[Sequence[str]], languages: Sequence[str], headings: Sequence[str] = ()) -> ReadCells:
    """Lines of a script from rows of cells; `languages` are those of the script they are for.

    `headings` say what the columns are; without them the first row does, if it holds headings of the workbook, else
    they are guessed from what the columns hold.
    """
    width = max((len(row) for row in rows), default=0)
    square = [[unguarded(cell.strip()) for cell in (*row, *[""] * (width - len(row)))] for row in rows]
    own = [_known(cell, languages) for cell in square[0]] if square else []
    heads = bool(own) and sum(bool(h) for h in own) * 2 > len([c for c in square[0] if c])
    body = square[1:] if heads else square
    taken = [*headings, *[""] * width][:width] if headings else own if heads else _guessed(body, width, languages)
    sheet = Sheet.of("Pasted", [list(taken), *[[cell or None for cell in row] for row in body]])
    faults = Faults()
    cut_long_cells(faults, sheet)
    named = Sheet(sheet.name, sheet.headings, [(n, _only(taken, row)) for n, row in sheet.rows])
    parts = read_lines(faults, named)
    kind = next((c for c, heading in enumerate(taken) if heading.lower() == "kind"), None)
    kindless = frozenset(i for i, (_, row) in enumerate(named.rows) if kind is None or not row[kind])
    # The row is that of what was pasted, where the first may be no headings.
    shift = 0 if heads else 1
    found = [f.placed(named) for f in faults.found if f.row > 1]
    return ReadCells(list(taken), heads, parts, kindless, [_moved(f, shift) for f in found])


def _moved(fault: CellFault, shift: int) -> CellFault:
    return replace(fault, row=fault.row - shift)


def _only(headings: Sequence[str], row: list[str | None]) -> list[str | None]:
    return [cell if heading else None for heading, cell in zip(headings, row, strict=False)]


def _known(cell: str, languages: Sequence[str]) -> str:
    """The heading of the workbook that a cell holds, with a language where it has none; "" if it holds none."""
    plain = " ".join(cell.lower().split())
    match = LANG.match(cell)
    base = match["base"].strip().lower() if match else plain
    if base in ("wording", "instruction") or MESSAGE.match(base):
        return f"{base.capitalize()} [{match['lang'] if match else languages[0]}]"
    return cell if plain in BY_HEADING or CHECK.match(plain) else ""


def _guessed(rows: list[list[str]], width: int, languages: Sequence[str]) -> list[str]:
    columns = [[row[c] for row in rows if row[c]] for c in range(width)]
    headings = [""] * width
    for heading, fits in (("Kind", _is_kind), ("Variable", is_variable)):
        found = next((c for c, cells in enumerate(columns) if not headings[c] and cells and _mostly(cells, fits)), None)
        if found is not None and width > 1:
            headings[found] = heading
    left = [c for c in range(width) if not headings[c] and columns[c]]
    # Wordings are the longest texts; of two, the one further left is in the first language.
    longest = sorted(left, key=lambda c: -mean(len(cell) for cell in columns[c]))[: len(languages)]
    for column, language in zip(sorted(longest), languages, strict=False):
        headings[column] = f"Wording [{language}]"
    return headings


def _mostly(cells: list[str], fits: Callable[[str], bool]) -> bool:
    return sum(1 for cell in cells if fits(cell)) >= _MOSTLY * len(cells)


def _is_kind(cell: str) -> bool:
    return " ".join(cell.lower().split()) in KINDS
