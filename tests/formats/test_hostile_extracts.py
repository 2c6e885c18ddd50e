"""Extracts of valid data that nobody expects, read back value by value by other libraries: nothing is lost without a word."""

from __future__ import annotations

import csv
import io
import zipfile
from pathlib import Path
from typing import Any

import openpyxl
import polars as pl
import pyreadstat
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from skavo.core.dataset.flatten import WHY, DataSet, Table
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout
from skavo.core.errors import DataError
from skavo.formats.csv_files import as_was, safe_text, write_csv_zip
from skavo.formats.extract import ExtractOptions
from skavo.formats.limits import check_size, notes_of
from skavo.formats.sav_files import write_sav_zip
from skavo.formats.xlsx_files import write_xlsx
from tests.formats.written import written

XLSX, CSV, SAV = ExtractOptions(format="xlsx"), ExtractOptions(format="csv"), ExtractOptions(format="sav")
# Whatever somebody can type or paste into an answer; the files in question cannot hold a NUL.
TEXTS = st.text(st.characters(exclude_categories=("Cs",), exclude_characters="\0"), min_size=1, max_size=12)
FORMULAS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")


def data_of(texts: list[str], numbers: list[float] | None = None, name: str = INTERVIEWS) -> DataSet:
    given_numbers = numbers or [float(n) for n in range(len(texts))]
    frame = pl.DataFrame(
        {
            KEY: [f"{n:04d}" for n in range(1, len(texts) + 1)], "said": texts, "said?": pl.Series([None] * len(texts), dtype=WHY),
            "size": given_numbers, "size?": pl.Series([None] * len(texts), dtype=WHY),
        }
    )  # fmt: skip
    columns = (
        Column("said", "1", "text", "text", {"en": "Said"}),
        Column("size", "2", "decimal", "number", {"en": "Size"}),
    )
    keys = (KEY,) if name == INTERVIEWS else (KEY, f"{name}.row")
    if name != INTERVIEWS:
        frame = frame.with_columns(pl.lit("1").alias(f"{name}.row"))
    facts = {
        fact: pl.Series([None] * len(texts), dtype=dtype)
        for fact, dtype in (
            ("interview.state", pl.String), ("interview.release", pl.Int64), ("interview.enumerator", pl.String),
            ("interview.started", pl.Datetime("ms")), ("interview.minutes", pl.Float64), ("interview.language", pl.String),
        )
    }  # fmt: skip
    return {name: Table(TableLayout(name, None, keys, columns), frame.with_columns(**facts))}


def sheet_of(data: DataSet, name: str) -> dict[str, list[Any]]:
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, XLSX)))
    heading, *rows = book[name].iter_rows(values_only=True)
    return {str(column): [row[at] for row in rows] for at, column in enumerate(heading)}


def text_of(data: DataSet) -> dict[str, list[str]]:
    with zipfile.ZipFile(io.BytesIO(written(write_csv_zip, data, CSV))) as packed:
        text = packed.read("interviews.csv").decode("utf-8-sig")
    heading, *rows = csv.reader(io.StringIO(text, newline=""))
    return {column: [row[at] for row in rows] for at, column in enumerate(heading)}


def labelled_of(data: DataSet, folder: Path) -> tuple[Any, Any]:
    with zipfile.ZipFile(io.BytesIO(written(write_sav_zip, data, SAV))) as packed:
        packed.extractall(folder)
    return pyreadstat.read_sav(str(folder / "interviews.sav"), user_missing=True, output_format="dict")


@settings(deadline=None, max_examples=60)
@given(st.lists(TEXTS, min_size=1, max_size=4))
def test_a_plain_text_gives_every_answer_back_and_no_formula(texts: list[str]) -> None:
    cells = text_of(data_of(texts))["said"]
    assert [as_was(cell) for cell in cells] == texts
    assert not any(cell.startswith(FORMULAS) for cell in cells)


@settings(deadline=None, max_examples=200)
@given(st.one_of(TEXTS, st.sampled_from([*FORMULAS, "'=", "''=", "'"]).flatmap(lambda s: TEXTS.map(lambda t: s + t))))
def test_a_text_made_safe_is_had_back(text: str) -> None:
    assert as_was(safe_text(text)) == text


@settings(deadline=None, max_examples=40)
@given(st.lists(TEXTS, min_size=1, max_size=3))
def test_a_spreadsheet_gives_every_answer_back(texts: list[str]) -> None:
    found = sheet_of(data_of(texts), INTERVIEWS)["said"]
    # XML knows one kind of line end, and spreadsheets write what it does not know as _x000B_.
    plain = [text.replace("\r\n", "\n").replace("\r", "\n") for text in texts]
    read = [openpyxl.utils.escape.unescape(str(cell)).replace("\r\n", "\n").replace("\r", "\n") for cell in found]
    assert read == plain


@settings(deadline=None, max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(TEXTS, min_size=1, max_size=3))
def test_a_labelled_file_gives_every_answer_back(tmp_path: Path, texts: list[str]) -> None:
    cells, about = labelled_of(data_of(texts), tmp_path)
    # The format fills texts up with blanks, so that those at the end are lost to every reader.
    assert [cell.rstrip(" ") for cell in cells["said"]] == [text.rstrip(" ") for text in texts]
    assert set(about.missing_ranges) >= {"said"}


def test_an_answer_that_says_what_a_mark_says_stays_an_answer(tmp_path: Path) -> None:
    cells, about = labelled_of(data_of(["#na", "#dk#", "x"]), tmp_path)
    marks = {span["lo"] for span in about.missing_ranges["said"]}
    assert cells["said"] == ["#na", "#dk#", "x"] and marks.isdisjoint(cells["said"])


def test_what_is_longer_than_a_cell_is_cut_and_told(tmp_path: Path) -> None:
    long = "é" * 40_000
    data = data_of(["short", long])
    assert sheet_of(data, INTERVIEWS)["said"] == ["short", long[:32_767]]
    (note,) = sheet_of(data, "Notes")
    assert "said (interviews) is longer than the 32,767 characters" in note and "in interview 0002" in note
    cells, about = labelled_of(data, tmp_path)
    assert cells["said"][1] == "é" * 16_383 and "bytes" in " ".join(about.notes)
    assert text_of(data)["said"][1] == long and notes_of(data, CSV) == []


def test_what_is_without_end_is_told(tmp_path: Path) -> None:
    data = data_of(["a", "b"], [float("inf"), 1.5])
    assert sheet_of(data, INTERVIEWS)["size"] == ["inf", 1.5]
    assert text_of(data)["size"] == ["inf", "1.5"]
    cells, about = labelled_of(data, tmp_path)
    assert cells["size"] == [None, 1.5] and "was left empty, in interview 0001" in " ".join(about.notes)


def test_a_roster_may_be_called_like_a_sheet_of_ours() -> None:
    data = {
        **data_of(["a"]),
        **data_of(["b"], name="codebook"),
        **data_of(["c"], name="history"),
        **data_of(["d"], name="notes"),
    }
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, XLSX)))
    assert book.sheetnames == ["interviews", "codebook_2", "history_2", "notes_2", "Codebook"]


def test_a_table_too_large_for_its_format_is_refused_before_anything_is_written(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    rows = pl.DataFrame({KEY: pl.repeat("0001", 1_048_576, eager=True)})
    data: DataSet = {"staff": Table(TableLayout("staff", None, (KEY,), ()), rows)}
    with pytest.raises(DataError, match=r"staff has 1,048,576 rows; a \.xlsx file holds 1,048,575\. Take \.csv"):
        written(write_xlsx, data, XLSX)
    check_size(data, CSV)
    check_size(data, SAV)
