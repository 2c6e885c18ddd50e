"""What a phone holds of visits: those of its person, what rules ask of their units, and attempts that it tells."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import datetime, timedelta
from hashlib import sha256
from typing import Any

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field
from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from skavo.core.visits.asked import Asked, asked_by, carried_over
from skavo.core.visits.outcomes import AttemptRules, Outcome
from skavo.store.interview_document import ReadDocument, try_reading
from skavo.store.laying import loaded_release
from skavo.store.links import newest_release
from skavo.store.models import (
    Device,
    Event,
    Interview,
    Revision,
    Unit,
    Visit,
    VisitAttempt,
    VisitList,
    now,
)
from skavo.store.registers import Register, Registers
from skavo.store.visits import attempts_at, how_it_ends, keep_attempt

_AT_ONCE = 500
_MOST_AHEAD = timedelta(days=3660)


class CarriedAttempt(BaseModel):
    """`own` says that it was made by the person whose phone this is."""

    identity: str
    outcome: str
    at: datetime
    appointment: datetime | None
    remark: str
    by: str
    own: bool


class Known(BaseModel):
    """What an interview knows before it begins, as its document tells it."""

    unit: str | None
    units: dict[str, dict[str, Any]]
    earlier: dict[str, Any]


class CarriedVisit(BaseModel):
    """One visit; `place` is [degrees north, degrees east], None where it is not known. Those that ended are told as long as
    their list is open, for whoever wants to see what became of them."""

    visit: str
    list_id: int
    key: str
    label: str
    area: str
    place: list[float] | None
    remark: str
    attempts: list[CarriedAttempt]
    known: Known


class CarriedList(BaseModel):
    id: int
    name: str
    questionnaire_id: int
    rules: AttemptRules
    due: str


class CarriedVisits(BaseModel):
    """All that a phone holds of visits; `time_zone` is the study's."""

    time_zone: str
    outcomes: list[Outcome]
    lists: list[CarriedList]
    visits: list[CarriedVisit]


class AttemptTold(BaseModel):
    """An attempt as a phone tells it: by its own clock, which was ahead by `clock_ahead_seconds` when it last met the
    office's."""

    model_config = ConfigDict(extra="forbid")
    visit: str = Field(pattern="^[0-9a-f]{32}$")
    outcome: str = Field(min_length=1, max_length=32)
    at: AwareDatetime
    appointment: AwareDatetime | None = None
    remark: str = Field(default="", max_length=2000)
    interview: str = Field(default="", pattern="^([0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12})?$")
    latitude: float | None = Field(default=None, ge=-90, le=90)
    longitude: float | None = Field(default=None, ge=-180, le=180)
    accuracy: float | None = Field(default=None, ge=0, le=10**8)
    clock_ahead_seconds: float | None = Field(default=None, ge=-(10**9), le=10**9)


def visits_for(session: Session, registers: Registers, device: Device) -> CarriedVisits:
    """The visits of a device's person, on lists that are open."""
    known = how_it_ends(session, device.study_id)
    lists = list(
        session.scalars(select(VisitList).where(VisitList.study_id == device.study_id, VisitList.closed_at.is_(None)))
    )
    mine = (Visit.study_id == device.study_id, Visit.person_id == device.person_id)
    wanted = select(Visit).where(*mine, Visit.list_id.in_([found.id for found in lists]))
    visits = [] if device.person_id is None else list(session.scalars(wanted.order_by(Visit.area, Visit.key, Visit.id)))
    tried = attempts_at(session, [visit.id for visit in visits])
    held = {found.id: [visit for visit in visits if visit.list_id == found.id] for found in lists}
    told = {found.id: _Told(session, registers, found, held[found.id]) for found in lists if held[found.id]}
    return CarriedVisits(
        time_zone=str(known.zone),
        outcomes=list(known.outcomes.values()),
        lists=[
            CarriedList(
                id=found.id, name=found.name, questionnaire_id=found.questionnaire_id,
                rules=AttemptRules.model_validate(found.rules), due=found.due,
            )
            for found in lists
            if held[found.id]
        ],
        visits=[told[visit.list_id].visit(visit, tried[visit.id]) for visit in visits],
    )  # fmt: skip


def mark_of_visits(carried: CarriedVisits) -> str:
    """What tells that a phone holds these; "" for none."""
    return sha256(carried.model_dump_json().encode()).hexdigest()[:32] if carried.visits else ""


class _Told:
    """Says the visits of one list: what they are called and where they lie now, and what the questionnaire asks of them.

    Only those fields go onto a phone that a rule of the questionnaire reads.
    """

    def __init__(self, session: Session, registers: Registers, found: VisitList, visits: list[Visit]) -> None:
        self.session = session
        self.register: Register = registers.of(session, found.study_id)
        self.questionnaire_id = found.questionnaire_id
        newest = newest_release(session, found.questionnaire_id)
        self.release = None if newest is None else loaded_release(newest)
        self.asked = Asked(frozenset(), frozenset()) if self.release is None else asked_by(self.release)
        units = [visit.unit_id for visit in visits if visit.unit_id is not None]
        self.identities = dict(_of_units(session, (Unit.id, Unit.identity), units))
        self.held = {}
        if self.asked.of_unit:
            above = (Unit.id, Unit.kind_id, Unit.key, Unit.label, Unit.answers, Unit.derived, Unit.above_id)
            self.held = {row[0]: row for row in _of_units(session, above, units)}

    def visit(self, visit: Visit, attempts: list[VisitAttempt]) -> CarriedVisit:
        place = -1 if visit.unit_id is None else self.register.tree.place_of(visit.unit_id)
        unit = self.register.units[place] if place >= 0 else None
        at = visit if unit is None else unit
        return CarriedVisit(
            visit=visit.identity, list_id=visit.list_id, key=at.key, label=at.label or at.key, area=visit.area,
            place=None if at.latitude is None or at.longitude is None else [at.latitude, at.longitude],
            remark=visit.remark, known=self._known(visit), attempts=[_attempt(one, visit) for one in attempts],
        )  # fmt: skip

    def _known(self, visit: Visit) -> Known:
        if visit.unit_id is None or visit.unit_id not in self.identities:
            return Known(unit=None, units={}, earlier={})
        identity = self.identities[visit.unit_id]
        units = {identity: self._asked_of(visit.unit_id)} if self.asked.of_unit else {}
        return Known(unit=identity, units=units, earlier=self._earlier(visit))

    def _asked_of(self, unit_id: int) -> dict[str, Any]:
        """What a rule may read of a unit: its own facts, and those fields that some rule of the questionnaire does read."""
        _, kind_id, key, label, answers, derived, above_id = self.held[unit_id]
        kind = self.register.kinds[kind_id]
        fields = {part.raw["variable"]: part.raw["id"] for part in kind.form.fields}
        values = {**answers, **derived}
        told: dict[str, Any] = {"id": key, "label": label or key, "kind": kind.name, "register": kind.name}
        if "under" in self.asked.of_unit and above_id is not None:
            told["under"] = self.session.scalar(select(Unit.identity).where(Unit.id == above_id))
        asked = {name: values.get(fields[name]) for name in sorted(self.asked.of_unit & fields.keys())}
        return {**told, **{name: value for name, value in asked.items() if value is not None}}

    def _earlier(self, visit: Visit) -> dict[str, Any]:
        """What the newest interview about a unit that counts, and was not made on this visit, held of what rules ask of
        the earlier round."""
        if not self.asked.of_earlier or self.release is None:
            return {}
        elsewhere = or_(Interview.visit_id.is_(None), Interview.visit_id != visit.id)
        about = (Interview.unit_id == visit.unit_id, Interview.questionnaire_id == self.questionnaire_id, elsewhere)
        counting = select(Interview, Revision).join(Revision, Revision.interview_id == Interview.id)
        wanted = counting.where(
            *about, Revision.number == Interview.counting, Interview.practice.is_(False),
            Interview.state != "set aside", Interview.problem == "",
        ).order_by(Interview.started_at.desc(), Interview.id.desc())  # fmt: skip
        found = self.session.execute(wanted.limit(1)).first()
        if found is None:
            return {}
        interview, revision = found
        read = try_reading(revision.raw)
        if not isinstance(read, ReadDocument) or interview.release is None:
            return {}
        before = loaded_release(interview.release)
        return carried_over(read.document.answers, before, self.release, self.asked.of_earlier)


def _of_units(session: Session, columns: tuple[Any, ...], unit_ids: list[int]) -> Iterator[Any]:
    """Columns of units, some hundred at a time."""
    for begin in range(0, len(unit_ids), _AT_ONCE):
        yield from session.execute(select(*columns).where(Unit.id.in_(unit_ids[begin : begin + _AT_ONCE]))).tuples()


def _attempt(attempt: VisitAttempt, visit: Visit) -> CarriedAttempt:
    return CarriedAttempt(
        identity=attempt.identity, outcome=attempt.outcome, at=attempt.at, appointment=attempt.appointment,
        remark=attempt.remark, by=attempt.by, own=attempt.by_id == visit.person_id,
    )  # fmt: skip


def take_attempt(session: Session, device: Device, identity: str, told: AttemptTold) -> bool:
    """Keep an attempt that a phone tells, once; whether it was not here before. One at a visit that is not here any more is
    told in the logbook, so that nothing is lost."""
    visit = session.scalar(select(Visit).where(Visit.study_id == device.study_id, Visit.identity == told.visit))
    ahead = timedelta(seconds=told.clock_ahead_seconds or 0)
    ahead = ahead if abs(ahead) < _MOST_AHEAD else timedelta()
    if visit is None:
        session.add(
            Event(
                study_id=device.study_id, kind="attempt without visit", by=device.enumerator, by_id=device.person_id,
                detail=json.loads(told.model_dump_json()),
            )
        )  # fmt: skip
        return True
    attempt = VisitAttempt(
        identity=identity, outcome=told.outcome, at=min(_moved(told.at, ahead), now()), appointment=told.appointment,
        remark=told.remark.strip(), interview_uuid=told.interview, latitude=told.latitude, longitude=told.longitude,
        accuracy=told.accuracy, by=device.enumerator, by_id=device.person_id, device_id=device.id,
    )  # fmt: skip
    return keep_attempt(session, visit, attempt)


def _moved(at: datetime, ahead: timedelta) -> datetime:
    try:
        return at - ahead
    except OverflowError:
        return at
