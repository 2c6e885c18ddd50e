"""Texts by key: listed, set, held against their source, out of date, brought back."""

from __future__ import annotations

import pytest
from hypothesis import given, settings

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.interview.view import all_findings, overview
from skavo.core.languages.outdated import confirm, follow
from skavo.core.languages.take import Brought, take_texts
from skavo.core.languages.texts import phone_words, texts_of, with_texts
from skavo.core.languages.values import compare_values
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList, Script, ScriptCheck, UnitList, UnitOfMeasure
from tests.formats.test_workbook import _scripts
from tests.samples import part, script
from tests.workshop import workshop_script


def sample(tag: str = "fr") -> Script:
    made = script(
        part(1, "section", "people", wording={"en": "People", tag: "Gens"}),
        part(2, "text", "name", wording={"en": "Name"}),
        part(
            2, "whole number", "age", wording={"en": "How old is {name}?", tag: "Quel âge a {name} ?"},
            must=[ScriptCheck(rule="age > 3", message={"en": "Too young.", tag: "Trop jeune."})],
        ),
        part(2, "yes/no", "ok", wording={"en": "Right?", tag: "Juste ?"}, answer_needed="yes"),
        lists=(CodeList(name="trade", codes=[Code(code="a-b", label={"en": "A", tag: "Ah"})]),),
        languages=("en", tag),
    )  # fmt: skip
    made.unit_lists = [UnitList(name="sacks", units=[UnitOfMeasure(unit="sack", label={"en": "Sack", tag: "Sac"})])]
    return made


def test_every_text_has_a_key_and_a_place() -> None:
    found = {text.key: (text.place, text.field, text.texts.get("fr")) for text in texts_of(sample())}
    assert found == {
        "title": ("the questionnaire", "title", None),
        "part/id_people/wording": ("people", "wording", "Gens"),
        "part/id_age/wording": ("age", "wording", "Quel âge a {name} ?"),
        "part/id_age/must_hold.0.message": ("age", "message", "Trop jeune."),
        "part/id_name/wording": ("name", "wording", None),
        "part/id_ok/wording": ("ok", "wording", "Juste ?"),
        "code/trade/a-b": ("list trade", "a-b", "Ah"),
        "unit/sacks/sack": ("units sacks", "sack", "Sac"),
    }


@settings(max_examples=30, deadline=None)
@given(_scripts())
def test_what_is_set_is_what_is_listed(any_script: Script) -> None:
    any_script.languages = ["en", "sw"]
    changes = {text.key: {"sw": f"<{text.key}>"} for text in texts_of(any_script)}
    after = with_texts(any_script, changes)
    assert {text.key: text.texts["sw"] for text in texts_of(after)} == {
        key: said["sw"] for key, said in changes.items()
    }


def test_what_a_draft_has_twice_is_said_alike() -> None:
    twice = sample()
    twice.unit_lists[0].units.append(UnitOfMeasure(unit="sack", label={"en": "Sack"}))
    after = with_texts(twice, {"unit/sacks/sack": {"fr": "Sacs"}})
    assert [unit.label["fr"] for unit in after.unit_lists[0].units] == ["Sacs", "Sacs"]


def test_the_phones_words_are_there_for_languages_that_it_does_not_speak() -> None:
    assert not [text for text in texts_of(sample("fr")) if text.key.startswith("phone/")]
    words = {text.key: text.texts for text in texts_of(sample("sw")) if text.key.startswith("phone/")}
    assert words["phone/interview.next"] == {"en": "Next", "fr": "Suivant", "ar": "التالي", "sw": ""}
    assert words["phone/engine.needed"]["en"] == "An answer is needed here."
    assert set(phone_words()) == {key.removeprefix("phone/") for key in words}


def test_a_questionnaire_brings_the_words_of_a_language_of_its_own() -> None:
    said = {
        "engine.needed": "Jibu linahitajika.",
        "interview.yes": "Ndiyo",
        "engine.too_long": "{x} {0}",
        "interview.no": " ",
    }
    after = with_texts(sample("sw"), {f"phone/{key}": {"sw": text, "xx": "never"} for key, text in said.items()})
    release = compile_script(after).release
    assert release is not None
    assert release["words"] == {"sw": {key: text for key, text in said.items() if text.strip()}}
    running = Engine(Release(release), answers={"ok": True}, language="sw")
    assert next(line["answer"] for line in overview(running) if line["variable"] == "ok") == "Ndiyo"
    running.answer("ok", None)
    assert [f["message"] for f in all_findings(running) if f["code"] == "needed"] == ["Jibu linahitajika."]
    running.set_language("en")
    assert [f["message"] for f in all_findings(running) if f["code"] == "needed"] == ["An answer is needed here."]
    assert "words" not in (compile_script(sample("sw")).release or {})


def test_braces_of_a_translator_that_name_nothing_do_no_harm() -> None:
    limited = sample("sw")
    limited.parts[1].most = 2
    limited.phone_words = {"sw": {"engine.too_long": "Zaidi ya {x}"}}
    release = compile_script(limited).release
    running = Engine(Release(release or {}), answers={"name": "Sela"}, language="sw")
    assert [f["message"] for f in all_findings(running) if f["code"] == "too_long"] == ["At most 2 characters."]


@pytest.mark.parametrize(
    ("source", "translation", "lost", "added"),
    [
        ("{a} and {b}", "{b} et { a }", [], []),
        ("{a} and {a}", "{a}", ["a"], []),
        ("{sum(x.y)  / 2}", "{sum(x.y) / 2} {c}", [], ["c"]),
        ("{a}", "", [], []),
        ("", "{a}", [], []),
    ],
)
def test_values_are_held_against_each_other(source: str, translation: str, lost: list[str], added: list[str]) -> None:
    values = compare_values(source, translation)
    assert (values.lost, values.added) == (lost, added)


def test_a_translation_without_one_of_its_values_is_doubted_at_its_place() -> None:
    wrong = sample()
    wrong.parts[2].wording["fr"] = "Quel âge a {row} ?"
    wrong.parts[2].must_hold[0].message["fr"] = "Trop jeune, {name}."
    found = [(f.field, f.message) for f in compile_script(wrong).findings if f.code == "value_lost"]
    assert found == [
        ("wording.fr", "The text in fr lacks {name}."),
        ("wording.fr", "The text in fr has, and the source lacks, {row}."),
        ("must_hold.0.message.fr", "The text in fr has, and the source lacks, {name}."),
    ]
    assert not [f for f in compile_script(workshop_script()).findings if f.code == "value_lost"]


WORDING = "part/id_people/wording"


def said(made: Script, **texts: str) -> Script:
    return with_texts(made, {WORDING: texts})


def test_a_translation_is_out_of_date_until_somebody_sees_to_it() -> None:
    first = sample()
    second = said(first, en="Persons")
    stale = follow(first, second, {})
    assert stale == {WORDING: {"fr": "People"}}
    third = said(second, en="Everybody")
    assert follow(second, third, stale) == {WORDING: {"fr": "People"}}
    assert follow(third, said(third, en="People"), stale) == {}
    assert follow(third, said(third, fr="Tout le monde"), stale) == {}
    assert follow(third, said(third, fr=""), stale) == {}
    assert follow(third, third, stale) == stale
    assert confirm(stale, "fr", [WORDING]) == {} and confirm(stale, "sw", [WORDING]) == stale
    assert confirm(stale, "fr", ["title"]) == stale


def test_a_source_that_is_written_for_the_first_time_dates_nothing() -> None:
    assert follow(said(sample(), en=""), sample(), {}) == {}
    assert follow(sample(), said(sample(), en="Persons", fr="Personnes"), {}) == {}


def test_another_first_language_begins_anew() -> None:
    turned = sample()
    turned.languages = ["fr", "en"]
    assert follow(sample(), turned, {WORDING: {"fr": "People"}}) == {}
    assert follow(turned, said(turned, fr="Les gens"), {}) == {WORDING: {"en": "Gens"}}


def test_texts_come_back_with_what_is_wrong_with_them() -> None:
    brought = [
        Brought(2, WORDING, "People", "Personnes"),
        Brought(3, "part/id_age/wording", "How old is {name}?", "Quel âge ?"),
        Brought(4, "part/id_name/wording", "Their name", "Nom"),
        Brought(5, "part/gone/wording", "Gone", "Parti"),
        Brought(6, "part/id_ok/wording", "Right?", " Juste ? "),
        Brought(7, "code/trade/a-b", "A", ""),
    ]
    taken = take_texts(sample(), "fr", brought)
    assert [(t.row, t.before, t.after) for t in taken.changed] == [(2, "Gens", "Personnes")]
    assert [(t.row, t.trouble, t.words) for t in taken.doubtful] == [
        (3, "value lost", "It lacks {name}."),
        (4, "source changed", "It was translated from “Their name”; the source is another one now."),
        (5, "no such text", "This text is not in the questionnaire any more; it is left out."),
    ]
    assert (taken.same, taken.left_empty) == (1, 1)
    after = {text.key: text.texts.get("fr") for text in texts_of(taken.script)}
    assert after[WORDING] == "Personnes" and after["part/id_name/wording"] == "Nom" and after["code/trade/a-b"] == "Ah"
    assert sample().parts[0].wording["fr"] == "Gens"
