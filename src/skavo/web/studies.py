"""Studies, the stations' counts and the logbook."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import available_timezones

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Script
from skavo.store.models import Device, Event, Interview, OutsideTable, Questionnaire, Release, Study
from skavo.web.problems import Problem, not_found
from skavo.web.routing import Resource, data_sets, store, who
from skavo.web.shapes import Body, StudyPath

api = Resource("studies", "/studies")
SILENT_AFTER = timedelta(days=3)


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
    created_at: datetime
    questionnaires: list[QuestionnaireLine]
    interviews: int


class StudyIn(Body):
    title: str = Field(min_length=1, max_length=200)
    purpose: str = Field(default="", max_length=10_000)
    population: str = Field(default="", max_length=10_000)
    time_zone: str = Field(default="UTC", max_length=64)


class Stations(BaseModel):
    """How much waits for attention at each station; a station that has nothing is left out."""

    counts: dict[str, int]


class Matter(BaseModel):
    """Something that waits for a decision; `to` is the page where it is decided."""

    count: int
    title: str
    text: str
    to: str
    urgent: bool = False


class EventOut(BaseModel):
    id: int
    kind: str
    at: datetime
    by: str
    interview: str | None
    interview_id: int | None
    detail: dict[str, Any]


class DayCount(BaseModel):
    day: str
    interviews: int


class EnumeratorCount(BaseModel):
    enumerator: str
    arrived: int
    accepted: int
    median_minutes: float | None


class Logbook(BaseModel):
    matters: list[Matter]
    events: list[EventOut]
    days: list[DayCount]
    enumerators: list[EnumeratorCount]
    interviews: int
    median_minutes: float | None


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
        time_zone=study.time_zone, created_at=study.created_at, interviews=interviews or 0,
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


def _check_zone(name: str) -> None:
    if name not in available_timezones():
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


@api.route_for("get", "/<int:study_id>/stations", needs="study.read", returns=Stations)
def stations(path: StudyPath) -> Stations:
    with store().reading() as session:
        study_or_404(session, path.study_id)
        return Stations(counts={k: n for k, n in _counts(session, path.study_id).items() if n})


def _counts(session: Session, study_id: int) -> dict[str, int]:
    mine = (Interview.study_id == study_id, Interview.practice.is_(False))
    questionnaires = list(session.scalars(select(Questionnaire).where(Questionnaire.study_id == study_id)))
    doubts = sum(len(compile_script(Script.model_validate(q.script)).errors) for q in questionnaires)
    unread = session.scalar(select(func.count()).where(*mine, Interview.read_at.is_(None)))
    broken = select(func.count()).where(*mine, Interview.state == "arrived", Interview.hard_findings > 0)
    steps = sum(data_sets().problems(q.id) for q in questionnaires)
    open_tables = select(func.count()).where(
        OutsideTable.questionnaire_id.in_([q.id for q in questionnaires]), OutsideTable.joined.is_(None)
    )
    return {
        "questionnaire": doubts,
        "field": len(silent_devices(session, study_id)),
        "interviews": unread or 0,
        "checks": session.scalar(broken) or 0,
        "clean": steps,
        "combine": session.scalar(open_tables) or 0,
    }


def silent_devices(session: Session, study_id: int) -> list[Device]:
    """Devices that were not heard of for some days."""
    since = datetime.now(UTC) - SILENT_AFTER
    query = select(Device).where(Device.study_id == study_id, Device.cut_off_at.is_(None), Device.last_heard < since)
    return list(session.scalars(query))


@api.route_for("get", "/<int:study_id>/logbook", needs="interview.read", returns=Logbook)
def logbook(path: StudyPath) -> Logbook:
    with store().reading() as session:
        study_or_404(session, path.study_id)
        return Logbook(
            matters=_matters(session, path.study_id),
            events=_events(session, path.study_id),
            days=_days(session, path.study_id),
            **_progress(session, path.study_id),
        )


def _matters(session: Session, study_id: int) -> list[Matter]:
    counts = _counts(session, study_id)
    at = f"/studies/{study_id}"
    oldest = session.scalar(
        select(func.min(Interview.arrived_at)).where(Interview.study_id == study_id, Interview.read_at.is_(None))
    )
    since = f"Oldest since {oldest.day} {oldest:%B}." if oldest else ""
    sent_back = session.scalar(
        select(func.count()).where(Interview.study_id == study_id, Interview.state == "sent back")
    )
    differing = session.scalar(select(func.count()).where(Interview.study_id == study_id, Interview.differs.is_(True)))
    silent = silent_devices(session, study_id)
    names = ", ".join(d.name for d in silent[:3])
    found = [
        Matter(count=counts["checks"], title="Interviews that break a hard check", text="Read them, correct a value with its reason, or send them back.", to=f"{at}/interviews?findings=must&state=arrived", urgent=True),
        Matter(count=counts["questionnaire"], title="Errors in the questionnaire", text="It cannot be released before they are mended.", to=f"{at}/questionnaire?pane=findings", urgent=True),
        Matter(count=counts["interviews"], title="Interviews unread", text=since, to=f"{at}/interviews?unread=1"),
        Matter(count=counts["field"], title="Devices not heard of for 3 days", text=f"{names}. They may carry packed interviews.", to=f"{at}/field"),
        Matter(count=sent_back or 0, title="Interviews sent back", text="Waiting for their enumerators.", to=f"{at}/interviews?state=sent back"),
        Matter(count=differing or 0, title="Interviews where the office computes otherwise than the device", text="Look at the release they were made with.", to=f"{at}/interviews?findings=differs", urgent=True),
        Matter(count=counts["combine"], title="Outside tables not joined yet", text="Say by which key they belong to the interviews.", to=f"{at}/combine"),
        Matter(count=counts["clean"], title="Steps or joins that no longer fit", text="A variable or code they use is gone.", to=f"{at}/clean", urgent=True),
    ]  # fmt: skip
    return [matter for matter in found if matter.count]


def _events(session: Session, study_id: int) -> list[EventOut]:
    query = select(Event, Interview.number).outerjoin(Interview, Event.interview_id == Interview.id)
    rows = session.execute(query.where(Event.study_id == study_id).order_by(Event.id.desc()).limit(40))
    return [
        EventOut(
            id=e.id, kind=e.kind, at=e.at, by=e.by, detail=e.detail, interview_id=e.interview_id,
            interview=f"{number:04d}" if number is not None else None,
        )
        for e, number in rows
    ]  # fmt: skip


def _days(session: Session, study_id: int) -> list[DayCount]:
    day = func.date(Interview.started_at)
    query = select(day, func.count()).where(Interview.study_id == study_id, Interview.practice.is_(False))
    rows = session.execute(query.group_by(day).order_by(day.desc()).limit(14)).all()
    return [DayCount(day=str(d), interviews=n) for d, n in reversed(rows) if d]


def _progress(session: Session, study_id: int) -> dict[str, Any]:
    query = select(Interview.enumerator, Interview.state, Interview.minutes).where(
        Interview.study_id == study_id, Interview.practice.is_(False)
    )
    rows = session.execute(query).all()
    by_name: dict[str, list[Any]] = {}
    for row in rows:
        by_name.setdefault(row.enumerator, []).append(row)
    return {
        "interviews": len(rows),
        "median_minutes": _median([r.minutes for r in rows if r.minutes is not None]),
        "enumerators": [
            EnumeratorCount(
                enumerator=name,
                arrived=len(own),
                accepted=sum(1 for r in own if r.state == "accepted"),
                median_minutes=_median([r.minutes for r in own if r.minutes is not None]),
            )
            for name, own in sorted(by_name.items())
        ],
    }


def _median(values: list[float]) -> float | None:
    from statistics import median

    return round(float(median(values)), 1) if values else None
