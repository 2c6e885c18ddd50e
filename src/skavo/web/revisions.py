"""Revisions of an interview: held against each other, and which of them counts."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from skavo.services.deciding import let_revision_count
from skavo.services.reading import Reading
from skavo.services.revisions import ComparedRevisions, compare_revisions, raw_revision
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import Body

api = Resource("revisions", "/interviews/<int:interview_id>/revisions/<int:number>")


class RevisionPath(BaseModel):
    interview_id: int
    number: int


class CountIn(Body):
    """`take_back_edits` takes back the corrections that the desk made meanwhile."""

    take_back_edits: bool = False


@api.route_for("get", "", needs="interview.read", returns=ComparedRevisions)
def compare(path: RevisionPath) -> ComparedRevisions:
    return compare_revisions(desk(), path.interview_id, path.number)


@api.route_for("post", "/count", needs="interview.review", returns=Reading)
def count(path: RevisionPath, body: CountIn) -> Reading:
    return let_revision_count(desk(), path.interview_id, path.number, take_back_edits=body.take_back_edits)


@api.route_for("get", "/raw", needs="sensitive.read")
def raw(path: RevisionPath) -> Response:
    """What arrived, byte for byte."""
    name, content = raw_revision(desk(), path.interview_id, path.number)
    headers = {**attachment(name), "Content-Security-Policy": "sandbox"}
    return Response(content, mimetype="application/octet-stream", headers=headers)
