"""The translator's sheet, out and back; read here with another library as well."""

from __future__ import annotations

import io

import openpyxl
import pytest

from skavo.core.errors import SkavoError
from skavo.core.languages.take import take_texts
from skavo.core.languages.texts import texts_of
from skavo.formats.translations import read_translation, write_translation
from tests.workshop import workshop_script


def test_what_goes_out_comes_back_the_same() -> None:
    script = workshop_script()
    back = read_translation("fr.xlsx", write_translation(script, "fr", {}), script, "fr")
    taken = take_texts(script, "fr", back)
    assert (taken.changed, taken.doubtful) == ([], []) and taken.script == script
    assert taken.same + taken.left_empty == len(list(texts_of(script)))


def test_what_a_translator_writes_in_any_order_comes_in() -> None:
    script = workshop_script()
    script.languages.append("sw")
    key = "part/p_greeting/wording"
    outdated = {key: {"sw": "Before."}}
    book = openpyxl.load_workbook(io.BytesIO(write_translation(script, "sw", outdated)))
    sheet = book["Translation"]
    headings = {cell.value: cell.column for cell in sheet[1]}
    assert list(headings) == ["Where", "What it is", "Source [en]", "Translation [sw]", "State", "Key"]
    rows = {sheet.cell(row, headings["Key"]).value: row for row in range(2, sheet.max_row + 1)}
    assert sheet.cell(rows[key], headings["State"]).value == "new"
    sheet.cell(rows[key], headings["Translation [sw]"]).value = "=Karibu"
    sheet.cell(rows["phone/interview.next"], headings["Translation [sw]"]).value = "Mbele"
    sheet.move_range(f"A2:F{sheet.max_row}", rows=3)
    packed = io.BytesIO()
    book.save(packed)
    with pytest.raises(SkavoError):
        read_translation("sw.xlsx", packed.getvalue(), script, "fr")
    brought = read_translation("sw.xlsx", packed.getvalue(), script, "sw")
    taken = take_texts(script, "sw", brought)
    assert [t.after for t in taken.changed] == ["Mbele"] or [t.after for t in taken.changed][-1] == "Mbele"
    assert taken.script.phone_words == {"sw": {"interview.next": "Mbele"}}


def test_the_state_of_a_text_is_told() -> None:
    script = workshop_script()
    outdated = {"part/p_greeting/wording": {"fr": "What it said before."}}
    sheet = openpyxl.load_workbook(io.BytesIO(write_translation(script, "fr", outdated))).active
    assert sheet is not None
    states = {str(row[5].value): row[4].value for row in sheet.iter_rows(min_row=2)}
    assert states["part/p_greeting/wording"] == "the source was: What it said before."
    assert states["part/p_consent/wording"] is None


def test_another_languages_sheet_and_no_sheet_at_all_are_told() -> None:
    script = workshop_script()
    with pytest.raises(SkavoError) as found:
        read_translation("x.xlsx", write_translation(script, "fr", {}), script, "ar")
    assert found.value.code == "no_translation"
    assert found.value.message == (
        "x.xlsx has no column “Translation [ar]”. It has Translation [fr]: choose that language."
    )
    with pytest.raises(SkavoError) as found:
        read_translation("x.csv", b"a,b\n1,2\n", script, "ar")
    assert found.value.message.endswith("Take the sheet out again and fill that one.")
