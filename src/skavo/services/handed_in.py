"""What an enumerator has handed in, from all their phones: the counts and receipts that they show when pay is due."""

from __future__ import annotations

from datetime import datetime, time
from zoneinfo import ZoneInfo

from pydantic import BaseModel
from sqlalchemy import ColumnElement, and_, func, or_, select
from sqlalchemy.orm import Session

from skavo.store.models import Device, Interview, Study, now

PAGE = 100


class TallyOut(BaseModel):
    """How many interviews that count are at the office; `today` is the study's day. `accepted` and `sent_back` are of all."""

    today: int
    all: int
    accepted: int
    sent_back: int


class ReceiptLine(BaseModel):
    """An interview at the office: `hash` is that of the bytes that count there."""

    uuid: str
    number: int
    hash: str
    arrived_at: datetime
    state: str
    device: str


def own_interviews(device: Device) -> tuple[ColumnElement[bool], ...]:
    """The interviews of the device's study that its person made, on whichever device."""
    by_name = and_(Interview.person_id.is_(None), Interview.enumerator == device.enumerator)
    mine = by_name if device.person_id is None else or_(Interview.person_id == device.person_id, by_name)
    return (Interview.study_id == device.study_id, mine)


def tally_of(session: Session, device: Device) -> TallyOut:
    counting = (*own_interviews(device), Interview.practice.is_(False))
    states = dict(
        session.execute(select(Interview.state, func.count()).where(*counting).group_by(Interview.state)).tuples().all()
    )
    zone = ZoneInfo(session.get_one(Study, device.study_id).time_zone)
    midnight = datetime.combine(now().astimezone(zone).date(), time(), zone)
    today = session.scalar(select(func.count()).where(*counting, Interview.arrived_at >= midnight))
    return TallyOut(
        today=today or 0, all=sum(states.values()), accepted=states.get("accepted", 0),
        sent_back=states.get("sent back", 0),
    )  # fmt: skip


def receipts_of(session: Session, device: Device, before: int | None) -> list[ReceiptLine]:
    """A page of receipts, the newest number first; `before` is the last number of the page before."""
    columns = (
        Interview.uuid, Interview.number, Interview.hash, Interview.arrived_at, Interview.state, Interview.device_name,
    )  # fmt: skip
    query = select(*columns).where(*own_interviews(device), Interview.practice.is_(False))
    if before is not None:
        query = query.where(Interview.number < before)
    rows = session.execute(query.order_by(Interview.number.desc()).limit(PAGE)).tuples()
    return [
        ReceiptLine(uuid=uuid, number=number, hash=digest, arrived_at=at, state=state, device=device_name)
        for uuid, number, digest, at, state, device_name in rows
    ]
