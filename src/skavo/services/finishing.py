"""An interview that reached the office before it was packed, as the document that its phone would have packed then."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.errors import SkavoError
from skavo.core.interview.formats import INTERVIEW
from skavo.formats.bundle import InHand
from skavo.store.interview_document import InterviewDocument, read_document
from skavo.store.laying import run_engine
from skavo.store.models import Device, Questionnaire, Release, now

_WHY = "Read in from a file before it was packed"


def finish(session: Session, study_id: int, device: Device, held: InHand) -> bytes:
    """The document; the same interview again gives the same bytes. What cannot be computed is left as it was answered."""
    written = _document(device, held)
    digest = (Questionnaire.study_id == study_id, Release.hash == written["release_hash"])
    release = session.scalars(select(Release).join(Questionnaire).where(*digest)).first()
    try:
        read = read_document(json.dumps(written).encode()).document
        if release is not None and read.about is None:
            written |= _computed(release, read)
    except SkavoError:
        # It is kept as it is all the same, and its trouble told where interviews are laid out.
        pass
    return json.dumps(written, ensure_ascii=False).encode()


def _computed(release: Release, document: InterviewDocument) -> dict[str, Any]:
    started, ended = _moment(document.paradata.started), _moment(document.paradata.ended)
    engine = run_engine(release, document, started, ended)
    return {"answers": engine.packed_answers(), "derived": engine.derived_values()}


def _moment(written: Any) -> datetime:
    """A moment as phones write it; the present one where it is none."""
    try:
        found = datetime.fromisoformat(written)
    except (TypeError, ValueError):
        return now()
    return found if found.tzinfo is not None else found.replace(tzinfo=UTC)


def _document(device: Device, held: InHand) -> dict[str, Any]:
    head, content = held.head, held.content
    place = content.get("place")
    return {
        "format": INTERVIEW.newest,
        "uuid": head["uuid"],
        "release": head.get("releaseIdentity") or "",
        "release_hash": head["release"],
        "basis": (held.name.get("correction") or {}).get("basis", ""),
        "answers": content["answers"],
        "derived": {},
        "kept": content["kept"],
        "remarks": content.get("remarks") or {},
        "language": head["language"],
        "practice": head["practice"] == 1,
        "unfinished": _WHY,
        "visit": (held.name.get("visited") or {}).get("visit", ""),
        "known": (held.name.get("visited") or {}).get("known") or {},
        "about": held.name.get("about"),
        "paradata": {
            "started": head["startedAt"], "ended": head["changedAt"], "device": device.name,
            "enumerator": device.enumerator, "events": content["events"], **({"place": place} if place else {}),
        },
    }  # fmt: skip
