"""What an address names, or the refusal that says it is not there."""

from __future__ import annotations

from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.services.refusals import not_found
from skavo.store.models import (
    Interview,
    Job,
    NamedDataSet,
    Questionnaire,
    Revision,
    Sample,
    Study,
    Unit,
    UnitKind,
    Visit,
    VisitAttempt,
    VisitList,
)

_Row = TypeVar("_Row")


def _the(found: _Row | None, what: str) -> _Row:
    if found is None:
        raise not_found(what)
    return found


def the_study(session: Session, study_id: int) -> Study:
    return _the(session.get(Study, study_id), "study")


def the_questionnaire(session: Session, questionnaire_id: int) -> Questionnaire:
    return _the(session.get(Questionnaire, questionnaire_id), "questionnaire")


def the_data_set(session: Session, data_set_id: int) -> NamedDataSet:
    found = session.get(NamedDataSet, data_set_id)
    return _the(found if found is not None and found.removed_at is None else None, "data set")


def the_unit(session: Session, unit_id: int) -> Unit:
    return _the(session.get(Unit, unit_id), "unit")


def the_sample(session: Session, sample_id: int) -> Sample:
    return _the(session.get(Sample, sample_id), "sample")


def the_visit_list(session: Session, list_id: int) -> VisitList:
    return _the(session.get(VisitList, list_id), "list of visits")


def the_visit(session: Session, visit_id: int) -> Visit:
    return _the(session.get(Visit, visit_id), "visit")


def the_attempt(session: Session, attempt_id: int) -> VisitAttempt:
    return _the(session.get(VisitAttempt, attempt_id), "attempt")


def the_kind(session: Session, kind_id: int) -> UnitKind:
    return _the(session.get(UnitKind, kind_id), "kind of unit")


def the_asked(session: Session, study_id: int, questionnaire_id: int) -> Questionnaire:
    """A questionnaire of a study that interviews are led with; one that describes units is answered by nobody."""
    found = session.get(Questionnaire, questionnaire_id)
    is_asked = found is not None and found.study_id == study_id and found.describes == "interviews"
    return _the(found if is_asked else None, "questionnaire")


def the_interview(session: Session, interview_id: int) -> Interview:
    return _the(session.get(Interview, interview_id), "interview")


def the_revision(session: Session, interview: Interview, number: int) -> Revision:
    wanted = select(Revision).where(Revision.interview_id == interview.id, Revision.number == number)
    return _the(session.scalar(wanted), "revision")


def newest_job(session: Session, study_id: int, questionnaire_id: int, kind: str) -> Job | None:
    """The newest about a questionnaire that ended well; there are few of them, so that orders are looked at one by one."""
    wanted = select(Job).where(Job.study_id == study_id, Job.kind == kind, Job.state == "done").order_by(Job.id.desc())
    return next((job for job in session.scalars(wanted) if job.order.get("questionnaire_id") == questionnaire_id), None)


def the_job(session: Session, job_id: int) -> Job:
    return _the(session.get(Job, job_id), "job")
