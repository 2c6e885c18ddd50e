"""Tables and workbooks from outside: read whole or refused with the place of what is wrong."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import openpyxl
import pytest

from skavo.cli import main
from skavo.core.errors import DataError
from skavo.demo.questionnaire import demo_script
from skavo.formats.read_table import read_table
from skavo.formats.workbook.read import read_workbook
from skavo.formats.workbook.write import write_workbook


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


@pytest.mark.parametrize(
    ("content", "code", "words"),
    [
        (b"", "empty_file", "is empty"),
        (b"a,a\n1,2\n", "double_heading", "two columns called “a” (1 and 2)"),
        (b"a,,b\n1,2,3\n", "no_heading", "Column 2"),
        (b"a,b\n1,2\n1,2,3\n", "too_many_cells", "Row 3"),
        (b"a,b\n1,\xff\xfe\n", "wrong_encoding", "Line 2"),
        (b"PK\x03\x04 no zip", "not_a_workbook", "not a readable .xlsx"),
    ],
)
def test_a_broken_table_is_refused_with_its_place(content: bytes, code: str, words: str) -> None:
    with pytest.raises(DataError) as caught:
        read_table("x.csv", content)
    assert caught.value.code == code
    assert words in caught.value.message


def test_an_archive_that_unpacks_to_too_much_is_refused() -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out, out.open("xl/workbook.xml", "w") as part:
        for _ in range(1100):
            part.write(b"\0" * 1024 * 1024)
    with pytest.raises(DataError, match="unpacks to more than 1 GB"):
        read_table("x.xlsx", packed.getvalue())


def test_the_demo_questionnaire_goes_through_a_workbook_without_loss() -> None:
    before = demo_script()
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
    path.write_text(demo_script().model_dump_json(), encoding="utf-8")
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
