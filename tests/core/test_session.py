"""The window of JSON through which phone and preview use the engine."""

from __future__ import annotations

import json
from typing import Any

import pytest

from skavo.core.interview.session import Session, load_release
from skavo.core.questionnaire.compile import compile_script
from tests.samples import staff_script

OUTSIDE = json.dumps({"now": "2027-03-14T10:00:00+01:00", "enumerator.name": "Ilse Varn"})


@pytest.fixture
def session() -> Session:
    load_release("staff", json.dumps(compile_script(staff_script()).release))
    return Session("staff", json.dumps({"answers": {"consent": True, "workers": 2}}), OUTSIDE)


def read(text: str) -> Any:
    return json.loads(text)


def test_the_way_leads_through_all_screens_and_each_knows_its_neighbours(session: Session) -> None:
    way = read(session.way())
    assert way[:4] == ["consent", "island", "ward", "workers"]
    for place, path in enumerate(way):
        screen = read(session.show(path))
        assert session.remaining(path) == len(way) - place - 1
        assert screen["previous"] == (way[place - 1] if place else None)
        assert screen["next"] == (way[place + 1] if place + 1 < len(way) else None)


def test_a_screen_that_is_not_asked_has_no_place_on_the_way(session: Session) -> None:
    screen = read(session.show("staff/1/hours"))
    assert (screen["previous"], screen["next"], session.remaining("staff/1/hours")) == (None, None, 0)


def test_an_answer_returns_its_screen_as_it_is_then(session: Session) -> None:
    screen = read(session.answer("workers", "41"))
    assert (screen["value"], [f["code"] for f in screen["findings"]]) == (41, ["must_hold"])
    assert read(session.answer("workers", "null"))["value"] is None


def test_what_was_typed_wrongly_is_shown_again_as_typed(session: Session) -> None:
    screen = read(session.answer("workers", '"two"'))
    assert (screen["value"], screen["findings"][0]["message"]) == ("two", "Enter a number.")


def test_a_screen_tells_the_sections_and_rows_around_it(session: Session) -> None:
    around = read(session.show("staff/2/name"))["around"]
    assert [(a["kind"], a.get("row"), a.get("rows")) for a in around] == [("section", None, None), ("roster", 2, 2)]


def test_saved_keeps_what_is_aside_and_packed_leaves_it_out(session: Session) -> None:
    session.answer("staff/2/name", '"Edda"')
    session.answer("workers", "1")
    assert "staff/2/name" in read(session.saved())["answers"]
    assert "staff/2/name" not in read(session.packed())["answers"]


def test_a_session_opened_from_what_was_saved_goes_on_the_same(session: Session) -> None:
    session.answer("staff/1/age", "12")
    session.keep("staff/1/age", 0, "helps after school")
    again = Session("staff", session.saved(), OUTSIDE)
    assert again.findings() == session.findings()
    assert again.overview() == session.overview()
    assert read(again.packed())["kept"] == {"staff/1/age#0": "helps after school"}


def test_speaking_another_language_changes_texts_not_answers(session: Session) -> None:
    before = session.packed()
    session.speak("fr")
    assert read(session.packed())["answers"] == read(before)["answers"]


def test_codes_come_with_their_labels_and_what_excludes_the_others(session: Session) -> None:
    codes = read(session.show("tools"))["codes"]
    assert [(c["code"], c["label"], c["exclusive"]) for c in codes] == [
        ("saw", "Saw", False), ("vice", "Vice", False), ("other", "Other", False), ("none", "None", True),
    ]  # fmt: skip


def test_only_what_changed_since_is_told_to_be_written_down(session: Session) -> None:
    assert read(session.unsaved())["answers"] == {}
    session.answer("island", json.dumps("kesk"))
    session.answer("staff/1/name", json.dumps("Anselm"))
    session.answer("island", "null")
    assert read(session.unsaved())["answers"] == {"island": None, "staff/1/name": "Anselm"}
    assert read(session.unsaved())["answers"] == {}
    session.remove_row("staff/1")
    assert read(session.unsaved())["answers"] == {"staff": {"removed": [1]}, "workers": 1}
