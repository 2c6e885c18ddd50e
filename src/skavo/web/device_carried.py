"""Another phone's file, brought along by a phone that has a network: read in, and answered with receipts to carry back."""

from __future__ import annotations

from pathlib import Path

from pydantic import BaseModel, Field

from skavo.services.bundles import BundleOut, carry_in_bundle
from skavo.store.files import Upload
from skavo.web.bundles import MOST_BYTES, BundleArrivingOut
from skavo.web.device import device_asking
from skavo.web.guard import caller
from skavo.web.routing import Resource, store
from skavo.web.uploads import range_of_body, take_piece

api = Resource("device_carried", "/field")


class CarriedPath(BaseModel):
    """`name` is what the carrying phone calls the file: 32 random bytes in hexadecimal."""

    name: str = Field(pattern="^[0-9a-f]{64}$")


@api.route_for("get", "/carried/<string:name>", needs="device", returns=BundleArrivingOut)
def arrived_of_carried(path: CarriedPath) -> BundleArrivingOut:
    """How much of a file has arrived, so that sending goes on where it broke off; what became of it, once all had."""
    upload = _upload(path)
    return BundleArrivingOut(received=upload.received, told=_told(upload))


@api.route_for("put", "/carried/<string:name>", needs="device", returns=BundleArrivingOut)
def carry_in(path: CarriedPath) -> BundleArrivingOut:
    """Take in the next piece of another phone's file; with the last one all of it is read in."""
    upload = _upload(path)
    told = _told(upload)
    if told is not None:
        # The answer to the last piece was lost.
        return BundleArrivingOut(received=range_of_body()[1], told=told)
    with store().reading() as session:
        carrier = device_asking(session).id

    def read_in(sent: Path) -> BundleOut:
        done = carry_in_bundle(store(), carrier, sent)
        _told_file(upload).write_text(done.model_dump_json(), encoding="utf-8")
        return done

    received, told = take_piece(upload, MOST_BYTES, read_in)
    return BundleArrivingOut(received=received, told=told)


def _upload(path: CarriedPath) -> Upload:
    return Upload(store().files, f"carried-{caller().device_id}", path.name)


def _told_file(upload: Upload) -> Path:
    return upload.lies_at.with_suffix(".told")


def _told(upload: Upload) -> BundleOut | None:
    file = _told_file(upload)
    return BundleOut.model_validate_json(file.read_bytes()) if file.exists() else None
