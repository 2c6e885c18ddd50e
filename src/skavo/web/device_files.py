"""Files that a phone hands in before its interview: whole or in pieces, each with a receipt for what is on the disk."""

from __future__ import annotations

import re
from typing import Literal

from flask import request
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from skavo.services.refusals import not_found
from skavo.store.files import Upload
from skavo.store.filing import UNCLAIMED, tell_file
from skavo.store.models import Interview
from skavo.web.device import device_asking
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store

api = Resource("device_files", "/field")
MOST_FILE_BYTES = {"signature": 5 << 20, "photo": 40 << 20, "audio": 200 << 20, "file": 200 << 20, "video": 2 << 30}


class DeviceFilePath(BaseModel):
    uuid: str = Field(pattern="^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")
    hash: str = Field(pattern="^[0-9a-f]{64}$")


class FileQuery(BaseModel):
    """`kind` is that of the question that asks for the file."""

    kind: Literal["photo", "audio", "video", "file", "signature"] = "file"


class FileReceipt(BaseModel):
    """How much has arrived; `hash`, once all of it has, is that of what the disk gave back."""

    received: int
    hash: str | None


class FormerFilePath(BaseModel):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


@api.route_for("get", "/interviews/<string:uuid>/files/<string:hash>", needs="device", returns=FileReceipt)
def arrived_of_file(path: DeviceFilePath) -> FileReceipt:
    """How much of a file has arrived, so that sending goes on where it broke off."""
    with store().reading() as session:
        upload = _upload(session, path)
    return FileReceipt(received=upload.received, hash=None)


@api.route_for("put", "/interviews/<string:uuid>/files/<string:hash>", needs="device", returns=FileReceipt)
def take_in_file(path: DeviceFilePath, query: FileQuery) -> FileReceipt:
    """Keep a file of an interview, whole or piece by piece (Content-Range, RFC 9110 § 14.4)."""
    start, total = _range_of_body()
    most = MOST_FILE_BYTES[query.kind]
    if total > most:
        raise Problem(
            "file_too_large", f"The file is larger than {most >> 20} MB, which is the most for this question."
        )
    with store().reading() as session:
        upload = _upload(session, path)
    if not upload.is_whole():
        received = upload.append(start, request.stream, min(most, total))
        if received < total:
            return FileReceipt(received=received, hash=None)
        upload.finish()
        if not upload.is_whole():
            raise Problem("disk_damaged", "The office’s disk gave back other bytes than it was given. Send it again.")
    with store().session() as session:
        device = device_asking(session)
        tell_file(
            session, store().files, study_id=device.study_id, interview_uuid=path.uuid, digest=path.hash,
            kind=query.kind, device_id=device.id,
        )  # fmt: skip
    return FileReceipt(received=total, hash=upload.name)


def _range_of_body() -> tuple[int, int]:
    """Where the body begins in its file, and how long the file is."""
    header = request.headers.get("Content-Range")
    if header is None:
        return 0, request.content_length or 0
    match = re.fullmatch(r"bytes (\d{1,15})-(\d{1,15})/(\d{1,15})", header)
    if match is None:
        raise Problem("wrong_request", "Content-Range has to be written as bytes 0-99/1234.")
    return int(match[1]), int(match[3])


def _upload(session: Session, path: DeviceFilePath) -> Upload:
    """The upload of a file to an interview that is the device's own, or that the office does not know yet."""
    device = device_asking(session)
    of_study = select(Interview).where(Interview.study_id == device.study_id, Interview.uuid == path.uuid)
    known = session.scalar(of_study.options(defer(Interview.laid_out), defer(Interview.findings)))
    is_own = (
        known is None
        or known.device_id == device.id
        or (known.enumerator == device.enumerator if device.person_id is None else known.person_id == device.person_id)
    )
    if not is_own:
        raise not_found("interview of this device")
    return Upload(store().files, str(device.id), path.hash)


@api.route_for("put", "/files/<string:hash>", needs="device", returns=FileReceipt)
def take_in_unclaimed(path: FormerFilePath) -> FileReceipt:
    """What phones of earlier builds send: a whole file, before they say to which interview it belongs."""
    _, total = _range_of_body()
    most = MOST_FILE_BYTES["file"]
    with store().reading() as session:
        upload = Upload(store().files, f"{device_asking(session).id}-whole", path.hash)
    if not upload.is_whole():
        upload.forget()
        upload.append(0, request.stream, min(most, total))
        upload.finish()
    with store().session() as session:
        device = device_asking(session)
        tell_file(
            session, store().files, study_id=device.study_id, interview_uuid=UNCLAIMED, digest=path.hash, kind="file",
            device_id=device.id,
        )  # fmt: skip
    return FileReceipt(received=total, hash=upload.name)
