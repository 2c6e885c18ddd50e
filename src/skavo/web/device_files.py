"""Files that a phone hands in before its interview: whole or in pieces, each with a receipt for what is on the disk."""

from __future__ import annotations

from flask import request
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from skavo.services.refusals import not_found
from skavo.store.files import Upload
from skavo.store.filing import UNCLAIMED, tell_file
from skavo.store.models import Interview
from skavo.web.device import device_asking
from skavo.web.routing import Resource, store
from skavo.web.uploads import MOST_FILE_BYTES, FilePath, FileQuery, FileReceipt, range_of_body, receive

api = Resource("device_files", "/field")


class FormerFilePath(BaseModel):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


@api.route_for("get", "/interviews/<string:uuid>/files/<string:hash>", needs="device", returns=FileReceipt)
def arrived_of_file(path: FilePath) -> FileReceipt:
    """How much of a file has arrived, so that sending goes on where it broke off."""
    with store().reading() as session:
        upload = _upload(session, path)
    return FileReceipt(received=upload.received, hash=None)


@api.route_for("put", "/interviews/<string:uuid>/files/<string:hash>", needs="device", returns=FileReceipt)
def take_in_file(path: FilePath, query: FileQuery) -> FileReceipt:
    """Keep a file of an interview, whole or piece by piece."""
    with store().reading() as session:
        upload = _upload(session, path)
    receipt = receive(upload, MOST_FILE_BYTES[query.kind])
    if receipt.hash is not None:
        with store().session() as session:
            device = device_asking(session)
            tell_file(
                session, store().files, study_id=device.study_id, interview_uuid=path.uuid, digest=path.hash,
                kind=query.kind, device_id=device.id,
            )  # fmt: skip
    return receipt


def _upload(session: Session, path: FilePath) -> Upload:
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
    _, total = range_of_body()
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
