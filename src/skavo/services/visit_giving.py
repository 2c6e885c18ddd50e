"""Plan, visits: proposals of who goes where, giving visits to people, and giving them back."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.visits.assigning import by_area, evenly, nearest
from skavo.core.visits.way import Place
from skavo.services.desk import Desk
from skavo.services.found import the_visit_list
from skavo.services.refusals import Refused, same_version
from skavo.services.visits import MOST_VISITS, NOBODY, Seen, Which, conditions_of, reach
from skavo.store.models import Membership, Visit, VisitList
from skavo.store.visits import reckon

How = Literal["one by one", "by area", "evenly", "nearest"]


class SharesWanted(BaseModel):
    """Which open visits are to be given to which people, and how: each area to one, so that all have as many in stretches
    that lie together, or to whoever has visits or work nearest; then nobody gets more than `most` in all."""

    model_config = ConfigDict(extra="forbid")
    which: Which
    people: list[int] = Field(min_length=1, max_length=500)
    how: How
    most: int | None = Field(default=None, ge=1, le=MOST_VISITS)


class Share(BaseModel):
    """Visits of one person; `person_id` 0 for nobody."""

    person_id: int = Field(ge=0)
    visits: list[int] = Field(max_length=MOST_VISITS)


class SharesProposed(BaseModel):
    """Who would get which; `over` cannot be given like that: they have no place, or everybody near has enough."""

    shares: list[Share]
    over: int


class GiveIn(BaseModel):
    model_config = ConfigDict(extra="forbid")
    shares: list[Share] = Field(min_length=1, max_length=501)
    version: int


class Given(BaseModel):
    """`before` is who had them; giving it again undoes what was done. `version` is that of the list."""

    given: int
    before: list[Share]
    version: int


def propose(desk: Desk, list_id: int, wanted: SharesWanted) -> SharesProposed:
    """Say who would go where; nothing is given yet. What has ended is left where it is."""
    with desk.store.reading() as session:
        found = the_visit_list(session, list_id)
        _check_people(desk, session, found, wanted.people)
        conditions = conditions_of(desk, session, found, wanted.which)
        is_open = Visit.standing.in_(("open", "to pass on"))
        visits = list(session.scalars(select(Visit).where(*conditions, is_open).order_by(Visit.area, Visit.id)))
        if not visits:
            raise Refused("nobody_to_visit", "None of these visits is open. Choose others.")
        return _proposed(desk, session, found, wanted, visits)


def _proposed(
    desk: Desk, session: Session, found: VisitList, wanted: SharesWanted, visits: list[Visit]
) -> SharesProposed:
    seen = Seen(desk, session, found.study_id)
    loads, homes = _loads_and_homes(desk, session, found, seen, wanted.people, {visit.id for visit in visits})
    if wanted.how == "one by one":
        goes = [wanted.people[at % len(wanted.people)] for at in range(len(visits))]
        return _shares(visits, goes, 0)
    if wanted.how == "by area":
        of_areas = by_area([visit.area for visit in visits], wanted.people, loads)
        return _shares(visits, of_areas, 0)
    placed = [(visit, place) for visit in visits if (place := seen.place(visit)) is not None]
    places = [place for _, place in placed]
    if wanted.how == "evenly":
        goes = evenly(places, wanted.people, loads)
        return _shares([visit for visit, _ in placed], goes, len(visits) - len(placed))
    if not homes:
        raise Refused("no_homes", "Nobody of them has a visit yet, so that nobody is near. Give evenly to begin with.")
    room = None if wanted.most is None else {one: max(0, wanted.most - loads[one]) for one in homes}
    near = nearest(places, homes, room)
    return _shares([visit for visit, _ in placed], near, len(visits) - len(placed))


def _loads_and_homes(
    desk: Desk, session: Session, found: VisitList, seen: Seen, people: list[int], meant: set[int]
) -> tuple[dict[int, int], dict[int, Place]]:
    """How many open visits each has besides those that are meant, and the middle of all that they have."""
    theirs = session.scalars(select(Visit).where(*reach(desk, found), Visit.person_id.in_(people)))
    loads = dict.fromkeys(people, 0)
    places: dict[int, list[Place]] = {}
    for visit in theirs:
        assert visit.person_id is not None
        if visit.id not in meant:
            loads[visit.person_id] += visit.standing == "open"
        place = seen.place(visit)
        if place is not None:
            places.setdefault(visit.person_id, []).append(place)
    homes = {
        person: (sum(p[0] for p in known) / len(known), sum(p[1] for p in known) / len(known))
        for person, known in places.items()
    }
    return loads, homes


def _shares(visits: list[Visit], goes: Sequence[int | None], over: int) -> SharesProposed:
    shares: dict[int, list[int]] = {}
    for visit, person in zip(visits, goes, strict=True):
        if person is not None:
            shares.setdefault(person, []).append(visit.id)
    over += sum(person is None for person in goes)
    return SharesProposed(shares=[Share(person_id=person, visits=ids) for person, ids in shares.items()], over=over)


def give(desk: Desk, list_id: int, wanted: GiveIn) -> Given:
    """Give visits to people, or take them back; returns who had them."""
    with desk.store.session() as session:
        found = the_visit_list(session, list_id)
        same_version(found.version, wanted.version)
        _check_people(desk, session, found, [share.person_id for share in wanted.shares if share.person_id != NOBODY])
        person_of = {visit_id: share.person_id for share in wanted.shares for visit_id in share.visits}
        if len(person_of) > MOST_VISITS:
            raise Refused("too_many", f"More than {MOST_VISITS:,} visits are given at once. Give them in parts.")
        changed = []
        before: dict[int, list[int]] = {}
        for visit in session.scalars(select(Visit).where(*reach(desk, found))):
            person = person_of.get(visit.id)
            if person is None or person == (visit.person_id or NOBODY):
                continue
            before.setdefault(visit.person_id or NOBODY, []).append(visit.id)
            visit.person_id = person or None
            changed.append(visit)
        session.flush()
        reckon(session, changed)
        if changed:
            found.version += 1
            session.add(desk.event(found.study_id, "visits given", name=found.name, visits=len(changed)))
        return Given(
            given=len(changed),
            before=[Share(person_id=p, visits=ids) for p, ids in before.items()],
            version=found.version,
        )


def _check_people(desk: Desk, session: Session, found: VisitList, people: list[int]) -> None:
    """Refuse to send somebody who is no member any more, or of a team that whoever asks does not supervise."""
    here = select(func.count()).where(
        Membership.study_id == found.study_id, Membership.person_id.in_(people), Membership.left_at.is_(None)
    )
    if desk.teams is not None:
        here = here.where(Membership.team_id.in_(desk.teams))
    if session.scalar(here) != len({*people}):
        raise Refused("no_member", "One of these people is not in your teams, or has left. Load the page again.")
