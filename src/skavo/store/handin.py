"""Taking in interviews: the raw document as it came, the engine run again over it, one interview per UUID."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy import func, select
from sqlalchemy.orm import Session, defer

from skavo.core.dataset.flatten import lay_out
from skavo.core.errors import DataError
from skavo.core.interview import release as engine_release
from skavo.core.interview.engine import Engine
from skavo.core.interview.view import all_findings
from skavo.store.models import Device, Event, Interview, Release, Revision, now

INTERVIEW_FORMAT = "skavo-interview-1"


class Paradata(BaseModel):
    model_config = ConfigDict(extra="allow")
    started: datetime
    ended: datetime
    device: str = ""
    enumerator: str = ""
    events: list[dict[str, Any]] = Field(default_factory=list)


class InterviewDocument(BaseModel):
    """What a device hands in."""

    model_config = ConfigDict(extra="forbid")
    format: str = INTERVIEW_FORMAT
    uuid: str = Field(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$")
    release: str = Field(pattern=r"^[0-9a-f]{64}$")
    answers: dict[str, Any]
    derived: dict[str, Any] = Field(default_factory=dict)
    kept: dict[str, str] = Field(default_factory=dict)
    language: str = "en"
    practice: bool = False
    unfinished: str = Field(default="", max_length=1000)
    paradata: Paradata


@dataclass(frozen=True)
class Receipt:
    """`hash` is that of the bytes on disk; `outcome` is arrived, known (the same again) or revision."""

    uuid: str
    hash: str
    outcome: str
    number: int


def hand_in(session: Session, device: Device, raw: bytes) -> Receipt:
    """Keep an interview and say what was kept; raise DataError for a document that cannot be read."""
    document = _read(raw)
    digest = hashlib.sha256(raw).hexdigest()
    existing = session.scalar(select(Interview).where(Interview.uuid == document.uuid))
    if existing is not None:
        return _again(session, device, existing, raw, digest)
    named = select(Release).where(Release.hash == document.release)
    release = session.scalar(named.options(defer(Release.compiled), defer(Release.script)))
    if release is None or release.questionnaire.study_id != device.study_id:
        message = "This study has no release with the interview’s hash."
        raise DataError(
            "unknown_release", message + " Keep the interview and tell the office.", {"hash": document.release}
        )
    interview = _new_interview(session, device, release, document, raw, digest)
    session.add(interview)
    session.flush()
    session.add(Event(study_id=device.study_id, interview_id=interview.id, kind="arrived", by=device.enumerator))
    return Receipt(document.uuid, digest, "arrived", interview.number)


def _read(raw: bytes) -> InterviewDocument:
    try:
        return InterviewDocument.model_validate_json(raw)
    except ValidationError as error:
        first = error.errors(include_input=False)[0]
        place = "/".join(str(piece) for piece in first["loc"]) or "the document"
        raise DataError("wrong_document", f"{place}: {first['msg']}.", {"place": place}) from None


def _again(session: Session, device: Device, existing: Interview, raw: bytes, digest: str) -> Receipt:
    if existing.hash == digest:
        return Receipt(existing.uuid, digest, "known", existing.number)
    known = select(Revision).where(Revision.interview_id == existing.id, Revision.hash == digest)
    if session.scalar(known) is None:
        session.add(Revision(interview_id=existing.id, hash=digest, raw=raw))
        event = Event(study_id=existing.study_id, interview_id=existing.id, kind="revision", by=device.enumerator)
        session.add(event)
    return Receipt(existing.uuid, digest, "revision", existing.number)


def _new_interview(
    session: Session, device: Device, release: Release, document: InterviewDocument, raw: bytes, digest: str
) -> Interview:
    engine = run_engine(release, document)
    # The office reads in the questionnaire's first language, whatever the interview was held in.
    engine.read_in(engine.release.languages[0])
    findings = all_findings(engine)
    open_ones = [f for f in findings if not f["kept"]]
    tables = lay_out(engine)
    kinds = [kind for rows in tables.values() for row in rows for kind in row["missing"].values()]
    values = sum(len(row["values"]) for rows in tables.values() for row in rows)
    last = session.scalar(select(func.max(Interview.number)).where(Interview.study_id == device.study_id))
    paradata = document.paradata
    return Interview(
        study_id=device.study_id,
        questionnaire_id=release.questionnaire_id,
        release_id=release.id,
        device_id=device.id,
        uuid=document.uuid,
        number=(last or 0) + 1,
        hash=digest,
        raw=raw,
        laid_out=tables,
        asked=values + sum(1 for kind in kinds if kind != "not_asked"),
        dont_know=kinds.count("dont_know"),
        refused=kinds.count("refused"),
        findings=findings,
        hard_findings=sum(1 for f in open_ones if f["strength"] == "must"),
        soft_findings=sum(1 for f in findings if f["strength"] == "should"),
        differs=engine.derived_values() != document.derived or engine.packed_answers() != document.answers,
        practice=document.practice,
        enumerator=paradata.enumerator or device.enumerator,
        device_name=paradata.device or device.name,
        language=document.language,
        started_at=paradata.started,
        ended_at=paradata.ended,
        minutes=round((paradata.ended - paradata.started).total_seconds() / 60, 1),
        arrived_at=now(),
    )


_loaded: dict[str, engine_release.Release] = {}
_MOST_LOADED = 64


def loaded_release(release: Release) -> engine_release.Release:
    """A release as the engine uses it, bound once and shared: its hash says that it is the same."""
    found = _loaded.get(release.hash)
    if found is None:
        while len(_loaded) >= _MOST_LOADED:
            _loaded.pop(next(iter(_loaded)))
        found = _loaded[release.hash] = engine_release.Release(release.compiled)
    return found


def run_engine(release: Release, document: InterviewDocument) -> Engine:
    """The engine over an interview, with what was known when it ended."""
    paradata = document.paradata
    outside = {
        "now": paradata.ended,
        "interview.started": paradata.started,
        "interview.seed": document.uuid,
        "enumerator.name": paradata.enumerator,
    }
    return Engine(loaded_release(release), outside, document.answers, document.kept, document.language)


def document_of(interview: Interview) -> InterviewDocument:
    return InterviewDocument.model_validate_json(interview.raw)
