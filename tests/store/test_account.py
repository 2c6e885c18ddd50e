"""Arrived = in the data set + not laid out + set aside; the list behind the figure holds just as many."""

from __future__ import annotations

from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.cleaning.steps import STEP
from skavo.store import datasets, raw_frames
from skavo.store.account import Account, account_of, do_not_fit, not_laid_out
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.models import Interview, PlanStep
from tests.store.study import SmallStudy, small_study


@pytest.fixture
def study(store: Store) -> SmallStudy:
    """Six interviews: one unreadable, one of an unknown release, one set aside, one practice, one that fits no table."""
    made = small_study(store)
    for more in ({}, {"answers": None}, {"release": "0" * 32}, {}, {"practice": True}, {}):
        made.arrive(made.document(**more))
    with store.session() as session:
        session.scalars(select(Interview).where(Interview.number == 4)).one().state = "set aside"
    return made


@pytest.fixture
def unfit(monkeypatch: pytest.MonkeyPatch) -> None:
    """Interview 0006 does not fit into the tables."""
    real = raw_frames.build_data_set

    def refusing(layouts: Any, documents: Any) -> Any:
        if any(d["facts"]["interview.key"] == "0006" for d in documents):
            raise OverflowError
        return real(layouts, documents)

    monkeypatch.setattr(raw_frames, "build_data_set", refusing)


def test_the_figures_add_up_and_the_list_is_as_long(study: SmallStudy, unfit: None) -> None:
    sets = DataSets(study.store.files)
    with study.store.reading() as session:
        account = account_of(session, sets, study.study_id)
        counted = (Interview.study_id == study.study_id, Interview.practice.is_(False))
        listed = session.scalars(
            select(Interview.number)
            .where(*counted, not_laid_out(session, sets, study.study_id))
            .order_by(Interview.number)
        ).all()
        assert do_not_fit(session, sets, study.study_id) == {6}
    assert account == Account(arrived=5, in_data_set=1, not_laid_out=3, set_aside=1)
    assert listed == [2, 3, 6]


def test_an_account_replays_no_plan(study: SmallStudy, monkeypatch: pytest.MonkeyPatch) -> None:
    body = {"kind": "mark_missing", "variable": "workers", "rule": "workers > 1", "missing": "refused"}
    with study.store.session() as session:
        session.add(PlanStep(questionnaire_id=1, body=STEP.write(body), created_by="x"))
    monkeypatch.setattr(datasets, "apply_plan", lambda *_: pytest.fail("the plan was replayed"))
    with study.store.reading() as session:
        assert account_of(session, DataSets(study.store.files), study.study_id).in_data_set == 2


def test_what_is_set_aside_is_not_missed_twice(study: SmallStudy) -> None:
    with study.store.session() as session:
        session.scalars(select(Interview).where(Interview.number == 2)).one().state = "set aside"
    with study.store.reading() as session:
        account = account_of(session, DataSets(study.store.files), study.study_id)
    assert (account.arrived, account.in_data_set + account.not_laid_out + account.set_aside) == (5, 5)
