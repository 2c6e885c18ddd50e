"""Batches of paper questionnaires at the desk: received, keyed, settled, signed; how often keyers were wrong."""

from __future__ import annotations

from collections import Counter
from datetime import date, datetime
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import ColumnElement, case, func, select
from sqlalchemy.orm import Session, aliased, join

from skavo.core.fieldwork.keying import Keyed, error_rates
from skavo.services.desk import Desk
from skavo.services.found import the_asked
from skavo.services.refusals import Refused, same_version
from skavo.store.links import newest_release
from skavo.store.models import Batch, Interview, Keying, PaperForm, Questionnaire, Release

FormState = Literal["being keyed", "second to key", "being keyed again", "to settle", "finished"]


class Signature(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=128, pattern=r"\S")
    on: date


class BatchChange(BaseModel):
    """`version` is that of the batch that was changed, 0 for a new one."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=64, pattern=r"\S")
    received: int = Field(ge=1, le=1_000_000)
    twice: int = Field(default=100, ge=0, le=100)
    signed: Signature | None = None
    version: int = 0


class BatchIn(BatchChange):
    """`release` is the number of the release that was printed, None for the newest."""

    questionnaire_id: int
    release: int | None = None
    language: str = Field(min_length=2, max_length=35)


class BatchOut(BaseModel):
    """`received` papers, of which so many were `keyed` at least once, wait for the `second` keying, `to_settle` or are
    `finished`."""

    id: int
    name: str
    questionnaire_id: int
    questionnaire: str
    release: int
    language: str
    received: int
    twice: int
    keyed: int
    second: int
    to_settle: int
    finished: int
    signed: Signature | None
    created_at: datetime
    created_by: str
    version: int


class FormOut(BaseModel):
    """A paper questionnaire; never what was keyed: the second keyer must not see it."""

    id: int
    number: str
    state: FormState
    enumerator: str
    is_twice: bool
    first: str
    second: str
    differences: int
    interview_id: int | None


class FormsQuery(BaseModel):
    """`number` is that of one paper, exactly; `state` narrows to the papers in it."""

    model_config = ConfigDict(extra="forbid")
    number: str = Field(default="", max_length=40)
    state: FormState | Literal[""] = ""
    offset: int = Field(default=0, ge=0, le=10**9)
    limit: int = Field(default=50, ge=1, le=500)


class Forms(BaseModel):
    """`total` counts what was asked for; `enumerators` are those named on papers of the batch."""

    lines: list[FormOut]
    total: int
    enumerators: list[str]


class RateOut(BaseModel):
    name: str
    keyed: int
    errors: int


class ErrorsOut(BaseModel):
    """Of papers keyed twice and finished."""

    papers: int
    by_keyer: list[RateOut]
    by_question: list[RateOut]


def list_batches(desk: Desk, study_id: int) -> list[BatchOut]:
    with desk.store.reading() as session:
        batches = session.scalars(select(Batch).where(Batch.study_id == study_id).order_by(Batch.id.desc()))
        return [batch_out(session, batch) for batch in batches]


def make_batch(desk: Desk, study_id: int, wanted: BatchIn) -> BatchOut:
    desk.needs_whole_study("Papers")
    with desk.store.session() as session:
        release = _release(session, study_id, wanted)
        if wanted.language not in release.compiled["languages"]:
            raise Refused("unknown_language", f"Release {release.number} is not written in {wanted.language}.")
        batch = Batch(
            study_id=study_id, questionnaire_id=release.questionnaire_id, release_id=release.id,
            language=wanted.language, **desk.signed(),
        )  # fmt: skip
        _write(session, batch, wanted)
        session.add(batch)
        session.flush()
        session.add(desk.event(study_id, "batch made", batch=batch.name, papers=batch.received))
        return batch_out(session, batch)


def _release(session: Session, study_id: int, wanted: BatchIn) -> Release:
    asked = the_asked(session, study_id, wanted.questionnaire_id)
    if wanted.release is None:
        found = newest_release(session, asked.id)
    else:
        numbered = select(Release).where(
            Release.questionnaire_id == asked.id, Release.number == wanted.release, Release.practice.is_(False)
        )
        found = session.scalar(numbered)
    if found is None:
        raise Refused("no_release", "There is no such release to key. Release the questionnaire first.")
    return found


def change_batch(desk: Desk, batch_id: int, wanted: BatchChange) -> BatchOut:
    """Whether a paper is keyed twice is drawn when it is begun: a change holds for those begun later."""
    desk.needs_whole_study("Papers")
    with desk.store.session() as session:
        batch = session.get_one(Batch, batch_id)
        same_version(batch.version, wanted.version)
        was_signed = batch.signed is not None
        _write(session, batch, wanted)
        batch.version += 1
        if batch.signed is not None and not was_signed:
            session.add(desk.event(batch.study_id, "batch signed", batch=batch.name, by=batch.signed["name"]))
        return batch_out(session, batch)


def _write(session: Session, batch: Batch, wanted: BatchChange) -> None:
    name = wanted.name.strip()
    taken = session.scalar(select(Batch.id).where(Batch.study_id == batch.study_id, Batch.name == name))
    if taken is not None and taken != batch.id:
        raise Refused("name_taken", f"This study has a batch {name} already.")
    batch.name, batch.received, batch.twice = name, wanted.received, wanted.twice
    batch.signed = None if wanted.signed is None else wanted.signed.model_dump(mode="json")


def batch_out(session: Session, batch: Batch) -> BatchOut:
    release = session.get_one(Release, batch.release_id)
    states = select(STATE, func.count()).select_from(FORMS).where(PaperForm.batch_id == batch.id).group_by(STATE)
    count: Counter[str] = Counter(dict(session.execute(states).tuples().all()))
    return BatchOut(
        id=batch.id, name=batch.name, questionnaire_id=batch.questionnaire_id,
        questionnaire=session.get_one(Questionnaire, batch.questionnaire_id).title, release=release.number,
        language=batch.language, received=batch.received, twice=batch.twice,
        keyed=count.total() - count["being keyed"], second=count["second to key"] + count["being keyed again"],
        to_settle=count["to settle"], finished=count["finished"],
        signed=None if batch.signed is None else Signature.model_validate(batch.signed),
        created_at=batch.created_at, created_by=batch.created_by, version=batch.version,
    )  # fmt: skip


def list_forms(desk: Desk, batch_id: int, query: FormsQuery) -> Forms:
    """A page of a batch's papers, the one begun last first."""
    wanted: list[ColumnElement[bool]] = [PaperForm.batch_id == batch_id]
    if query.number:
        wanted.append(PaperForm.number == query.number)
    if query.state:
        wanted.append(STATE.in_([query.state]))
    columns = (PaperForm, STATE, _FIRST.by, _SECOND.by, Interview.id)
    batch = select(Batch.study_id).where(Batch.id == batch_id).scalar_subquery()
    with desk.store.reading() as session:
        rows = session.execute(
            select(*columns).select_from(FORMS)
            .outerjoin(Interview, (Interview.uuid == PaperForm.uuid) & (Interview.study_id == batch))
            .where(*wanted).order_by(PaperForm.id.desc()).offset(query.offset).limit(query.limit)
        ).tuples()  # fmt: skip
        named = select(PaperForm.enumerator).where(PaperForm.batch_id == batch_id, PaperForm.enumerator != "")
        return Forms(
            lines=[
                FormOut(
                    id=form.id, number=form.number, state=state, enumerator=form.enumerator, is_twice=form.is_twice,
                    first=first or "", second=second or "", differences=len(form.settled), interview_id=interview_id,
                )
                for form, state, first, second, interview_id in rows
            ],
            total=session.scalar(select(func.count()).select_from(FORMS).where(*wanted)) or 0,
            enumerators=list(session.scalars(named.distinct().order_by(PaperForm.enumerator).limit(500))),
        )  # fmt: skip


_FIRST, _SECOND = aliased(Keying), aliased(Keying)
# Each paper with its two keyings, as far as there are any; what was keyed stays in the database.
FORMS = join(
    join(PaperForm, _FIRST, (_FIRST.form_id == PaperForm.id) & (_FIRST.turn == 1), isouter=True),
    _SECOND, (_SECOND.form_id == PaperForm.id) & (_SECOND.turn == 2), isouter=True,
)  # fmt: skip
# A FormState. A paper whose keyings are ended is still to settle until it has become an interview.
STATE: ColumnElement[Any] = case(
    (PaperForm.finished_at.is_not(None), "finished"),
    (_FIRST.ended_at.is_(None), "being keyed"),
    (PaperForm.is_twice.is_(False), "to settle"),
    (_SECOND.id.is_(None), "second to key"),
    (_SECOND.ended_at.is_(None), "being keyed again"),
    else_="to settle",
)


def state_of(session: Session, form_id: int) -> FormState:
    state: FormState = session.scalars(select(STATE).select_from(FORMS).where(PaperForm.id == form_id)).one()
    return state


def remove_form(desk: Desk, form_id: int) -> None:
    """Drop a paper that was keyed under a wrong number; one that has become an interview stays."""
    desk.needs_whole_study("Papers")
    with desk.store.session() as session:
        form = session.get_one(PaperForm, form_id)
        if form.finished_at is not None:
            raise Refused(
                "finished_already", "This paper has become an interview. Set that aside in the ledger instead."
            )
        batch = session.get_one(Batch, form.batch_id)
        for keying in session.scalars(select(Keying).where(Keying.form_id == form_id)):
            session.delete(keying)
        session.flush()
        session.delete(form)
        session.add(desk.event(batch.study_id, "paper dropped", batch=batch.name, number=form.number))


def show_errors(desk: Desk, study_id: int) -> ErrorsOut:
    """How often each keyer, and each question, was keyed otherwise than what counts in the end."""
    desk.needs_whole_study("Papers")
    twice = (
        select(PaperForm.id)
        .join(Batch)
        .where(Batch.study_id == study_id, PaperForm.finished_at.is_not(None), PaperForm.is_twice)
    )
    with desk.store.reading() as session:
        papers = session.scalar(select(func.count()).select_from(twice.subquery())) or 0
        rows = session.execute(
            select(Keying.by, Keying.content, PaperForm.settled).join(PaperForm).where(PaperForm.id.in_(twice))
        ).tuples()
        keyed = [
            Keyed(by, content["answers"], {path: decided["value"] for path, decided in settled.items()})
            for by, content, settled in rows
        ]
    by_keyer, by_question = error_rates(keyed)
    return ErrorsOut(
        papers=papers,
        by_keyer=[RateOut(name=r.name, keyed=r.keyed, errors=r.errors) for r in by_keyer],
        by_question=[RateOut(name=r.name, keyed=r.keyed, errors=r.errors) for r in by_question if r.errors],
    )
