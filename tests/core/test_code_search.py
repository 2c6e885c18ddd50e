"""Long lists on a small screen: a few codes are shown, the others are found by any part of a word."""

from __future__ import annotations

import json
from datetime import UTC, datetime

import pytest

from skavo.core.interview.code_search import FIRST_SHOWN, MOST_AT_A_GLANCE, MOST_FOUND, folded
from skavo.core.interview.engine import Engine
from skavo.core.interview.session import Session, load_release
from skavo.core.interview.view import show_step
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList, Script
from tests.samples import code_list, part, release_of, script

NAMES = ["Élan Street", "Old Élan Lane", "Quai de l’Œuvre", "Sønder Row", "شَارِع البحر", "Melange", "Lund Hill 7"]


def streets(count: int = 500) -> CodeList:
    codes = [Code(code=f"s{n}", label={"en": f"Plain {n}"}, attributes={"ward": "k1"}) for n in range(count)]
    named = [
        Code(code=f"n{n}", label={"en": name, "fr": f"Rue {n}"}, attributes={"ward": "l1"})
        for n, name in enumerate(NAMES)
    ]
    return CodeList(name="street", codes=[*codes, *named])


def long_script(**more: object) -> Script:
    return script(
        part(1, "single answer", "ward", code_list="ward"),
        part(1, "single answer", "street", code_list="street", **more),
        part(1, "multiple answer", "also", code_list="street"),
        part(1, "ranking", "ranked", code_list="street"),
        lists=(code_list("ward", "k1", "l1"), streets()),
        languages=("en", "fr"),
    )


def engine(sample: Script, answers: dict[str, object]) -> Engine:
    return Engine(release_of(sample), {"now": datetime(2027, 3, 14, tzinfo=UTC)}, answers)


@pytest.fixture
def session() -> Session:
    compiled = compile_script(long_script()).release
    load_release("long", json.dumps(compiled))
    return Session("long", json.dumps({"answers": {}, "kept": {}}), json.dumps({"now": "2027-03-14T10:00:00+00:00"}))


def found(session: Session, typed: str, path: str = "street") -> list[str]:
    return [c["label"] for c in json.loads(session.find_codes(path, typed))["codes"]]


def test_any_part_of_a_word_without_accents_finds_it(session: Session) -> None:
    assert found(session, "elan") == ["Élan Street", "Old Élan Lane", "Melange"]
    assert found(session, "LANE old") == ["Old Élan Lane"]
    assert found(session, "oeuvre") == ["Quai de l’Œuvre"]
    assert found(session, "l'oe") == ["Quai de l’Œuvre"]
    assert found(session, "sonder") == ["Sønder Row"]
    assert found(session, "شارع") == ["شَارِع البحر"]
    assert found(session, "n6") == ["Lund Hill 7"]
    assert found(session, "  ") == [] and found(session, "zzz") == []


def test_more_than_fit_are_counted(session: Session) -> None:
    told = json.loads(session.find_codes("street", "plain"))
    assert len(told["codes"]) == MOST_FOUND and told["more"] == 500 - MOST_FOUND


def test_labels_are_looked_through_in_the_language_of_the_interview(session: Session) -> None:
    session.speak("fr")
    assert found(session, "rue 3") == ["Rue 3"]
    assert found(session, "elan") == []


def test_only_codes_that_are_offered_are_found() -> None:
    running = engine(long_script(code_filter="street.ward is ward"), {"ward": "l1"})
    shown = show_step(running, "street")
    assert [c["code"] for c in shown["codes"]] == [f"n{n}" for n in range(len(NAMES))] and shown["codes_left"] == 0


def test_a_screen_shows_what_is_chosen_and_the_first_ones(session: Session) -> None:
    session.answer("also", json.dumps(["n2", "s400"]))
    shown = json.loads(session.show("also"))
    assert [c["code"] for c in shown["codes"]][:3] == ["s400", "n2", "s0"]
    assert len(shown["codes"]) == FIRST_SHOWN and shown["codes_left"] == 507 - FIRST_SHOWN
    everything = [f"s{n}" for n in range(60)]
    session.answer("also", json.dumps(everything))
    assert [c["code"] for c in json.loads(session.show("also"))["codes"]] == everything


def test_short_lists_and_rankings_are_shown_whole(session: Session) -> None:
    assert json.loads(session.show("ward"))["codes_left"] == 0
    assert len(json.loads(session.show("ranked"))["codes"]) == 507
    assert MOST_AT_A_GLANCE < 507


def filtered(rule: str, answers: dict[str, object]) -> tuple[bool, list[str]]:
    running: Engine = engine(long_script(code_filter=rule), answers)
    index = running.release.by_name["street"]
    spec = running.release.parts[index]
    return spec.codes_under is not None, [c["code"] for c in running.offered_codes(spec, ())][-3:]


@pytest.mark.parametrize("rule", ["street.ward is ward", "ward is street.ward"])
def test_a_filter_by_one_attribute_tries_no_code_and_says_the_same(rule: str) -> None:
    for answers in ({"ward": "l1"}, {"ward": "k1"}, {}):
        looked_up, codes = filtered(rule, answers)
        assert looked_up
        assert (False, codes) == filtered(f"{rule} and 1 > 0", answers)


def test_other_filters_try_every_code() -> None:
    assert filtered("street.ward is not ward", {"ward": "l1"}) == (False, ["s497", "s498", "s499"])
    assert filtered('street.code is "s7"', {}) == (False, ["s7"])


def test_folding() -> None:
    assert folded("  Straße  ÆON ") == "strasse aeon"
    assert folded("Ýmir’s Ⅳ") == "ymir's iv"
