"""Plan, visits: which there are, who goes, what became of each attempt."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any, Literal, Protocol
from uuid import uuid4

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field
from sqlalchemy import ColumnElement, func, or_, select
from sqlalchemy.orm import Session

from skavo.core.rules.geodesy import distance_m
from skavo.core.rules.values import Point
from skavo.core.visits.outcomes import label_in
from skavo.services.branches import hidden_fields, label_of, place_seen, shows_places
from skavo.services.desk import Desk
from skavo.services.found import the_attempt, the_visit, the_visit_list
from skavo.services.refusals import Refused
from skavo.store.models import Interview, Membership, Visit, VisitAttempt, VisitList, now
from skavo.store.visits import HowItEnds, how_it_ends, keep_attempt, reckon

Standing = Literal["open", "to pass on", "tried enough", "ended"]
MOST_VISITS = 20_000
_PAGE = 500
NOBODY = 0


class _Conditions(BaseModel):
    """What narrows the visits of a list down. `person_id` 0 means those given to nobody."""

    model_config = ConfigDict(extra="forbid")
    standing: Standing | None = None
    person_id: int | None = Field(default=None, ge=0)
    outcome: str = Field(default="", max_length=32)
    area: str = Field(default="", max_length=200)
    words: str = Field(default="", max_length=200)


class Which(_Conditions):
    """Which visits of a list are meant: all that the conditions leave, and of those `ids` where some are named."""

    ids: list[int] = Field(default=[], max_length=MOST_VISITS)


class VisitsQuery(_Conditions):
    """A page of the visits that the conditions leave."""

    offset: int = Field(default=0, ge=0, le=10**9)
    limit: int = Field(default=100, ge=1, le=_PAGE)

    @property
    def which(self) -> Which:
        return Which.model_validate(self.model_dump(exclude={"offset", "limit"}))


class VisitLine(BaseModel):
    """A visit in a list. `outcome` is the code that it counts as, "" before the first attempt; `person` is "" where it is
    given to nobody."""

    id: int
    unit_id: int | None
    key: str
    label: str
    area: str
    reserve: bool
    person_id: int | None
    person: str
    standing: Standing
    outcome: str
    tried: int
    last_at: datetime | None
    appointment: datetime | None
    has_place: bool


class VisitLines(BaseModel):
    lines: list[VisitLine]
    total: int


class VisitPoints(BaseModel):
    """Visits with a place, column by column; `without` is how many more have none that may be seen."""

    ids: list[int]
    latitudes: list[float]
    longitudes: list[float]
    labels: list[str]
    standings: list[str]
    outcomes: list[str]
    person_ids: list[int]
    without: int


class TakenBackBy(BaseModel):
    by: str
    at: datetime
    why: str


class AttemptLine(BaseModel):
    """An attempt; `interview_id` and `interview` (its number as people use it) are those that it ended with, as far as that
    has arrived. `taken_back` says who took it back, when and why."""

    id: int
    outcome: str
    at: datetime
    appointment: datetime | None
    remark: str
    by: str
    from_phone: bool
    interview_id: int | None
    interview: str
    accuracy: float | None
    metres_off: float | None
    taken_back: TakenBackBy | None


class VisitOut(VisitLine):
    """A visit with all that was tried, the newest first; `interviews` are those that were made on it."""

    list_id: int
    list_name: str
    remark: str
    latitude: float | None
    longitude: float | None
    attempts: list[AttemptLine]
    interviews: list[int]


class AttemptIn(BaseModel):
    """An attempt as somebody at the desk enters it, for `person_id` who went; None for whoever the visit is given to."""

    model_config = ConfigDict(extra="forbid")
    outcome: str = Field(min_length=1, max_length=32)
    at: AwareDatetime
    appointment: AwareDatetime | None = None
    remark: str = Field(default="", max_length=2000)
    person_id: int | None = None


class TakenBack(BaseModel):
    model_config = ConfigDict(extra="forbid")
    why: str = Field(default="", max_length=500)


class VisitChange(BaseModel):
    model_config = ConfigDict(extra="forbid")
    remark: str = Field(max_length=2000)


# What is drawn of a visit, where thousands are: rows instead of objects.
POINT_COLUMNS = (
    Visit.id, Visit.unit_id, Visit.key, Visit.label, Visit.area, Visit.latitude, Visit.longitude, Visit.standing,
    Visit.outcome, Visit.person_id,
)  # fmt: skip


class PlacedVisit(Protocol):
    """A visit, or a row of POINT_COLUMNS."""

    @property
    def unit_id(self) -> Any: ...
    @property
    def key(self) -> Any: ...
    @property
    def label(self) -> Any: ...
    @property
    def latitude(self) -> Any: ...
    @property
    def longitude(self) -> Any: ...


class Seen:
    """How whoever asks sees the units behind visits: what they are called and where they lie, as the register has it now."""

    def __init__(self, desk: Desk, session: Session, study_id: int) -> None:
        self.register = desk.sets.registers.of(session, study_id)
        self.hidden = hidden_fields(desk, self.register)

    def _unit(self, visit: PlacedVisit) -> Any:
        place = -1 if visit.unit_id is None else self.register.tree.place_of(visit.unit_id)
        return self.register.units[place] if place >= 0 else None

    def label(self, visit: PlacedVisit) -> str:
        unit = self._unit(visit)
        return str(visit.label) if unit is None else label_of(self.register.kinds[unit.kind_id], unit, self.hidden)

    def key(self, visit: PlacedVisit) -> str:
        unit = self._unit(visit)
        return str(visit.key if unit is None else unit.key)

    def place(self, visit: PlacedVisit) -> tuple[float, float] | None:
        """Degrees north and east, roughly where no more may be seen; None where there is none, or nothing may be seen."""
        unit = self._unit(visit)
        if unit is not None:
            return place_seen(self.register.kinds[unit.kind_id], unit, self.hidden)
        known = visit.latitude is not None and visit.longitude is not None
        return (visit.latitude, visit.longitude) if known else None

    def exact(self, visit: PlacedVisit) -> tuple[float, float] | None:
        """The same where it may be seen exactly: how far somebody was from it is told from nothing else."""
        return self.place(visit) if self.may_be_exact(visit) else None

    def may_be_exact(self, visit: PlacedVisit) -> bool:
        """Whether nothing hides where its unit lies."""
        unit = self._unit(visit)
        return unit is None or shows_places(self.register.kinds[unit.kind_id], self.hidden)


def reach(desk: Desk, found: VisitList) -> list[ColumnElement[bool]]:
    """The conditions of the visits of a list that whoever asks may know of: those of their teams' members."""
    return [Visit.list_id == found.id, *narrowed_visits(desk, found.study_id)]


def narrowed_visits(desk: Desk, study_id: int) -> list[ColumnElement[bool]]:
    """What narrows the visits of a study down for whoever asks: nothing for most."""
    if desk.teams is None:
        return []
    members = select(Membership.person_id).where(Membership.study_id == study_id, Membership.team_id.in_(desk.teams))
    return [Visit.person_id.in_(members)]


class VisitTo(BaseModel):
    """A visit to a unit: on which list, and the outcome that it counts as, by code."""

    id: int
    list_id: int
    list: str
    person: str
    outcome: str
    outcome_label: str
    last_at: datetime | None


class InterviewAbout(BaseModel):
    """An interview about a unit, by its number as people use it."""

    id: int
    key: str
    state: str
    enumerator: str
    started_at: datetime | None


def visits_to(desk: Desk, session: Session, study_id: int, unit_id: int) -> Sequence[VisitTo]:
    """Every visit to a unit, the newest list first."""
    known, names = how_it_ends(session, study_id).outcomes, names_of(session, study_id)
    wanted = (
        select(Visit, VisitList.name).join(VisitList).where(Visit.unit_id == unit_id, *narrowed_visits(desk, study_id))
    )
    return [
        VisitTo(
            id=visit.id, list_id=visit.list_id, list=name, person=names.get(visit.person_id or 0, ""),
            outcome=visit.outcome, last_at=visit.last_at,
            outcome_label=label_in(known[visit.outcome], "en") if visit.outcome in known else "",
        )
        for visit, name in session.execute(wanted.order_by(Visit.list_id.desc())).tuples()
    ]  # fmt: skip


def interviews_about(desk: Desk, session: Session, study_id: int, unit_id: int) -> Sequence[InterviewAbout]:
    """Every interview about a unit that whoever asks may know of, the newest first."""
    if not desk.may("interview.read"):
        return []
    wanted = select(Interview).where(*desk.reach(study_id), Interview.unit_id == unit_id, Interview.practice.is_(False))
    return [
        InterviewAbout(id=one.id, key=one.key, state=one.state, enumerator=one.enumerator, started_at=one.started_at)
        for one in session.scalars(wanted.order_by(Interview.id.desc()))
    ]


def conditions_of(desk: Desk, session: Session, found: VisitList, which: Which) -> list[ColumnElement[bool]]:
    """What narrows the visits of a list down to those that are meant."""
    conditions = reach(desk, found)
    if which.standing is not None:
        conditions.append(Visit.standing == which.standing)
    if which.person_id is not None:
        conditions.append(
            Visit.person_id.is_(None) if which.person_id == NOBODY else Visit.person_id == which.person_id
        )
    if which.outcome:
        conditions.append(Visit.outcome == which.outcome)
    if which.area:
        conditions.append(Visit.area == which.area)
    if words := which.words.strip():
        like = f"%{_escaped(words)}%"
        said = [
            Visit.key.like(like, escape="\\"),
            Visit.label.like(like, escape="\\"),
            Visit.area.like(like, escape="\\"),
        ]
        conditions.append(or_(*said))
    if which.ids:
        conditions.append(Visit.id.in_(which.ids))
    return conditions


def _escaped(words: str) -> str:
    return words.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


def names_of(session: Session, study_id: int) -> dict[int, str]:
    """What the members of a study are called, by person."""
    members = select(Membership.person_id, Membership.name).where(Membership.study_id == study_id)
    return dict(session.execute(members).tuples().all())


class VisitBehind(BaseModel):
    """The visit that an interview was made on; `metres_off` is how far from where the unit lies it ended, as far as both are
    known and may be seen."""

    id: int
    list_id: int
    list: str
    unit_id: int | None
    label: str
    metres_off: float | None


def visit_behind(desk: Desk, session: Session, interview: Interview) -> VisitBehind | None:
    """The visit that an interview was made on, None where there was none."""
    visit = None if interview.visit_id is None else session.get(Visit, interview.visit_id)
    if visit is None:
        return None
    seen, made = Seen(desk, session, visit.study_id), VisitAttempt.interview_uuid == interview.uuid
    wanted = select(VisitAttempt).where(VisitAttempt.visit_id == visit.id, made).order_by(VisitAttempt.id.desc())
    attempt, place = session.scalars(wanted).first(), seen.exact(visit)
    return VisitBehind(
        id=visit.id, list_id=visit.list_id, list=session.get_one(VisitList, visit.list_id).name, unit_id=visit.unit_id,
        label=seen.label(visit), metres_off=None if attempt is None else _metres_off(attempt, place),
    )  # fmt: skip


def list_visits(desk: Desk, list_id: int, query: VisitsQuery) -> VisitLines:
    """A page of visits, by what they lie in and their key."""
    with desk.store.reading() as session:
        found = the_visit_list(session, list_id)
        conditions = conditions_of(desk, session, found, query.which)
        seen, names = Seen(desk, session, found.study_id), names_of(session, found.study_id)
        page = select(Visit).where(*conditions).order_by(Visit.area, Visit.key, Visit.id)
        return VisitLines(
            lines=[
                _line(visit, seen, names) for visit in session.scalars(page.offset(query.offset).limit(query.limit))
            ],
            total=session.scalar(select(func.count()).select_from(Visit).where(*conditions)) or 0,
        )


def _line(visit: Visit, seen: Seen, names: dict[int, str]) -> VisitLine:
    return VisitLine.model_validate(_facts(visit, seen, names))


def _facts(visit: Visit, seen: Seen, names: dict[int, str]) -> dict[str, Any]:
    return {
        "id": visit.id, "unit_id": visit.unit_id, "key": seen.key(visit), "label": seen.label(visit), "area": visit.area,
        "reserve": visit.reserve, "person_id": visit.person_id, "person": names.get(visit.person_id or 0, ""),
        "standing": visit.standing, "outcome": visit.outcome, "tried": visit.tried, "last_at": visit.last_at,
        "appointment": visit.appointment, "has_place": seen.place(visit) is not None,
    }  # fmt: skip


def list_points(desk: Desk, list_id: int, which: Which) -> VisitPoints:
    """Where the visits of a list lie."""
    with desk.store.reading() as session:
        found = the_visit_list(session, list_id)
        seen = Seen(desk, session, found.study_id)
        wanted = select(*POINT_COLUMNS).where(*conditions_of(desk, session, found, which)).limit(MOST_VISITS)
        visits = session.execute(wanted).all()
        placed = [(visit, place) for visit in visits if (place := seen.place(visit)) is not None]
        return VisitPoints(
            ids=[visit.id for visit, _ in placed], latitudes=[place[0] for _, place in placed],
            longitudes=[place[1] for _, place in placed], labels=[seen.label(visit) for visit, _ in placed],
            standings=[visit.standing for visit, _ in placed], outcomes=[visit.outcome for visit, _ in placed],
            person_ids=[visit.person_id or NOBODY for visit, _ in placed], without=len(visits) - len(placed),
        )  # fmt: skip


def show_visit(desk: Desk, visit_id: int) -> VisitOut:
    with desk.store.reading() as session:
        visit = _reached(desk, session, visit_id)
        return _told(desk, session, visit)


def _reached(desk: Desk, session: Session, visit_id: int) -> Visit:
    """A visit that whoever asks may know of."""
    visit = the_visit(session, visit_id)
    found = session.get_one(VisitList, visit.list_id)
    if session.scalar(select(Visit.id).where(Visit.id == visit.id, *reach(desk, found))) is None:
        raise Refused("not_allowed", "This visit is not of the teams that you supervise.")
    return visit


def _told(desk: Desk, session: Session, visit: Visit) -> VisitOut:
    seen, names = Seen(desk, session, visit.study_id), names_of(session, visit.study_id)
    every = session.scalars(
        select(VisitAttempt).where(VisitAttempt.visit_id == visit.id).order_by(VisitAttempt.at.desc())
    )
    interviews = session.scalars(
        select(Interview).where(Interview.visit_id == visit.id, *desk.narrowed(visit.study_id))
    )
    arrived = {interview.uuid: interview for interview in interviews}
    place = seen.place(visit)
    return VisitOut.model_validate(
        {
            **_facts(visit, seen, names), "list_id": visit.list_id,
            "list_name": session.get_one(VisitList, visit.list_id).name, "remark": visit.remark,
            "latitude": place and place[0], "longitude": place and place[1],
            "attempts": [
                _attempt(attempt, arrived.get(attempt.interview_uuid), seen.exact(visit)) for attempt in every
            ],
            "interviews": [interview.id for interview in arrived.values()],
        }
    )  # fmt: skip


def _attempt(attempt: VisitAttempt, interview: Interview | None, place: tuple[float, float] | None) -> AttemptLine:
    return AttemptLine(
        id=attempt.id, outcome=attempt.outcome, at=attempt.at, appointment=attempt.appointment, remark=attempt.remark,
        by=attempt.by, from_phone=attempt.device_id is not None or attempt.interview_uuid != "", taken_back=_back(attempt), accuracy=attempt.accuracy,
        interview_id=None if interview is None else interview.id, interview="" if interview is None else interview.key,
        metres_off=_metres_off(attempt, place),
    )  # fmt: skip


def _back(attempt: VisitAttempt) -> TakenBackBy | None:
    return None if attempt.taken_back is None else TakenBackBy.model_validate(attempt.taken_back)


def _metres_off(attempt: VisitAttempt, place: tuple[float, float] | None) -> float | None:
    """How far from where the unit lies it was made, on the ellipsoid."""
    if place is None or attempt.latitude is None or attempt.longitude is None:
        return None
    apart = distance_m(Point(*place), Point(attempt.latitude, attempt.longitude))
    return None if apart is None else round(float(apart), 1)


def change_visit(desk: Desk, visit_id: int, wanted: VisitChange) -> VisitOut:
    """Write what whoever goes there should know."""
    with desk.store.session() as session:
        visit = _reached(desk, session, visit_id)
        visit.remark = wanted.remark.strip()
        return _told(desk, session, visit)


def add_attempt(desk: Desk, visit_id: int, wanted: AttemptIn) -> VisitOut:
    """Enter an attempt that no phone told of."""
    with desk.store.session() as session:
        visit = _reached(desk, session, visit_id)
        check_attempt(how_it_ends(session, visit.study_id), wanted)
        went = wanted.person_id or visit.person_id
        names = names_of(session, visit.study_id)
        if went is not None and went not in names:
            raise Refused("no_member", "Whoever went is no member of this study. Choose somebody who is.")
        attempt = VisitAttempt(
            identity=str(uuid4()), outcome=wanted.outcome, at=wanted.at, appointment=wanted.appointment,
            remark=wanted.remark.strip(), by=desk.name if went is None else names[went],
            by_id=desk.person_id if went is None else went,
        )  # fmt: skip
        keep_attempt(session, visit, attempt)
        session.add(
            desk.event(visit.study_id, "attempt entered", unit=visit.key, outcome=wanted.outcome, by=attempt.by)
        )
        return _told(desk, session, visit)


def check_attempt(known: HowItEnds, wanted: AttemptIn) -> None:
    """Refuse an attempt that cannot be: no such outcome, not yet made, an appointment without a moment or in the past."""
    outcome = known.outcomes.get(wanted.outcome)
    if outcome is None:
        raise Refused("no_outcome", f"This study has no outcome “{wanted.outcome}”. Choose one of its list.")
    if wanted.at > now():
        raise Refused("not_yet", "This attempt lies in the future. Enter it once it was made.")
    if outcome.names_moment and wanted.appointment is None:
        raise Refused("no_moment", "An appointment has a day and an hour. Say when it is.")
    if wanted.appointment is not None and wanted.appointment <= wanted.at:
        raise Refused("no_moment", "The appointment is before the attempt at which it was made. Say when it is.")


def take_back(desk: Desk, attempt_id: int, wanted: TakenBack) -> VisitOut:
    """Let an attempt count no more; it stays to be read."""
    with desk.store.session() as session:
        attempt = the_attempt(session, attempt_id)
        visit = _reached(desk, session, attempt.visit_id)
        if attempt.taken_back is None:
            attempt.taken_back = {"by": desk.name, "at": now().isoformat(), "why": wanted.why.strip()}
            session.flush()
            reckon(session, [visit])
        return _told(desk, session, visit)
