"""A sound workbook with a few cells spoiled: every fault has its cell, and nothing else happens."""

from __future__ import annotations

import io
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import openpyxl
from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.core.questionnaire.help import example_script
from skavo.core.questionnaire.script import Script
from skavo.formats.check_file import check_file
from skavo.formats.workbook.write import write_workbook
from tests.conformance.interviews import every_kind_script

GARBAGE: list[Any] = [
    None, 0, -1, 2.5, True, "nan", "inf", "1e400", "²", "Ö ü", "a" * 400, "b; " * 300, "c" * 9_000, "=1+1", "#REF!",
    "yes", "no", "none", "random", "workers", "workers > 2", "5 times", "for each code in tools", "while x is yes", "{",
    "{a}", '"', "not", "count(", "((((", "roster", "section", "grid", "statement", "derived value", "unit", "trade",
    "kg", "tools includes saw", "refused", "don't know", "sum(staff.hours)", "earlier.workers", "row", "today",
]  # fmt: skip


@cache
def books() -> list[bytes]:
    return [write_workbook(every_kind_script()), write_workbook(example_script())]


@settings(max_examples=40, deadline=None)
@given(
    st.integers(0, 1),
    st.lists(st.tuples(*[st.integers(0, 10**6)] * 3, st.sampled_from(GARBAGE)), min_size=1, max_size=6),
)
def test_spoiled_cells_are_told_or_taken(which: int, spoiled: list[tuple[int, int, int, Any]]) -> None:
    book = openpyxl.load_workbook(io.BytesIO(books()[which]))
    for sheet_number, row, column, value in spoiled:
        sheet = book.worksheets[sheet_number % len(book.worksheets)]
        sheet.cell(row % sheet.max_row + 1, column % sheet.max_column + 1).value = value
    with TemporaryDirectory() as folder:
        path = Path(folder) / "spoiled.xlsx"
        book.save(path)
        checked = check_file(path)
    for fault in checked.faults:
        assert fault.message
        assert fault.sheet.lower() in {"script", "code lists", "units", "about"}
        assert min(fault.row, fault.column) >= 1
        assert fault.cell
    # What was taken can be kept: a draft is read back from the database by the same model.
    assert Script.model_validate_json(checked.script.model_dump_json()) == checked.script
