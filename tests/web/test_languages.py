"""Translations through the HTTP interface: out of date by saving, out to a translator and back, confirmed."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any

import openpyxl

from tests.web.conftest import Desk

DRAFT = "/api/questionnaires/1"
KEY = "part/p_consent/wording"


def save(person: Desk, edit: Callable[[dict[str, Any]], object]) -> dict[str, Any]:
    draft = person.answer("GET", DRAFT)
    edit(draft["script"])
    saved: dict[str, Any] = person.answer(
        "PUT", f"{DRAFT}/script", {"version": draft["version"], "script": draft["script"]}
    )
    return saved


def consent(script: dict[str, Any]) -> dict[str, str]:
    found: dict[str, str] = next(p for p in script["parts"] if p["id"] == "p_consent")["wording"]
    return found


def test_a_source_that_changes_dates_its_translation_until_it_is_confirmed(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    was = consent(person.answer("GET", DRAFT)["script"])["en"]
    saved = save(person, lambda script: consent(script).update(en="May I ask?"))
    assert saved["outdated"] == {KEY: {"fr": was}}
    assert person.answer("GET", DRAFT)["outdated"] == saved["outdated"]
    body = {"language": "fr", "keys": [KEY]}
    assert person.answer("POST", f"{DRAFT}/translation/confirmed", body) == {"outdated": {}}
    assert person.answer("GET", DRAFT)["outdated"] == {}


def test_a_sheet_goes_out_and_comes_back(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    out = person.call("GET", f"{DRAFT}/translation?language=fr")
    assert 'filename="workshop-fr.xlsx"' in out.headers["Content-Disposition"]
    book = openpyxl.load_workbook(io.BytesIO(out.data))
    sheet = book["Translation"]
    row = next(r for r in range(2, sheet.max_row + 1) if sheet.cell(r, 6).value == KEY)
    sheet.cell(row, 4).value = "Puis-je ?"
    packed = io.BytesIO()
    book.save(packed)
    path = f"{DRAFT}/translation?language=fr&name=fr.xlsx"
    found = person.answer("POST", path, packed.getvalue())
    assert [(t["key"], t["after"]) for t in found["changed"]] == [(KEY, "Puis-je ?")]
    assert consent(found["script"])["fr"] == "Puis-je ?"
    assert consent(person.answer("GET", DRAFT)["script"])["fr"] != "Puis-je ?"
    assert person.problem("POST", path, b"a,b\n1,2\n")[:2] == (422, "no_translation")


def test_only_languages_of_the_questionnaire_but_its_first_are_translated_into(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    for language in ("en", "sw"):
        assert person.problem("GET", f"{DRAFT}/translation?language={language}")[0] == 404
        path = f"{DRAFT}/translation?language={language}&name=x.xlsx"
        assert person.problem("POST", path, b"x")[0] == 404


def test_the_phones_words_are_told_in_the_languages_it_speaks(desk: Callable[[str], Desk]) -> None:
    words = {word["key"]: word["texts"] for word in desk("data_manager").answer("GET", "/api/phone-words")}
    assert set(words["interview.next"]) == set(words["engine.needed"]) == {"en", "fr", "ar"}
