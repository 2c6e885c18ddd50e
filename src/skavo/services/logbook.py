"""The logbook of a study: what waits for a decision, what happened, and whether what arrived is in the data."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any, Literal

from pydantic import BaseModel
from sqlalchemy import ColumnElement, Select, func, or_, select
from sqlalchemy.orm import Session

from skavo.jobs.laying import KIND as LAYING_OUT
from skavo.services.desk import Conditions, Desk, detail_seen
from skavo.services.found import the_study
from skavo.services.unit_doubts import count_doubts
from skavo.services.verdicts import verdict_on
from skavo.services.visits import narrowed_visits
from skavo.store.account import Account, account_of, not_laid_out
from skavo.store.datasets import plan_of
from skavo.store.interview_document import zone_named
from skavo.store.knowing import known_to
from skavo.store.models import (
    Device,
    Event,
    Interview,
    Job,
    Membership,
    NamedDataSet,
    OutsideTable,
    Questionnaire,
    SavedTable,
    Study,
    Visit,
    VisitList,
)
from skavo.store.progress import Day, EnumeratorProgress, progress_of

SILENT_AFTER = timedelta(days=3)
_DAYS_SHOWN = 14
_EVENTS_SHOWN = 40

MatterKind = Literal[
    "hard_checks", "script_errors", "revisions_waiting", "not_laid_out", "unread", "silent_devices", "sent_back",
    "differing", "unjoined", "no_longer_fits", "not_met", "laying_out", "visits_to_pass_on", "visits_of_nobody", "unit_doubts",
    "near_doubtful",
]  # fmt: skip


class Matter(BaseModel):
    """Something that waits for a decision. `oldest` is since when, `names` are some of those concerned, `saying` how far
    long work is."""

    kind: MatterKind
    count: int
    oldest: datetime | None = None
    names: list[str] = []
    saying: str = ""


class StationOut(BaseModel):
    """How a station stands, and how much waits for attention there."""

    state: Literal["empty", "waiting", "in order"]
    waiting: int


class Stations(BaseModel):
    """Stations by their names in addresses, in the order of the work."""

    stations: dict[str, StationOut]


class EventOut(BaseModel):
    id: int
    kind: str
    at: datetime
    by: str
    interview: str | None
    interview_id: int | None
    detail: dict[str, Any]


class Logbook(BaseModel):
    matters: list[Matter]
    events: list[EventOut]
    days: list[Day]
    enumerators: list[EnumeratorProgress]
    account: Account
    interviews: int
    median_minutes: float | None


def show_logbook(desk: Desk, study_id: int) -> Logbook:
    with desk.store.reading() as session:
        study = the_study(session, study_id)
        return Logbook(
            matters=_matters(desk, session, study_id),
            events=_events(desk, session, study_id),
            account=account_of(session, desk.sets, study_id, *desk.narrowed(study_id)),
            **vars(progress_of(session, zone_named(study.time_zone).key, _DAYS_SHOWN, *desk.reach(study_id))),
        )


def show_stations(desk: Desk, study_id: int) -> Stations:
    """Each station with its state."""
    with desk.store.reading() as session:
        return Stations(stations=_stations(desk, session, the_study(session, study_id)))


def _mine(desk: Desk, study_id: int) -> Conditions:
    return (*desk.reach(study_id), Interview.practice.is_(False))


def _number(session: Session, query: Select[Any]) -> int:
    return session.scalar(query) or 0


def _stations(desk: Desk, session: Session, study: Study) -> dict[str, StationOut]:
    counts = _counts(desk, session, study.id)
    questionnaires = _questionnaires(session, study.id)
    of_study = [q.id for q in questionnaires]
    interviews = _number(session, select(func.count()).where(*_mine(desk, study.id)))
    begun = {
        "plan": bool(study.purpose or study.population),
        "questionnaire": any(q.script["parts"] for q in questionnaires),
        "field": _number(session, select(func.count()).where(*desk.reach_devices(study.id))),
        "interviews": interviews,
        "checks": interviews,
        "clean": sum(_steps(session, i) for i in of_study),
        "combine": _number(session, select(func.count()).where(OutsideTable.questionnaire_id.in_(of_study))),
        "analyse": _number(
            session,
            select(func.count()).select_from(SavedTable).join(NamedDataSet).where(NamedDataSet.study_id == study.id),
        ),
        "hand-over": _number(
            session, select(func.count()).where(Job.study_id == study.id, Job.kind == "extract", Job.state == "done")
        ),
    }
    waiting = {
        "questionnaire": counts["script_errors"],
        "field": counts["silent_devices"],
        "interviews": _number(
            session, select(func.count()).where(*_mine(desk, study.id), _to_look_at(desk, session, study.id))
        ),
        "checks": counts["hard_checks"],
        "clean": counts["no_longer_fits"] + counts["not_met"],
        "combine": counts["unjoined"] + counts["near_doubtful"],
        "plan": counts["visits_to_pass_on"] + counts["visits_of_nobody"] + counts["unit_doubts"],
    }
    return {name: _station(bool(there), waiting.get(name, 0)) for name, there in begun.items()}


def _to_look_at(desk: Desk, session: Session, study_id: int) -> ColumnElement[bool]:
    missing = not_laid_out(session, desk.sets, study_id)
    return or_(Interview.read_at.is_(None), Interview.waiting.is_(True), missing)


def _station(begun: bool, waiting: int) -> StationOut:
    return StationOut(state="waiting" if waiting else "in order" if begun else "empty", waiting=waiting)


def _questionnaires(session: Session, study_id: int) -> list[Questionnaire]:
    asked = (Questionnaire.study_id == study_id, Questionnaire.describes == "interviews")
    return list(session.scalars(select(Questionnaire).where(*asked)))


def _steps(session: Session, questionnaire_id: int) -> int:
    return len(plan_of(session, questionnaire_id))


def _counts(desk: Desk, session: Session, study_id: int) -> dict[MatterKind, int]:
    """How much of each kind waits."""
    mine = _mine(desk, study_id)
    questionnaires = _questionnaires(session, study_id)

    def interviews(*conditions: ColumnElement[bool]) -> int:
        return _number(session, select(func.count()).where(*mine, *conditions))

    open_tables = select(func.count()).where(
        OutsideTable.questionnaire_id.in_([q.id for q in questionnaires]), OutsideTable.joined.is_(None)
    )
    under_way = select(func.count()).where(
        Job.study_id == study_id, Job.kind == LAYING_OUT, Job.state.in_(("waiting", "running"))
    )
    left = select(Membership.person_id).where(Membership.study_id == study_id, Membership.left_at.is_not(None))
    return {
        "hard_checks": interviews(Interview.state == "arrived", Interview.hard_findings > 0),
        "script_errors": sum(_errors(session, q) for q in questionnaires),
        "revisions_waiting": interviews(Interview.waiting.is_(True)),
        "not_laid_out": interviews(not_laid_out(session, desk.sets, study_id)),
        "unread": interviews(Interview.read_at.is_(None)),
        "silent_devices": len(_silent_devices(desk, session, study_id)),
        "sent_back": interviews(Interview.state == "sent back"),
        "differing": interviews(Interview.differs.is_(True)),
        "unjoined": _number(session, open_tables),
        "no_longer_fits": sum(desk.sets.problems(q.id) for q in questionnaires),
        "not_met": sum(desk.sets.unmet(q.id) for q in questionnaires),
        "laying_out": _number(session, under_way),
        "visits_to_pass_on": _visits(desk, session, study_id, Visit.standing == "to pass on"),
        "visits_of_nobody": _visits(
            desk, session, study_id, Visit.standing == "open", or_(Visit.person_id.is_(None), Visit.person_id.in_(left))
        ),
        "unit_doubts": count_doubts(desk, session, study_id),
        "near_doubtful": sum(desk.sets.doubtful(q.id) for q in questionnaires),
    }


def _visits(desk: Desk, session: Session, study_id: int, *conditions: ColumnElement[bool]) -> int:
    """How many visits on open lists are like that."""
    on_open = select(VisitList.id).where(VisitList.study_id == study_id, VisitList.closed_at.is_(None))
    mine = (Visit.list_id.in_(on_open), *narrowed_visits(desk, study_id))
    return _number(session, select(func.count()).select_from(Visit).where(*mine, *conditions))


def _errors(session: Session, questionnaire: Questionnaire) -> int:
    """The errors of a script; one that is still an empty page has nothing to mend."""
    if not questionnaire.script["parts"]:
        return 0
    return verdict_on(questionnaire.script, known_to(session, questionnaire)).errors


def _silent_devices(desk: Desk, session: Session, study_id: int) -> list[Device]:
    """Devices that were not heard of for some days."""
    since = datetime.now(UTC) - SILENT_AFTER
    query = select(Device).where(*desk.reach_devices(study_id), Device.cut_off_at.is_(None), Device.last_heard < since)
    return list(session.scalars(query))


def _matters(desk: Desk, session: Session, study_id: int) -> list[Matter]:
    oldest = session.scalar(
        select(func.min(Interview.arrived_at)).where(*desk.reach(study_id), Interview.read_at.is_(None))
    )
    names = [device.name for device in _silent_devices(desk, session, study_id)[:3]]
    running = select(Job.saying).where(Job.study_id == study_id, Job.kind == LAYING_OUT, Job.state == "running")
    saying = session.scalar(running) or ""
    return [
        Matter(
            kind=kind,
            count=count,
            oldest=oldest if kind == "unread" else None,
            names=names if kind == "silent_devices" else [],
            saying=saying if kind == "laying_out" else "",
        )
        for kind, count in _counts(desk, session, study_id).items()
        if count
    ]


def _events(desk: Desk, session: Session, study_id: int) -> list[EventOut]:
    columns = (Event, Interview.number, Interview.questionnaire_id)
    query = select(*columns).outerjoin(Interview, Event.interview_id == Interview.id)
    query = query.where(Event.study_id == study_id)
    if narrowed := desk.narrowed(study_id):
        query = query.where(or_(Event.interview_id.is_(None), *narrowed))
    rows = session.execute(query.order_by(Event.id.desc()).limit(_EVENTS_SHOWN)).all()
    hidden = {row.questionnaire_id: desk.hides(session, row.questionnaire_id) for row in rows}
    return [
        EventOut(
            id=e.id, kind=e.kind, at=e.at, by=e.by, detail=detail_seen(e.detail, hidden[of]), interview_id=e.interview_id,
            interview=f"{number:04d}" if number is not None else None,
        )
        for e, number, of in rows
    ]  # fmt: skip
