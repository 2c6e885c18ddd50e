"""Another phone's file, brought along by a phone that has a network: read in, and answered with receipts to carry back."""

from __future__ import annotations

from pathlib import Path

from flask import request
from pydantic import BaseModel, Field

from skavo.core.errors import DataError
from skavo.services.bundles import BundleOut, carry_in_bundle
from skavo.services.refusals import Refused
from skavo.store.files import Upload
from skavo.web.device import device_asking
from skavo.web.guard import caller
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store
from skavo.web.uploads import range_of_body

api = Resource("device_carried", "/field")
MOST_BYTES = 2 << 30


class CarriedPath(BaseModel):
    """`name` is what the carrying phone calls the file: 32 random bytes in hexadecimal."""

    name: str = Field(pattern="^[0-9a-f]{64}$")


class CarriedOut(BaseModel):
    """How much has arrived; `told`, once all of it has, is what became of it."""

    received: int
    told: BundleOut | None = None


@api.route_for("get", "/carried/<string:name>", needs="device", returns=CarriedOut)
def arrived_of_carried(path: CarriedPath) -> CarriedOut:
    """How much of a file has arrived, so that sending goes on where it broke off; what became of it, once all had."""
    upload = _upload(path)
    return CarriedOut(received=upload.received, told=_told(upload))


@api.route_for("put", "/carried/<string:name>", needs="device", returns=CarriedOut)
def carry_in(path: CarriedPath) -> CarriedOut:
    """Take in the next piece of another phone's file; with the last one all of it is read in."""
    upload = _upload(path)
    start, total = range_of_body()
    told = _told(upload)
    if told is not None:
        # The answer to the last piece was lost.
        return CarriedOut(received=total, told=told)
    if total > MOST_BYTES or _under_way(upload) + total > MOST_BYTES:
        raise Problem("file_too_large", f"A phone carries {MOST_BYTES >> 20} MB at most. Bring the file to the office.")
    received = upload.received if upload.received == total else upload.append(start, request.stream, total)
    if received < total:
        return CarriedOut(received=received)
    with store().reading() as session:
        carrier = device_asking(session).id
    try:
        told = carry_in_bundle(store(), carrier, upload.lies_at)
        _told_file(upload).write_text(told.model_dump_json(), encoding="utf-8")
    except (DataError, Refused):
        upload.forget()
        raise
    upload.forget()
    return CarriedOut(received=received, told=told)


def _upload(path: CarriedPath) -> Upload:
    return Upload(store().files, f"carried-{caller().device_id}", path.name)


def _told_file(upload: Upload) -> Path:
    return upload.lies_at.with_suffix(".told")


def _told(upload: Upload) -> BundleOut | None:
    file = _told_file(upload)
    return BundleOut.model_validate_json(file.read_bytes()) if file.exists() else None


def _under_way(upload: Upload) -> int:
    """Bytes of other files that this phone has begun to send."""
    own = upload.lies_at.parent.glob(f"carried-{caller().device_id}-*")
    return sum(file.stat().st_size for file in own if file != upload.lies_at)
