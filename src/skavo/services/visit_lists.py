"""Plan, visits: lists of them, made from a sample or from the register, their rules, and reserves called in."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from datetime import date, datetime
from typing import Any

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import ColumnElement, case, delete, func, insert, select
from sqlalchemy.orm import Session

from skavo.core.visits.outcomes import AttemptRules, Outcome, check_outcomes
from skavo.core.visits.progress import forecast
from skavo.services.branches import label_of
from skavo.services.desk import Desk
from skavo.services.found import the_asked, the_sample, the_study, the_visit_list
from skavo.services.frames import RegisterFrame, units_frame
from skavo.services.refusals import Refused, same_version
from skavo.services.visits import MOST_VISITS, reach
from skavo.store.models import (
    Membership,
    Questionnaire,
    Sample,
    SampleUnit,
    Study,
    Team,
    Visit,
    VisitAttempt,
    VisitList,
    new_identity,
    now,
)
from skavo.store.registers import Register
from skavo.store.visits import how_it_ends, reckon

_FIRST = 5
DAY = r"^(\d{4}-\d{2}-\d{2})?$"


class UnitsByKey(BaseModel):
    """Units of a kind, named by their keys."""

    model_config = ConfigDict(extra="forbid")
    kind: int
    keys: list[str] = Field(min_length=1, max_length=MOST_VISITS)


class VisitListIn(BaseModel):
    """One of `sample_id`, `units` and `named` says whom they visit."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=64, pattern=r"\S")
    questionnaire_id: int
    sample_id: int | None = None
    units: RegisterFrame | None = None
    named: UnitsByKey | None = None
    rules: AttemptRules = AttemptRules()
    due: str = Field(default="", pattern=DAY)


class VisitListChange(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=64, pattern=r"\S")
    rules: AttemptRules
    due: str = Field(default="", pattern=DAY)
    closed: bool = False
    version: int


class VisitListLine(BaseModel):
    """A list with how many of its visits stand where; `interviews` are those that count as one, or as part of one."""

    id: int
    name: str
    questionnaire_id: int
    questionnaire: str
    sample_id: int | None
    due: str
    closed: bool
    total: int
    not_given: int
    open: int
    to_pass_on: int
    tried_enough: int
    ended: int
    interviews: int


class Goer(BaseModel):
    """Somebody who has visits of a list, or may be given some. `left` says that they are no member any more."""

    person_id: int
    name: str
    team: str
    left: bool
    open: int
    done: int


class AreaCount(BaseModel):
    name: str
    visits: int


class ForecastOut(BaseModel):
    """At `a_day` visits ended a day, the `left` ones have ended `on` a day; None where none end."""

    left: int
    a_day: float
    on: date | None


class VisitListOut(VisitListLine):
    """`areas` are what its visits lie in, with how many; `reserves` are left in the sample, in all strata."""

    rules: AttemptRules
    sample: str
    reserves: int
    people: list[Goer]
    areas: list[AreaCount]
    forecast: ForecastOut
    version: int
    created_at: datetime
    created_by: str


class ReservesIn(BaseModel):
    """Visits that ended without an interview; for each of them the next reserve of its stratum is taken."""

    model_config = ConfigDict(extra="forbid")
    instead_of: list[int] = Field(min_length=1, max_length=2000)
    version: int


class OutcomesIn(BaseModel):
    model_config = ConfigDict(extra="forbid")
    outcomes: list[Outcome] = Field(min_length=1, max_length=60)
    version: int


class OutcomesOut(BaseModel):
    """`version` is that of the study; `used` are those that some attempt ended with: they cannot be taken away."""

    outcomes: list[Outcome]
    used: list[str]
    version: int


def make_list(desk: Desk, study_id: int, wanted: VisitListIn) -> VisitListOut:
    """A list of visits to the units of a sample, or to those of the register; given to nobody yet."""
    desk.needs_whole_study("Lists of visits")
    if sum(source is not None for source in (wanted.sample_id, wanted.units, wanted.named)) != 1:
        raise Refused("no_source", "Visits go to a sample, or to units of the register: choose one of them.")
    from_register = [] if wanted.units is None else units_frame(desk, study_id, wanted.units).units
    with desk.store.session() as session:
        the_study(session, study_id)
        the_asked(session, study_id, wanted.questionnaire_id)
        name = _free_name(session, study_id, wanted.name)
        found = VisitList(
            study_id=study_id, questionnaire_id=wanted.questionnaire_id, sample_id=wanted.sample_id, name=name,
            rules=wanted.rules.model_dump(), due=wanted.due, **desk.signed(),
        )  # fmt: skip
        session.add(found)
        session.flush()
        if wanted.named is not None:
            from_register = _named(desk, session, study_id, wanted.named)
        drawn = _drawn(session, study_id, wanted.sample_id, reserves=False)
        made = _insert(desk, session, found, drawn or [(unit_id, None) for unit_id in from_register])
        session.add(desk.event(study_id, "visits made", name=name, visits=made))
        list_id = found.id
    return show_list(desk, list_id)


def _free_name(session: Session, study_id: int, name: str, but: int | None = None) -> str:
    taken = select(VisitList.id).where(VisitList.study_id == study_id, VisitList.name == name.strip())
    if session.scalar(taken) not in (None, but):
        raise Refused("name_taken", f"This study has a list “{name.strip()}” already. Give this one another name.")
    return name.strip()


def _named(desk: Desk, session: Session, study_id: int, wanted: UnitsByKey) -> list[int]:
    """The units of a kind by their keys, each once; refuse where some are not there, and say which."""
    register = desk.sets.registers.of(session, study_id)
    of_kind = {unit.key: unit.id for unit in register.units if unit.kind_id == wanted.kind and unit.closed_at is None}
    keys = dict.fromkeys(key for one in wanted.keys if (key := one.strip()))
    missing = [key for key in keys if key not in of_kind]
    if missing:
        first = f"{', '.join(missing[:_FIRST])}{' …' if len(missing) > _FIRST else ''}"
        raise Refused("unknown_keys", f"The register has no open unit with these keys ({len(missing):,}): {first}")
    return [of_kind[key] for key in keys]


_Whom = tuple[int | None, SampleUnit | None]


def _drawn(session: Session, study_id: int, sample_id: int | None, *, reserves: bool) -> list[_Whom]:
    if sample_id is None:
        return []
    if the_sample(session, sample_id).study_id != study_id:
        raise Refused("not_found", "This study has no such sample. Choose one of its own.")
    wanted = select(SampleUnit).where(SampleUnit.sample_id == sample_id, SampleUnit.reserve.is_(reserves))
    return [(one.unit_id, one) for one in session.scalars(wanted.order_by(SampleUnit.rank, SampleUnit.place))]


def _insert(desk: Desk, session: Session, found: VisitList, whom: Iterable[_Whom], *, reserve: bool = False) -> int:
    register = desk.sets.registers.of(session, found.study_id)
    hidden = frozenset(part_id for kind in register.kinds.values() for part_id in kind.hidden)
    rows = [
        {**_row(register, hidden, unit_id, one), "study_id": found.study_id, "list_id": found.id}
        for unit_id, one in whom
    ]
    if not rows:
        raise Refused("nobody_to_visit", "There is nobody to visit: no unit is like that, or all of them are closed.")
    if len(rows) > MOST_VISITS:
        raise Refused("too_many", f"These are {len(rows):,} visits; a list takes {MOST_VISITS:,}. Make several lists.")
    common = {"person_id": None, "reserve": reserve, "remark": "", "outcome": "", "standing": "open", "tried": 0}
    session.execute(insert(Visit), [{**common, "identity": new_identity(), **row} for row in rows])
    return len(rows)


def _row(register: Register, hidden: frozenset[str], unit_id: int | None, one: SampleUnit | None) -> dict[str, Any]:
    """Whom a visit is to, as a list says it to anybody: without what is hidden from some."""
    place = -1 if unit_id is None else register.tree.place_of(unit_id)
    drawn = {"unit_id": unit_id, "sample_unit_id": None if one is None else one.id}
    if place < 0:
        assert one is not None, "a unit of the register is in the register"
        return {**drawn, "key": one.key, "label": one.label, "area": one.stratum or one.cluster}
    unit, above = register.units[place], int(register.tree.above[place])
    over = None if above < 0 else register.units[above]
    return {
        **drawn, "key": unit.key, "label": label_of(register.kinds[unit.kind_id], unit, hidden),
        "area": "" if over is None else label_of(register.kinds[over.kind_id], over, hidden)[:200],
    }  # fmt: skip


def list_lists(desk: Desk, study_id: int) -> list[VisitListLine]:
    """The newest first."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        every = session.scalars(select(VisitList).where(VisitList.study_id == study_id).order_by(VisitList.id.desc()))
        return [VisitListLine.model_validate(_line(desk, session, found)) for found in every]


def _line(desk: Desk, session: Session, found: VisitList) -> dict[str, Any]:
    conditions = reach(desk, found)
    standings = _counted(session, Visit.standing, conditions)
    outcomes = how_it_ends(session, found.study_id).outcomes
    made = {code for code, one in outcomes.items() if one.counts_as in ("interview", "partial")}
    ended = _counted(session, Visit.outcome, conditions)
    not_given = select(func.count()).select_from(Visit).where(*conditions, Visit.person_id.is_(None))
    return {
        "id": found.id, "name": found.name, "questionnaire_id": found.questionnaire_id,
        "questionnaire": session.get_one(Questionnaire, found.questionnaire_id).title, "sample_id": found.sample_id,
        "due": found.due, "closed": found.closed_at is not None, "total": sum(standings.values()),
        "not_given": session.scalar(not_given) or 0, "open": standings.get("open", 0),
        "to_pass_on": standings.get("to pass on", 0), "tried_enough": standings.get("tried enough", 0),
        "ended": standings.get("ended", 0), "interviews": sum(count for code, count in ended.items() if code in made),
    }  # fmt: skip


def _counted(session: Session, column: Any, conditions: list[ColumnElement[bool]]) -> dict[str, int]:
    return dict(session.execute(select(column, func.count()).where(*conditions).group_by(column)).tuples().all())


def show_list(desk: Desk, list_id: int) -> VisitListOut:
    with desk.store.reading() as session:
        found = the_visit_list(session, list_id)
        sample = None if found.sample_id is None else session.get(Sample, found.sample_id)
        areas = select(Visit.area, func.count()).where(*reach(desk, found)).group_by(Visit.area).order_by(Visit.area)
        return VisitListOut.model_validate(
            {
                **_line(desk, session, found), "rules": found.rules, "sample": "" if sample is None else sample.name,
                "reserves": len(_waiting(session, found)), "people": _people(desk, session, found),
                "areas": [{"name": name, "visits": visits} for name, visits in session.execute(areas)], "forecast": _forecast(desk, session, found),
                "version": found.version, "created_at": found.created_at, "created_by": found.created_by,
            }
        )  # fmt: skip


def _people(desk: Desk, session: Session, found: VisitList) -> list[Goer]:
    """Whoever has visits of a list, and the enumerators of the study that whoever asks may give some to."""
    members = select(Membership, Team.name).outerjoin(Team, Team.id == Membership.team_id)
    by_person = {
        one.person_id: (one, team or "")
        for one, team in session.execute(members.where(Membership.study_id == found.study_id))
        if desk.teams is None or one.team_id in desk.teams
    }
    is_open = func.sum(case((Visit.standing.in_(("open", "to pass on")), 1), else_=0))
    has = select(Visit.person_id, is_open, func.count()).where(*reach(desk, found), Visit.person_id.is_not(None))
    counts = {person: (still, every) for person, still, every in session.execute(has.group_by(Visit.person_id))}
    people = [
        Goer(
            person_id=person, name=one.name, team=team, left=one.left_at is not None, open=counts.get(person, (0, 0))[0],
            done=counts.get(person, (0, 0))[1] - counts.get(person, (0, 0))[0],
        )
        for person, (one, team) in by_person.items()
        if person in counts or (one.left_at is None and "enumerator" in one.roles)
    ]  # fmt: skip
    return sorted(people, key=lambda one: (one.team, one.name))


def _forecast(desk: Desk, session: Session, found: VisitList) -> dict[str, Any]:
    zone = how_it_ends(session, found.study_id).zone
    over = (*reach(desk, found), Visit.standing.in_(("ended", "tried enough")))
    days = [at.astimezone(zone).date() for at in session.scalars(select(Visit.last_at).where(*over)) if at is not None]
    left = (
        select(func.count()).select_from(Visit).where(*reach(desk, found), Visit.standing.in_(("open", "to pass on")))
    )
    said = forecast(days, session.scalar(left) or 0, now().astimezone(zone).date())
    return {"left": said.left, "a_day": round(said.a_day, 2), "on": said.on}


def change_list(desk: Desk, list_id: int, wanted: VisitListChange) -> VisitListOut:
    """Rename it, change its rules or its last day, close it, or open it again."""
    desk.needs_whole_study("Lists of visits")
    with desk.store.session() as session:
        found = the_visit_list(session, list_id)
        same_version(found.version, wanted.version)
        found.name = _free_name(session, found.study_id, wanted.name, but=found.id)
        if wanted.closed is not (found.closed_at is not None):
            session.add(
                desk.event(found.study_id, "visits closed" if wanted.closed else "visits opened again", name=found.name)
            )
            found.closed_at = now() if wanted.closed else None
        found.due, found.version = wanted.due, found.version + 1
        if wanted.rules.model_dump() != found.rules:
            found.rules = wanted.rules.model_dump()
            session.flush()
            reckon(session, session.scalars(select(Visit).where(Visit.list_id == found.id)).all())
    return show_list(desk, list_id)


def remove_list(desk: Desk, list_id: int) -> None:
    """Take a list away that nobody has gone out for."""
    desk.needs_whole_study("Lists of visits")
    with desk.store.session() as session:
        found = the_visit_list(session, list_id)
        tried = select(VisitAttempt.id).join(Visit).where(Visit.list_id == found.id)
        if session.scalar(tried.limit(1)) is not None:
            raise Refused("has_attempts", f"Somebody has gone out for {found.name} already: close it instead.")
        session.execute(delete(Visit).where(Visit.list_id == found.id))
        session.add(desk.event(found.study_id, "visits removed", name=found.name))
        session.delete(found)


def _waiting(session: Session, found: VisitList) -> list[SampleUnit]:
    """The reserves of its sample that have not been called in, in the order in which they would be."""
    if found.sample_id is None:
        return []
    taken = set(session.scalars(select(Visit.sample_unit_id).where(Visit.list_id == found.id)))
    drawn = _drawn(session, found.study_id, found.sample_id, reserves=True)
    return [one for _, one in drawn if one is not None and one.id not in taken]


def take_reserves(desk: Desk, list_id: int, wanted: ReservesIn) -> VisitListOut:
    """For each visit that ended without an interview, visit the next reserve of the same stratum and cluster."""
    desk.needs_whole_study("Lists of visits")
    with desk.store.session() as session:
        found = the_visit_list(session, list_id)
        same_version(found.version, wanted.version)
        instead = (Visit.list_id == found.id, Visit.id.in_(wanted.instead_of))
        lost = session.execute(select(Visit, SampleUnit).join(SampleUnit).where(*instead)).tuples().all()
        _check_lost(session, found, [visit for visit, _ in lost])
        waiting = _waiting(session, found)
        taken: list[SampleUnit] = []
        for where, many in Counter((one.stratum, one.cluster) for _, one in lost).items():
            next_ones = [one for one in waiting if (one.stratum, one.cluster) == where][:many]
            if len(next_ones) < many:
                there = where[0] or where[1] or found.name
                raise Refused("no_reserve", f"{there} has {len(next_ones)} reserves left, and {many} are wanted.")
            taken += next_ones
        made = _insert(desk, session, found, [(one.unit_id, one) for one in taken], reserve=True)
        found.version += 1
        session.add(desk.event(found.study_id, "reserves taken", name=found.name, visits=made))
    return show_list(desk, list_id)


def _check_lost(session: Session, found: VisitList, lost: list[Visit]) -> None:
    if not lost:
        raise Refused("nobody_to_visit", "These visits are of no sample: there are no reserves for them.")
    outcomes = how_it_ends(session, found.study_id).outcomes
    made = {code for code, one in outcomes.items() if one.counts_as == "interview"}
    for visit in lost:
        if visit.standing not in ("ended", "tried enough") or visit.outcome in made:
            message = f"{visit.key} is not lost: it is still open, or there is an interview. A reserve stands in for none of both."
            raise Refused("not_lost", message)


def show_outcomes(desk: Desk, study_id: int) -> OutcomesOut:
    with desk.store.reading() as session:
        study = the_study(session, study_id)
        used = select(VisitAttempt.outcome).where(VisitAttempt.study_id == study_id).distinct()
        return OutcomesOut(
            outcomes=list(how_it_ends(session, study_id).outcomes.values()), used=sorted(session.scalars(used)),
            version=study.version,
        )  # fmt: skip


def change_outcomes(desk: Desk, study_id: int, wanted: OutcomesIn) -> OutcomesOut:
    """Say how attempts end in a study; what follows from those that were made is reckoned again."""
    desk.needs_whole_study("Outcomes")
    check_outcomes(wanted.outcomes)
    with desk.store.session() as session:
        study: Study = the_study(session, study_id)
        same_version(study.version, wanted.version)
        codes = {one.code for one in wanted.outcomes}
        used = select(VisitAttempt.outcome).where(VisitAttempt.study_id == study_id, VisitAttempt.outcome.not_in(codes))
        gone = session.scalar(used.limit(1))
        if gone is not None:
            raise Refused(
                "outcome_used", f"Attempts have ended with “{gone}”: it cannot be taken away. Rename it instead."
            )
        study.outcomes, study.version = [one.model_dump() for one in wanted.outcomes], study.version + 1
        session.flush()
        reckon(session, session.scalars(select(Visit).where(Visit.study_id == study_id)).all())
    return show_outcomes(desk, study_id)
