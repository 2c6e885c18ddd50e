"""Studies and their facts."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import available_timezones

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.store.models import Event, Interview, Questionnaire, Release, Study
from skavo.web.problems import Problem, not_found
from skavo.web.routing import Resource, store, who
from skavo.web.shapes import Body, StudyPath

api = Resource("studies", "/studies")


class QuestionnaireLine(BaseModel):
    id: int
    title: str
    releases: int


class StudyOut(BaseModel):
    id: int
    title: str
    purpose: str
    population: str
    time_zone: str
    strips_location: bool
    created_at: datetime
    questionnaires: list[QuestionnaireLine]
    interviews: int


class StudyIn(Body):
    title: str = Field(min_length=1, max_length=200)
    purpose: str = Field(default="", max_length=10_000)
    population: str = Field(default="", max_length=10_000)
    time_zone: str = Field(default="UTC", max_length=64)
    strips_location: bool = Field(default=False, description="Whether pictures are handed on without their place.")


def study_or_404(session: Session, study_id: int) -> Study:
    study = session.get(Study, study_id)
    if study is None:
        raise not_found("study")
    return study


def _out(session: Session, study: Study) -> StudyOut:
    releases = select(func.count()).where(Release.questionnaire_id == Questionnaire.id).scalar_subquery()
    lines = session.execute(select(Questionnaire, releases).where(Questionnaire.study_id == study.id))
    interviews = session.scalar(
        select(func.count()).where(Interview.study_id == study.id, Interview.practice.is_(False))
    )
    return StudyOut(
        id=study.id, title=study.title, purpose=study.purpose, population=study.population,
        time_zone=study.time_zone, strips_location=study.strips_location, created_at=study.created_at, interviews=interviews or 0,
        questionnaires=[QuestionnaireLine(id=q.id, title=q.title, releases=n) for q, n in lines],
    )  # fmt: skip


@api.route_for("get", "", needs="study.read", returns=list[StudyOut])
def list_all() -> list[StudyOut]:
    with store().reading() as session:
        return [_out(session, study) for study in session.scalars(select(Study).order_by(Study.title))]


@api.route_for("post", "", needs="study.write", returns=StudyOut, status=201)
def create(body: StudyIn) -> StudyOut:
    _check_zone(body.time_zone)
    with store().session() as session:
        study = Study(**body.model_dump())
        session.add(study)
        session.flush()
        session.add(Event(study_id=study.id, kind="study made", by=who()))
        return _out(session, study)


# Names that mean another zone, or none, on every machine.
_NO_ZONES = {"Factory", "localtime"}


def _check_zone(name: str) -> None:
    if name not in available_timezones() - _NO_ZONES:
        raise Problem("unknown_time_zone", f"“{name}” is no time zone. Write it like UTC or Etc/GMT+8.")


@api.route_for("get", "/<int:study_id>", needs="study.read", returns=StudyOut)
def show(path: StudyPath) -> StudyOut:
    with store().reading() as session:
        return _out(session, study_or_404(session, path.study_id))


@api.route_for("put", "/<int:study_id>", needs="study.write", returns=StudyOut)
def change(path: StudyPath, body: StudyIn) -> StudyOut:
    _check_zone(body.time_zone)
    with store().session() as session:
        study = study_or_404(session, path.study_id)
        for field, value in body.model_dump().items():
            setattr(study, field, value)
        session.add(Event(study_id=study.id, kind="study facts changed", by=who()))
        return _out(session, study)
