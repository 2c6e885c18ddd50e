"""Reading in what a phone saved to a file."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory

from flask import request

from skavo.services.bundles import BundleOut, read_in_bundle
from skavo.web.routing import Resource, desk
from skavo.web.shapes import StudyPath

api = Resource("bundles")
_PIECE = 1 << 20


@api.route_for("post", "/studies/<int:study_id>/bundles", needs="interview.review", returns=BundleOut, status=201)
def read_in(path: StudyPath) -> BundleOut:
    """Take in a phone's file sent as the body."""
    with TemporaryDirectory() as scratch:
        sent = Path(scratch) / "bundle.zip"
        with sent.open("wb") as out:
            while piece := request.stream.read(_PIECE):
                out.write(piece)
        return read_in_bundle(desk(), path.study_id, sent)
