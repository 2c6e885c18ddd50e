"""The logbook, and how the stations stand."""

from __future__ import annotations

from skavo.services.logbook import Logbook, Stations, show_logbook, show_stations
from skavo.web.routing import Resource, desk
from skavo.web.shapes import StudyPath

api = Resource("logbook", "/studies/<int:study_id>")


@api.route_for("get", "/stations", needs="study.read", returns=Stations)
def stations(path: StudyPath) -> Stations:
    return show_stations(desk(), path.study_id)


@api.route_for("get", "/logbook", needs="interview.read", returns=Logbook)
def logbook(path: StudyPath) -> Logbook:
    return show_logbook(desk(), path.study_id)
