"""Taking in interviews: every document that a device of the study sends is kept as it came, one interview per UUID."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError, SkavoError
from skavo.store.interview_document import ReadDocument, try_reading
from skavo.store.laying import Columns, columns_of, let_count
from skavo.store.models import Device, Event, Interview, PlanStep, Revision, now
from skavo.store.unit_handin import Handed, hand_in_change, is_about_unit
from skavo.store.visits import end_visit

_UUID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")
# Why a revision does not count until a person has decided.
WAITS: dict[str, str] = {
    "other_content": "It does not say which revision it corrects, and another one has arrived before.",
    "overtaken": "It corrects a revision that another one has replaced, or has put in doubt, meanwhile.",
    "desk_edits": "The desk has corrected the interview while it was being corrected on the phone.",
    "decided": "The interview has been accepted or set aside meanwhile.",
}  # fmt: skip


Origin = Literal["phone", "link", "paper"]


@dataclass(frozen=True)
class Source:
    """Whence an interview comes: `by` is who held it, as the ledger names them; `where` the device, or what stands for
    one."""

    study_id: int
    by: str
    where: str
    origin: Origin
    person_id: int | None = None
    device_id: int | None = None
    link_id: int | None = None


def from_device(device: Device) -> Source:
    return Source(device.study_id, device.enumerator, device.name, "phone", device.person_id, device.id)


@dataclass(frozen=True)
class Receipt:
    """`hash` is that of the bytes kept; `outcome` is arrived, known (the same again) or revision. What changes a unit is no
    interview, and has none."""

    uuid: str
    hash: str
    outcome: str
    number: int
    interview_id: int | None


@dataclass(frozen=True)
class Arrival:
    """What came, what it could be read as, and what follows from it; `columns` is empty where it was here already."""

    uuid: str
    raw: bytes
    hash: str
    at: datetime
    read: ReadDocument | SkavoError
    columns: Columns

    def revision(self, source: Source, number: int) -> Revision:
        basis = self.read.document.basis if isinstance(self.read, ReadDocument) else ""
        return Revision(
            number=number, hash=self.hash, basis=basis, waits="", device_id=source.device_id, by=source.by,
            by_id=source.person_id, raw=self.raw, arrived_at=self.at,
        )  # fmt: skip


def read_arrival(session: Session, source: Source, uuid: str, raw: bytes) -> Arrival:
    """Read what `source` sent under `uuid` and run the engine over it; nothing is written yet.

    Raise DataError where the address names no interview or another one than the document.
    """
    if not _UUID.fullmatch(uuid):
        raise DataError("wrong_document", "An interview is named by a UUID, in small letters.")
    read, digest, at = try_reading(raw), hashlib.sha256(raw).hexdigest(), now()
    if isinstance(read, ReadDocument) and read.document.uuid != uuid:
        raise DataError("wrong_document", "The interview’s identity is not the one in the address.")
    if is_about_unit(read) and source.origin != "phone":
        raise DataError("wrong_document", "Units are changed on phones and at the desk only.")
    interview = _known(session, source, uuid)
    if is_about_unit(read) or (interview is not None and _has(session, interview, digest)):
        return Arrival(uuid, raw, digest, at, read, {})
    first = at if interview is None else interview.arrived_at
    columns = columns_of(session, source.study_id, read, by=source.by, arrived=at, first=first)
    return Arrival(uuid, raw, digest, at, read, columns)


def hand_in(session: Session, source: Source, arrival: Arrival) -> Receipt:
    """Keep what arrived, whatever it holds, and say what was kept."""
    if is_about_unit(arrival.read):
        return _change_of_unit(session, source, arrival)
    interview = _known(session, source, arrival.uuid)
    if interview is None:
        return _first(session, source, arrival)
    if _has(session, interview, arrival.hash):
        return Receipt(arrival.uuid, arrival.hash, "known", interview.number, interview.id)
    return _again(session, source, arrival, interview)


def _change_of_unit(session: Session, source: Source, arrival: Arrival) -> Receipt:
    assert isinstance(arrival.read, ReadDocument)
    handed = Handed(
        source.study_id, arrival.uuid, arrival.hash, arrival.raw, arrival.at, source.by, source.person_id, source.device_id,
    )  # fmt: skip
    change, is_new = hand_in_change(session, handed, arrival.read.document)
    return Receipt(arrival.uuid, arrival.hash, "arrived" if is_new else "known", change.number, None)


def _known(session: Session, source: Source, uuid: str) -> Interview | None:
    return session.scalar(select(Interview).where(Interview.study_id == source.study_id, Interview.uuid == uuid))


def _has(session: Session, interview: Interview, digest: str) -> bool:
    known = select(Revision.id).where(Revision.interview_id == interview.id, Revision.hash == digest)
    return session.scalar(known) is not None


def _first(session: Session, source: Source, arrival: Arrival) -> Receipt:
    last = session.scalar(select(func.max(Interview.number)).where(Interview.study_id == source.study_id))
    interview = Interview(
        study_id=source.study_id, device_id=source.device_id, uuid=arrival.uuid, number=(last or 0) + 1,
        hash=arrival.hash, enumerator=source.by, person_id=source.person_id, device_name=source.where,
        origin=source.origin, link_id=source.link_id, arrived_at=arrival.at,
    )  # fmt: skip
    revision = arrival.revision(source, 1)
    let_count(session, interview, revision, arrival.columns)
    session.add(interview)
    session.flush()
    _keep(session, interview, revision)
    detail = {"problem": interview.problem} if interview.problem else {}
    session.add(_event(source, interview, "arrived", **detail))
    if isinstance(arrival.read, ReadDocument):
        end_visit(session, interview, bool(arrival.read.document.unfinished))
    return Receipt(arrival.uuid, arrival.hash, "arrived", interview.number, interview.id)


def _event(source: Source, interview: Interview, kind: str, **detail: object) -> Event:
    return Event(
        study_id=source.study_id, interview_id=interview.id, kind=kind, by=source.by, by_id=source.person_id,
        detail=detail
    )  # fmt: skip


def _keep(session: Session, interview: Interview, revision: Revision) -> None:
    revision.interview_id = interview.id
    session.add(revision)
    session.flush()


def _again(session: Session, source: Source, arrival: Arrival, interview: Interview) -> Receipt:
    interview.revisions += 1
    revision = arrival.revision(source, interview.revisions)
    revision.waits = _why_it_waits(session, interview, revision.basis)
    _keep(session, interview, revision)
    interview.read_at = None
    if revision.waits:
        interview.waiting = True
    else:
        let_count(session, interview, revision, arrival.columns)
        if interview.state == "sent back":
            interview.state = "arrived"
    session.add(_event(source, interview, "revision", number=revision.number, waits=revision.waits))
    return Receipt(interview.uuid, arrival.hash, "revision", interview.number, interview.id)


def _why_it_waits(session: Session, interview: Interview, basis: str) -> str:
    """A key of WAITS, or "" where the revision may count at once."""
    if not basis and interview.problem == "":
        return "other_content"
    if interview.waiting or (basis and basis != interview.hash):
        return "overtaken"
    if interview.state in ("accepted", "set aside"):
        return "decided"
    return "desk_edits" if desk_edits(session, interview) else ""


def desk_edits(session: Session, interview: Interview) -> list[PlanStep]:
    """The corrections that the desk has made in this interview and not taken back."""
    if interview.questionnaire_id is None:
        return []
    plan = select(PlanStep).where(
        PlanStep.questionnaire_id == interview.questionnaire_id, PlanStep.removed_at.is_(None), PlanStep.off.is_(False)
    )
    corrections = plan.where(
        PlanStep.body["kind"].as_string() == "correct", PlanStep.body["interview"].as_string() == interview.key
    )
    return list(session.scalars(corrections.order_by(PlanStep.id)))


def count_revision(session: Session, interview: Interview, revision: Revision, columns: Columns) -> None:
    """Let `revision` count, with the `columns` that follow from it, by a person’s decision; no other one waits any more."""
    others = select(Revision).where(Revision.interview_id == interview.id, Revision.waits != "")
    for waiting in session.scalars(others):
        waiting.waits = ""
    interview.waiting = False
    let_count(session, interview, revision, columns)
