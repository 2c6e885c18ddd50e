"""The interviews station: every interview as it arrived, narrowed down and sorted."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import ColumnElement, func, or_, select
from sqlalchemy.orm import Session, defer

from skavo.services.checks import numbers_breaking
from skavo.services.desk import Desk
from skavo.services.refusals import Refused
from skavo.services.tables import numbers_behind
from skavo.store.account import do_not_fit, not_laid_out
from skavo.store.laying import PROBLEMS
from skavo.store.models import Interview, Release


class LedgerQuery(BaseModel):
    """`questionnaire` is the number of one, 0 for all; `origin` is the way they came, `link` the
    number of the link they came through; `keys` are interviews by name, `figure` is a services.tables.NamedFigure as JSON, `check` the
    identity of a check: they narrow the ledger to what is behind them."""

    model_config = ConfigDict(extra="forbid")
    questionnaire: int = Field(default=0, ge=0)
    state: str = ""
    enumerator: str = ""
    findings: Literal["", "must", "should", "none", "differs", "not_laid_out", "waiting", "flagged"] = ""
    unread: bool = False
    practice: bool = False
    origin: Literal["", "phone", "link", "paper"] = ""
    link: int = Field(default=0, ge=0)
    keys: str = Field(default="", max_length=20_000)
    figure: str = Field(default="", max_length=20_000)
    check: str = Field(default="", max_length=200)
    sort: Literal["arrived", "started", "minutes", "findings", "enumerator", "number"] = "arrived"
    descending: bool = True
    offset: int = Field(default=0, ge=0, le=10**12)
    limit: int = Field(default=50, ge=1, le=500)


class LedgerLine(BaseModel):
    id: int
    key: str
    questionnaire_id: int | None
    version: int
    state: str
    release: int | None
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
    revisions: int
    waiting: bool
    problem: str
    flags: list[str]


class Ledger(BaseModel):
    lines: list[LedgerLine]
    total: int
    everything: int
    unread: int
    by_state: dict[str, int]
    enumerators: list[str]


def show_ledger(desk: Desk, study_id: int, query: LedgerQuery) -> Ledger:
    """The interviews that `query` leaves, and how many there are of what."""
    order = _SORTS[query.sort]
    with desk.store.reading() as session:
        conditions = ledger_conditions(desk, session, study_id, query)
        everything = [*desk.reach(study_id), Interview.practice.is_(query.practice)]
        rows = session.execute(
            select(Interview, Release.number)
            .outerjoin(Release, Interview.release_id == Release.id)
            .where(*conditions)
            .options(defer(Interview.laid_out))
            .order_by(order.desc() if query.descending else order, Interview.id.desc())
            .offset(query.offset)
            .limit(query.limit)
        )
        states = session.execute(
            select(Interview.state, func.count().label("interviews")).where(*everything).group_by(Interview.state)
        )
        by_state = {row.state: row.interviews for row in states}
        unfit = do_not_fit(session, desk.sets, study_id)
        names = select(Interview.enumerator).where(*everything).distinct().order_by(Interview.enumerator)
        return Ledger(
            lines=[_line(desk, interview, number, unfit) for interview, number in rows],
            total=session.scalar(select(func.count()).where(*conditions)) or 0,
            everything=sum(by_state.values()),
            unread=session.scalar(select(func.count()).where(*everything, Interview.read_at.is_(None))) or 0,
            by_state=by_state,
            enumerators=list(session.scalars(names)),
        )


def ledger_conditions(desk: Desk, session: Session, study_id: int, query: LedgerQuery) -> list[ColumnElement[bool]]:
    """What narrows the interviews of a study down to those that are meant."""
    found: list[ColumnElement[bool]] = [*desk.reach(study_id), Interview.practice.is_(query.practice)]
    if query.questionnaire:
        found.append(Interview.questionnaire_id == query.questionnaire)
    if query.state:
        found.append(Interview.state == query.state)
    if query.enumerator:
        found.append(Interview.enumerator == query.enumerator)
    if query.origin:
        found.append(Interview.origin == query.origin)
    if query.link:
        found.append(Interview.link_id == query.link)
    if query.unread:
        found.append(Interview.read_at.is_(None))
    if query.keys:
        found.append(_among([int(k) for k in query.keys.split(",") if k.isascii() and k.isdecimal() and len(k) < 19]))
    if query.figure:
        if not desk.may("analyse.read"):
            raise Refused("not_allowed", "Figures are made of the whole study, and you see a part of it.")
        found.append(_among(numbers_behind(desk, session, study_id, query.figure)))
    if query.check:
        found.append(_among(numbers_breaking(desk, session, study_id, query.check)))
    by_findings: dict[str, ColumnElement[bool]] = {
        "must": Interview.hard_findings > 0,
        "should": Interview.soft_findings > 0,
        "none": or_(Interview.hard_findings + Interview.soft_findings == 0),
        "differs": Interview.differs.is_(True),
        "waiting": Interview.waiting.is_(True),
        "flagged": func.json_array_length(Interview.flags) > 0,
    }
    if query.findings == "not_laid_out":
        found.append(not_laid_out(session, desk.sets, study_id))
    elif query.findings:
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


def _line(desk: Desk, interview: Interview, release: int | None, unfit: set[int]) -> LedgerLine:
    hard = [f for f in interview.findings if f["strength"] == "must"]
    shown = next(iter(hard or interview.findings), None)
    text = f"{shown['path']}: {shown['message']}" if shown else ""
    if shown and shown["kept"]:
        text = f"kept: {text} (“{shown['kept']}”)"
    if shown and not desk.sees_sensitive:
        text = f"{shown['code'].replace('_', ' ')}: {shown['path']}"
    problem = interview.problem or ("cannot_tabulate" if interview.number in unfit else "")
    if problem:
        text = PROBLEMS[problem].words
    return LedgerLine(
        id=interview.id, key=interview.key, questionnaire_id=interview.questionnaire_id, version=interview.version, state=interview.state, release=release, enumerator=interview.enumerator,
        device=interview.device_name, started_at=interview.started_at, arrived_at=interview.arrived_at,
        minutes=interview.minutes, hard_findings=interview.hard_findings, soft_findings=interview.soft_findings,
        finding=text, differs=interview.differs, unread=interview.read_at is None, language=interview.language,
        revisions=interview.revisions, waiting=interview.waiting, problem=problem, flags=interview.flags,
    )  # fmt: skip
