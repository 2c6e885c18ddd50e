"""The ledger of interviews, reading one, and deciding about it."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any, Literal

from flask_login import current_user
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import ColumnElement, func, or_, select
from sqlalchemy.orm import Session, defer

from skavo.core.cleaning.plan import Change, history_of
from skavo.core.interview.engine import Engine
from skavo.core.interview.view import overview
from skavo.store.datasets import plan_of
from skavo.store.handin import document_of, run_engine
from skavo.store.models import Event, Interview, Release, Revision, now
from skavo.web.analysis import numbers_behind
from skavo.web.checks import numbers_breaking
from skavo.web.permissions import may
from skavo.web.problems import Problem, not_found
from skavo.web.routing import Resource, data_sets, sees_sensitive, store, who
from skavo.web.shapes import Body, InterviewPath, StudyPath

api = Resource("interviews")
STATES = ("arrived", "accepted", "sent back", "set aside")
MASK = "•••"


class LedgerQuery(BaseModel):
    """`keys` are interviews by name, `figure` is a web.analysis.Figure as JSON with its questionnaire_id, `check` the
    identity of a check (web.checks): they narrow the ledger to what is behind them."""

    model_config = ConfigDict(extra="forbid")
    state: str = ""
    enumerator: str = ""
    findings: Literal["", "must", "should", "none", "differs"] = ""
    unread: bool = False
    practice: bool = False
    keys: str = Field(default="", max_length=20_000)
    figure: str = Field(default="", max_length=20_000)
    check: str = Field(default="", max_length=200)
    sort: Literal["arrived", "started", "minutes", "findings", "enumerator", "number"] = "arrived"
    descending: bool = True
    offset: int = Field(default=0, ge=0)
    limit: int = Field(default=50, ge=1, le=500)


class LedgerLine(BaseModel):
    id: int
    key: str
    state: str
    release: int
    enumerator: str
    device: str
    started_at: datetime | None
    arrived_at: datetime
    minutes: float | None
    hard_findings: int
    soft_findings: int
    finding: str
    differs: bool
    unread: bool
    language: str


class Ledger(BaseModel):
    lines: list[LedgerLine]
    total: int
    everything: int
    unread: int
    by_state: dict[str, int]
    enumerators: list[str]


class AnswerLine(BaseModel):
    path: str
    around: list[dict[str, Any]]
    kind: str
    variable: str
    wording: str
    answer: str
    state: str
    broken: int
    edits: list[dict[str, Any]]


class Reading(BaseModel):
    id: int
    study_id: int
    questionnaire_id: int
    key: str
    uuid: str
    hash: str
    state: str
    release: int
    enumerator: str
    device: str
    language: str
    started_at: datetime | None
    ended_at: datetime | None
    arrived_at: datetime
    minutes: float | None
    practice: bool
    differs: bool
    revisions: int
    findings: list[dict[str, Any]]
    answers: list[AnswerLine]
    paradata: list[dict[str, Any]]
    events: list[dict[str, Any]]
    previous: int | None
    next: int | None


class StateIn(Body):
    state: Literal["arrived", "accepted", "sent back", "set aside"]
    remark: str = Field(default="", max_length=2000)


def _conditions(session: Session, study_id: int, query: LedgerQuery) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = [Interview.study_id == study_id, Interview.practice.is_(query.practice)]
    if query.state:
        found.append(Interview.state == query.state)
    if query.enumerator:
        found.append(Interview.enumerator == query.enumerator)
    if query.unread:
        found.append(Interview.read_at.is_(None))
    if query.keys:
        found.append(_among([int(k) for k in query.keys.split(",") if k.isdecimal()]))
    if query.figure:
        found.append(_among(numbers_behind(session, study_id, query.figure)))
    if query.check:
        found.append(_among(numbers_breaking(session, study_id, query.check)))
    by_findings: dict[str, ColumnElement[bool]] = {
        "must": Interview.hard_findings > 0,
        "should": Interview.soft_findings > 0,
        "none": or_(Interview.hard_findings + Interview.soft_findings == 0),
        "differs": Interview.differs.is_(True),
    }
    if query.findings:
        found.append(by_findings[query.findings])
    return found


def _among(numbers: list[int]) -> ColumnElement[bool]:
    """Any count of numbers, as one bound value."""
    return Interview.number.in_(select(func.json_each(json.dumps(numbers)).table_valued("value").c.value))


_SORTS: dict[str, Any] = {
    "arrived": Interview.arrived_at,
    "started": Interview.started_at,
    "minutes": Interview.minutes,
    "findings": Interview.hard_findings * 1000 + Interview.soft_findings,
    "enumerator": Interview.enumerator,
    "number": Interview.number,
}


@api.route_for("get", "/studies/<int:study_id>/interviews", needs="interview.read", returns=Ledger)
def ledger(path: StudyPath, query: LedgerQuery) -> Ledger:
    with store().reading() as session:
        conditions = _conditions(session, path.study_id, query)
        order = _SORTS[query.sort]
        rows = session.execute(
            select(Interview, Release.number)
            .join(Release, Interview.release_id == Release.id)
            .where(*conditions)
            .options(defer(Interview.raw), defer(Interview.laid_out))
            .order_by(order.desc() if query.descending else order, Interview.id.desc())
            .offset(query.offset)
            .limit(query.limit)
        )
        everything = [Interview.study_id == path.study_id, Interview.practice.is_(query.practice)]
        states = session.execute(
            select(Interview.state, func.count().label("interviews")).where(*everything).group_by(Interview.state)
        )
        by_state = {row.state: row.interviews for row in states}
        names = select(Interview.enumerator).where(*everything).distinct().order_by(Interview.enumerator)
        return Ledger(
            lines=[_line(interview, number) for interview, number in rows],
            total=session.scalar(select(func.count()).where(*conditions)) or 0,
            everything=sum(by_state.values()),
            unread=session.scalar(select(func.count()).where(*everything, Interview.read_at.is_(None))) or 0,
            by_state=by_state,
            enumerators=list(session.scalars(names)),
        )


def _line(interview: Interview, release: int) -> LedgerLine:
    hard = [f for f in interview.findings if f["strength"] == "must"]
    shown = next(iter(hard or interview.findings), None)
    text = f"{shown['path']}: {shown['message']}" if shown else ""
    if shown and shown["kept"]:
        text = f"kept: {text} (“{shown['kept']}”)"
    if shown and not sees_sensitive():
        text = f"{shown['code'].replace('_', ' ')}: {shown['path']}"
    return LedgerLine(
        id=interview.id, key=interview.key, state=interview.state, release=release, enumerator=interview.enumerator,
        device=interview.device_name, started_at=interview.started_at, arrived_at=interview.arrived_at,
        minutes=interview.minutes, hard_findings=interview.hard_findings, soft_findings=interview.soft_findings,
        finding=text, differs=interview.differs, unread=interview.read_at is None, language=interview.language,
    )  # fmt: skip


def interview_or_404(session: Session, interview_id: int) -> Interview:
    found = session.get(Interview, interview_id)
    if found is None:
        raise not_found("interview")
    return found


@api.route_for("get", "/interviews/<int:interview_id>", needs="interview.read", returns=Reading)
def read(path: InterviewPath) -> Reading:
    """Everything about one interview; reading it by whoever reviews marks it as read."""
    with store().session() as session:
        interview = interview_or_404(session, path.interview_id)
        if interview.read_at is None and may(current_user.role, "interview.review"):
            interview.read_at = now()
            session.add(_event(interview, "read"))
            session.flush()
        return _reading(session, interview)


def _event(interview: Interview, kind: str, **detail: Any) -> Event:
    return Event(study_id=interview.study_id, interview_id=interview.id, kind=kind, by=who(), detail=detail)


def _reading(session: Session, interview: Interview) -> Reading:
    document = document_of(interview)
    engine = run_engine(interview.release, document)
    engine.read_in(engine.release.languages[0])
    sensitive = set() if sees_sensitive() else _mask_sensitive(engine)
    edits = _edits(session, interview)
    events = session.scalars(select(Event).where(Event.interview_id == interview.id).order_by(Event.id))
    revisions = session.scalar(select(func.count()).where(Revision.interview_id == interview.id))
    answers = [_answer_line(line, edits, sensitive) for line in overview(engine, with_derived=True)]
    return Reading(
        id=interview.id, study_id=interview.study_id, questionnaire_id=interview.questionnaire_id, key=interview.key,
        uuid=interview.uuid, hash=interview.hash, state=interview.state, release=interview.release.number,
        enumerator=interview.enumerator, device=interview.device_name, language=interview.language,
        started_at=interview.started_at, ended_at=interview.ended_at, arrived_at=interview.arrived_at,
        minutes=interview.minutes, practice=interview.practice, differs=interview.differs, revisions=revisions or 0,
        findings=interview.findings if sees_sensitive() else [{**f, "message": f["code"]} for f in interview.findings],
        answers=answers, paradata=[] if sensitive else document.paradata.events,
        events=[{"kind": e.kind, "at": e.at, "by": e.by, "detail": e.detail} for e in events],
        previous=_neighbour(session, interview, before=True), next=_neighbour(session, interview, before=False),
    )  # fmt: skip


def _mask_sensitive(engine: Engine) -> set[str]:
    """Hide sensitive answers, also where a wording would read them out; return their variables."""
    hidden = [part for part in engine.release.parts if part.raw["sensitive"]]
    for part in hidden:
        values = engine.values[part.index]
        for row, value in values.items():
            values[row] = (MASK,) if isinstance(value, tuple) else MASK
    return {part.variable for part in hidden}


def _answer_line(line: dict[str, Any], edits: dict[str, list[dict[str, Any]]], sensitive: set[str]) -> AnswerLine:
    hidden = line["variable"] in sensitive
    wording = line["wording"]
    return AnswerLine(
        path=line["path"], around=line["around"], kind=line["kind"], variable=line["variable"], wording=wording,
        answer=MASK if hidden and line["answer"] else line["answer"], state=line["state"], broken=line["broken"],
        edits=[] if hidden else edits.get(line["path"], []),
    )  # fmt: skip


def _edits(session: Session, interview: Interview) -> dict[str, list[dict[str, Any]]]:
    """What the cleaning plan changed in this interview, by path: who, when, why, from what."""
    prepared = data_sets().of(session, interview.questionnaire_id)
    steps = {step.id: step for step in plan_of(session, interview.questionnaire_id)}
    found: dict[str, list[dict[str, Any]]] = {}
    for change in history_of(prepared.cleaned.changes, interview.key):
        step = steps[prepared.step_ids[change.step]]
        found.setdefault(path_of_change(change), []).append(
            {
                "step": step.id, "kind": step.body["kind"], "before": change.before, "after": change.after,
                "by": step.created_by, "at": step.created_at, "reason": step.body.get("reason", ""),
            }
        )  # fmt: skip
    return found


def path_of_change(change: Change) -> str:
    """The path of a changed cell; nested rosters name the innermost only once, as the table does."""
    around = [change.table, *change.row] if change.row else []
    return "/".join([*around, change.variable])


def _neighbour(session: Session, interview: Interview, *, before: bool) -> int | None:
    query = select(Interview.id).where(
        Interview.study_id == interview.study_id, Interview.practice == interview.practice
    )
    if before:
        return session.scalar(
            query.where(Interview.number < interview.number).order_by(Interview.number.desc()).limit(1)
        )
    return session.scalar(query.where(Interview.number > interview.number).order_by(Interview.number).limit(1))


@api.route_for("post", "/interviews/<int:interview_id>/state", needs="interview.review", returns=Reading)
def decide(path: InterviewPath, body: StateIn) -> Reading:
    """Accept, send back with a remark, set aside; every decision can be taken back."""
    with store().session() as session:
        interview = interview_or_404(session, path.interview_id)
        if body.state == "sent back" and not body.remark.strip():
            raise Problem("no_remark", "Say what the enumerator should look at again.")
        if interview.state != body.state or body.remark.strip():
            session.add(_event(interview, body.state, before=interview.state, remark=body.remark.strip()))
            interview.state = body.state
            session.flush()
        return _reading(session, interview)
