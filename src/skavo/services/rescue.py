"""A forgotten PIN: a phone asks to be let in, somebody at the office who knows who rings lets it in, and nobody else can.

What opens the phone's storage reached the office wrapped for the study's public key; it goes back wrapped for a key pair
that the phone made for this one time. So whoever listens, or holds the phone without the office, has nothing.
"""

from __future__ import annotations

from datetime import timedelta
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.services.desk import Desk
from skavo.services.refusals import Refused, not_found
from skavo.store.database import Store
from skavo.store.models import Device, Event, StudyKey, now
from skavo.store.sealing import check_of, fingerprint, unwrap, wrap_for

# Somebody rings, is called back, is let in: within the day, or it is asked for again.
LASTS = timedelta(hours=24)


class RescueIn(BaseModel):
    """`wrapped` is the storage key for the study's public key, which `study_key` tells by its fingerprint; `public` is the
    phone's key for this one time (base64)."""

    model_config = ConfigDict(extra="forbid")

    study_key: str = Field(pattern="^[0-9a-f]{16}$")
    wrapped: str = Field(max_length=1000)
    public: str = Field(max_length=1000)


class RescueOut(BaseModel):
    """`told` is what the phone shows and the office sees, to be compared; `answer` is the storage key for `public`."""

    state: Literal["waiting", "let in"]
    told: str
    answer: str


def ask_to_be_let_in(store: Store, wanted: RescueIn) -> RescueOut:
    """A phone whose PIN was forgotten asks, or asks again whether it was let in; raise Refused where none has that key."""
    told = fingerprint(wanted.public)[:6]
    wrap_for(wanted.public, b"0" * 32)
    with store.session() as session:
        device = _device(session, wanted)
        if device.cut_off_at is not None:
            raise Refused("not_allowed", "The office has cut this device off. Nothing on it is lost; ask the office.")
        known = device.rescue or {}
        is_same = known.get("public") == wanted.public and now().timestamp() - known["asked"] < LASTS.total_seconds()
        if is_same and "answer" in known:
            return RescueOut(state="let in", told=told, answer=known["answer"])
        if not is_same:
            device.rescue = {"public": wanted.public, "wrapped": wanted.wrapped, "asked": now().timestamp()}
            session.add(
                Event(
                    study_id=device.study_id, kind="asked to be let in", by=device.enumerator, by_id=device.person_id,
                    detail={"device": device.name},
                )
            )  # fmt: skip
        return RescueOut(state="waiting", told=told, answer="")


def _device(session: Session, wanted: RescueIn) -> Device:
    """The device whose storage key was wrapped: that it can wrap it is its proof."""
    keys = [key for key in session.scalars(select(StudyKey)) if fingerprint(key.public) == wanted.study_key]
    for key in keys:
        check = check_of(unwrap(key, wanted.wrapped))
        found = session.scalar(select(Device).where(Device.study_id == key.study_id, Device.key_check == check))
        if found is not None:
            return found
    raise Refused("device_unknown", "The office knows no phone with this storage. Ask the office for help.")


def let_in(desk: Desk, device_id: int, told: str) -> None:
    """Let a phone in whose PIN was forgotten; `told` is what its holder has read out, so that it is the right one."""
    with desk.store.session() as session:
        device = session.get_one(Device, device_id)
        asked = device.rescue
        if asked is None or "answer" in asked:
            raise not_found("request to be let in")
        if fingerprint(asked["public"])[:6] != told.strip().lower():
            raise Refused(
                "other_phone", f"{device.name} shows something else. Have it read out again, and let in nobody you cannot see or hear."
            )  # fmt: skip
        key = session.scalars(select(StudyKey).where(StudyKey.study_id == device.study_id)).one()
        answer = wrap_for(asked["public"], unwrap(key, asked["wrapped"]))
        device.rescue = {"public": asked["public"], "asked": asked["asked"], "answer": answer}
        session.add(desk.event(device.study_id, "let in", device=device.name))
