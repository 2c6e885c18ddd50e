"""Tables and workbooks from outside: read whole or refused with the place of what is wrong."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import datetime
from pathlib import Path

import openpyxl
import polars as pl
import pytest

from skavo.cli import main
from skavo.core.errors import DataError
from skavo.formats.read_table import read_table
from skavo.formats.workbook.read import read_workbook
from skavo.formats.workbook.write import write_workbook
from tests.workshop import workshop_script


def test_a_csv_table_is_read_as_text_with_its_empty_cells() -> None:
    frame = read_table("a.csv", b'nr;name\n007;"Bo; Edda"\n\n8;\n')
    assert frame.to_dict(as_series=False) == {"nr": ["007", "8"], "name": ["Bo; Edda", None]}


def test_a_spreadsheet_is_read_like_the_same_csv() -> None:
    book = openpyxl.Workbook()
    for row in (["nr", "name"], [7, "Bo"], [8.5, None]):
        book.active.append(row)
    packed = io.BytesIO()
    book.save(packed)
    assert read_table("a.xlsx", packed.getvalue()).to_dict(as_series=False) == {
        "nr": ["7", "8.5"],
        "name": ["Bo", None],
    }


CSV = "Save the file as “CSV UTF-8”."
SPLIT = "Look for a missing quote or an unquoted comma."


@pytest.mark.parametrize(
    ("content", "code", "message", "details"),
    [
        (b"", "empty_file", "x.csv is empty.", {}),
        (b" \n\n", "empty_file", "x.csv is empty.", {}),
        (b",,\n,\n", "empty_file", "x.csv has no rows.", {}),
        (b"b,a,c,a\n1,2\n", "double_heading", "x.csv has two columns called “a” (2 and 4). Rename one.", {"column": 4}),
        (b"a,,b\n1,2,3\n", "no_heading", "Column 2 of x.csv has no heading. Name it.", {"column": 2}),
        (b"a,b\n1,2\n1,2,3\n", "too_many_cells", f"Row 3 of x.csv has 3 cells; the headings are 2. {SPLIT}", {"row": 3}),
        (
            b"\na,b\n\n1,2\n,\n1,2,,3\n",
            "too_many_cells",
            f"Row 6 of x.csv has 4 cells; the headings are 2. {SPLIT}",
            {"row": 6},
        ),
        (b"a,b\n1,\xff\xfe\n", "wrong_encoding", f"Line 2 of x.csv is not UTF-8. {CSV}", {"row": 2}),
        (b"a,b\n\x00\n", "not_a_table", "x.csv is not a text file. Bring a .csv or an .xlsx file.", {}),
        (b'a,b\n"1" 2,3\n', "broken_csv", "x.csv cannot be read as CSV: ',' expected after '\"'.", {}),
        (b"PK\x03\x04 no zip", "not_a_workbook", "x.csv is not a readable .xlsx file (BadZipFile).", {}),
    ],
)  # fmt: skip
def test_a_broken_table_is_refused_with_its_place(
    content: bytes, code: str, message: str, details: dict[str, int]
) -> None:
    with pytest.raises(DataError) as caught:
        read_table("x.csv", content)
    assert (caught.value.code, caught.value.message, caught.value.details) == (code, message, details)


def test_a_file_larger_than_may_be_is_refused_and_one_as_large_is_not(monkeypatch: pytest.MonkeyPatch) -> None:
    from skavo.formats import read_table as module

    whole = b"a\n" + b"x" * (3 << 20)
    monkeypatch.setattr(module, "MOST_BYTES", len(whole))
    monkeypatch.setattr("csv.field_size_limit", lambda: None)
    with pytest.raises(DataError) as caught:
        read_table("x.csv", whole + b"x")
    assert (caught.value.code, caught.value.message) == ("file_too_large", "x.csv has 3 MB; 100 MB is the most.")
    with pytest.raises(DataError) as caught:
        read_table("x.csv", whole)
    assert caught.value.code == "broken_csv"


@pytest.mark.parametrize(
    ("content", "columns"),
    [
        (b"a;b;c,d\n1;2;3,4\n", {"a": ["1"], "b": ["2"], "c,d": ["3,4"]}),
        (b"a\tb\n1,5\t2,5\n", {"a": ["1,5"], "b": ["2,5"]}),
        (b"a,b,,\n1\n,2,,\n", {"a": ["1", None], "b": [None, "2"]}),
        (b'\xef\xbb\xbfa,b\n"1\r\n2", x \n', {"a": ["1\r\n2"], "b": ["x"]}),
        (b"a\n", {"a": []}),
        (b"a b\n1;2;3;4\n", {"a b": ["1;2;3;4"]}),
    ],
)
def test_what_separates_cells_is_read_from_the_headings(content: bytes, columns: dict[str, list[str | None]]) -> None:
    frame = read_table("x.csv", content)
    assert frame.to_dict(as_series=False) == columns
    assert set(frame.dtypes) == {pl.String}


def test_a_spreadsheets_row_is_named_by_its_number_there() -> None:
    book = openpyxl.Workbook()
    for row in ([], ["nr", "name"], [], [7, "Bo", "too much"]):
        book.active.append(row)
    packed = io.BytesIO()
    book.save(packed)
    with pytest.raises(DataError) as caught:
        read_table("a.xlsx", packed.getvalue())
    assert (caught.value.code, caught.value.details) == ("too_many_cells", {"row": 4})


def test_cells_of_a_spreadsheet_are_the_texts_that_a_person_sees() -> None:
    book = openpyxl.Workbook()
    when = datetime(2027, 3, 14, 8, 30)
    cells = [True, False, 3.0, 3.25, when, datetime(2027, 3, 14), when.date(), when.time(), " x ", " "]
    for row in ([f"c{i}" for i in range(len(cells))], cells):
        book.active.append(row)
    packed = io.BytesIO()
    book.save(packed)
    assert [column[0] for column in read_table("a.xlsx", packed.getvalue())] == [
        "yes", "no", "3", "3.25", "2027-03-14T08:30:00", "2027-03-14", "2027-03-14", "08:30:00", "x", None,
    ]  # fmt: skip


def test_an_archive_that_unpacks_to_too_much_is_refused() -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out, out.open("xl/workbook.xml", "w") as part:
        for _ in range(1100):
            part.write(b"\0" * 1024 * 1024)
    with pytest.raises(DataError, match="unpacks to more than 1 GB"):
        read_table("x.xlsx", packed.getvalue())


def test_the_demo_questionnaire_goes_through_a_workbook_without_loss() -> None:
    before = workshop_script()
    read = read_workbook("demo", write_workbook(before))
    after = read.script
    assert read.faults == []
    for part in [*before.parts, *after.parts]:
        part.id = part.variable
    assert after == before


def workbook(rows: list[list[str]], lists: list[list[str]] | None = None) -> bytes:
    book = openpyxl.Workbook()
    book.active.title = "script "
    for row in rows:
        book.active.append(row)
    sheet = book.create_sheet("Code lists")
    for row in lists or []:
        sheet.append(row)
    packed = io.BytesIO()
    book.save(packed)
    return packed.getvalue()


def test_check_lists_all_faults_of_a_workbook_with_their_cells(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "q.xlsx"
    path.write_bytes(
        workbook(
            [
                ["Variable", "KIND", "Level", "Wording [en]", "Asked when", "Code list", "Colour"],
                ["a", "Whole Number", "1", "How many?", "", "", ""],
                ["b", "single answer", "x", "Which?", "aa > 3", "tol", "red"],
            ],
            [["List", "Code", "Label [en]"], ["tool", "saw", "Saw"]],
        )
    )
    assert main(["check", str(path), "--json"]) == 1
    found = {(f["row"], f["column"], f["code"]) for f in json.loads(capsys.readouterr().out)}
    assert found == {(1, 7, "unknown_column"), (3, 3, "not_whole"), (3, 5, "unknown_name"), (3, 6, "unknown_code_list")}


def test_check_says_nothing_is_wrong_with_status_0(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "q.json"
    path.write_text(workshop_script().model_dump_json(), encoding="utf-8")
    assert main(["check", str(path)]) == 0
    assert capsys.readouterr().out.endswith("0 errors, 0 doubts\n")


@pytest.mark.parametrize("content", ["{", '{"parts": [{"id": 1}]}', '{"parst": []}'])
def test_check_names_what_is_wrong_with_a_file_that_is_no_script(
    tmp_path: Path, content: str, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "q.json"
    path.write_text(content, encoding="utf-8")
    assert main(["check", str(path)]) == 2
    assert "q.json" in capsys.readouterr().err
