"""A page that is a whole section: what stands on it together, as far as it is asked."""

from __future__ import annotations

import json

import pytest

from skavo.core.interview.session import Session, load_release
from skavo.core.questionnaire.compile import compile_script
from tests.samples import code_list, part, script


@pytest.fixture
def session() -> Session:
    sample = script(
        part(1, "whole number", "first"),
        part(1, "section", "people"),
        part(2, "whole number", "many"),
        part(2, "text", "why", asked_when="many > 3"),
        part(2, "roster", "person", repeated="many times"),
        part(3, "text", "name"),
        part(3, "grid", "views", code_list="scale"),
        part(4, "single answer", "fair"),
        part(4, "single answer", "kind"),
        part(2, "text", "said"),
        part(1, "text", "end"),
        lists=(code_list("scale", "yes_way", "no_way"),),
    )
    load_release("page", json.dumps(compile_script(sample).release))
    outside = json.dumps({"now": "2027-03-14T10:00:00+00:00"})
    return Session("page", json.dumps({"answers": {"many": 2}, "kept": {}}), outside)


def paths(session: Session, path: str) -> list[str]:
    return [line["path"] for line in json.loads(session.page(path))]


def test_it_holds_its_section_and_neither_a_roster_within_nor_what_comes_behind_that(session: Session) -> None:
    assert paths(session, "first") == ["first"]
    assert paths(session, "many") == ["many"]
    assert paths(session, "said") == ["said"]
    assert paths(session, "end") == ["end"]


def test_it_grows_with_what_is_asked(session: Session) -> None:
    session.answer("many", "4")
    assert paths(session, "many") == paths(session, "why") == ["many", "why"]
    session.answer("many", "2")
    assert paths(session, "why") == ["why"]


def test_each_row_of_a_roster_is_a_page_with_its_grid(session: Session) -> None:
    assert paths(session, "person/2/kind") == ["person/2/name", "person/2/fair", "person/2/kind"]
    assert paths(session, "person/1/name")[0] == "person/1/name"


def test_one_leads_to_the_next(session: Session) -> None:
    last = json.loads(session.page("person/2/name"))[-1]
    assert (last["next"], json.loads(session.page("person/2/name"))[0]["previous"]) == ("said", "person/1/kind")


def test_what_was_answered_just_before_is_told(session: Session) -> None:
    session.answer("person/1/name", '"Anselm"')
    before = json.loads(session.show("person/1/fair"))["before"]
    assert (before["path"], before["answer"]) == ("person/1/name", "Anselm")
    assert json.loads(session.show("person/1/kind"))["before"] is None
    assert json.loads(session.show("first"))["before"] is None
