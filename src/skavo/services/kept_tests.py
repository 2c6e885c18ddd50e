"""Test interviews kept with a questionnaire, found by the proof or written by hand: answered again in every draft."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.interview.release import Release
from skavo.core.rehearsal.replay import Replayed, replay, written_test
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.made_up import OpenedInterview
from skavo.services.refusals import Refused, not_found
from skavo.store.knowing import compiled_script
from skavo.store.models import Questionnaire

MOST_TESTS = 500


class TestIn(BaseModel):
    """An interview as it stands on the phone pane. `replaces` lets it take the place of a test of the same name."""

    __test__ = False  # not a test of pytest
    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=120)
    answers: dict[str, Any]
    language: str
    now: datetime
    started: datetime
    earlier: dict[str, Any] = {}
    replaces: bool = False


class TestOut(BaseModel):
    """`by` is who wrote it, "" for the proof; `changed` says what comes out otherwise than when it was kept, None where
    nothing does or the draft has errors."""

    __test__ = False

    name: str
    by: str
    answers: int
    visits: list[str]
    changed: Replayed | None


class TestsOut(BaseModel):
    """`ran` is False while the draft has errors: then no test can be answered again."""

    __test__ = False

    ran: bool
    tests: list[TestOut]


def show_tests(desk: Desk, questionnaire_id: int) -> TestsOut:
    """All of them, answered again in the draft as it is kept; those written by hand first."""
    questionnaire, release = _compiled(desk, questionnaire_id)
    return _told(questionnaire, release)


def _compiled(desk: Desk, questionnaire_id: int) -> tuple[Questionnaire, Release | None]:
    """The draft as it is kept, and compiled; None while it has errors."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        compiled = compiled_script(session, questionnaire)
    return questionnaire, Release(compiled) if compiled is not None else None


def _read(desk: Desk, questionnaire_id: int) -> Questionnaire:
    with desk.store.reading() as session:
        return the_questionnaire(session, questionnaire_id)


def _told(questionnaire: Questionnaire, release: Release | None) -> TestsOut:
    tests = questionnaire.tests
    again: list[Replayed | None] = [*replay(release, tests)] if release is not None else [None] * len(tests)
    told = [
        TestOut(
            name=test["name"], by=test.get("by", ""), answers=len(test["answers"]), visits=test["visits"],
            changed=None if found is None or found.is_unchanged else found,
        )
        for test, found in zip(tests, again, strict=True)
    ]  # fmt: skip
    return TestsOut(ran=release is not None, tests=told)


def keep_test(desk: Desk, questionnaire_id: int, wanted: TestIn) -> TestsOut:
    """Keep an interview as a test, with what the draft makes of it now; a name stands for one test."""
    name = wanted.name.strip()
    if not name:
        raise Refused("wrong_name", "Give the test a name that says what it tries.")
    test = written_test(
        _running(desk, questionnaire_id), name, wanted.answers, wanted.language, _with_offset(wanted.now),
        _with_offset(wanted.started), wanted.earlier,
    )  # fmt: skip
    with desk.store.session() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        known = [test for test in questionnaire.tests if test["name"] == name]
        if known and not (wanted.replaces and known[0].get("by")):
            raise Refused("name_taken", f"There is a test called “{name}” already. Choose another name, or replace it.")
        others = [test for test in questionnaire.tests if test["name"] != name]
        if len(others) >= MOST_TESTS:
            raise Refused("too_many", f"More than {MOST_TESTS} tests are not kept. Remove some that try the same.")
        by_hand = [*(t for t in others if t.get("by")), {**test, "by": desk.name}]
        questionnaire.tests = [*by_hand, *(t for t in others if not t.get("by"))]
    return show_tests(desk, questionnaire_id)


def _with_offset(moment: datetime) -> datetime:
    return moment if moment.tzinfo is not None else moment.replace(tzinfo=UTC)


def accept_test(desk: Desk, questionnaire_id: int, name: str) -> TestsOut:
    """Take what the draft makes of a test now as what is meant."""
    seen = _read(desk, questionnaire_id)
    test = _the_test(seen, name)
    again = written_test(
        _running(desk, questionnaire_id), name, test["answers"], test.get("language", ""), datetime.fromisoformat(test["now"]),
        datetime.fromisoformat(test["started"]), test["earlier"],
    )  # fmt: skip
    with desk.store.session() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        present = _the_test(questionnaire, name)
        kept = {**present, "outcome": again["outcome"], "answers": again["answers"]}
        questionnaire.tests = [kept if t is present else t for t in questionnaire.tests]
    return show_tests(desk, questionnaire_id)


def remove_test(desk: Desk, questionnaire_id: int, name: str) -> TestsOut:
    with desk.store.session() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        gone = _the_test(questionnaire, name)
        questionnaire.tests = [test for test in questionnaire.tests if test is not gone]
    return show_tests(desk, questionnaire_id)


def open_test(desk: Desk, questionnaire_id: int, name: str) -> OpenedInterview:
    test = _the_test(_read(desk, questionnaire_id), name)
    outside = {
        "now": test["now"], "interview.started": test["started"], "earlier": test["earlier"], "enumerator.name": "",
    }  # fmt: skip
    return OpenedInterview(answers=test["answers"], language=test.get("language", ""), outside=outside)


def _running(desk: Desk, questionnaire_id: int) -> Release:
    _, release = _compiled(desk, questionnaire_id)
    if release is None:
        raise Refused("has_errors", "The script has errors. Mend them first; they are listed under Findings.")
    return release


def _the_test(questionnaire: Questionnaire, name: str) -> dict[str, Any]:
    found: dict[str, Any] | None = next((test for test in questionnaire.tests if test["name"] == name), None)
    if found is None:
        raise not_found("test")
    return found
