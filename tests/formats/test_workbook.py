"""The questionnaire workbook: in and out without loss, every fault at its cell, none hidden by another."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path
from typing import Any

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.cli import main
from skavo.core.errors import DataError
from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import (
    Code,
    CodeList,
    ListTable,
    Part,
    Script,
    ScriptCheck,
    UnitList,
    UnitOfMeasure,
)
from skavo.formats.check_file import check_file
from skavo.formats.workbook.faults import told_faults
from skavo.formats.workbook.read import read_folder, read_workbook
from skavo.formats.workbook.sheets import write_xlsx_sheets
from skavo.formats.workbook.write import sheets_of, write_folder, write_workbook
from tests.conformance.interviews import every_kind_script

_WORD = st.text(st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=8) | st.sampled_from(
    ["=1+1", "'quoted", "-5", "@x", 'a "b", c', "007", "1e5", "TRUE", "two words", "line\nbreak"]
)
_NAME = st.from_regex(r"[a-z][a-z0-9_]{0,8}", fullmatch=True)
_TEXTS = st.fixed_dictionaries({}, optional={"en": _WORD, "fr": _WORD, "ar": _WORD})
_RULE = st.just("") | _WORD
_FILES = st.lists(_NAME.map(lambda n: f"{n}.png"), max_size=2)


def _checks() -> st.SearchStrategy[list[ScriptCheck]]:
    return st.lists(st.builds(ScriptCheck, rule=_WORD, message=_TEXTS), max_size=3)


def _parts(name: str) -> st.SearchStrategy[Part]:
    return st.builds(
        Part,
        id=st.just(f"w_{name}"), variable=st.just(name), level=st.integers(1, 12), kind=st.sampled_from(list(KINDS)),
        wording=_TEXTS, instruction=_TEXTS, code_list=_RULE, code_filter=_RULE, asked_when=_RULE, repeated=_RULE,
        derived=_RULE, default=_RULE, must_hold=_checks(), should_hold=_checks(), answer_needed=_RULE,
        special_answers=st.sampled_from([[], ["dont_know"], ["refused"], ["dont_know", "refused"]]), mask=_RULE,
        unit=_RULE, least=st.none() | st.integers(-5, 99) | st.sampled_from([0.5, -2.25]),
        most=st.none() | st.integers(0, 10**6), reads_back=_RULE, register_name=_RULE, sensitive=st.booleans(),
        read_aloud=st.booleans(), order=st.sampled_from(["", "fixed", "random"]), media=_FILES, remark=_RULE,
    )  # fmt: skip


@st.composite
def _scripts(draw: st.DrawFn) -> Script:
    names = draw(st.lists(_NAME, min_size=1, max_size=5, unique=True))
    codes = st.builds(
        Code, code=_NAME, label=_TEXTS, specify=st.booleans(), exclusive=st.booleans(), media=_FILES,
        attributes=st.dictionaries(_NAME.filter(lambda n: n not in ("list", "code", "specify", "exclusive", "media")), _WORD, max_size=2),
    )  # fmt: skip
    units = st.builds(UnitOfMeasure, unit=_NAME, dimension=_NAME, factor=_WORD, label=_TEXTS)
    tables = st.none() | st.builds(
        ListTable, name=_NAME, code=_RULE, labels=_TEXTS, attributes=st.lists(_NAME, max_size=2)
    )
    lists = draw(st.lists(_NAME, max_size=2, unique=True))
    return Script(
        name=draw(_NAME),
        title=draw(_TEXTS),
        languages=draw(st.permutations(["en", "fr", "ar"])),
        parts=[draw(_parts(name)) for name in names],
        code_lists=[
            CodeList(
                name=n, codes=draw(st.lists(codes, min_size=1, max_size=3)), source=draw(_RULE), table=draw(tables)
            )
            for n in lists
        ],
        unit_lists=[UnitList(name=n, units=draw(st.lists(units, min_size=1, max_size=3))) for n in lists],
    )


@settings(max_examples=12, deadline=None)
@given(_scripts())
def test_any_script_goes_through_a_workbook_without_loss(before: Script) -> None:
    read = read_workbook("any", write_workbook(before))
    assert read.faults == []
    assert read.script == before


@settings(max_examples=25, deadline=None)
@given(_scripts())
def test_any_script_goes_through_csv_files_without_loss(before: Script) -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as out:
        for name, content in write_folder(before).items():
            out.writestr(f"questionnaire/{name}", content)
    read = read_workbook("any.zip", packed.getvalue())
    assert read.faults == []
    assert read.script == before


def test_a_folder_of_csv_files_is_a_workbook(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for name, content in write_folder(every_kind_script()).items():
        (tmp_path / name).write_bytes(content)
    assert read_folder(tmp_path).faults == []
    assert main(["check", str(tmp_path)]) == 0
    assert "\n0 errors, " in capsys.readouterr().out


def test_no_cell_of_a_csv_file_can_become_a_formula() -> None:
    script = Script(parts=[Part(id="w_a", variable="a", wording={"en": "=HYPERLINK(1)"}, remark="@x")])
    text = write_folder(script)["Script.csv"].decode("utf-8-sig")
    assert "'=HYPERLINK(1)" in text and "'@x" in text


def book(script: list[list[Any]], **sheets: list[list[Any]]) -> bytes:
    made = openpyxl.Workbook()
    made.active.title = "Script"
    for row in script:
        made.active.append(row)
    for name, rows in sheets.items():
        sheet = made.create_sheet(name.replace("_", " "))
        for row in rows:
            sheet.append(row)
    packed = io.BytesIO()
    made.save(packed)
    return packed.getvalue()


def faults(content: bytes) -> list[tuple[str, int, int, str]]:
    read = read_workbook("q.xlsx", content)
    return [(f.sheet, f.row, f.column, f.code) for f in read.all_faults(compile_script(read.script).findings)]


HEAD = ["Level", "Kind", "Variable", "Wording [en]"]


@pytest.mark.parametrize(
    ("sheets", "expected"),
    [
        ({"script": [[*HEAD, "Asked wen"], [1, "text", "a", "A?"]]}, [("Script", 1, 5, "unknown_column")]),
        ({"script": [[*HEAD, "Wording"], [1, "text", "a", "A?"]]}, [("Script", 1, 5, "no_language")]),
        ({"script": [[*HEAD, "KIND"], [1, "text", "a", "A?"]]}, [("Script", 1, 5, "double_column")]),
        ({"script": [[*HEAD, None], [1, "text", "a", "A?", "stray"]]}, [("Script", 2, 5, "no_heading")]),
        ({"script": [HEAD, [1, "text", "a", "A?"], [None], [1, "txet", "b", "B?"]]}, [("Script", 4, 2, "unknown_kind")]),
        ({"script": [HEAD, ["x", "section", "s", "S"], [2, "text", "a", "A?"]]}, [("Script", 2, 1, "not_whole")]),
        ({"script": [[*HEAD, "Least", "Sensitive"], [1, "whole number", "a", "A?", "few", "ja"]]}, [("Script", 2, 5, "not_a_number"), ("Script", 2, 6, "not_yes_no")]),
        ({"script": [[*HEAD, "Special answers"], [1, "text", "a", "A?", "dunno"]]}, [("Script", 2, 5, "unknown_special")]),
        ({"script": [[*HEAD, "Order"], [1, "text", "a", "A?", "shuffled"]]}, [("Script", 2, 5, "unknown_order")]),
        ({"script": [HEAD, [1, "text", "a", "A?"]], "About": [["What", "Value"], ["Written as", "skavo-workbook-9"]]}, [("About", 2, 2, "newer_format")]),
        ({"script": [HEAD, [1, "text", "a", "A?"]], "About": [["What", "Value"], ["Written as", "a list"]]}, [("About", 2, 2, "wrong_format")]),
        ({"script": [[*HEAD, "Wording [fr]"], [1, "text", "a", "A?", "A ?"]], "About": [["What", "Value"], ["Languages", "en"]]}, [("Script", 1, 5, "unknown_language")]),
        ({"script": [HEAD, [1, "text", "a", "A?"]], "About": [["What", "Value"], ["Titel [en]", "X"]]}, [("About", 2, 1, "unknown_row")]),
        ({"script": [HEAD, [1, "text", "a", "A?"]], "About": [["What", "Value"], ["Noted by the phone", "place, weather"]]}, [("About", 2, 2, "unknown_word")]),
        ({"script": [HEAD, [1, "text", "a", "A?"]], "About": [["What", "Value"], ["Told by", "b"]]}, [("About", 2, 2, "unknown_name")]),
        ({"script": [HEAD, [1, "text", "a", "A?"]], "Codes": [["List"], ["x"]]}, [("Codes", 1, 1, "unknown_sheet")]),
        ({"script": [[*HEAD, "Code list"], [1, "single answer", "a", "A?", "l"]], "Code_lists": [["List", "Code", "Label [en]"], ["l", "x", "X"], ["l", None, "Y"], ["l", "x", "Z"], ["l", "y", None]]},
         [("Code lists", 3, 2, "no_code"), ("Code lists", 4, 1, "double_code"), ("Code lists", 5, 1, "no_label")]),
        ({"script": [[*HEAD, "Unit"], [1, "quantity", "a", "A?", "u"]], "Units": [["Unit list", "Unit", "Dimension", "Factor"], ["u", "sack", "mass", None], ["u", "kg", "mass", 2]]},
         [("Units", 2, 4, "no_unit"), ("Units", 3, 4, "standard_unit")]),
        ({"script": [[*HEAD, "Unit"], [1, "quantity", "a", "A?", "u"]], "Units": [["Unit list", "Unit", "Dimension", "Factor"], ["u", "kg", "mass", 1], ["u", "sack", "mass", "wrad * 2"], ["u", "tub", "mass", 0]]},
         [("Units", 3, 4, "unknown_name"), ("Units", 4, 4, "wrong_factor")]),
        ({"script": [[*HEAD, "Unit"], [1, "quantity", "a", "A?", "u"]], "Units": [["Unit list", "Unit", "Dimension", "Factor"], ["u", "coin", "money", 10]]},
         [("Units", 2, 1, "no_base_unit")]),
        ({"script": [HEAD, [1, "quantity", "a", "A?"]]}, [("Script", 2, 3, "no_unit")]),
        ({"script": [[*HEAD, "Must hold", "Must hold 3"], [1, "whole number", "a", "A?", "a > ", "a < b"]]}, [("Script", 2, 5, "unfinished"), ("Script", 2, 6, "unknown_name")]),
        ({"script": [[*HEAD, "Must hold 99"], [1, "whole number", "a", "A?", "a > 1"]]}, [("Script", 2, 5, "too_many_checks")]),
        ({"script": [[*HEAD, "Unit", "Mask"], [1, "date", "a", "A?", "kg", "99"]]}, [("Script", 2, 6, "unused"), ("Script", 2, 5, "unused")]),
    ],
)  # fmt: skip
def test_each_fault_stands_at_its_cell(sheets: dict[str, Any], expected: list[tuple[str, int, int, str]]) -> None:
    assert sorted(faults(book(**sheets))) == sorted(expected)


def test_a_fault_raises_no_echoes_elsewhere() -> None:
    found = faults(book(
        [[*HEAD, "Unit", "Asked when", "Must hold", "Code list"],
         [1, "quantity", "scrap", "How much?", "stones", None, "scrap <= 3 kg"],
         [1, "single answer", "trade", "Which?", None, None, None, "gone"],
         [1, "text", "a", "A?", None, "trade is bicycle and scrap > 2 kg"],
         [1, "text", "b", "B?", None, "wrokers is one of (x, y) and days(later, today) > 2 and later is answered"],
         [1, "date", "later", "L?"]],
        Code_lists=[["List", "Code", "Label [en]"], ["other", "x", "X"]],
    ))  # fmt: skip
    assert found == [
        ("Script", 2, 5, "unknown_unit_list"),
        ("Script", 3, 8, "unknown_code_list"),
        ("Script", 5, 6, "unknown_name"),
        ("Script", 5, 6, "asked_later"),
        ("Script", 5, 6, "asked_later"),
    ]


def test_a_fault_says_what_was_found_and_where_in_the_cell() -> None:
    content = book([[*HEAD, "Must hold"], ["1", "txet", "a", "Hello {wrld}?", "a > 1 and  wrold > 2"]])
    read = read_workbook("q.xlsx", content)
    found = read.all_faults(compile_script(read.script).findings)
    assert [(f.cell, f.found, f.start, f.length) for f in found if f.severity == "error"] == [
        ("B2", "txet", 0, 4),
        ("D2", "wrld", 7, 4),
        ("E2", "wrold", 11, 5),
    ]


def test_faults_are_told_errors_first_and_the_same_words_once() -> None:
    rows = [[1, "text", f"q{i}", f"Question {i}?"] for i in range(20)]
    content = book(
        [[*HEAD, "Asked when"], *rows, [1, "text", "last", "Last?", "q7 is twelve"]],
        About=[["What", "Value"], ["Languages", "en, fr"]],
    )
    read = read_workbook("q.xlsx", content)
    told = told_faults(read.all_faults(compile_script(read.script).findings)).splitlines()
    assert told[0].startswith("Script E22: error: There is no variable “twelve”.")
    assert told[1] == "    twelve"
    assert told[2].startswith(
        "Script C2, C3, C4, C5, C6, C7, C8, C9, C10, C11, C12, C13 and 9 more: doubt: Not yet worded in fr"
    )
    assert told[3:] == ["1 error, 21 doubts"]


def test_columns_may_stand_in_any_order_and_headings_be_written_in_any_case() -> None:
    sheets = sheets_of(every_kind_script())
    turned = {
        name: [list(reversed([*row, *[""] * (len(rows[0]) - len(row))])) for row in rows]
        for name, rows in sheets.items()
        if name != "About"
    }
    turned["Script"][0] = [h.upper() if "[" not in h else f" {h} " for h in turned["Script"][0]]
    read = read_workbook("turned", write_xlsx_sheets({**turned, "About": sheets["About"]}))
    assert read.faults == []
    straight = read_workbook("straight", write_workbook(every_kind_script())).script
    for part in straight.parts:
        for other in read.script.parts:
            if part.variable == other.variable:
                assert part == other


def test_numbers_typed_into_a_spreadsheet_are_read_as_they_are_seen() -> None:
    content = book(
        [
            [*HEAD, "Default", "Least", "Asked when"],
            [1.0, "whole number", "a", "A?", 3, 0.5, None],
            [1, "text", "b", "B?", None, None, True],
        ]
    )
    script = read_workbook("n", content).script
    assert (script.parts[0].default, script.parts[0].least, script.parts[1].asked_when) == ("3", 0.5, "yes")


@pytest.mark.parametrize("content", [b"", b"hello", b"PK\x03\x04 broken"])
def test_what_is_no_workbook_is_refused(content: bytes, tmp_path: Path) -> None:
    path = tmp_path / "q.xlsx"
    path.write_bytes(content)
    with pytest.raises(DataError):
        check_file(path)
