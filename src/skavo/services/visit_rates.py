"""Plan, visits: outcome rates by group, attempts by day, and the file with the final outcome of every unit."""

from __future__ import annotations

import csv
import io
from collections import Counter
from datetime import date
from math import isnan
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.visits.outcomes import label_in
from skavo.core.visits.progress import GroupRates, rates_by
from skavo.formats.csv_files import safe_text
from skavo.services.desk import Desk
from skavo.services.found import the_visit_list
from skavo.services.visits import Seen, names_of, reach
from skavo.store.models import Interview, Membership, SampleUnit, Team, Visit, VisitAttempt, VisitList
from skavo.store.visits import how_it_ends

By = Literal["list", "team", "person", "area"]


class RatesQuery(BaseModel):
    model_config = ConfigDict(extra="forbid")
    by: By = "list"


class RatesLine(BaseModel):
    """Counts by class and rates of one group, each a share, None where there is nothing to divide by. `response` are RR1 to
    RR6, `cooperation` COOP1 to COOP4, `refusal` REF1 to REF3, `contact` CON1 to CON3 of AAPOR's Standard Definitions."""

    name: str
    visits: int
    interview: int
    partial: int
    refusals: int
    non_contact: int
    other: int
    unknown: int
    unseen: int
    not_eligible: int
    response: list[float | None]
    cooperation: list[float | None]
    refusal: list[float | None]
    contact: list[float | None]


class DayOfAttempts(BaseModel):
    """How many attempts of a day ended with which outcome, by code."""

    day: date
    outcomes: dict[str, int]


class RatesOut(BaseModel):
    """`lines` by group, the largest first; `whole` is the list itself; `eligible_share` is e, None where nothing is known."""

    whole: RatesLine
    lines: list[RatesLine]
    days: list[DayOfAttempts]
    eligible_share: float | None


def show_rates(desk: Desk, list_id: int, query: RatesQuery) -> RatesOut:
    """Rates of a list by the published formulas (core.sampling.rates), over the visits that whoever asks may know of."""
    with desk.store.reading() as session:
        found = the_visit_list(session, list_id)
        outcomes = how_it_ends(session, found.study_id).outcomes
        wanted = select(Visit.person_id, Visit.area, Visit.outcome).where(*reach(desk, found)).order_by(Visit.id)
        rows = session.execute(wanted).tuples().all()
        name = _namer(session, found, query.by)
        groups = rates_by([(name(person, area), code or None) for person, area, code in rows], outcomes)
        whole = rates_by([("", code or None) for _, _, code in rows], outcomes)[""] if rows else None
        lines = [_line(group, rates) for group, rates in groups.items()]
        return RatesOut(
            whole=_line(found.name, whole) if whole is not None else _line(found.name, rates_by([("", None)], outcomes)[""]),
            lines=sorted(lines, key=lambda one: (-one.visits, one.name)), days=_days(desk, session, found),
            eligible_share=None if whole is None else _number(whole.rates.eligible_share),
        )  # fmt: skip


def _namer(session: Session, found: VisitList, by: By) -> Any:
    """What the group of a visit is called, from its person and area; "" where there is none."""
    if by == "area":
        return lambda _person, area: area
    if by == "person":
        names = names_of(session, found.study_id)
        return lambda person, _area: names.get(person, "")
    members = select(Membership.person_id, Team.name).join(Team, Team.id == Membership.team_id)
    teams = dict(session.execute(members.where(Membership.study_id == found.study_id)).tuples().all())
    return (lambda person, _area: teams.get(person, "")) if by == "team" else (lambda _person, _area: found.name)


def _line(name: str, group: GroupRates) -> RatesLine:
    counts, rates = group.counts, group.rates
    return RatesLine(
        name=name, visits=counts.known + counts.unknown + counts.not_eligible, interview=counts.interview,
        partial=counts.partial, refusals=counts.refusal, non_contact=counts.non_contact, other=counts.other,
        unknown=counts.unknown_place, unseen=counts.unknown_other, not_eligible=counts.not_eligible,
        response=[_number(rate) for rate in rates.response], cooperation=[_number(rate) for rate in rates.cooperation],
        refusal=[_number(rate) for rate in rates.refusal], contact=[_number(rate) for rate in rates.contact],
    )  # fmt: skip


def _number(rate: float) -> float | None:
    return None if isnan(rate) else rate


def _attempts(desk: Desk, session: Session, found: VisitList) -> list[VisitAttempt]:
    wanted = select(VisitAttempt).join(Visit).where(*reach(desk, found)).order_by(VisitAttempt.at, VisitAttempt.id)
    return [attempt for attempt in session.scalars(wanted) if attempt.taken_back is None]


def _days(desk: Desk, session: Session, found: VisitList) -> list[DayOfAttempts]:
    zone = how_it_ends(session, found.study_id).zone
    days: dict[date, Counter[str]] = {}
    for attempt in _attempts(desk, session, found):
        days.setdefault(attempt.at.astimezone(zone).date(), Counter())[attempt.outcome] += 1
    return [DayOfAttempts(day=day, outcomes=dict(counts)) for day, counts in sorted(days.items())]


_HEADINGS = [
    "unit", "name", "area", "stratum", "cluster", "probability", "weight", "reserve", "given_to", "standing", "outcome",
    "outcome_label", "counts_as", "attempts", "last_attempt", "appointment", "interviews",
]  # fmt: skip


def file_of_list(desk: Desk, list_id: int) -> tuple[str, bytes]:
    """Every visit with how it was drawn, what it counts as, and the interviews that were made on it, as a .csv file: what
    weights for non-response need."""
    with desk.store.reading() as session:
        found = the_visit_list(session, list_id)
        known, names = how_it_ends(session, found.study_id), names_of(session, found.study_id)
        seen = Seen(desk, session, found.study_id)
        wanted = select(Visit, SampleUnit).outerjoin(SampleUnit, SampleUnit.id == Visit.sample_unit_id)
        rows = (
            session.execute(wanted.where(*reach(desk, found)).order_by(Visit.area, Visit.key, Visit.id)).tuples().all()
        )
        made = _interviews_on(desk, session, found)
        out = io.StringIO()
        writer = csv.writer(out)
        writer.writerow(_HEADINGS)
        for visit, drawn in rows:
            outcome = known.outcomes.get(visit.outcome)
            moments = (
                None if at is None else at.astimezone(known.zone).isoformat()
                for at in (visit.last_at, visit.appointment)
            )
            cells: list[Any] = [
                seen.key(visit), seen.label(visit), visit.area, *_drawn(drawn), int(visit.reserve),
                names.get(visit.person_id or 0, ""), visit.standing, visit.outcome,
                "" if outcome is None else label_in(outcome, "en"), "unseen" if outcome is None else outcome.counts_as,
                visit.tried, *moments, " ".join(made.get(visit.id, [])),
            ]  # fmt: skip
            writer.writerow([safe_text(cell) if isinstance(cell, str) else cell for cell in cells])
        desk.note("extract", found.study_id, name=f"{found.name}.csv", masked=not desk.sees_sensitive)
        return f"{found.name}.csv", out.getvalue().encode("utf-8-sig")


def _interviews_on(desk: Desk, session: Session, found: VisitList) -> dict[int, list[str]]:
    """The interviews made on each visit of a list, by their numbers as people use them."""
    mine = (*desk.reach(found.study_id), Interview.practice.is_(False), Interview.state != "set aside")
    wanted = select(Visit.id, Interview.number).join(Interview, Interview.visit_id == Visit.id)
    numbers: dict[int, list[str]] = {}
    for visit_id, number in session.execute(wanted.where(*mine, Visit.list_id == found.id).order_by(Interview.number)):
        numbers.setdefault(visit_id, []).append(f"{number:04d}")
    return numbers


def _drawn(drawn: SampleUnit | None) -> list[Any]:
    return (
        ["", "", "", ""] if drawn is None else [drawn.stratum, drawn.cluster, drawn.probability, 1 / drawn.probability]
    )
