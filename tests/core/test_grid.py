"""A grid where there is room for one: all its lines at once."""

from __future__ import annotations

import json

import pytest

from skavo.core.interview.session import Session, load_release
from skavo.core.questionnaire.compile import compile_script
from tests.samples import code_list, part, script


@pytest.fixture
def session() -> Session:
    sample = script(
        part(1, "whole number", "people"),
        part(1, "roster", "person", repeated="people times"),
        part(2, "grid", "views", code_list="scale"),
        part(3, "single answer", "fair", asked_when="people > 0"),
        part(3, "multiple answer", "open", asked_when="fair is no_way"),
        part(3, "single answer", "kind"),
        part(1, "text", "end"),
        lists=(code_list("scale", "yes_way", "no_way"),),
    )
    load_release("grid", json.dumps(compile_script(sample).release))
    outside = json.dumps({"now": "2027-03-14T10:00:00+00:00"})
    return Session("grid", json.dumps({"answers": {"people": 2}, "kept": {}}), outside)


def lines(session: Session, path: str) -> list[str]:
    return [line["path"] for line in json.loads(session.grid(path))]


def test_its_lines_are_those_asked_in_the_same_row(session: Session) -> None:
    assert lines(session, "person/2/kind") == ["person/2/fair", "person/2/kind"]
    session.answer("person/2/fair", '"no_way"')
    assert lines(session, "person/2/fair") == ["person/2/fair", "person/2/open", "person/2/kind"]
    assert lines(session, "person/1/fair") == ["person/1/fair", "person/1/kind"]


def test_each_line_is_a_whole_screen(session: Session) -> None:
    first, second = json.loads(session.grid("person/1/fair"))
    assert (first["previous"], first["next"]) == ("people", "person/1/kind")
    assert [code["code"] for code in second["codes"]] == ["yes_way", "no_way"]
    assert first["around"][-1]["kind"] == "grid"


def test_a_question_outside_has_none(session: Session) -> None:
    assert lines(session, "people") == lines(session, "end") == []
