"""Batches of paper questionnaires at the desk: received, keyed, settled, signed; how often keyers were wrong."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.keying import Keyed, error_rates
from skavo.services.desk import Desk
from skavo.services.refusals import Refused, not_found, same_version
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
    asked = session.get(Questionnaire, wanted.questionnaire_id)
    if asked is None or asked.study_id != study_id:
        raise not_found("questionnaire")
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
    states = [state for _form, state in _forms(session, batch.id)]
    release = session.get_one(Release, batch.release_id)
    return BatchOut(
        id=batch.id, name=batch.name, questionnaire_id=batch.questionnaire_id,
        questionnaire=session.get_one(Questionnaire, batch.questionnaire_id).title, release=release.number,
        language=batch.language, received=batch.received, twice=batch.twice,
        keyed=sum(state != "being keyed" for state in states),
        second=sum(state in ("second to key", "being keyed again") for state in states),
        to_settle=states.count("to settle"), finished=states.count("finished"),
        signed=None if batch.signed is None else Signature.model_validate(batch.signed),
        created_at=batch.created_at, created_by=batch.created_by, version=batch.version,
    )  # fmt: skip


def list_forms(desk: Desk, batch_id: int) -> list[FormOut]:
    with desk.store.reading() as session:
        batch = session.get_one(Batch, batch_id)
        return [_form_out(session, batch, form, state) for form, state in _forms(session, batch_id)]


def _forms(session: Session, batch_id: int) -> list[tuple[PaperForm, FormState]]:
    forms = session.scalars(select(PaperForm).where(PaperForm.batch_id == batch_id).order_by(PaperForm.id)).all()
    ended = _ended(session, batch_id)
    return [(form, state_of(form, ended.get(form.id, {}))) for form in forms]


def _ended(session: Session, batch_id: int) -> dict[int, dict[int, bool]]:
    """By form and turn whether a keying was ended; without what was keyed."""
    columns = select(Keying.form_id, Keying.turn, Keying.ended_at.is_not(None))
    rows = session.execute(columns.join(PaperForm).where(PaperForm.batch_id == batch_id)).tuples()
    found: dict[int, dict[int, bool]] = {}
    for form_id, turn, is_ended in rows:
        found.setdefault(form_id, {})[turn] = is_ended
    return found


def state_of(form: PaperForm, ended: dict[int, bool]) -> FormState:
    """`ended` says of each turn that was begun whether it was ended."""
    if form.finished_at is not None:
        return "finished"
    if not ended.get(1):
        return "being keyed"
    if 2 not in ended:
        return "second to key"
    return "to settle" if ended[2] else "being keyed again"


def _form_out(session: Session, batch: Batch, form: PaperForm, state: FormState) -> FormOut:
    by = dict(session.execute(select(Keying.turn, Keying.by).where(Keying.form_id == form.id)).tuples().all())
    interview = select(Interview.id).where(Interview.study_id == batch.study_id, Interview.uuid == form.uuid)
    return FormOut(
        id=form.id, number=form.number, state=state, enumerator=form.enumerator, is_twice=form.is_twice,
        first=by.get(1, ""), second=by.get(2, ""), differences=len(form.settled),
        interview_id=session.scalar(interview) if state == "finished" else None,
    )  # fmt: skip


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
