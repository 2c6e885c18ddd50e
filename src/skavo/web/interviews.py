"""Reading one interview, and deciding about it."""

from __future__ import annotations

from skavo.services.deciding import Decision
from skavo.services.deciding import decide as decide_about
from skavo.services.reading import Reading, read_interview
from skavo.web.routing import Resource, desk
from skavo.web.shapes import InterviewPath

api = Resource("interviews")


@api.route_for("get", "/interviews/<int:interview_id>", needs="interview.read", returns=Reading)
def read(path: InterviewPath) -> Reading:
    return read_interview(desk(), path.interview_id)


@api.route_for("post", "/interviews/<int:interview_id>/state", needs="interview.review", returns=Reading)
def decide(path: InterviewPath, body: Decision) -> Reading:
    return decide_about(desk(), path.interview_id, body)
