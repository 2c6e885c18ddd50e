"""The tables of many interviews are made by a job: a page says how far that is, and opens once it is done."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from sqlalchemy import select

from skavo.store import datasets, raw_frames
from skavo.store.models import Job, Person
from skavo.store.people import join
from skavo.store.waited_for import BeingPrepared
from tests.store.study import small_study
from tests.web.conftest import Desk


@pytest.fixture
def many(app: Any, monkeypatch: pytest.MonkeyPatch) -> int:
    """The questionnaire of a study with seven interviews, which are too many for a page to wait for."""
    monkeypatch.setattr(datasets, "MOST_AT_ONCE", 2)
    monkeypatch.setattr(raw_frames, "BATCH", 3)
    study = small_study(app.extensions["skavo_store"])
    for _ in range(7):
        study.arrive(study.document())
    with study.store.session() as session:
        manager = session.scalars(select(Person).where(Person.login == "dora")).one()
        join(session, study.study_id, manager, ["data_manager"])
    return study.questionnaire_id


def _jobs(app: Any) -> list[Job]:
    with app.extensions["skavo_store"].reading() as session:
        return list(session.scalars(select(Job).where(Job.kind == "data set")))


def test_a_page_says_how_far_it_is_and_opens_once_it_is_done(app: Any, desk: Callable[[str], Desk], many: int) -> None:
    manager = desk("data_manager")
    address = f"/api/questionnaires/{many}/plan"
    for _ in range(2):
        answer = manager.call("GET", address)
        assert (answer.status_code, answer.get_json()["code"]) == (503, "being_prepared")
        assert answer.get_json()["details"] == {"progress": 0.0}
    (job,) = _jobs(app)
    app.extensions["skavo_jobs"].run(job.id)
    assert _jobs(app)[0].state == "done"
    assert manager.answer("GET", address)["steps"] == []
    assert len(_jobs(app)) == 1


def test_what_is_left_of_it_is_brought_in_piece_by_piece(app: Any, many: int) -> None:
    sets = app.extensions["skavo_data_sets"]
    left = []
    while not left or left[-1]:
        with app.extensions["skavo_store"].reading() as session:
            left.append(sets.prepare(session, many))
    assert left == [4, 1, 0]
    with app.extensions["skavo_store"].reading() as session:
        assert sets.of(session, many).data["interviews"].frame.height == 7


def test_whoever_is_patient_gets_it_at_once(app: Any, many: int) -> None:
    with app.extensions["skavo_store"].reading() as session:
        with pytest.raises(BeingPrepared, match="0 of 7"):
            app.extensions["skavo_data_sets"].of(session, many)
        assert app.extensions["skavo_data_sets"].of(session, many, patient=True).data["interviews"].frame.height == 7
