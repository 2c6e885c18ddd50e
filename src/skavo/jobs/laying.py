"""The job that lays interviews out again, when what derives them has changed or what was missing may be there now."""

from __future__ import annotations

from typing import Any

from sqlalchemy import ColumnElement, and_, func, or_, select
from sqlalchemy.orm import Session

from skavo.jobs.runner import Jobs, Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.filing import claim_files
from skavo.store.laying import LAID_BY, Columns, columns_again, take_over
from skavo.store.models import Interview, Job, Revision

KIND = "laying out"
# Short transactions: hand-ins go on between them.
_AT_ONCE = 25


def _outdated(study_id: int) -> tuple[ColumnElement[bool], ...]:
    return (Interview.study_id == study_id, or_(Interview.laid_by != LAID_BY, Interview.problem != ""))


def lay_out_again(store: Store, _data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {study_id}; the result says how many were laid out and how many of them could not be."""
    with store.reading() as session:
        wanted = select(Interview.id).where(*_outdated(order["study_id"])).order_by(Interview.id)
        ids = list(session.scalars(wanted))
    problems = 0
    for start in range(0, len(ids), _AT_ONCE):
        progress.say(start / len(ids), f"{start} of {len(ids)} interviews laid out")
        problems += _lay_out(store, ids[start : start + _AT_ONCE])
    return {"interviews": len(ids), "not_laid_out": problems}


def _lay_out(store: Store, ids: list[int]) -> int:
    with store.reading() as session:
        computed = _computed(session, ids)
    problems = 0
    with store.session() as session:
        for interview in session.scalars(select(Interview).where(Interview.id.in_(ids)).order_by(Interview.id)):
            revision, columns = computed[interview.id]
            # Where another one counts by now, it was laid out as it came to count.
            if interview.hash == revision:
                take_over(session, interview, columns)
                claim_files(session, store.files, interview)
            problems += interview.problem != ""
    return problems


def _computed(session: Session, ids: list[int]) -> dict[int, tuple[str, Columns]]:
    """By interview, the hash of the revision that counts and what follows from it."""
    counting = and_(Revision.interview_id == Interview.id, Revision.number == Interview.counting)
    rows = session.execute(select(Interview, Revision).join(Revision, counting).where(Interview.id.in_(ids)))
    return {i.id: (revision.hash, columns_again(session, i, revision)) for i, revision in rows.tuples()}


def order_what_is_outdated(jobs: Jobs) -> None:
    """Order the job for every study that needs it and has not ordered it yet."""
    with jobs.store.reading() as session:
        outdated = session.execute(
            select(Interview.study_id, func.count())
            .where(or_(Interview.laid_by != LAID_BY, Interview.problem != ""))
            .group_by(Interview.study_id)
        ).all()
        ordered = set(session.scalars(select(Job.study_id).where(Job.kind == KIND, Job.state == "waiting")))
    for study_id, _count in outdated:
        if study_id not in ordered:
            jobs.order(study_id, KIND, {"study_id": study_id}, "Skavo")
