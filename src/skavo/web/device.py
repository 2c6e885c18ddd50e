"""What a phone asks for: pairing, its profile, releases, and handing in interviews."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime
from typing import Any

from flask import Response, g, jsonify, request
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.store.files import keep_file
from skavo.store.handin import hand_in
from skavo.store.models import Device, Event, PairingCode, Questionnaire, Release, Study, now
from skavo.web.field import hash_of, plain_code
from skavo.web.limits import limiter
from skavo.web.problems import Problem, not_found
from skavo.web.routing import Resource, store
from skavo.web.shapes import Body

api = Resource("device", "/field")
MOST_BYTES = 5 * 1024 * 1024
MOST_FILE_BYTES = 100 * 1024 * 1024


class PairIn(Body):
    code: str = Field(max_length=32)
    device: str = Field(min_length=1, max_length=128)


class Paired(BaseModel):
    """`token` is shown this once; the device sends it as a bearer token from now on."""

    token: str
    device: str
    enumerator: str
    study: str


class ReleaseLine(BaseModel):
    questionnaire_id: int
    title: dict[str, str]
    number: int
    hash: str


class Profile(BaseModel):
    study: str
    device: str
    enumerator: str
    releases: list[ReleaseLine]
    server_time: datetime


class Carries(Body):
    in_hand: int = Field(ge=0)
    packed: int = Field(ge=0)


class ReceiptOut(BaseModel):
    uuid: str
    hash: str
    outcome: str
    number: int


class ReleasePath(BaseModel):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


class FileReceipt(BaseModel):
    """The hash of what is on disk."""

    hash: str


class HandInPath(BaseModel):
    uuid: str


@api.route_for("post", "/pair", needs="open", returns=Paired)
@limiter.limit("20 per minute")
def pair(body: PairIn) -> Paired:
    """Trade a one-time code for a device token."""
    with store().session() as session:
        code = session.scalar(select(PairingCode).where(PairingCode.code_hash == hash_of(plain_code(body.code))))
        if code is None or code.used_at is not None or code.expires_at < now():
            reason = "is not known" if code is None else "was used already" if code.used_at else "is too old"
            raise Problem("wrong_pairing_code", f"This code {reason}. Ask the office for a new one.")
        code.used_at = now()
        token = secrets.token_urlsafe(32)
        device = Device(
            study_id=code.study_id,
            name=body.device,
            enumerator=code.enumerator,
            token_hash=hash_of(token),
            last_heard=now(),
        )
        session.add(device)
        session.add(
            Event(study_id=code.study_id, kind="device paired", by=code.enumerator, detail={"device": body.device})
        )
        study = session.get_one(Study, code.study_id)
        return Paired(token=token, device=device.name, enumerator=device.enumerator, study=study.title)


def _device(session: Session) -> Device:
    """The device that is asking, by its bearer token."""
    scheme, _, token = request.headers.get("Authorization", "").partition(" ")
    device = session.scalar(select(Device).where(Device.token_hash == hash_of(token))) if scheme == "Bearer" else None
    if device is None:
        raise Problem("device_unknown", "This device is not paired. Pair it again with a code from the office.")
    if device.cut_off_at is not None:
        raise Problem("not_allowed", "The office has cut this device off. Nothing on it is lost; ask the office.")
    g.device_name = device.name
    return device


@api.route_for("post", "/profile", needs="device", returns=Profile)
def profile(body: Carries) -> Profile:
    """What the device should hold now; it says what it carries."""
    with store().session() as session:
        device = _device(session)
        device.last_heard = now()
        device.carries = body.model_dump()
        study = session.get_one(Study, device.study_id)
        return Profile(
            study=study.title,
            device=device.name,
            enumerator=device.enumerator,
            releases=_newest_releases(session, device.study_id),
            server_time=now(),
        )


def _newest_releases(session: Session, study_id: int) -> list[ReleaseLine]:
    query = select(Release).join(Questionnaire).where(Questionnaire.study_id == study_id).order_by(Release.number)
    newest = {release.questionnaire_id: release for release in session.scalars(query)}
    return [
        ReleaseLine(questionnaire_id=r.questionnaire_id, title=r.compiled["title"], number=r.number, hash=r.hash)
        for r in newest.values()
    ]


@api.route_for("get", "/releases/<string:hash>", needs="device")
def release(path: ReleasePath) -> Response:
    with store().reading() as session:
        device = _device(session)
        query = select(Release).join(Questionnaire).where(Release.hash == path.hash)
        found = session.scalars(query.where(Questionnaire.study_id == device.study_id)).first()
        if found is None:
            raise not_found("release")
        compiled: dict[str, Any] = found.compiled
    return jsonify({"number": found.number, "questionnaire_id": found.questionnaire_id, "compiled": compiled})


@api.route_for("put", "/files/<string:hash>", needs="device", returns=FileReceipt)
def take_in_file(path: ReleasePath) -> FileReceipt:
    """Keep a photo, a recording or another file that an interview refers to by its hash."""
    content = request.get_data(cache=False)
    if len(content) > MOST_FILE_BYTES:
        raise Problem("file_too_large", f"The file is larger than {MOST_FILE_BYTES // 2**20} MB.")
    with store().reading() as session:
        _device(session)
    if hashlib.sha256(content).hexdigest() != path.hash:
        raise Problem("wrong_document", "The file changed on its way. It is sent again.")
    return FileReceipt(hash=keep_file(store().files, content))


@api.route_for("put", "/interviews/<string:uuid>", needs="device", returns=ReceiptOut)
def take_in(path: HandInPath) -> ReceiptOut:
    """Keep an interview, byte for byte; the receipt carries the hash of what is on disk."""
    raw = request.get_data(cache=False)
    if len(raw) > MOST_BYTES:
        raise Problem("file_too_large", "The interview is larger than 5 MB.")
    with store().session() as session:
        device = _device(session)
        device.last_heard = now()
        receipt = hand_in(session, device, raw)
        if receipt.uuid != path.uuid:
            raise Problem("wrong_document", "The interview’s identity is not the one in the address.")
    return ReceiptOut(uuid=receipt.uuid, hash=receipt.hash, outcome=receipt.outcome, number=receipt.number)
