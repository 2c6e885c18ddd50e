"""Cells of a spreadsheet as lines: with headings, without, broken."""

from __future__ import annotations

from skavo.formats.workbook.cells import read_cells


def test_one_column_is_wordings() -> None:
    read = read_cells([["How old are you?"], ["Do you work?"]], ["en"])
    assert read.headings == ["Wording [en]"] and not read.heads and read.kindless == {0, 1}
    assert [p.wording["en"] for p in read.parts] == ["How old are you?", "Do you work?"]


def test_columns_are_found_out_from_what_they_hold() -> None:
    rows = [["age", "whole number", "How old?", "Quel âge ?"], ["job", "text", "Which job?", "Quel métier ?"]]
    read = read_cells(rows, ["en", "fr"])
    assert read.kindless == frozenset()
    assert read.headings == ["Variable", "Kind", "Wording [en]", "Wording [fr]"]
    assert [(p.variable, p.kind, p.wording) for p in read.parts] == [
        ("age", "whole number", {"en": "How old?", "fr": "Quel âge ?"}),
        ("job", "text", {"en": "Which job?", "fr": "Quel métier ?"}),
    ]


def test_headings_of_the_workbook_are_known_wherever_they_stand() -> None:
    rows = [["Wording", "Must hold", "Variable", "Colour"], ["How old?", "age > 3", "age", "red"]]
    read = read_cells(rows, ["fr", "en"])
    assert read.heads and read.headings == ["Wording [fr]", "Must hold", "Variable", ""]
    assert [(p.variable, p.wording, p.must_hold[0].rule) for p in read.parts] == [
        ("age", {"fr": "How old?"}, "age > 3")
    ]
    assert read.faults == []


def test_columns_may_be_named_by_hand() -> None:
    read = read_cells([["a", "b"], ["c", "d"]], ["en"], ["", "Wording [en]"])
    assert [(p.variable, p.wording["en"]) for p in read.parts] == [("", "b"), ("", "d")]


def test_a_fault_is_told_with_the_row_and_column_of_what_was_pasted() -> None:
    read = read_cells([["Variable", "Level"], ["a", "1"], ["b", "many"]], ["en"])
    assert [(f.row, f.column, f.code) for f in read.faults] == [(3, 2, "not_whole")]
    read = read_cells([["a", "1"], ["b", "many"]], ["en"], ["Variable", "Level"])
    assert [(f.row, f.column) for f in read.faults] == [(2, 2)]


def test_rows_of_uneven_length_and_empty_ones() -> None:
    read = read_cells([["x", "How old are they?", ""], ["", "", ""], ["y"]], ["en"])
    assert [(p.variable, p.wording.get("en")) for p in read.parts] == [("x", "How old are they?"), ("y", None)]


def test_the_sign_that_guards_against_formulas_is_taken_away() -> None:
    assert read_cells([["'=1+1", "x"], ["'tis", "y"]], ["en"], ["Wording [en]", ""]).parts[0].wording["en"] == "=1+1"
    assert read_cells([["'tis", "y"]], ["en"], ["Wording [en]", ""]).parts[0].wording["en"] == "'tis"
