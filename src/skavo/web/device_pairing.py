"""How a phone comes and goes: pairing, being wiped, and being let in again when its PIN was forgotten."""

from __future__ import annotations

from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.services.rescue import RescueIn, RescueOut, ask_to_be_let_in
from skavo.store.models import Device, Event, PairingCode, Study, now
from skavo.store.secrets import hash_of, new_secret, plain_code
from skavo.web.device import device_asking
from skavo.web.limits import limiter
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store
from skavo.web.shapes import Body

api = Resource("device_pairing", "/field")


class PairIn(Body):
    code: str = Field(max_length=32)
    device: str = Field(min_length=1, max_length=128)


class Paired(BaseModel):
    """`token` is shown this once; the device sends it as a bearer token from now on."""

    token: str
    device: str
    enumerator: str
    study: str


@api.route_for("post", "/pair", needs="open", returns=Paired)
@limiter.limit("20 per minute")
def pair(body: PairIn) -> Paired:
    """Trade a one-time code for a device token; a phone that takes another one's place cuts that one off."""
    with store().session() as session:
        code = _code(session, body.code)
        code.used_at = now()
        token = new_secret()
        device = Device(
            study_id=code.study_id, name=body.device, enumerator=code.enumerator, person_id=code.person_id,
            replaces_id=code.replaces_id, token_hash=hash_of(token), last_heard=now(),
        )  # fmt: skip
        session.add(device)
        session.add(_event(device, "device paired", device=body.device))
        if code.replaces_id is not None:
            lost = session.get_one(Device, code.replaces_id)
            if lost.cut_off_at is None:
                lost.cut_off_at = now()
                session.add(_event(device, "device replaced", device=lost.name, by=body.device))
        study = session.get_one(Study, code.study_id)
        return Paired(token=token, device=device.name, enumerator=device.enumerator, study=study.title)


def _code(session: Session, typed: str) -> PairingCode:
    """The code, fit for use; raise Problem where it is not, saying why."""
    code = session.scalar(select(PairingCode).where(PairingCode.code_hash == hash_of(plain_code(typed))))
    if code is None:
        why, said = "unknown", "is not known"
    elif code.used_at is not None:
        why, said = "used", "was used already"
    elif code.withdrawn_at is not None:
        why, said = "withdrawn", "was taken back by the office"
    elif code.expires_at < now():
        why, said = "too_old", "is too old"
    else:
        return code
    raise Problem("wrong_pairing_code", f"This code {said}. Ask the office for a new one.", {"why": why})


def _event(device: Device, kind: str, /, **detail: str) -> Event:
    return Event(
        study_id=device.study_id, kind=kind, by=device.enumerator, by_id=device.person_id, detail=detail
    )  # fmt: skip


@api.route_for("post", "/wiped", needs="device to wipe")
def wiped() -> None:
    """The device has forgotten everything, as it was ordered to."""
    with store().session() as session:
        device = device_asking(session)
        if device.wipe_at is None:
            raise Problem("not_ordered", "The office has not ordered this device to forget anything.")
        device.wiped_at = device.cut_off_at = now()
        device.carries = {}
        session.add(_event(device, "device wiped", device=device.name))


@api.route_for("post", "/rescue", needs="open", returns=RescueOut)
@limiter.limit("30 per minute")
def rescue(body: RescueIn) -> RescueOut:
    """Ask to be let in, and ask again whether that has happened; the answer opens with the phone's own key only."""
    return ask_to_be_let_in(store(), body)
