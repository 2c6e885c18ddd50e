"""How far from where its unit lies an interview was taken: drawn on the map, told as a finding."""

from __future__ import annotations

from typing import Literal

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.dataset.layout import INTERVIEWS, KEY, TableLayout
from skavo.core.rules.geodesy import distance_m
from skavo.core.rules.values import Point
from skavo.services.branches import hidden_fields, shows_places
from skavo.services.desk import Conditions, Desk
from skavo.store.models import Interview, VisitAttempt

Place = tuple[float, float]
Band = Literal["", "at", "near", "far"]
# Up to so many metres it was where the unit lies, as far as phones and registers can tell; then near, then far.
AT_METRES, NEAR_METRES = 100, 500


class Distances:
    """Where interviews of a study were taken, and how far from their units, for whoever may see where both lie."""

    def __init__(self, desk: Desk, session: Session, study_id: int, questionnaire_id: int) -> None:
        self.register = desk.sets.registers.of(session, study_id)
        hidden = hidden_fields(desk, self.register)
        self.seen = {kind.id for kind in self.register.kinds.values() if shows_places(kind, hidden)}
        self.answered = _answered(desk, session, questionnaire_id)
        self.attempted = _attempted(session, study_id)

    def taken_at(self, number: int, uuid: str, unit_id: int | None) -> Place | None:
        """The first place that was answered; otherwise where the attempt was made, unless that gives a hidden unit away."""
        answered = self.answered.get(f"{number:04d}")
        return answered or (self.attempted.get(uuid) if self._lies_at(unit_id) else None)

    def band(self, unit_id: int | None, taken: Place | None) -> Band:
        """at, near or far; "" where it is not known."""
        lies = self._lies_at(unit_id)
        if lies is None or taken is None:
            return ""
        apart = distance_m(Point(*lies), Point(*taken))
        if apart is None:
            return "far"
        return "at" if apart <= AT_METRES else "near" if apart <= NEAR_METRES else "far"

    def _lies_at(self, unit_id: int | None) -> Place | None:
        """Where a unit lies, None where that is unknown or may not be seen exactly."""
        at = -1 if unit_id is None else self.register.tree.place_of(unit_id)
        unit = self.register.units[at] if at >= 0 else None
        if unit is None or unit.kind_id not in self.seen or unit.latitude is None or unit.longitude is None:
            return None
        return unit.latitude, unit.longitude


def first_place(layout: TableLayout) -> tuple[str, str] | None:
    """The columns with degrees north and east of the first place that was asked for."""
    north = next((c for c in layout.columns if c.piece == "latitude"), None)
    if north is None:
        return None
    east = next((c for c in layout.columns if c.piece == "longitude" and c.part_id == north.part_id), None)
    return None if east is None else (north.variable, east.variable)


def _answered(desk: Desk, session: Session, questionnaire_id: int) -> dict[str, Place]:
    """The first place of each interview, by its key."""
    table = desk.data(session, questionnaire_id).data[INTERVIEWS]
    columns = first_place(table.layout)
    if columns is None:
        return {}
    rows = table.frame.select([KEY, *columns]).drop_nulls().iter_rows()
    return {key: (float(north), float(east)) for key, north, east in rows}


def _attempted(session: Session, study_id: int) -> dict[str, Place]:
    """Where the attempt was made that ended with an interview, by its UUID; of several the last."""
    columns = (VisitAttempt.interview_uuid, VisitAttempt.latitude, VisitAttempt.longitude, VisitAttempt.taken_back)
    wanted = select(*columns).where(VisitAttempt.study_id == study_id, VisitAttempt.interview_uuid != "")
    return {
        uuid: (north, east)
        for uuid, north, east, back in session.execute(wanted.order_by(VisitAttempt.id)).tuples()
        if back is None and north is not None and east is not None
    }


def numbers_far(desk: Desk, session: Session, study_id: int, among: Conditions) -> dict[int, list[int]]:
    """The numbers of the interviews, of those meant, that were taken far from their unit, by questionnaire."""
    columns = (Interview.questionnaire_id, Interview.number, Interview.uuid, Interview.unit_id)
    wanted = select(*columns).where(*among, Interview.unit_id.is_not(None))
    measured: dict[int, Distances] = {}
    far: dict[int, list[int]] = {}
    for questionnaire_id, number, uuid, unit_id in session.execute(wanted.order_by(Interview.number)).tuples():
        if questionnaire_id is None:
            continue
        if questionnaire_id not in measured:
            measured[questionnaire_id] = Distances(desk, session, study_id, questionnaire_id)
        distances = measured[questionnaire_id]
        if distances.band(unit_id, distances.taken_at(number, uuid, unit_id)) == "far":
            far.setdefault(questionnaire_id, []).append(number)
    return far
