"""What an address names, or the refusal that says it is not there."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.services.refusals import not_found
from skavo.store.models import Interview, Job, Questionnaire, Revision, Study


def the_study(session: Session, study_id: int) -> Study:
    study = session.get(Study, study_id)
    if study is None:
        raise not_found("study")
    return study


def the_questionnaire(session: Session, questionnaire_id: int) -> Questionnaire:
    found = session.get(Questionnaire, questionnaire_id)
    if found is None:
        raise not_found("questionnaire")
    return found


def the_interview(session: Session, interview_id: int) -> Interview:
    found = session.get(Interview, interview_id)
    if found is None:
        raise not_found("interview")
    return found


def the_revision(session: Session, interview: Interview, number: int) -> Revision:
    wanted = select(Revision).where(Revision.interview_id == interview.id, Revision.number == number)
    found = session.scalar(wanted)
    if found is None:
        raise not_found("revision")
    return found


def the_job(session: Session, job_id: int) -> Job:
    found = session.get(Job, job_id)
    if found is None:
        raise not_found("job")
    return found
