"""The way back of an interview: what counts, what waits for a decision, and that every hand-in is kept."""

from __future__ import annotations

import json

import pytest
from sqlalchemy import select

from skavo.core.cleaning.steps import STEP
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.handin import WAITS, count_revision, desk_edits
from skavo.store.laying import columns_again
from skavo.store.models import Device, Event, Interview, PlanStep, Revision, now
from tests.store.study import Document, SmallStudy, small_study


@pytest.fixture
def study(store: Store) -> SmallStudy:
    return small_study(store)


def sent_back(study: SmallStudy, **answers: object) -> Document:
    """A document that has arrived and was sent back."""
    document = study.document(answers={"consent": True, **answers})
    study.arrive(document)
    decide(study, "sent back")
    return document


def decide(study: SmallStudy, state: str) -> None:
    with study.store.session() as session:
        session.scalars(select(Interview)).one().state = state


def corrected(study: SmallStudy, document: Document, **answers: object) -> Document:
    return {**document, "basis": study.interview().hash, "answers": {"consent": True, **answers}}


def workers(study: SmallStudy) -> list[object]:
    with study.store.reading() as session:
        return list(DataSets(study.store.files).of(session, 1).data["interviews"].frame["workers"])


def revisions(study: SmallStudy) -> list[tuple[int, str]]:
    with study.store.reading() as session:
        return [(r.number, r.waits) for r in session.scalars(select(Revision).order_by(Revision.number))]


def test_a_corrected_interview_counts_at_once_and_both_are_kept_byte_for_byte(study: SmallStudy) -> None:
    document = sent_back(study, workers=30)
    again = corrected(study, document, workers=3)
    assert study.arrive(again).outcome == "revision"
    found = study.interview()
    assert (found.state, found.counting, found.revisions, found.waiting, found.read_at) == (
        "arrived",
        2,
        2,
        False,
        None,
    )
    assert workers(study) == [3]
    with study.store.reading() as session:
        raws = session.scalars(select(Revision.raw).order_by(Revision.number))
        assert [json.loads(raw) for raw in raws] == [document, again]
        assert [e.detail["number"] for e in session.scalars(select(Event).where(Event.kind == "revision"))] == [2]


def test_corrected_on_two_devices_the_second_waits_whatever_the_clocks_say(study: SmallStudy) -> None:
    document = sent_back(study, workers=1)
    with study.store.session() as session:
        session.add(Device(study_id=1, name="phone 02", enumerator="Ilse Varn", token_hash="y"))
    mine, yours = corrected(study, document, workers=2), corrected(study, document, workers=3)
    early = {**yours["paradata"], "ended": "2020-01-01T00:00:00Z"}
    study.arrive(mine)
    study.arrive({**yours, "paradata": early}, device_id=2)
    assert (revisions(study), workers(study)) == ([(1, ""), (2, ""), (3, "overtaken")], [2])
    assert study.interview().waiting


def test_an_edit_at_the_desk_makes_the_correction_wait_until_somebody_decides(study: SmallStudy) -> None:
    document = sent_back(study, workers=9)
    edit = {"kind": "correct", "variable": "workers", "interview": "0001", "row": [], "value": 4, "reason": "phoned"}
    with study.store.session() as session:
        session.add(PlanStep(questionnaire_id=1, body=STEP.write(edit), created_by="Dora Maine"))
    study.arrive(corrected(study, document, workers=5))
    assert (revisions(study)[-1], workers(study)) == ((2, "desk_edits"), [4])
    with study.store.session() as session:
        interview = session.scalars(select(Interview)).one()
        session.get_one(PlanStep, 1).removed_at = interview.arrived_at
        revision = session.scalars(select(Revision).where(Revision.number == 2)).one()
        count_revision(session, interview, revision, columns_again(session, interview, revision))
    assert (study.interview().waiting, revisions(study)[-1], workers(study)) == (False, (2, ""), [5])


@pytest.mark.parametrize("state", ["accepted", "set aside"])
def test_what_was_decided_meanwhile_is_not_changed_from_outside(study: SmallStudy, state: str) -> None:
    document = sent_back(study, workers=1)
    again = corrected(study, document, workers=2)
    decide(study, state)
    study.arrive(again)
    assert (revisions(study)[-1], study.interview().state) == ((2, "decided"), state)


def test_an_earlier_revision_can_be_made_to_count_again(study: SmallStudy) -> None:
    document = sent_back(study, workers=1)
    study.arrive(corrected(study, document, workers=2))
    with study.store.session() as session:
        interview = session.scalars(select(Interview)).one()
        revision = session.scalars(select(Revision).where(Revision.number == 1)).one()
        count_revision(session, interview, revision, columns_again(session, interview, revision))
    assert (workers(study), study.interview().counting) == ([1], 1)


def test_a_correction_that_cannot_be_read_is_kept_and_waits(study: SmallStudy) -> None:
    document = sent_back(study, workers=1)
    study.arrive_raw(document["uuid"], b"cut off in the mid")
    assert (revisions(study)[-1], workers(study)) == ((2, "other_content"), [1])


def test_a_whole_one_after_a_broken_one_counts(study: SmallStudy) -> None:
    document = study.document(answers={"consent": True, "workers": 1})
    study.arrive_raw(document["uuid"], b"cut off in the mid")
    assert study.interview().problem == "no_json"
    study.arrive(document)
    assert (study.interview().problem, workers(study)) == ("", [1])


def test_every_reason_to_wait_has_its_words() -> None:
    assert set(WAITS) == {"other_content", "overtaken", "desk_edits", "decided"}


def test_only_the_corrections_that_stand_in_this_interview_and_questionnaire_are_in_the_way(study: SmallStudy) -> None:
    study.arrive(study.document())
    study.arrive(study.document())
    other = small_study(study.store)
    steps = [
        ("correct", study.questionnaire_id, "0001", None), ("correct", study.questionnaire_id, "0002", None),
        ("correct", other.questionnaire_id, "0001", None), ("correct", study.questionnaire_id, "0001", now()),
        ("recode", study.questionnaire_id, "0001", None),
    ]  # fmt: skip
    with study.store.session() as session:
        for kind, questionnaire, interview, removed in steps:
            body = {"format": STEP.newest, "kind": kind, "interview": interview, "variable": "workers", "row": []}
            session.add(PlanStep(questionnaire_id=questionnaire, body=body, created_by="x", removed_at=removed))
    with study.store.reading() as session:
        assert [[s.id for s in desk_edits(session, i)] for i in session.scalars(select(Interview))] == [[1], [2]]


def test_deciding_about_one_interview_leaves_what_waits_in_another_and_what_counted_before(study: SmallStudy) -> None:
    for document in (study.document(), study.document()):
        study.arrive(document)
        study.arrive({**document, "answers": {"consent": False}, "basis": "0" * 64})
    with study.store.session() as session:
        first = session.scalars(select(Interview).order_by(Interview.id)).first()
        assert first is not None
        revision = session.scalars(
            select(Revision).where(Revision.interview_id == first.id, Revision.number == 2)
        ).one()
        count_revision(session, first, revision, columns_again(session, first, revision))
    with study.store.reading() as session:
        left = session.execute(select(Revision.interview_id, Revision.number, Revision.waits).order_by(Revision.id))
        assert [tuple(row) for row in left] == [(1, 1, ""), (1, 2, ""), (2, 1, ""), (2, 2, "overtaken")]
        assert [i.waiting for i in session.scalars(select(Interview).order_by(Interview.id))] == [False, True]


def test_bytes_that_another_interview_has_too_are_no_reason_to_drop_them(study: SmallStudy) -> None:
    first, second = study.document(), study.document()
    study.arrive_raw(first["uuid"], b"cut off")
    study.arrive(second)
    assert study.arrive_raw(second["uuid"], b"cut off").outcome == "revision"
    assert study.arrive_raw(second["uuid"], b"cut off").outcome == "known"
    with study.store.reading() as session:
        (told,) = session.scalars(select(Event.detail).where(Event.kind == "revision"))
    assert told == {"number": 2, "waits": "other_content"}
