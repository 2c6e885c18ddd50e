"""Reading in what a phone saved to a file, sent from the desk in pieces."""

from __future__ import annotations

from pydantic import BaseModel, Field

from skavo.services.bundles import BundleOut, read_in_bundle
from skavo.store.files import Upload
from skavo.web.guard import caller
from skavo.web.routing import Resource, desk, store
from skavo.web.shapes import StudyPath
from skavo.web.uploads import take_piece

api = Resource("bundles")
MOST_BYTES = 2 << 30


class BundleFilePath(StudyPath):
    """`name` is what whoever sends it calls the file on its way: 32 random bytes in hexadecimal."""

    name: str = Field(pattern="^[0-9a-f]{64}$")


class BundleArrivingOut(BaseModel):
    """How much has arrived; `told`, once all of it has, is what became of it."""

    received: int
    told: BundleOut | None = None


@api.route_for(
    "get", "/studies/<int:study_id>/bundle-files/<string:name>", needs="interview.review", returns=BundleArrivingOut
)
def arrived_of_bundle(path: BundleFilePath) -> BundleArrivingOut:
    """How much of a phone's file has arrived, so that sending goes on where it broke off."""
    return BundleArrivingOut(received=_upload(path).received)


@api.route_for(
    "put", "/studies/<int:study_id>/bundle-files/<string:name>", needs="interview.review", returns=BundleArrivingOut
)
def read_in(path: BundleFilePath) -> BundleArrivingOut:
    """Take in the next piece of a phone's file; with the last one all of it is read in."""
    upload = _upload(path)
    received, total = take_piece(upload, MOST_BYTES)
    if received < total:
        return BundleArrivingOut(received=received)
    try:
        return BundleArrivingOut(received=received, told=read_in_bundle(desk(), path.study_id, upload.lies_at))
    finally:
        upload.forget()


def _upload(path: BundleFilePath) -> Upload:
    return Upload(store().files, f"bundle-{path.study_id}-{caller().person_id}", path.name)
