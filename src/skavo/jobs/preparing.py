"""The job that makes the tables of many interviews, piece by piece, so that no page waits for it."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select

from skavo.jobs.runner import Jobs, Progress
from skavo.store.database import Store
from skavo.store.datasets import BeingPrepared, DataSets
from skavo.store.models import Job, Questionnaire

KIND = "data set"


def prepare_tables(store: Store, data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {questionnaire_id}; the result says how many interviews were put into the tables."""
    first, waiting = None, 1
    while waiting:
        # A session for each piece: what arrives meanwhile is seen, and nothing is held.
        with store.reading() as session:
            waiting = data_sets.prepare(session, order["questionnaire_id"])
        first = waiting if first is None else first
        progress.say(1 - waiting / max(first, 1), f"{waiting} interviews to come")
    return {"interviews": first or 0}


def order_tables(store: Store, jobs: Jobs, wanted: BeingPrepared) -> None:
    """Order the job for a data set that somebody waits for, unless it is under way."""
    with store.reading() as session:
        study_id = session.get_one(Questionnaire, wanted.questionnaire_id).study_id
        under_way = select(Job.order).where(
            Job.study_id == study_id, Job.kind == KIND, Job.state.in_(("waiting", "running"))
        )
        orders = session.scalars(under_way).all()
    order = {"questionnaire_id": wanted.questionnaire_id}
    if order not in orders:
        jobs.order(study_id, KIND, order, "Skavo")
