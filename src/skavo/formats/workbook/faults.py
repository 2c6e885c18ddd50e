"""The faults of a workbook in words, for somebody who mends them in the spreadsheet."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import groupby

from skavo.core.questionnaire.findings import counted
from skavo.formats.workbook.sheets import CellFault

MOST_CELLS, MOST_FOUND = 12, 70


def told_faults(faults: Iterable[CellFault]) -> str:
    """Errors first, then doubts, each with its cell and what was found there; the same words once, with all their cells."""
    told = list(faults)
    errors = [f for f in told if f.severity == "error"]
    doubts = [f for f in told if f.severity != "error"]
    lines = [line for group in (errors, doubts) for line in _lines(group)]
    return "\n".join([*lines, f"{counted(len(errors), 'error')}, {counted(len(doubts), 'doubt')}"])


def _lines(faults: list[CellFault]) -> list[str]:
    groups: dict[tuple[str, str, str], list[CellFault]] = {}
    for fault in faults:
        groups.setdefault((fault.sheet, fault.message, fault.mend), []).append(fault)
    lines = []
    for (sheet, message, mend), alike in groups.items():
        lines.append(f"{sheet} {_cells(alike)}: {alike[0].severity}: {' '.join([message, mend]).strip()}")
        found = alike[0].found
        if len(alike) == 1 and found:
            lines.append(f"    {found if len(found) <= MOST_FOUND else found[: MOST_FOUND - 1] + '…'}")
    return lines


def _cells(faults: list[CellFault]) -> str:
    cells = [cell for cell, _ in groupby(f.cell for f in faults)]
    more = len(cells) - MOST_CELLS
    return ", ".join(cells[:MOST_CELLS]) + (f" and {more} more" if more > 0 else "")
