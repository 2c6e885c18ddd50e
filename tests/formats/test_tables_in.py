"""Tables from elsewhere: every usual format, awkward and broken files, read whole or not at all."""

from __future__ import annotations

import csv
import io
import json
from datetime import date
from itertools import product
from pathlib import Path
from typing import Any

import pandas as pd
import polars as pl
import pyreadstat
import pytest
import xlsxwriter
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from skavo.core.combining.outside import recognised
from skavo.core.errors import DataError
from skavo.formats.tables_in import read_table_in
from skavo.formats.tables_in.told import FileReading, TableIn


def read(folder: Path, name: str, content: bytes, reading: FileReading | None = None) -> TableIn:
    path = folder / "sent"
    path.write_bytes(content)
    return read_table_in(name, path, reading)


def fault(folder: Path, name: str, content: bytes, reading: FileReading | None = None) -> tuple[str, str]:
    with pytest.raises(DataError) as raised:
        read(folder, name, content, reading)
    return raised.value.code, raised.value.message


def rows(table: TableIn) -> list[tuple[Any, ...]]:
    return table.frame.rows()


def test_encoding_delimiter_and_heading_are_found(tmp_path: Path) -> None:
    text = "Prix des réparations;;\n\nîle;métier;prix\nKesk;Vélo;1 234,50\nLuma;Cœur;7,25\n"
    found = read(tmp_path, "prix.csv", text.encode("cp1252"))
    assert (found.reading.encoding, found.reading.delimiter, found.reading.heading) == ("cp1252", ";", 3)
    assert rows(found) == [("Kesk", "Vélo", "1 234,50"), ("Luma", "Cœur", "7,25")]
    assert recognised(found.frame)[2].decimal == ","


@pytest.mark.parametrize(
    ("encoding", "ends"),
    [*product(["utf-8", "utf-8-sig", "cp1252"], ["\n", "\r\n", "\r"]), ("utf-16", "\n"), ("utf-16", "\r\n")],
)
def test_the_same_table_in_every_dress(tmp_path: Path, encoding: str, ends: str) -> None:
    text = ends.join(["nom,où", '"Élan, fils","a ""b"""', "x,y", ""])
    found = read(tmp_path, "t.csv", text.encode(encoding))
    assert found.frame.columns == ["nom", "où"]
    assert rows(found) == [("Élan, fils", 'a "b"'), ("x", "y")]


def test_letters_that_come_late_tell_the_encoding_too(tmp_path: Path) -> None:
    """The beginning of the file is plain, and would be UTF-8."""
    text = "code,nom\n" + "".join(f"{n},plain\n" for n in range(60_000)) + "60000,Élan d’été\n60001,Garçon\n"
    found = read(tmp_path, "t.csv", text.encode("cp1252"))
    assert found.reading.encoding == "cp1252"
    assert rows(found)[-2:] == [("60000", "Élan d’été"), ("60001", "Garçon")]
    assert read(tmp_path, "t.csv", text.encode()).reading.encoding == "utf-8"


def test_what_was_found_can_be_said_otherwise(tmp_path: Path) -> None:
    content = b"a;b\n1;2\n3;4\n"
    assert rows(read(tmp_path, "t.csv", content, FileReading(delimiter=","))) == [("1;2",), ("3;4",)]
    assert rows(read(tmp_path, "t.csv", content, FileReading(heading=0))) == [("a", "b"), ("1", "2"), ("3", "4")]
    assert read(tmp_path, "t.csv", content, FileReading(heading=2)).frame.columns == ["1", "2"]


def test_a_broken_text_is_told_with_its_place(tmp_path: Path) -> None:
    assert fault(tmp_path, "x.csv", b"a,b\n1,2\n1,2,3\n")[1].startswith("Row 3 of x.csv has 3 cells")
    assert "Line 3" in fault(tmp_path, "x.csv", b'a,b\n1,2\n3,"4\n')[1]
    assert fault(tmp_path, "x.csv", b"")[0] == fault(tmp_path, "x.csv", b"\n\n")[0] == "empty_file"
    assert fault(tmp_path, "x.csv", b"a\xff\n", FileReading(encoding="utf-8"))[1].startswith("Line 1 of x.csv")
    assert fault(tmp_path, "x.csv", b"a\n", FileReading(encoding="klingon"))[0] == "wrong_encoding"
    assert fault(tmp_path, "x.csv", b"a\n", FileReading(encoding="zip"))[0] == "wrong_encoding"
    assert fault(tmp_path, "x.csv", b"a\0b\n")[0] == "not_a_table"


def test_headings_that_are_missing_or_stand_twice_are_named_and_told(tmp_path: Path) -> None:
    found = read(tmp_path, "t.csv", b"fee,fee,\n1,2,3\n")
    assert found.frame.columns == ["fee", "fee (2)", "column 3"]
    assert len(found.told) == 2


# RFC 4180, section 2: records, an optional heading, fields in quotes, a quote doubled inside of them.
@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(
    st.lists(
        st.lists(st.text(st.characters(exclude_characters="\0\r", exclude_categories=("Cs", "Cc", "Zs", "Zl", "Zp")) | st.sampled_from('",\n'), max_size=6),
                 min_size=2, max_size=2),
        min_size=1, max_size=5,
    )
)  # fmt: skip
def test_what_a_writer_of_rfc_4180_writes_is_read_back(tmp_path: Path, cells: list[list[str]]) -> None:
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows([["a", "b"], *cells])
    found = read(tmp_path, "t.csv", out.getvalue().encode(), FileReading(encoding="utf-8", delimiter=",", heading=1))
    expected = [tuple(cell.strip() or None for cell in row) for row in cells]
    assert rows(found) == [row for row in expected if any(row)]


def test_a_sheet_is_chosen_its_titles_passed_over_and_merged_cells_told(tmp_path: Path) -> None:
    path = tmp_path / "w.xlsx"
    book = xlsxwriter.Workbook(str(path))
    first, second = book.add_worksheet("first"), book.add_worksheet("more")
    first.merge_range("A1:C1", "A title")
    first.write_row(1, 0, ["isle", "fee", "when"])
    first.write_row(2, 0, ["Kesk", 2.5])
    first.write_datetime(2, 2, pd.Timestamp("2026-01-31"), book.add_format({"num_format": "yyyy-mm-dd"}))
    second.write_row(0, 0, ["x"])
    second.write_row(1, 0, [7])
    book.close()
    found = read_table_in("w.xlsx", path)
    assert (found.sheets, found.reading.sheet, found.reading.heading) == (["first", "more"], "first", 2)
    assert rows(found) == [("Kesk", "2.5", "2026-01-31")]
    assert "A1:C1" in found.told[0]
    assert rows(read_table_in("w.xlsx", path, FileReading(sheet="more", heading=1))) == [("7",)]
    with pytest.raises(DataError, match="no sheet “gone”"):
        read_table_in("w.xlsx", path, FileReading(sheet="gone"))


def test_labels_and_kinds_of_nothing_of_a_labelled_file_survive(tmp_path: Path) -> None:
    data = pd.DataFrame({"a": [1, 2, 99.0], "s": ["x", "", "z"], "d": [date(2026, 1, 2)] * 3, "n": [1.5, 2, 3]})
    labels = {"column_labels": ["How many", "Say", "Day", "Number"]}
    pyreadstat.write_sav(
        data, str(tmp_path / "s.sav"), **labels, variable_value_labels={"a": {1: "one", 99: "Refused"}},
        missing_ranges={"a": [99]},
    )  # fmt: skip
    found = read_table_in("s.sav", tmp_path / "s.sav")
    assert found.known["a"].model_dump(exclude_defaults=True) == {
        "name": "a", "label": "How many", "read_as": "code", "codes": {"1": "one"}, "missing": {"99": "refused"},
    }  # fmt: skip
    assert [found.known[name].read_as for name in "sdn"] == ["text", "date", "number"]
    assert rows(found)[0] == ("1", "x", "2026-01-02", "1.5") and rows(found)[1][1] is None
    pyreadstat.write_dta(data, str(tmp_path / "s.dta"), **labels, variable_value_labels={"a": {1: "one", 2: "two"}})
    again = read_table_in("s.dta", tmp_path / "s.dta")
    assert again.kind == "dta" and again.known["a"].codes == {"1": "one", "2": "two"}
    assert rows(again) == rows(found)


def test_parquet_and_json_lines_keep_what_they_type(tmp_path: Path) -> None:
    frame = pl.DataFrame(
        {"n": [1.0, 2.5, None], "d": [date(2026, 1, 2)] * 3, "z": [True, False, None], "t": ["007", "a", ""]}
    )
    frame.write_parquet(tmp_path / "p.parquet")
    found = read_table_in("p.parquet", tmp_path / "p.parquet")
    assert rows(found)[:2] == [("1", "2026-01-02", "yes", "007"), ("2.5", "2026-01-02", "no", "a")]
    assert [c.read_as for c in recognised(found.frame, found.known)] == ["number", "date", "yes/no", "text"]
    lines = "\n".join(json.dumps(row) for row in ({"a": 1, "b": "x"}, {"a": 2, "c": [1]}))
    found = read(tmp_path, "t.jsonl", lines.encode())
    assert rows(found) == [("1", "x", None), ("2", None, "[1]")] and "more than one value" in found.told[0]
    assert fault(tmp_path, "t.jsonl", b'{"a": 1}\n{oops\n')[1].startswith("Line 2 of t.jsonl is no JSON")


@pytest.mark.parametrize(
    ("name", "content"),
    [
        ("b.xlsx", b"PK\x03\x04nonsense"), ("b.sav", b"$FL2nonsense"), ("b.dta", b"<stata_dta>nonsense"),
        ("b.parquet", b"PAR1nonsense"), ("b.csv", bytes(range(256)) * 4),
    ],
)  # fmt: skip
def test_a_damaged_file_of_any_kind_is_a_fault_of_the_file(tmp_path: Path, name: str, content: bytes) -> None:
    assert fault(tmp_path, name, content)[0] in {"not_a_workbook", "not_a_table", "wrong_encoding", "broken_csv"}
