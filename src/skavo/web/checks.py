"""The checks station."""

from __future__ import annotations

from skavo.services.checks import Checks, show_checks
from skavo.web.routing import Resource, desk
from skavo.web.shapes import StudyPath

api = Resource("checks")


@api.route_for("get", "/studies/<int:study_id>/checks", needs="interview.read", returns=Checks)
def show(path: StudyPath) -> Checks:
    return show_checks(desk(), path.study_id)
