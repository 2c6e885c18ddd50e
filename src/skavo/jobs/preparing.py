"""The job that makes the tables of many interviews, piece by piece, and how any job is ordered that a page waits for."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select

from skavo.jobs.runner import SERVER, Jobs, Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.models import Job, Questionnaire
from skavo.store.waited_for import BeingPrepared


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


def order_once(store: Store, jobs: Jobs, wanted: BeingPrepared) -> float:
    """Order the job that somebody waits for, unless it is under way; how far it is, from 0 to 1."""
    with store.reading() as session:
        study_id = session.get_one(Questionnaire, wanted.questionnaire_id).study_id
        under_way = select(Job).where(
            Job.study_id == study_id, Job.kind == wanted.kind, Job.state.in_(("waiting", "running"))
        )
        progress = next((job.progress for job in session.scalars(under_way) if job.order == wanted.order), None)
    if progress is None:
        jobs.order(study_id, wanted.kind, wanted.order, SERVER)
    return (progress or 0.0) if wanted.progress is None else wanted.progress
