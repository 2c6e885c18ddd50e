"""Reading in what a phone saved to a file, sent from the desk in pieces."""

from __future__ import annotations

from pydantic import BaseModel

from skavo.services.bundles import BundleOut, read_in_bundle
from skavo.web.routing import Resource, desk
from skavo.web.uploads import PiecesPath, take_piece, upload_at_desk

api = Resource("bundles")
MOST_BYTES = 2 << 30


class BundleArrivingOut(BaseModel):
    """How much has arrived; `told`, once all of it has, is what became of it."""

    received: int
    told: BundleOut | None = None


@api.route_for(
    "get", "/studies/<int:study_id>/bundle-files/<string:name>", needs="interview.review", returns=BundleArrivingOut
)
def arrived_of_bundle(path: PiecesPath) -> BundleArrivingOut:
    """How much of a phone's file has arrived, so that sending goes on where it broke off."""
    return BundleArrivingOut(received=upload_at_desk("bundle", path).received)


@api.route_for(
    "put", "/studies/<int:study_id>/bundle-files/<string:name>", needs="interview.review", returns=BundleArrivingOut
)
def read_in(path: PiecesPath) -> BundleArrivingOut:
    """Take in the next piece of a phone's file; with the last one all of it is read in."""
    here = desk()
    received, told = take_piece(
        upload_at_desk("bundle", path), MOST_BYTES, lambda sent: read_in_bundle(here, path.study_id, sent)
    )
    return BundleArrivingOut(received=received, told=told)
