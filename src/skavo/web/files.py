"""Files of interviews at the desk: shown in the browser without being trusted."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path
from typing import Any

from flask import Response, send_file
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.formats.pictures import SHOWN_AS_PICTURE, preview_of, without_location
from skavo.services.branch_reach import the_unit_within_reach
from skavo.services.branches import hidden_fields
from skavo.services.refusals import not_found
from skavo.store.files import path_of_file, read_file, sound_file
from skavo.store.models import Interview, StoredFile, Study, UnitChange
from skavo.web.problems import Problem
from skavo.web.routing import Resource, desk, store

api = Resource("files")
_SHOWN = (*SHOWN_AS_PICTURE, "audio/", "video/")
# What is opened from the store runs nothing and reaches nothing, whatever it holds.
_SANDBOX = "sandbox; default-src 'none'; img-src 'self'; media-src 'self'; style-src 'unsafe-inline'"


class FilePath(BaseModel):
    interview_id: int
    hash: str = Field(pattern="^[0-9a-f]{64}$")


def stored_file(session: Session, interview: Interview, digest: str) -> StoredFile | None:
    return session.scalar(
        select(StoredFile).where(
            StoredFile.study_id == interview.study_id,
            StoredFile.interview_uuid == interview.uuid,
            StoredFile.hash == digest,
        )
    )


def _found(session: Session, path: FilePath) -> tuple[StoredFile, Study]:
    interview = session.get(Interview, path.interview_id)
    found = stored_file(session, interview, path.hash) if interview is not None else None
    if found is None or interview is None or not (desk().sees_sensitive or _is_open(session, interview, path.hash)):
        raise not_found("file")
    return found, session.get_one(Study, found.study_id)


def _is_open(session: Session, interview: Interview, digest: str) -> bool:
    """Whether every question that holds the file may be seen by everybody; one that no answer holds is not."""
    holders = {
        identity
        for rows in interview.laid_out.values()
        for row in rows
        for identity, value in row["values"].items()
        if isinstance(value, dict) and value.get("file") == digest
    }
    return bool(holders) and not holders & desk().hides(session, interview.questionnaire_id).ids


@api.route_for("get", "/interviews/<int:interview_id>/files/<string:hash>", needs="interview.read")
def take_out(path: FilePath) -> Response:
    """The file as it was handed in, without its place where the study wants that; sound and film by ranges."""
    with store().reading() as session:
        found, study = _found(session, path)
    desk().note("file", study.id, path.interview_id, file=found.hash[:12])
    return _whole(found, study)


def _whole(found: StoredFile, study: Study) -> Response:
    where = sound_file(store().files, found.hash)
    source: Path | BytesIO = where
    if study.strips_location and found.type.startswith(("image/", "video/")):
        freed = without_location(where.read_bytes())
        if freed is None:
            raise Problem(
                "may_tell_place", "This file may tell where it was taken, and the study strips that. It stays here."
            )
        source = BytesIO(freed)
    shown = found.type.startswith(_SHOWN)
    return _guarded(
        send_file(
            source, mimetype=found.type if shown else "application/octet-stream", conditional=True, etag=found.hash,
            as_attachment=not shown, download_name=f"{found.kind}-{found.hash[:8]}{_ENDINGS.get(found.type, '')}",
        )
    )  # fmt: skip


_ENDINGS = {
    "image/png": ".png", "image/jpeg": ".jpg", "image/webp": ".webp", "audio/mpeg": ".mp3", "audio/ogg": ".ogg",
    "audio/x-wav": ".wav", "video/mp4": ".mp4", "video/webm": ".webm", "application/pdf": ".pdf",
}  # fmt: skip


@api.route_for("get", "/interviews/<int:interview_id>/files/<string:hash>/preview", needs="interview.read")
def preview(path: FilePath) -> Response:
    """A small picture made anew from the photo: nothing of the file itself but what can be seen."""
    with store().reading() as session:
        found, _ = _found(session, path)
    return _small(found)


def _small(found: StoredFile) -> Response:
    kept = path_of_file(store().files.parent / "cache" / "previews", found.hash).with_suffix(".jpg")
    if not kept.exists():
        made = preview_of(read_file(store().files, found.hash))
        if made is None:
            raise not_found("preview")
        kept.parent.mkdir(parents=True, exist_ok=True)
        half = kept.with_suffix(".half")
        half.write_bytes(made)
        half.replace(kept)
    return _guarded(send_file(kept, mimetype="image/jpeg", conditional=True))


class UnitFilePath(BaseModel):
    unit_id: int
    hash: str = Field(pattern="^[0-9a-f]{64}$")


def _of_unit(session: Session, path: UnitFilePath) -> tuple[StoredFile, Study]:
    """A file that a phone handed in with a change of a unit, where a field that may be seen holds it."""
    unit = the_unit_within_reach(desk(), session, path.unit_id)
    here = desk()
    register = here.sets.registers.of(session, unit.study_id)
    hidden = hidden_fields(here, register)
    holders = {p for p, value in unit.answers.items() if isinstance(value, dict) and value.get("file") == path.hash}
    told = select(UnitChange.uuid).where(UnitChange.study_id == unit.study_id, UnitChange.identity == unit.identity)
    found = session.scalar(
        select(StoredFile).where(
            StoredFile.study_id == unit.study_id, StoredFile.hash == path.hash, StoredFile.interview_uuid.in_(told)
        )
    )
    if found is None or not holders - hidden:
        raise not_found("file")
    return found, session.get_one(Study, unit.study_id)


@api.route_for("get", "/units/<int:unit_id>/files/<string:hash>", needs="register.read")
def take_out_of_unit(path: UnitFilePath) -> Response:
    """A file of a unit, as that of an interview."""
    with store().reading() as session:
        found, study = _of_unit(session, path)
    desk().note("file", study.id, None, file=found.hash[:12], unit=path.unit_id)
    return _whole(found, study)


@api.route_for("get", "/units/<int:unit_id>/files/<string:hash>/preview", needs="register.read")
def preview_of_unit(path: UnitFilePath) -> Response:
    with store().reading() as session:
        found, _ = _of_unit(session, path)
    return _small(found)


def _guarded(response: Any) -> Response:
    answer: Response = response
    answer.headers["Content-Security-Policy"] = _SANDBOX
    answer.headers["Cache-Control"] = "private, no-cache"
    return answer
