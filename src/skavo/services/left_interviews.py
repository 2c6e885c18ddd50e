"""Interviews in hand that enumerators leave at the office, to go on with on another phone of theirs."""

from __future__ import annotations

import hashlib
from datetime import datetime

from pydantic import BaseModel
from sqlalchemy import ColumnElement, or_, select
from sqlalchemy.orm import Session

from skavo.services.refusals import Refused, not_found
from skavo.store.models import Device, Interview, LeftInterview, now


class LeftOut(BaseModel):
    """`on` is the phone that left it."""

    uuid: str
    label: str
    left_at: datetime
    on: str


def leave_interview(session: Session, device: Device, uuid: str, label: str, content: bytes) -> str:
    """Keep what a phone has of an interview in hand; return the hash of what was kept. Leaving it twice changes nothing.

    Raise Refused where it has arrived already, or where another phone has taken it up since.
    """
    of_study = (LeftInterview.study_id == device.study_id, LeftInterview.uuid == uuid)
    arrived = select(Interview.state).where(Interview.study_id == device.study_id, Interview.uuid == uuid)
    if session.scalar(arrived) not in (None, "sent back"):
        raise Refused("arrived_already", "This interview is at the office already. Ask the office to send it back.")
    digest = hashlib.sha256(content).hexdigest()
    kept = session.scalar(select(LeftInterview).where(*of_study))
    if kept is None:
        kept = LeftInterview(study_id=device.study_id, uuid=uuid)
        session.add(kept)
    elif not _is_own(kept, device) or (kept.taken_at is not None and kept.taken_by_id != device.id):
        raise Refused("taken_up", "Another phone has taken this interview up. Hand it in there.")
    kept.person_id, kept.enumerator, kept.device_id = device.person_id, device.enumerator, device.id
    kept.label, kept.content, kept.hash, kept.left_at = label, content, digest, now()
    kept.taken_at = kept.taken_by_id = None
    return digest


def left_for(session: Session, device: Device) -> list[LeftOut]:
    """What waits for the person whose device this is, the newest first; with what this device has taken up itself, so
    that it can ask again where the answer was lost on its way."""
    waiting = select(LeftInterview, Device.name).join(Device, Device.id == LeftInterview.device_id)
    mine = (
        LeftInterview.person_id == device.person_id
        if device.person_id is not None
        else LeftInterview.enumerator == device.enumerator
    )
    rows = session.execute(
        waiting.where(LeftInterview.study_id == device.study_id, _is_free_for(device), mine).order_by(
            LeftInterview.left_at.desc()
        )
    )
    return [LeftOut(uuid=left.uuid, label=left.label, left_at=left.left_at, on=name) for left, name in rows.tuples()]


def take_up(session: Session, device: Device, uuid: str) -> bytes:
    """The content of what was left, for this phone alone from now on; the same phone may ask again, and another one where
    the phone that had it was cut off."""
    wanted = (LeftInterview.study_id == device.study_id, LeftInterview.uuid == uuid)
    kept = session.scalar(select(LeftInterview).where(*wanted))
    if kept is None or not _is_own(kept, device):
        raise not_found("interview left at the office")
    if session.scalar(select(LeftInterview.id).where(*wanted, _is_free_for(device))) is None:
        raise Refused("taken_up", "Another phone has taken this interview up. Go on with it there.")
    kept.taken_at, kept.taken_by_id = now(), device.id
    return kept.content


def forget_left(session: Session, study_id: int, uuid: str) -> None:
    """What was left is needed no longer once the interview has been handed in."""
    kept = session.scalar(select(LeftInterview).where(LeftInterview.study_id == study_id, LeftInterview.uuid == uuid))
    if kept is not None:
        session.delete(kept)


def _is_free_for(device: Device) -> ColumnElement[bool]:
    """Nobody has taken it up, or this device, or one that may do nothing any more."""
    out_of_use = select(Device.id).where(Device.study_id == device.study_id, Device.cut_off_at.is_not(None))
    taken_by = LeftInterview.taken_by_id
    return or_(LeftInterview.taken_at.is_(None), taken_by == device.id, taken_by.in_(out_of_use))


def _is_own(kept: LeftInterview, device: Device) -> bool:
    if device.person_id is None:
        return kept.enumerator == device.enumerator
    return kept.person_id == device.person_id
