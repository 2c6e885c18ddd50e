"""Keying paper questionnaires: begun, kept while typing, keyed again without sight of the first, settled, handed in."""

from __future__ import annotations

import json
import secrets
from datetime import UTC, date, datetime, time
from typing import Any, Literal
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.keying import (
    STANDS_SO,
    Answers,
    Compared,
    agreed_answers,
    compare_keyings,
    engine_over,
)
from skavo.core.interview.formats import INTERVIEW, RELEASE
from skavo.core.interview.view import all_findings
from skavo.core.paper.compose import numbers_of
from skavo.services.batches import state_of
from skavo.services.desk import Desk
from skavo.services.refusals import Refused, same_version
from skavo.store.database import Store
from skavo.store.handin import Source, hand_in, read_arrival
from skavo.store.interview_document import zone_named
from skavo.store.laying import loaded_release
from skavo.store.models import Batch, Keying, Membership, PaperForm, Release, Study, now

_UNFINISHED = "Stands so on the paper, against a hard check or without an answer that is needed"


class FormIn(BaseModel):
    """`number` is what stands on the paper; `enumerator` and `held_on` as far as they stand there."""

    model_config = ConfigDict(extra="forbid")
    number: str = Field(min_length=1, max_length=40, pattern=r"\S")
    enumerator: str = Field(default="", max_length=128)
    held_on: date | None = None


class KeyingContent(BaseModel):
    """What was keyed: answers by path in JSON form, and where the keyer is."""

    model_config = ConfigDict(extra="forbid")
    answers: dict[str, Any] = Field(default={}, max_length=20_000)
    path: str | None = Field(default=None, max_length=400)


class KeyingIn(BaseModel):
    """`seconds` were worked since it was kept last; `ended` says that the paper is keyed to its end."""

    model_config = ConfigDict(extra="forbid")
    turn: Literal[1, 2]
    content: KeyingContent
    seconds: int = Field(default=0, ge=0, le=86_400)
    ended: bool = False


class KeyingOut(BaseModel):
    """A paper in somebody's hands: which turn it is, and what they have keyed so far."""

    form_id: int
    number: str
    turn: Literal[1, 2]
    content: KeyingContent


class KeyedOut(BaseModel):
    """What became of a paper that was kept; `differences` are to be settled before it counts."""

    state: str
    differences: int


class BatchRelease(BaseModel):
    """What the keyer's page needs: the release, and the number of each question on the paper by its variable."""

    hash: str
    compiled: dict[str, Any]
    numbers: dict[str, int]


class DifferenceOut(BaseModel):
    path: str
    around: str
    wording: str
    first: str
    second: str


class SettlingOut(BaseModel):
    """`first` and `second` are the keyers; `open` is what is still to be settled, in the order of the paper."""

    number: str
    state: str
    first: str
    second: str
    settled: int
    open: list[DifferenceOut]
    version: int


class SettleIn(BaseModel):
    """`take` is whose answer counts, or `other` with the `value` that stands on the paper (None for nothing)."""

    model_config = ConfigDict(extra="forbid")
    path: str = Field(max_length=400)
    take: Literal["first", "second", "other"]
    value: Any = None
    version: int


def release_of_batch(desk: Desk, batch_id: int) -> BatchRelease:
    with desk.store.reading() as session:
        release = session.get_one(Release, session.get_one(Batch, batch_id).release_id)
        compiled = RELEASE.read(release.compiled)
        loaded = loaded_release(release)
        numbers = {loaded.parts[index].variable: number for index, number in numbers_of(loaded).items()}
        return BatchRelease(hash=release.hash, compiled=compiled, numbers=numbers)


def take_form(desk: Desk, batch_id: int, wanted: FormIn) -> KeyingOut:
    """Begin with a paper, go on with one's own, or begin the second keying of somebody else's."""
    with desk.store.session() as session:
        batch, number = session.get_one(Batch, batch_id), wanted.number.strip()
        form = session.scalar(select(PaperForm).where(PaperForm.batch_id == batch_id, PaperForm.number == number))
        if form is None:
            form = PaperForm(
                batch_id=batch_id, number=number, uuid=str(uuid4()), enumerator=wanted.enumerator.strip(),
                held_on=_noon(session, batch, wanted.held_on), is_twice=secrets.randbelow(100) < batch.twice,
            )  # fmt: skip
            session.add(form)
            session.flush()
        keying = _keying_for(session, desk, form)
        content = KeyingContent.model_validate(keying.content or {})
        return KeyingOut(form_id=form.id, number=form.number, turn=2 if keying.turn == 2 else 1, content=content)


def _noon(session: Session, batch: Batch, day: date | None) -> datetime | None:
    zone = zone_named(session.get_one(Study, batch.study_id).time_zone)
    return None if day is None else datetime.combine(day, time(12), zone)


def _keying_for(session: Session, desk: Desk, form: PaperForm) -> Keying:
    """The keying that whoever asks may work on, begun where there is none."""
    keyings = {k.turn: k for k in session.scalars(select(Keying).where(Keying.form_id == form.id))}
    state = state_of(session, form.id)
    if state in ("to settle", "finished"):
        raise Refused("keyed_already", f"Paper {form.number} is keyed already. Look at its number.")
    turn = 1 if state == "being keyed" else 2
    mine = keyings.get(turn)
    if mine is not None:
        if not _is_of(mine, desk):
            raise Refused("keyed_by_other", f"{mine.by} is keying paper {form.number}. Take another one.")
        return mine
    if turn == 2 and _is_of(keyings[1], desk):
        raise Refused("second_keyer", f"You keyed paper {form.number} yourself: somebody else keys it again.")
    keying = Keying(form_id=form.id, turn=turn, by=desk.name, by_id=desk.person_id)
    session.add(keying)
    session.flush()
    return keying


def _is_of(keying: Keying, desk: Desk) -> bool:
    return keying.by_id == desk.person_id if keying.by_id is not None else keying.by == desk.name


def keep_keying(desk: Desk, form_id: int, wanted: KeyingIn) -> KeyedOut:
    """Keep what somebody has keyed so far; ended, it is held against the other one, and counts where there is none."""
    with desk.store.session() as session:
        form = session.get_one(PaperForm, form_id)
        keying = session.scalar(select(Keying).where(Keying.form_id == form_id, Keying.turn == wanted.turn))
        if keying is None or not _is_of(keying, desk):
            raise Refused("keyed_by_other", "Somebody else is keying this paper, or it was dropped. Take another one.")
        if keying.ended_at is not None:
            if wanted.ended and keying.content == wanted.content.model_dump():
                return _after(desk.store, form_id)
            raise Refused("keyed_already", "This paper was ended already. Its differences are settled at the desk.")
        keying.content = wanted.content.model_dump()
        keying.seconds += wanted.seconds
        if not wanted.ended:
            return KeyedOut(state="being keyed", differences=0)
        keying.ended_at = now()
        is_last = wanted.turn == 2 or not form.is_twice
    if not is_last:
        return KeyedOut(state="second to key", differences=0)
    return _after(desk.store, form_id)


def _after(store: Store, form_id: int) -> KeyedOut:
    """Let a paper count where nothing is left to settle."""
    with store.reading() as session:
        form, release = _form_and_release(session, form_id)
        if form.finished_at is not None:
            return KeyedOut(state="finished", differences=0)
        found = _compared(session, form, release)
    if found.open:
        return KeyedOut(state="to settle", differences=len(found.open))
    _finish(store, form_id)
    return KeyedOut(state="finished", differences=0)


def _form_and_release(session: Session, form_id: int) -> tuple[PaperForm, Release]:
    form = session.get_one(PaperForm, form_id)
    return form, session.get_one(Release, session.get_one(Batch, form.batch_id).release_id)


def _keyed(session: Session, form: PaperForm) -> tuple[Keying, Keying]:
    """Both keyings; of a paper keyed once the one twice."""
    keyings = {k.turn: k for k in session.scalars(select(Keying).where(Keying.form_id == form.id))}
    last = keyings.get(2 if form.is_twice else 1)
    if last is None or last.ended_at is None:
        raise Refused("not_keyed", f"Paper {form.number} is not keyed to its end yet.")
    return keyings[1], last


def _settled(form: PaperForm) -> Answers:
    return {path: decided["value"] for path, decided in form.settled.items()}


def _compared(session: Session, form: PaperForm, release: Release) -> Compared:
    first, second = _keyed(session, form)
    return compare_keyings(
        loaded_release(release), first.content["answers"], second.content["answers"], _settled(form), _at(session, form)
    )


def _at(session: Session, form: PaperForm) -> datetime:
    """When the interview was held, as far as the paper says; else when its batch was made."""
    return form.held_on or session.get_one(Batch, form.batch_id).created_at


def show_differences(desk: Desk, form_id: int) -> SettlingOut:
    desk.needs_whole_study("Papers")
    with desk.store.reading() as session:
        form, release = _form_and_release(session, form_id)
        first, second = _keyed(session, form)
        found = [] if form.finished_at is not None else _compared(session, form, release).open
        return SettlingOut(
            number=form.number, state="finished" if form.finished_at is not None else "to settle", first=first.by,
            second=second.by, settled=len(form.settled), version=form.version,
            open=[
                DifferenceOut(
                    path=d.path, around=d.around, wording=d.wording, first=d.first_shown, second=d.second_shown
                )
                for d in found
            ],
        )  # fmt: skip


def finish_form(desk: Desk, form_id: int) -> SettlingOut:
    """Let a paper count that has nothing left to settle: the server may have ended before it could."""
    desk.needs_whole_study("Papers")
    _after(desk.store, form_id)
    return show_differences(desk, form_id)


def settle(desk: Desk, form_id: int, wanted: SettleIn) -> SettlingOut:
    """Decide one difference; what hangs on it is looked at after. The last one makes the paper an interview."""
    desk.needs_whole_study("Papers")
    with desk.store.reading() as session:
        form, release = _form_and_release(session, form_id)
        same_version(form.version, wanted.version)
        found = {d.path: d for d in _compared(session, form, release).open}
    difference = found.get(wanted.path)
    if difference is None:
        raise Refused("settled_already", "This is settled, or does not differ. Load the page again.")
    value = {"first": difference.first, "second": difference.second}.get(wanted.take, wanted.value)
    with desk.store.session() as session:
        form = session.get_one(PaperForm, form_id)
        same_version(form.version, wanted.version)
        decided = {"value": value, "by": desk.name, "at": now().isoformat()}
        form.settled = {**form.settled, wanted.path: decided}
        form.version += 1
    _after(desk.store, form_id)
    return show_differences(desk, form_id)


def _finish(store: Store, form_id: int) -> None:
    """Hand the paper in as an interview, as a phone would; the same once more changes nothing."""
    with store.reading() as session:
        form = session.get_one(PaperForm, form_id)
        source, document = _document(session, form)
        arrival = read_arrival(session, source, form.uuid, json.dumps(document, ensure_ascii=False).encode())
    with store.session() as session:
        form = session.get_one(PaperForm, form_id)
        if form.finished_at is None:
            hand_in(session, source, arrival)
            form.finished_at = now()


def _document(session: Session, form: PaperForm) -> tuple[Source, dict[str, Any]]:
    _form, release = _form_and_release(session, form.id)
    batch = session.get_one(Batch, form.batch_id)
    first, second = _keyed(session, form)
    loaded, at = loaded_release(release), _at(session, form).astimezone(UTC)
    answers = agreed_answers(loaded, first.content["answers"], second.content["answers"], _settled(form))
    engine = engine_over(loaded, answers, at)
    for finding in all_findings(engine):
        if finding["strength"] == "should":
            engine.keep(finding["path"], finding["check"], STANDS_SO)
    is_whole = all(finding["strength"] == "should" for finding in all_findings(engine))
    named = select(Membership.person_id).where(
        Membership.study_id == batch.study_id, Membership.name == form.enumerator
    )
    source = Source(
        batch.study_id, form.enumerator or batch.name, f"{batch.name}, {form.number}"[:128], "paper",
        session.scalar(named) if form.enumerator else None,
    )  # fmt: skip
    return source, {
        "format": INTERVIEW.newest, "uuid": form.uuid, "release": release.identity, "release_hash": release.hash,
        "basis": "", "answers": engine.packed_answers(), "derived": engine.derived_values(), "kept": engine.kept,
        "language": batch.language, "practice": False, "unfinished": "" if is_whole else _UNFINISHED,
        "paradata": {
            "started": at.isoformat(), "ended": at.isoformat(), "enumerator": form.enumerator,
            "paper": {"batch": batch.name, "number": form.number},
            "keyed": [{"by": k.by, "seconds": k.seconds} for k in dict.fromkeys((first, second))], "events": [],
        },
    }  # fmt: skip
