"""Extracts read back by other libraries: spreadsheets, plain text, labelled data."""

from __future__ import annotations

import csv
import io
import zipfile
from datetime import UTC, date, datetime, time
from pathlib import Path
from typing import Any

import openpyxl
import pandas as pd
import pyreadstat
import pytest

from skavo.core.dataset.flatten import DataSet
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList
from skavo.core.rehearsal.rehearse import rehearse
from skavo.formats.csv_files import write_csv_zip
from skavo.formats.extract import ExtractOptions, fields_of
from skavo.formats.sav_files import write_sav_zip
from skavo.formats.xlsx_files import write_xlsx
from tests.conformance.interviews import every_kind_script
from tests.core.test_dataset import data_of
from tests.formats.written import written
from tests.samples import code_list, part, release_of, script

YEARS = CodeList(name="level", codes=[Code(code=str(n), label={"en": f"Level {n}"}) for n in (1, 2, 3)])
SAMPLE = script(
    part(1, "single answer", "trade", code_list="trade", special_answers=["refused"]),
    part(1, "single answer", "level", code_list="level", special_answers=["dont_know"]),
    part(1, "multiple answer", "tools", code_list="tool"),
    part(1, "whole number", "workers", special_answers=["dont_know", "refused"]),
    part(1, "decimal", "earnings", asked_when="workers > 0"),
    part(1, "date", "since", special_answers=["refused"]),
    part(1, "time", "opens"),
    part(1, "yes/no", "paid"),
    part(1, "text", "remark", sensitive=True),
    part(1, "roster", "staff", repeated="workers times"),
    part(2, "whole number", "age", wording={"en": "How old is person {row}?"}),
    lists=(code_list("trade", "bicycle", "phone"), code_list("tool", "saw", "vice"), YEARS),
)
ROWS: list[dict[str, Any]] = [
    {"trade": "phone", "level": "2", "tools": ["vice"], "workers": 2, "earnings": "10.25", "since": "2027-03-14", "opens": "08:30", "paid": True, "remark": "=1+1", "staff/1/age": 30},
    {"trade": {"special": "refused"}, "level": {"special": "dont_know"}, "workers": {"special": "dont_know"}, "since": {"special": "refused"}, "paid": False},
    {"workers": 0},
]  # fmt: skip


@pytest.fixture(scope="module")
def data() -> DataSet:
    return data_of(release_of(SAMPLE), ROWS)


def test_a_workbook_has_a_sheet_for_each_table_linked_by_keys(data: DataSet) -> None:
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, ExtractOptions(masked=False))))
    assert book.sheetnames == ["interviews", "staff", "Codebook"]
    rows = list(book["interviews"].iter_rows(values_only=True))
    first = dict(zip(rows[0], rows[1], strict=True))
    assert (first["interview.key"], first["trade"], first["workers"], first["earnings"]) == ("0001", "phone", 2, 10.25)
    assert (first["tools_saw"], first["tools_vice"], first["paid"]) == (0, 1, 1)
    assert first["since"].date() == date(2027, 3, 14)
    remark = book["interviews"].cell(2, rows[0].index("remark") + 1)
    assert (remark.value, remark.data_type) == ("=1+1", "s")
    second = dict(zip(rows[0], rows[2], strict=True))
    assert (second["trade"], second["workers"], second["earnings"], second["opens"]) == (
        "[refused]",
        "[don’t know]",
        "[not asked]",
        None,
    )
    staff = list(book["staff"].iter_rows(values_only=True))
    assert staff[:3] == [("interview.key", "staff.row", "age"), ("0001", "1", 30), ("0001", "2", None)]


def test_columns_keep_the_order_of_the_questionnaire_and_headings_may_be_labels(data: DataSet) -> None:
    book = openpyxl.load_workbook(
        io.BytesIO(written(write_xlsx, data, ExtractOptions(headings="labels", cells="labels")))
    )
    headings = [cell.value for cell in book["interviews"][1]]
    assert headings[7:12] == [
        "Wording of trade",
        "Wording of level",
        "Wording of tools: Saw",
        "Wording of tools: Vice",
        "Wording of workers",
    ]
    assert book["interviews"]["H2"].value == "Phone"


# One question of each measure that a column can have, all of them marked.
MARKED = script(
    *(
        part(1, kind, name, sensitive=True, **({"code_list": "tool"} if "answer" in kind or kind == "ranking" else {}))
        for kind, name in {
            "text": "called", "whole number": "age", "decimal": "earned", "yes/no": "paid", "date": "born",
            "time": "rises", "single answer": "has", "multiple answer": "owns", "ranking": "likes", "point": "home",
        }.items()
    ),
    lists=(code_list("tool", "saw", "vice"),),
)  # fmt: skip


@pytest.mark.parametrize("masked", [True, False])
def test_sensitive_variables_of_every_measure_stay_out_unless_asked_for(masked: bool, tmp_path: Path) -> None:
    data, options = data_of(release_of(MARKED), [{"age": 31}]), ExtractOptions(masked=masked)
    columns = [
        "called", "age", "earned", "paid", "born", "rises", "has", "owns_saw", "owns_vice", "likes_saw", "likes_vice",
        "home_latitude", "home_longitude", "home_accuracy",
    ]  # fmt: skip
    expected = [] if masked else columns
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, options)))
    with zipfile.ZipFile(io.BytesIO(written(write_csv_zip, data, options))) as packed:
        csv_heads = packed.read("interviews.csv").decode("utf-8-sig").splitlines()[0].split(",")
    with zipfile.ZipFile(io.BytesIO(written(write_sav_zip, data, options))) as packed:
        packed.extractall(tmp_path)
    sav_heads = list(pyreadstat.read_sav(str(tmp_path / "interviews.sav"))[0].columns)
    for heads in ([cell.value for cell in book["interviews"][1]], csv_heads, sav_heads):
        assert [head for head in heads if not head.startswith("interview.")] == expected
    assert bool({row[1].value for row in book["Codebook"].rows} & set(columns)) is not masked


def test_tables_whose_names_a_spreadsheet_would_take_for_one_get_sheets_of_their_own() -> None:
    long = "a_roster_with_a_name_as_long_as"
    rosters = [line for name in ("codebook", f"{long}1", f"{long}2") for line in (
        part(1, "whole number", f"n_{name[-4:]}"), part(1, "roster", name, repeated=f"n_{name[-4:]} times"),
        part(2, "text", f"x_{name[-4:]}"),
    )]  # fmt: skip
    data = data_of(release_of(script(*rosters)), [{"n_book": 1, "codebook/1/x_book": "here"}])
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, ExtractOptions())))
    assert book.sheetnames == [
        "interviews", "codebook_2", "a_roster_with_a_name_as_long_as", "a_roster_with_a_name_as_lon_2", "Codebook",
    ]  # fmt: skip
    assert book["codebook_2"]["C2"].value == "here"


def test_a_ranking_has_the_place_of_each_code_counted_from_one() -> None:
    sample = script(part(1, "ranking", "likes", code_list="tool"), lists=(code_list("tool", "saw", "vice", "plane"),))
    data = data_of(release_of(sample), [{"likes": ["vice", "plane", "saw"]}, {}])
    places = {f.name: f.values for f in fields_of(data["interviews"], ExtractOptions()) if f.name.startswith("likes")}
    assert places == {"likes_saw": [3, None], "likes_vice": [1, None], "likes_plane": [2, None]}


@pytest.mark.parametrize(
    ("answer", "cell"),
    [
        ("=1+1", "'=1+1"),
        ("+1", "'+1"),
        ("-1", "'-1"),
        ("@sum(1)", "'@sum(1)"),
        ("\t=1", "'\t=1"),
        ("\r=1", "'\r=1"),
        ("1=1", "1=1"),
        ("a@b", "a@b"),
        ("", ""),
    ],
)
def test_no_cell_of_a_csv_file_is_taken_for_a_formula(answer: str, cell: str) -> None:
    data = data_of(release_of(script(part(1, "text", "said"))), [{"said": answer}])
    with zipfile.ZipFile(io.BytesIO(written(write_csv_zip, data, ExtractOptions(format="csv")))) as packed:
        text = packed.read("interviews.csv").decode("utf-8-sig")
    head, first = csv.reader(io.StringIO(text, newline=""))
    assert dict(zip(head, first, strict=True))["said"] == cell


def test_what_is_no_text_is_written_as_it_is_read_in_csv(data: DataSet) -> None:
    with zipfile.ZipFile(
        io.BytesIO(written(write_csv_zip, data, ExtractOptions(format="csv", masked=False)))
    ) as packed:
        frame = pd.read_csv(io.BytesIO(packed.read("interviews.csv")), dtype=str, keep_default_na=False)
    assert frame["level"].tolist() == ["2", "[don’t know]", ""]
    assert frame["opens"].tolist() == ["08:30", "", ""]


def test_labelled_data_keeps_labels_and_kinds_of_missing(data: DataSet, tmp_path: Path) -> None:
    with zipfile.ZipFile(
        io.BytesIO(written(write_sav_zip, data, ExtractOptions(format="sav", masked=False)))
    ) as packed:
        packed.extractall(tmp_path)
    frame, meta = pyreadstat.read_sav(str(tmp_path / "interviews.sav"), user_missing=True)
    assert meta.column_names_to_labels["workers"] == "Wording of workers"
    assert meta.variable_value_labels["level"] == {
        1.0: "Level 1",
        2.0: "Level 2",
        3.0: "Level 3",
        -97.0: "not asked",
        -98.0: "don’t know",
        -99.0: "refused",
    }
    assert meta.variable_value_labels["trade"]["phone"] == "Phone"
    assert {r["lo"] for r in meta.missing_ranges["workers"]} == {-97.0, -98.0, -99.0}
    assert meta.variable_value_labels["paid"] == {
        0.0: "no",
        1.0: "yes",
        -97.0: "not asked",
        -98.0: "don’t know",
        -99.0: "refused",
    }
    assert frame["paid"].tolist()[:2] == [1.0, 0.0]
    assert frame["workers"].tolist() == [2.0, -98.0, 0.0]
    assert frame["earnings"].tolist() == [10.25, -97.0, -97.0]
    assert frame["trade"].tolist() == ["phone", "#ref", ""]
    assert frame["since"].tolist()[0] == date(2027, 3, 14)
    plain, _ = pyreadstat.read_sav(str(tmp_path / "interviews.sav"))
    assert plain["workers"].isna().tolist() == [False, True, False]
    assert [c for c in frame.columns if not c.startswith("interview")][:5] == [
        "trade",
        "level",
        "tools_saw",
        "tools_vice",
        "workers",
    ]
    roster, roster_meta = pyreadstat.read_sav(str(tmp_path / "staff.sav"))
    assert roster_meta.column_names_to_labels["age"] == "How old is person …?"
    assert roster["age"].tolist()[0] == 30.0


@pytest.mark.parametrize("kind", ["date", "date-time", "time"])
def test_the_kinds_of_missing_of_a_day_or_a_time_are_kept_apart(kind: str, tmp_path: Path) -> None:
    specials = ["dont_know", "refused"]
    sample = script(part(1, "yes/no", "met"), part(1, kind, "when", special_answers=specials, asked_when="met is yes"))
    answers = [{"met": False}, *({"met": True, "when": {"special": s}} for s in specials), {"met": True}]
    with zipfile.ZipFile(
        io.BytesIO(written(write_sav_zip, data_of(release_of(sample), answers), ExtractOptions(format="sav")))
    ) as packed:
        packed.extractall(tmp_path)
    plain, meta = pyreadstat.read_sav(str(tmp_path / "interviews.sav"))
    assert plain["when"].isna().all()
    kept, _ = pyreadstat.read_sav(str(tmp_path / "interviews.sav"), user_missing=True, disable_datetime_conversion=True)
    labels = meta.variable_value_labels["when"]
    assert [labels.get(value) for value in kept["when"].tolist()] == ["not asked", "don’t know", "refused", None]


def test_missing_marks_give_way_to_values_that_occur(tmp_path: Path) -> None:
    sample = script(part(1, "whole number", "balance", special_answers=["refused"]))
    data = data_of(release_of(sample), [{"balance": -99}, {"balance": {"special": "refused"}}])
    with zipfile.ZipFile(io.BytesIO(written(write_sav_zip, data, ExtractOptions(format="sav")))) as packed:
        packed.extractall(tmp_path)
    frame, _ = pyreadstat.read_sav(str(tmp_path / "interviews.sav"), user_missing=True)
    assert frame["balance"].tolist() == [-99.0, -999.0]


def test_times_are_written_as_times(data: DataSet) -> None:
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, ExtractOptions())))
    headings = [cell.value for cell in book["interviews"][1]]
    assert book["interviews"].cell(2, headings.index("opens") + 1).value == time(8, 30)


@pytest.mark.parametrize("cells", ["codes", "labels"])
def test_every_kind_of_answer_goes_into_every_format(cells: Any, tmp_path: Path) -> None:
    sample = every_kind_script()
    compiled = compile_script(sample).release
    assert compiled is not None
    data = rehearse(Release(compiled), 12, 5, now=datetime(2027, 3, 14, tzinfo=UTC)).data
    frame = data["interviews"].frame
    options = ExtractOptions(cells=cells, masked=False)
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, options)))
    heads = [c.value for c in book["interviews"][1]]
    assert {"scrap", "scrap_amount", "scrap_unit", "door_latitude", "yard_size", "front_name", "worst_saw"} <= set(
        heads
    )
    assert len(heads) == len(set(heads)) and book["interviews"].max_row == frame.height + 1
    with zipfile.ZipFile(io.BytesIO(written(write_csv_zip, data, options))) as packed:
        rows = list(csv.reader(io.StringIO(packed.read("interviews.csv").decode("utf-8-sig"))))
    assert rows[0] == heads and len(rows) == frame.height + 1
    with zipfile.ZipFile(io.BytesIO(written(write_sav_zip, data, options))) as packed:
        packed.extractall(tmp_path)
    read, meta = pyreadstat.read_sav(str(tmp_path / "interviews.sav"))
    known = [x for x in frame["scrap"].to_list() if x is not None]
    assert [x for x in read["scrap"].tolist() if x == x and x >= 0] == pytest.approx(known)
    assert meta.variable_value_labels["scrap_unit"]["sack"] == "sac"
    moments = [x for x in frame["visited"].to_list() if x is not None]
    assert [x for x in read["visited"].tolist() if str(x) != "NaT" and x.year > 1990] == moments


GOLDEN = script(
    part(1, "single answer", "trade", code_list="trade", special_answers=["refused"], wording={"en": "Which trade?", "fr": "Quel métier ?"}),
    part(1, "multiple answer", "tools", code_list="tool", wording={"en": "Same", "fr": "Même"}),
    part(1, "ranking", "best", code_list="tool", wording={"en": "Same", "fr": "Même"}),
    part(1, "decimal", "earned", wording={"en": "Figure"}),
    part(1, "whole number", "hired", wording={"en": "Figure"}),
    part(1, "yes/no", "paid"),
    part(1, "date-time", "met"),
    part(1, "time", "opens"),
    part(1, "text", "tools_saw"),
    lists=(
        CodeList(name="trade", codes=[Code(code="b", label={"en": "Bicycle", "fr": "Vélo"}), Code(code="p", label={"en": "Phone"})]),
        CodeList(name="tool", codes=[Code(code="saw", label={"en": "Saw", "fr": "Scie"}), Code(code="vice", label={"en": "Vice"})]),
    ),
    languages=("en", "fr"),
)  # fmt: skip
GOLDEN_ROWS: list[dict[str, Any]] = [
    {"trade": "b", "tools": ["saw"], "best": ["vice", "saw"], "earned": "1250.5", "hired": 0, "paid": True, "met": "2027-03-14T08:30:00+02:00", "opens": "07:05", "tools_saw": 'a "b", c'},
    {"trade": {"special": "refused"}, "earned": "3.0", "paid": False},
]  # fmt: skip


def csv_of(**options: Any) -> list[list[str]]:
    """The interviews’ rows without their facts."""
    data = data_of(release_of(GOLDEN), GOLDEN_ROWS)
    with zipfile.ZipFile(io.BytesIO(written(write_csv_zip, data, ExtractOptions(format="csv", **options)))) as packed:
        assert {entry.compress_type for entry in packed.infolist()} == {zipfile.ZIP_DEFLATED}
        text = packed.read("interviews.csv").decode("utf-8-sig")
    assert text.endswith("\r\n") and "\n\n" not in text
    return [row[7:] for row in csv.reader(io.StringIO(text, newline=""))]


def test_the_cells_of_every_measure_as_names_and_codes() -> None:
    assert csv_of() == [
        ["trade", "tools_saw_code", "tools_vice", "best_saw", "best_vice", "earned", "hired", "paid", "met", "opens", "tools_saw"],
        ["b", "1", "0", "2", "1", "1250.5", "0", "1", "2027-03-14T06:30:00", "07:05", 'a "b", c'],
        ["[refused]", "", "", "", "", "3", "", "0", "", "", ""],
    ]  # fmt: skip


def test_the_cells_of_every_measure_as_labels_in_a_language() -> None:
    assert csv_of(headings="labels", cells="labels", language="fr") == [
        ["Quel métier ?", "Même: Scie (tools_saw_code)", "Même: Vice (tools_vice)", "Même: Scie (best_saw)", "Même: Vice (best_vice)", "Figure (earned)", "Figure (hired)", "Wording of paid", "Wording of met (UTC)", "Wording of opens", "Wording of tools_saw"],
        ["Vélo", "yes", "no", "2", "1", "1250.5", "0", "yes", "2027-03-14T06:30:00", "07:05", 'a "b", c'],
        ["[refused]", "", "", "", "", "3", "", "no", "", "", ""],
    ]  # fmt: skip


def test_the_facts_of_an_interview_come_first_with_their_labels() -> None:
    data = data_of(release_of(GOLDEN), GOLDEN_ROWS)
    facts = fields_of(data["interviews"], ExtractOptions())[:7]
    assert [(f.name, f.label, f.measure, f.whole) for f in facts] == [
        ("interview.key", "Interview", "text", False),
        ("interview.state", "State", "text", False),
        ("interview.release", "Release", "number", True),
        ("interview.enumerator", "Enumerator", "text", False),
        ("interview.started", "Started (UTC)", "moment", False),
        ("interview.minutes", "Minutes", "number", False),
        ("interview.language", "Language", "text", False),
    ]
    fields = {f.name: f for f in fields_of(data["interviews"], ExtractOptions())}
    assert {n: (f.measure, f.whole) for n, f in fields.items() if not n.startswith("interview.")} == {
        "trade": ("code", False), "tools_saw_code": ("yes/no", False), "tools_vice": ("yes/no", False),
        "best_saw": ("number", True), "best_vice": ("number", True), "earned": ("number", False),
        "hired": ("number", True), "paid": ("yes/no", False), "met": ("date-time", False), "opens": ("time", False),
        "tools_saw": ("text", False),
    }  # fmt: skip


def test_labelled_data_says_how_each_variable_is_shown_and_keeps_every_value(tmp_path: Path) -> None:
    data = data_of(release_of(GOLDEN), GOLDEN_ROWS)
    with zipfile.ZipFile(
        io.BytesIO(written(write_sav_zip, data, ExtractOptions(format="sav", language="fr")))
    ) as packed:
        assert {entry.compress_type for entry in packed.infolist()} == {zipfile.ZIP_DEFLATED}
        packed.extractall(tmp_path)
    frame, meta = pyreadstat.read_sav(str(tmp_path / "interviews.sav"), user_missing=True)
    shown = {n: f for n, f in meta.original_variable_types.items() if not n.startswith("interview.")}
    assert {n: f for n, f in shown.items() if not f.startswith("A")} == {
        "tools_saw_code": "F8.0", "tools_vice": "F8.0", "best_saw": "F8.0", "best_vice": "F8.0", "earned": "F10.2",
        "hired": "F8.0", "paid": "F8.0", "met": "DATETIME20", "opens": "TIME8",
    }  # fmt: skip
    assert meta.original_variable_types["interview.started"] == "DATETIME20"
    assert meta.original_variable_types["interview.release"] == "F8.0"
    first, second = (dict(zip(frame.columns, row, strict=True)) for row in frame.itertuples(index=False))
    assert [first[n] for n in ("trade", "tools_saw_code", "best_saw", "earned", "hired", "paid", "tools_saw")] == [
        "b", 1.0, 2.0, 1250.5, 0.0, 1.0, 'a "b", c',
    ]  # fmt: skip
    assert (first["met"], first["opens"]) == (datetime(2027, 3, 14, 6, 30), time(7, 5))
    assert (second["trade"], second["tools_saw"], second["earned"]) == ("#ref", "", 3.0)
    assert meta.variable_value_labels["trade"] == {
        "b": "Vélo", "p": "Phone", "#na": "not asked", "#dk": "don’t know", "#ref": "refused",
    }  # fmt: skip
    assert not {n for n in meta.variable_value_labels if n.startswith("interview.")}
    assert meta.column_names_to_labels["tools_saw_code"] == "Même: Scie"


def test_names_and_labels_that_the_labelled_format_does_not_take_are_made_to_fit(tmp_path: Path) -> None:
    long, code = "n" * 32, "c" * 40
    codes = CodeList(name="c", codes=[Code(code="-1", label={"en": "L" * 200}), Code(code="2", label={"en": "Two"})])
    sample = script(
        part(1, "multiple answer", long, code_list="f", wording={"en": "W" * 300}),
        part(1, "single answer", "level", code_list="c"),
        part(1, "single answer", "padded", code_list="d"),
        part(1, "multiple answer", "many", code_list="e"),
        lists=(
            codes,
            CodeList(name="f", codes=[Code(code=f"{code}{n}", label={"en": n}) for n in "ab"]),
            CodeList(name="d", codes=[Code(code="01", label={"en": "One"})]),
            CodeList(name="e", codes=[Code(code="é.x", label={"en": "A"}), Code(code="ü.x", label={"en": "B"})]),
        ),
    )
    data = data_of(release_of(sample), [{"level": "-1", "padded": "01", "many": ["ü.x"]}])
    with zipfile.ZipFile(io.BytesIO(written(write_sav_zip, data, ExtractOptions(format="sav")))) as packed:
        packed.extractall(tmp_path)
    frame, meta = pyreadstat.read_sav(str(tmp_path / "interviews.sav"))
    names = [n for n in frame.columns if not n.startswith("interview.")]
    first = f"{long}_{'c' * 27}"
    assert names == [first, f"{first}_2", "level", "padded", "many__.x", "many__.x_2"]
    assert len(meta.column_names_to_labels[first].encode()) == 255 and meta.column_names_to_labels[first][-1] == "…"
    assert meta.variable_value_labels["level"][-1.0] == "L" * 117 + "…"
    assert (frame["level"].tolist(), frame["padded"].tolist()) == ([-1.0], ["01"])
    assert (frame["many__.x"].tolist(), frame["many__.x_2"].tolist()) == ([0.0], [1.0])


def test_a_workbook_names_every_variable_and_code_in_its_codebook() -> None:
    data = data_of(release_of(GOLDEN), GOLDEN_ROWS)
    book = openpyxl.load_workbook(io.BytesIO(written(write_xlsx, data, ExtractOptions(language="fr"))))
    lines = [list(row) for row in book["Codebook"].iter_rows(values_only=True)]
    assert lines[0] == ["Table", "Variable", "Label", "Type", "Code", "Code label"]
    assert [line for line in lines if line[1] in ("trade", "hired", "tools_vice")] == [
        ["interviews", "trade", "Quel métier ?", "code", "b", "Vélo"],
        ["interviews", "trade", "Quel métier ?", "code", "p", "Phone"],
        ["interviews", "tools_vice", "Même: Vice", "yes/no", "", ""],
        ["interviews", "hired", "Figure", "number", "", ""],
    ]
    assert all(cell.font.bold for sheet in book for cell in sheet[1])
    sheet = book["interviews"]
    assert (sheet.freeze_panes, book["Codebook"].freeze_panes) == ("B2", "A2")
    assert sheet.auto_filter.ref == f"A1:R{sheet.max_row}"
    heads = [cell.value for cell in sheet[1]]
    assert sheet.cell(2, heads.index("met") + 1).number_format == "yyyy-mm-dd hh:mm"
    assert sheet.cell(2, heads.index("opens") + 1).number_format == "hh:mm"
