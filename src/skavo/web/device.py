"""What a phone asks for: its profile, releases, what was sent back, and handing in interviews."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from flask import Response, jsonify, request
from pydantic import AwareDatetime, BaseModel, Field
from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.profile import FieldProfile
from skavo.core.fieldwork.rounds import Round, round_on
from skavo.core.interview.formats import RELEASE
from skavo.services.branch_carried import mark_of_units
from skavo.services.exercises import exercises_of, mark_of
from skavo.services.handed_in import TallyOut, own_interviews, tally_of
from skavo.services.left_interviews import LeftOut, forget_left, left_for
from skavo.services.refusals import not_found
from skavo.services.visits_carried import mark_of_visits, visits_for
from skavo.store.filing import claim_files
from skavo.store.handin import from_device, hand_in, read_arrival
from skavo.store.interview_document import zone_named
from skavo.store.models import (
    Device,
    Event,
    Interview,
    Questionnaire,
    Release,
    Revision,
    Study,
    now,
)
from skavo.store.phones import profile_of
from skavo.store.sealing import key_of
from skavo.store.sheets import SheetLine, sheets_for
from skavo.web.guard import caller
from skavo.web.problems import Problem
from skavo.web.routing import Resource, data_sets, store
from skavo.web.shapes import Body

api = Resource("device", "/field")
MOST_BYTES = 5 << 20


class ReleaseLine(BaseModel):
    questionnaire_id: int
    title: dict[str, str]
    number: int
    identity: str
    hash: str
    format: str
    practice: bool = Field(default=False, description="Whether it is for practice only.")
    exercises: str = Field(default="", description="What tells its exercises apart from others; “” where it has none.")


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
    settings: FieldProfile
    study_key: str = Field(description="The study’s public key (SubjectPublicKeyInfo, base64).")
    left: list[LeftOut] = Field(description="Interviews that this person left at the office, to go on with.")
    tally: TallyOut
    round: Round | None = Field(default=None, description="The round that today belongs to.")
    sheets: list[SheetLine] = Field(default=[], description="The map sheets that it should hold.")
    visits: str = Field(default="", description="What tells its visits apart from others; “” where it has none.")
    units: str = Field(default="", description="What tells what it holds of the register; “” for nothing.")
    withdrawn: list[str] = Field(default=[], description="Hashes of releases with which no interview is to begin.")


class Carries(Body):
    """What a phone tells of itself; those of earlier builds tell less, and so does a browser that does not know.

    `releases` are those that it holds, by the hash of their content, with how many interviews on it were begun with
    each. `files` wait to be sent. Storage is in bytes, `persisted` whether the browser keeps it for good, `battery` in
    percent. `clock` is its own time when it asked, `build` the page that it runs, `locked` whether a PIN opens it;
    `key_check` is the SHA-256 of its storage key. `sheets` are the hashes of the map sheets that it holds whole.
    """

    in_hand: int = Field(ge=0)
    packed: int = Field(ge=0)
    releases: dict[str, int] = Field(default={}, max_length=200)
    files: int = Field(default=0, ge=0)
    storage_used: int | None = Field(default=None, ge=0, le=2**53)
    storage_quota: int | None = Field(default=None, ge=0, le=2**53)
    persisted: bool | None = None
    battery: int | None = Field(default=None, ge=0, le=100)
    clock: AwareDatetime | None = None
    build: str = Field(default="", max_length=100)
    locked: bool | None = None
    key_check: str = Field(default="", pattern="^([0-9a-f]{64})?$")
    sheets: list[Annotated[str, Field(pattern="^[0-9a-f]{64}$")]] = Field(default=[], max_length=20)


class ReceiptOut(BaseModel):
    uuid: str
    hash: str
    outcome: str
    number: int


class ReleasePath(BaseModel):
    """The identity of a release; phones of earlier builds name the hash of its content."""

    identity: str = Field(pattern="^([0-9a-f]{32}|[0-9a-f]{64})$")


class ExerciseOut(BaseModel):
    """A test interview to practise with: the answers that are meant, and when it was as if held."""

    name: str
    answers: dict[str, Any]
    now: str
    started: str


class HandInPath(BaseModel):
    uuid: str


def device_asking(session: Session) -> Device:
    """The device that is asking, as the guard found it."""
    return session.get_one(Device, caller().device_id)


@api.route_for("post", "/profile", needs="device", returns=Profile)
def profile(body: Carries) -> Profile:
    """What the device should hold now; it says what it carries."""
    with store().session() as session:
        device = device_asking(session)
        device.last_heard = now()
        device.carries = _told(body)
        if body.key_check:
            # Whoever tells its key has opened its storage: nobody waits to be let in any more.
            device.key_check, device.rescue = body.key_check, None
        study = session.get_one(Study, device.study_id)
        settings = profile_of(session, device)
        return Profile(
            study=study.title,
            device=device.name,
            enumerator=device.enumerator,
            releases=_newest_releases(session, device.study_id),
            sent_back=_sent_back(session, device),
            server_time=now(),
            settings=settings,
            sheets=sheets_for(session, device.study_id, settings),
            study_key=key_of(session, device.study_id).public,
            left=left_for(session, device),
            tally=tally_of(session, device),
            round=_round_today(study),
            visits=mark_of_visits(visits_for(session, data_sets().registers, device)),
            units=mark_of_units(session, data_sets().registers, device),
            withdrawn=_withdrawn(session, device.study_id),
        )


def _round_today(study: Study) -> Round | None:
    rounds = [Round.model_validate(one) for one in study.rounds]
    return round_on(rounds, now().astimezone(zone_named(study.time_zone)).date())


def _told(body: Carries) -> dict[str, Any]:
    """What is kept of what a phone tells; its clock as the seconds that it is ahead."""
    told = body.model_dump(exclude={"clock", "key_check"}, exclude_none=True)
    if body.clock is not None:
        told["clock_ahead"] = round((body.clock - now()).total_seconds())
    return told


def _withdrawn(session: Session, study_id: int) -> list[str]:
    """What was withdrawn and not given out again under another number."""
    query = select(Release.hash, Release.withdrawn).join(Questionnaire).where(Questionnaire.study_id == study_id)
    rows = session.execute(query).all()
    out = {digest for digest, withdrawn in rows if withdrawn is None}
    return sorted({digest for digest, withdrawn in rows if withdrawn is not None} - out)


def _newest_releases(session: Session, study_id: int) -> list[ReleaseLine]:
    """Of each questionnaire the newest, and the one for practice that is newer still."""
    asked = (Questionnaire.study_id == study_id, Questionnaire.describes == "interviews")
    query = select(Release).join(Questionnaire).where(*asked).order_by(Release.number)
    newest: dict[int, list[Release]] = {}
    for release in session.scalars(query):
        if release.withdrawn is None and not release.awaits:
            held = [r for r in newest.get(release.questionnaire_id, []) if release.practice and not r.practice]
            newest[release.questionnaire_id] = [*held, release]
    exercises = {q: exercises_of(session, q) for q in newest}
    return [
        ReleaseLine(
            questionnaire_id=r.questionnaire_id, title=r.compiled["title"], number=r.number, identity=r.identity,
            hash=r.hash, format=r.compiled["format"], practice=r.practice,
            exercises=mark_of(exercises[r.questionnaire_id]),
        )
        for releases in newest.values()
        for r in releases
    ]  # fmt: skip


_TO_CORRECT = (Interview.state == "sent back", Interview.waiting.is_(False))


def _sent_back(session: Session, device: Device) -> list[SentBack]:
    """What waits to be corrected by the person whose device this is; what waits for a decision does not."""
    wanted = select(Interview, Release.identity).join(Release, Interview.release_id == Release.id)
    rows = session.execute(wanted.where(*own_interviews(device), *_TO_CORRECT).order_by(Interview.number)).all()
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
    with store().session() as session:
        device = device_asking(session)
        named = or_(Release.identity == path.identity, Release.hash == path.identity)
        query = select(Release).join(Questionnaire).where(named, Questionnaire.study_id == device.study_id)
        found = session.scalars(query.order_by(Release.number.desc())).first()
        if found is None:
            raise not_found("release")
        # It holds it from now on, before it tells so itself.
        device.carries = {**device.carries, "releases": {found.hash: 0, **device.carries.get("releases", {})}}
        # Devices read what they were made for; every older form is brought forward here.
        compiled: dict[str, Any] = RELEASE.read(found.compiled)
    return jsonify(
        {
            "number": found.number, "questionnaire_id": found.questionnaire_id, "identity": found.identity,
            "hash": found.hash, "compiled": compiled,
        }
    )  # fmt: skip


@api.route_for("get", "/releases/<string:identity>/exercises", needs="device", returns=list[ExerciseOut])
def exercises(path: ReleasePath) -> list[ExerciseOut]:
    """The test interviews of a release's questionnaire, to practise with."""
    with store().reading() as session:
        named = (Release.identity == path.identity, Questionnaire.study_id == device_asking(session).study_id)
        found = session.scalar(select(Release.questionnaire_id).join(Questionnaire).where(*named))
        if found is None:
            raise not_found("release")
        return [ExerciseOut(**exercise) for exercise in exercises_of(session, found)]


@api.route_for("get", "/interviews/<string:uuid>", needs="device")
def fetch(path: HandInPath) -> Response:
    """The counting revision of an interview that was sent back, byte for byte."""
    with store().reading() as session:
        device = device_asking(session)
        wanted = select(Revision.raw).join(Interview, Interview.id == Revision.interview_id)
        counting = wanted.where(
            *own_interviews(device), Interview.uuid == path.uuid, Revision.number == Interview.counting
        )
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
        arrival = read_arrival(session, from_device(device_asking(session)), path.uuid, raw)
    with store().session() as session:
        device = device_asking(session)
        device.last_heard = now()
        receipt = hand_in(session, from_device(device), arrival)
        if receipt.outcome != "known" and receipt.interview_id is not None:
            claim_files(session, store().files, session.get_one(Interview, receipt.interview_id))
        forget_left(session, device.study_id, path.uuid)
    return ReceiptOut(uuid=receipt.uuid, hash=receipt.hash, outcome=receipt.outcome, number=receipt.number)
