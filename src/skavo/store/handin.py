"""Taking in interviews: every document that a device of the study sends is kept as it came, one interview per UUID."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError, SkavoError
from skavo.store.interview_document import ReadDocument, try_reading
from skavo.store.laying import lay_out_interview
from skavo.store.models import Device, Event, Interview, PlanStep, Revision, now

_UUID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")
# Why a revision does not count until a person has decided.
WAITS: dict[str, str] = {
    "other_content": "It does not say which revision it corrects, and another one has arrived before.",
    "overtaken": "It corrects a revision that another one has replaced, or has put in doubt, meanwhile.",
    "desk_edits": "The desk has corrected the interview while it was being corrected on the phone.",
    "decided": "The interview has been accepted or set aside meanwhile.",
}  # fmt: skip


@dataclass(frozen=True)
class Receipt:
    """`hash` is that of the bytes kept; `outcome` is arrived, known (the same again) or revision."""

    uuid: str
    hash: str
    outcome: str
    number: int
    interview_id: int


def hand_in(session: Session, device: Device, uuid: str, raw: bytes) -> Receipt:
    """Keep what `device` sent under `uuid`, whatever it holds, and say what was kept.

    Raise DataError where the address names no interview or another one than the document.
    """
    if not _UUID.fullmatch(uuid):
        raise DataError("wrong_document", "An interview is named by a UUID, in small letters.")
    read = try_reading(raw)
    if isinstance(read, ReadDocument) and read.document.uuid != uuid:
        raise DataError("wrong_document", "The interview’s identity is not the one in the address.")
    arrival = _Arrival(device, uuid, raw, hashlib.sha256(raw).hexdigest(), read)
    of_study = select(Interview).where(Interview.study_id == device.study_id, Interview.uuid == uuid)
    interview = session.scalar(of_study)
    if interview is None:
        return _first(session, arrival)
    known = select(Revision.id).where(Revision.interview_id == interview.id, Revision.hash == arrival.hash)
    if session.scalar(known) is not None:
        return Receipt(uuid, arrival.hash, "known", interview.number, interview.id)
    return _again(session, arrival, interview)


@dataclass(frozen=True)
class _Arrival:
    """What came, and what it could be read as."""

    device: Device
    uuid: str
    raw: bytes
    hash: str
    read: ReadDocument | SkavoError

    def revision(self, number: int, waits: str) -> Revision:
        basis = self.read.document.basis if isinstance(self.read, ReadDocument) else ""
        return Revision(
            number=number, hash=self.hash, basis=basis, waits=waits, device_id=self.device.id,
            by=self.device.enumerator, raw=self.raw, arrived_at=now(),
        )  # fmt: skip

    def event(self, interview: Interview, kind: str, **detail: object) -> Event:
        return Event(
            study_id=self.device.study_id, interview_id=interview.id, kind=kind, by=self.device.enumerator,
            detail=detail,
        )  # fmt: skip


def _first(session: Session, arrival: _Arrival) -> Receipt:
    device = arrival.device
    last = session.scalar(select(func.max(Interview.number)).where(Interview.study_id == device.study_id))
    interview = Interview(
        study_id=device.study_id, device_id=device.id, uuid=arrival.uuid, number=(last or 0) + 1, hash=arrival.hash,
        enumerator=device.enumerator, device_name=device.name, arrived_at=now(),
    )  # fmt: skip
    revision = arrival.revision(1, "")
    lay_out_interview(session, interview, revision, arrival.read)
    session.add(interview)
    session.flush()
    _keep(session, interview, revision)
    detail = {"problem": interview.problem} if interview.problem else {}
    session.add(arrival.event(interview, "arrived", **detail))
    return Receipt(arrival.uuid, arrival.hash, "arrived", interview.number, interview.id)


def _keep(session: Session, interview: Interview, revision: Revision) -> None:
    revision.interview_id = interview.id
    session.add(revision)
    session.flush()


def _again(session: Session, arrival: _Arrival, interview: Interview) -> Receipt:
    interview.revisions += 1
    revision = arrival.revision(interview.revisions, "")
    revision.waits = _why_it_waits(session, interview, revision.basis)
    _keep(session, interview, revision)
    interview.read_at = None
    if revision.waits:
        interview.waiting = True
    else:
        lay_out_interview(session, interview, revision, arrival.read)
        if interview.state == "sent back":
            interview.state = "arrived"
    session.add(arrival.event(interview, "revision", number=revision.number, waits=revision.waits))
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
        PlanStep.questionnaire_id == interview.questionnaire_id, PlanStep.removed_at.is_(None)
    )
    corrections = plan.where(
        PlanStep.body["kind"].as_string() == "correct", PlanStep.body["interview"].as_string() == interview.key
    )
    return list(session.scalars(corrections.order_by(PlanStep.id)))


def count_revision(session: Session, interview: Interview, revision: Revision) -> None:
    """Let `revision` count, by a person’s decision; no other one waits any more."""
    others = select(Revision).where(Revision.interview_id == interview.id, Revision.waits != "")
    for waiting in session.scalars(others):
        waiting.waits = ""
    interview.waiting = False
    lay_out_interview(session, interview, revision)
