"""What a phone asks for: pairing, its profile, releases, what was sent back, and handing in interviews."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from flask import Response, jsonify, request
from pydantic import BaseModel, Field
from sqlalchemy import ColumnElement, and_, or_, select
from sqlalchemy.orm import Session

from skavo.core.interview.formats import RELEASE
from skavo.services.refusals import not_found
from skavo.store.filing import claim_files
from skavo.store.handin import hand_in, read_arrival
from skavo.store.models import (
    Device,
    Event,
    Interview,
    PairingCode,
    Questionnaire,
    Release,
    Revision,
    Study,
    now,
)
from skavo.store.secrets import hash_of, new_secret, plain_code
from skavo.web.guard import caller
from skavo.web.limits import limiter
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store
from skavo.web.shapes import Body

api = Resource("device", "/field")
MOST_BYTES = 5 << 20


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
    identity: str
    hash: str
    format: str
    practice: bool = Field(default=False, description="Whether it is for practice only.")


class RemarkOut(BaseModel):
    """What somebody at the office wrote about an interview; `path` names the question, "" the whole."""

    path: str
    text: str


class SentBack(BaseModel):
    """An interview to be corrected: `hash` is that of the revision to correct."""

    uuid: str
    number: int
    hash: str
    release: str
    by: str
    at: datetime
    remarks: list[RemarkOut]


class Profile(BaseModel):
    study: str
    device: str
    enumerator: str
    releases: list[ReleaseLine]
    sent_back: list[SentBack]
    server_time: datetime
    withdrawn: list[str] = Field(default=[], description="Hashes of releases with which no interview is to begin.")


class Carries(Body):
    """`releases` are those that the phone holds, by the hash of their content, with how many interviews on it were
    begun with each; phones of earlier builds do not tell."""

    in_hand: int = Field(ge=0)
    packed: int = Field(ge=0)
    releases: dict[str, int] = Field(default={}, max_length=200)


class ReceiptOut(BaseModel):
    uuid: str
    hash: str
    outcome: str
    number: int


class ReleasePath(BaseModel):
    """The identity of a release; phones of earlier builds name the hash of its content."""

    identity: str = Field(pattern="^([0-9a-f]{32}|[0-9a-f]{64})$")


class HandInPath(BaseModel):
    uuid: str


@api.route_for("post", "/pair", needs="open", returns=Paired)
@limiter.limit("20 per minute")
def pair(body: PairIn) -> Paired:
    """Trade a one-time code for a device token."""
    with store().session() as session:
        code = session.scalar(select(PairingCode).where(PairingCode.code_hash == hash_of(plain_code(body.code))))
        if code is None or code.used_at is not None or code.expires_at < now():
            why = "unknown" if code is None else "used" if code.used_at else "too_old"
            said = {"unknown": "is not known", "used": "was used already", "too_old": "is too old"}[why]
            raise Problem("wrong_pairing_code", f"This code {said}. Ask the office for a new one.", {"why": why})
        code.used_at = now()
        token = new_secret()
        device = Device(
            study_id=code.study_id,
            name=body.device,
            enumerator=code.enumerator,
            person_id=code.person_id,
            token_hash=hash_of(token),
            last_heard=now(),
        )
        session.add(device)
        session.add(
            Event(
                study_id=code.study_id, kind="device paired", by=code.enumerator, by_id=code.person_id,
                detail={"device": body.device},
            )
        )  # fmt: skip
        study = session.get_one(Study, code.study_id)
        return Paired(token=token, device=device.name, enumerator=device.enumerator, study=study.title)


def device_asking(session: Session) -> Device:
    """The device that is asking, as the guard found it."""
    return session.get_one(Device, caller().device_id)


@api.route_for("post", "/profile", needs="device", returns=Profile)
def profile(body: Carries) -> Profile:
    """What the device should hold now; it says what it carries."""
    with store().session() as session:
        device = device_asking(session)
        device.last_heard = now()
        device.carries = body.model_dump()
        study = session.get_one(Study, device.study_id)
        return Profile(
            study=study.title,
            device=device.name,
            enumerator=device.enumerator,
            releases=_newest_releases(session, device.study_id),
            sent_back=_sent_back(session, device),
            server_time=now(),
            withdrawn=_withdrawn(session, device.study_id),
        )


def _withdrawn(session: Session, study_id: int) -> list[str]:
    """What was withdrawn and not given out again under another number."""
    query = select(Release.hash, Release.withdrawn).join(Questionnaire).where(Questionnaire.study_id == study_id)
    rows = session.execute(query).all()
    out = {digest for digest, withdrawn in rows if withdrawn is None}
    return sorted({digest for digest, withdrawn in rows if withdrawn is not None} - out)


def _newest_releases(session: Session, study_id: int) -> list[ReleaseLine]:
    """Of each questionnaire the newest, and the one for practice that is newer still."""
    query = select(Release).join(Questionnaire).where(Questionnaire.study_id == study_id).order_by(Release.number)
    newest: dict[int, list[Release]] = {}
    for release in session.scalars(query):
        if release.withdrawn is None and not release.awaits:
            held = [r for r in newest.get(release.questionnaire_id, []) if release.practice and not r.practice]
            newest[release.questionnaire_id] = [*held, release]
    return [
        ReleaseLine(
            questionnaire_id=r.questionnaire_id, title=r.compiled["title"], number=r.number, identity=r.identity,
            hash=r.hash, format=r.compiled["format"], practice=r.practice,
        )
        for releases in newest.values()
        for r in releases
    ]  # fmt: skip


def _own(device: Device) -> tuple[ColumnElement[bool], ...]:
    """The interviews of the device's study that its person made, on whichever device."""
    by_name = and_(Interview.person_id.is_(None), Interview.enumerator == device.enumerator)
    mine = by_name if device.person_id is None else or_(Interview.person_id == device.person_id, by_name)
    return (Interview.study_id == device.study_id, mine)


_TO_CORRECT = (Interview.state == "sent back", Interview.waiting.is_(False))


def _sent_back(session: Session, device: Device) -> list[SentBack]:
    """What waits to be corrected by the person whose device this is; what waits for a decision does not."""
    wanted = select(Interview, Release.identity).join(Release, Interview.release_id == Release.id)
    rows = session.execute(wanted.where(*_own(device), *_TO_CORRECT).order_by(Interview.number)).all()
    decisions = select(Event).where(
        Event.interview_id.in_([interview.id for interview, _ in rows]), Event.kind == "sent back"
    )
    newest = {event.interview_id: event for event in session.scalars(decisions.order_by(Event.id))}
    return [
        SentBack(
            uuid=interview.uuid, number=interview.number, hash=interview.hash, release=identity, by=event.by, at=event.at,
            remarks=remarks_of(event),
        )
        for interview, identity in rows
        if (event := newest.get(interview.id)) is not None
    ]  # fmt: skip


def remarks_of(event: Event) -> list[RemarkOut]:
    """The remarks with which an interview was sent back, the one about the whole first."""
    whole = event.detail.get("remark", "")
    return [
        *([RemarkOut(path="", text=whole)] if whole else []),
        *(RemarkOut.model_validate(remark) for remark in event.detail.get("remarks", [])),
    ]


@api.route_for("get", "/releases/<string:identity>", needs="device")
def release(path: ReleasePath) -> Response:
    with store().reading() as session:
        device = device_asking(session)
        named = or_(Release.identity == path.identity, Release.hash == path.identity)
        query = select(Release).join(Questionnaire).where(named, Questionnaire.study_id == device.study_id)
        found = session.scalars(query.order_by(Release.number.desc())).first()
        if found is None:
            raise not_found("release")
        # Devices read what they were made for; every older form is brought forward here.
        compiled: dict[str, Any] = RELEASE.read(found.compiled)
    return jsonify(
        {
            "number": found.number, "questionnaire_id": found.questionnaire_id, "identity": found.identity,
            "hash": found.hash, "compiled": compiled,
        }
    )  # fmt: skip


@api.route_for("get", "/interviews/<string:uuid>", needs="device")
def fetch(path: HandInPath) -> Response:
    """The counting revision of an interview that was sent back, byte for byte."""
    with store().reading() as session:
        device = device_asking(session)
        wanted = select(Revision.raw).join(Interview, Interview.id == Revision.interview_id)
        counting = wanted.where(*_own(device), Interview.uuid == path.uuid, Revision.number == Interview.counting)
        raw = session.scalar(counting.where(*_TO_CORRECT))
    if raw is None:
        raise not_found("interview to correct")
    return Response(raw, mimetype="application/json")


@api.route_for("put", "/interviews/<string:uuid>", needs="device", returns=ReceiptOut)
def take_in(path: HandInPath) -> ReceiptOut:
    """Keep an interview, byte for byte; the receipt carries the hash of what was kept."""
    raw = request.get_data(cache=False)
    if len(raw) > MOST_BYTES:
        raise Problem("file_too_large", f"The interview is larger than {MOST_BYTES >> 20} MB.")
    with store().reading() as session:
        arrival = read_arrival(session, device_asking(session), path.uuid, raw)
    with store().session() as session:
        device = device_asking(session)
        device.last_heard = now()
        receipt = hand_in(session, device, arrival)
        if receipt.outcome != "known":
            claim_files(session, store().files, session.get_one(Interview, receipt.interview_id))
    return ReceiptOut(uuid=receipt.uuid, hash=receipt.hash, outcome=receipt.outcome, number=receipt.number)
