"""The field station at the desk: pairing codes and devices."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import segno
from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.store.models import Device, Interview, Membership, PairingCode, now
from skavo.store.secrets import hash_of, new_code, plain_code
from skavo.web.mail import public_address
from skavo.web.problems import Problem
from skavo.web.routing import Resource, desk, store
from skavo.web.shapes import Body, StudyPath

api = Resource("field")
CODE_LASTS = timedelta(minutes=30)


class PairingIn(Body):
    """`member_id` is the enumerator who will carry the phone."""

    member_id: int


class PairingOut(BaseModel):
    """`qr` is a picture of the address that the phone opens, as an SVG path on a grid of `size` modules."""

    code: str
    address: str
    qr: str
    size: int
    expires_at: datetime


class DeviceOut(BaseModel):
    id: int
    name: str
    enumerator: str
    paired_at: datetime
    last_heard: datetime | None
    carries: dict[str, Any]
    cut_off_at: datetime | None
    handed_in: int


class DevicePath(BaseModel):
    device_id: int


@api.route_for("post", "/studies/<int:study_id>/pairing-codes", needs="field.manage", returns=PairingOut, status=201)
def make_code(path: StudyPath, body: PairingIn) -> PairingOut:
    """A one-time code for one phone of one enumerator."""
    code = new_code()
    expires = now() + CODE_LASTS
    with store().session() as session:
        member = session.scalar(
            select(Membership).where(
                Membership.id == body.member_id, Membership.study_id == path.study_id, Membership.left_at.is_(None)
            )
        )
        if member is None or "enumerator" not in member.roles:
            raise Problem(
                "wrong_role", "Only an enumerator of this study carries a phone. Add the person under People."
            )
        teams = desk().teams
        if teams is not None and member.team_id not in teams:
            raise Problem("not_your_team", f"{member.name} is in none of your teams. Ask the data manager.")
        session.add(
            PairingCode(
                study_id=path.study_id, code_hash=hash_of(plain_code(code)), enumerator=member.name,
                person_id=member.person_id, expires_at=expires,
            )
        )  # fmt: skip
    address = f"{public_address()}field/#pair={code}"
    qr, size = _drawn(address)
    return PairingOut(code=code, address=address, qr=qr, size=size, expires_at=expires)


def _drawn(text: str) -> tuple[str, int]:
    """A QR picture of `text` as an SVG path, a module one unit wide."""
    matrix = list(segno.make(text, error="m").matrix_iter(scale=1, border=2))
    squares = [f"M{x} {y}h1v1h-1z" for y, row in enumerate(matrix) for x, dark in enumerate(row) if dark]
    return "".join(squares), len(matrix)


@api.route_for("get", "/studies/<int:study_id>/devices", needs="field.read", returns=list[DeviceOut])
def devices(path: StudyPath) -> list[DeviceOut]:
    with store().reading() as session:
        counts = select(func.count()).where(Interview.device_id == Device.id).scalar_subquery()
        rows = session.execute(
            select(Device, counts).where(*desk().reach_devices(path.study_id)).order_by(Device.cut_off_at, Device.name)
        )
        return [_out(device, handed_in) for device, handed_in in rows]


def _out(device: Device, handed_in: int) -> DeviceOut:
    return DeviceOut(
        id=device.id, name=device.name, enumerator=device.enumerator, paired_at=device.paired_at,
        last_heard=device.last_heard, carries=device.carries, cut_off_at=device.cut_off_at, handed_in=handed_in,
    )  # fmt: skip


@api.route_for("post", "/devices/<int:device_id>/cut-off", needs="field.manage", returns=DeviceOut)
def cut_off(path: DevicePath) -> DeviceOut:
    """A lost device may do nothing any more; what it handed in stays. Cutting it off twice changes nothing."""
    return _switch(path, off=True)


@api.route_for("delete", "/devices/<int:device_id>/cut-off", needs="field.manage", returns=DeviceOut)
def give_back(path: DevicePath) -> DeviceOut:
    """Let a device that was cut off do its work again; not where its person has left the study."""
    return _switch(path, off=False)


def _switch(path: DevicePath, *, off: bool) -> DeviceOut:
    with store().session() as session:
        device = session.get_one(Device, path.device_id)
        if (device.cut_off_at is not None) is not off:
            if not off:
                _check_member(session, device)
            device.cut_off_at = now() if off else None
            kind = "device cut off" if off else "device given back"
            session.add(desk().event(device.study_id, kind, device=device.name))
        handed_in = session.scalar(select(func.count()).where(Interview.device_id == device.id))
        return _out(device, handed_in or 0)


def _check_member(session: Session, device: Device) -> None:
    member = select(Membership.id).where(
        Membership.study_id == device.study_id, Membership.person_id == device.person_id, Membership.left_at.is_(None)
    )
    if device.person_id is not None and session.scalar(member) is None:
        raise Problem("has_left", f"{device.enumerator} has left the study. Take them in again under People first.")
