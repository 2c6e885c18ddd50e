"""The field station at the desk: pairing codes and devices."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta
from typing import Any

import segno
from flask import request
from pydantic import BaseModel, Field
from sqlalchemy import func, select

from skavo.store.models import Device, Event, Interview, PairingCode, now
from skavo.web.problems import not_found
from skavo.web.routing import Resource, store, who
from skavo.web.shapes import Body, StudyPath
from skavo.web.studies import study_or_404

api = Resource("field")
CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
CODE_LASTS = timedelta(minutes=30)


class PairingIn(Body):
    enumerator: str = Field(min_length=1, max_length=128)


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


def hash_of(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def plain_code(code: str) -> str:
    """A code as it is compared: capital letters, no dashes or spaces."""
    return "".join(c for c in code.upper() if c in CODE_LETTERS)


@api.route_for("post", "/studies/<int:study_id>/pairing-codes", needs="field.manage", returns=PairingOut, status=201)
def make_code(path: StudyPath, body: PairingIn) -> PairingOut:
    """A one-time code for one phone of one enumerator."""
    letters = "".join(secrets.choice(CODE_LETTERS) for _ in range(8))
    code = f"{letters[:4]}-{letters[4:]}"
    expires = now() + CODE_LASTS
    with store().session() as session:
        study_or_404(session, path.study_id)
        session.add(
            PairingCode(
                study_id=path.study_id,
                code_hash=hash_of(letters),
                enumerator=body.enumerator.strip(),
                expires_at=expires,
            )
        )
    address = f"{request.host_url}field/#pair={code}"
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
        study_or_404(session, path.study_id)
        counts = select(func.count()).where(Interview.device_id == Device.id).scalar_subquery()
        rows = session.execute(
            select(Device, counts).where(Device.study_id == path.study_id).order_by(Device.cut_off_at, Device.name)
        )
        return [_out(device, handed_in) for device, handed_in in rows]


def _out(device: Device, handed_in: int) -> DeviceOut:
    return DeviceOut(
        id=device.id, name=device.name, enumerator=device.enumerator, paired_at=device.paired_at,
        last_heard=device.last_heard, carries=device.carries, cut_off_at=device.cut_off_at, handed_in=handed_in,
    )  # fmt: skip


@api.route_for("post", "/devices/<int:device_id>/cut-off", needs="field.manage", returns=DeviceOut)
def cut_off(path: DevicePath) -> DeviceOut:
    """A lost device may do nothing any more; what it handed in stays. Cutting off again gives it back."""
    with store().session() as session:
        device = session.get(Device, path.device_id)
        if device is None:
            raise not_found("device")
        device.cut_off_at = None if device.cut_off_at else now()
        kind = "device cut off" if device.cut_off_at else "device given back"
        session.add(Event(study_id=device.study_id, kind=kind, by=who(), detail={"device": device.name}))
        handed_in = session.scalar(select(func.count()).where(Interview.device_id == device.id))
        return _out(device, handed_in or 0)
