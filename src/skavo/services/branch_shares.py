"""Plan, registers: which branches go onto whose phones."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import Select, String, cast, select
from sqlalchemy.orm import Session

from skavo.services.branches import hidden_fields, label_of
from skavo.services.desk import Desk
from skavo.services.found import the_study, the_unit
from skavo.services.refusals import Refused, not_found
from skavo.store.models import BranchShare, Membership, Team
from skavo.store.registers import Register


class ShareOut(BaseModel):
    """A branch that phones carry: under `unit_id`, 0 for the whole register. `person_id` and `team_id` say whose, 0 for
    none; with neither it is on all phones."""

    unit_id: int
    label: str
    person_id: int
    team_id: int


class Named(BaseModel):
    """A person or a team."""

    id: int
    name: str


class SharesOut(BaseModel):
    """The branches that are carried, and who can carry one; whoever supervises some teams is told of those only."""

    shares: list[ShareOut]
    teams: list[Named]
    people: list[Named]


class SharedWith(BaseModel):
    """Whose phones are to carry a branch: all, or those of these teams and people."""

    model_config = ConfigDict(extra="forbid")
    unit_id: int = Field(ge=0)
    all: bool = False
    teams: list[int] = Field(default=[], max_length=500)
    people: list[int] = Field(default=[], max_length=500)


def list_shares(desk: Desk, study_id: int) -> SharesOut:
    """All branches that are carried, besides those of visits, and who can carry one."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        register = desk.sets.registers.of(session, study_id)
        teams = dict(session.execute(_teams(desk, study_id)).tuples().all())
        people = dict(session.execute(_people(desk, study_id)).tuples().all())
        shares = select(BranchShare).where(BranchShare.study_id == study_id).order_by(BranchShare.id)
        return SharesOut(
            shares=[
                _told(desk, register, share)
                for share in session.scalars(shares)
                if (share.team_id is None or share.team_id in teams)
                and (share.person_id is None or desk.teams is None or share.person_id in people)
            ],
            teams=[Named(id=team_id, name=name) for team_id, name in teams.items()],
            people=[Named(id=person_id, name=name) for person_id, name in people.items()],
        )


def _teams(desk: Desk, study_id: int) -> Select[int, str]:
    every = select(Team.id, Team.name).where(Team.study_id == study_id).order_by(Team.name)
    return every if desk.teams is None else every.where(Team.id.in_(desk.teams))


def _people(desk: Desk, study_id: int) -> Select[int, str]:
    """Whoever carries a phone."""
    here = (Membership.study_id == study_id, Membership.left_at.is_(None))
    every = select(Membership.person_id, Membership.name).where(*here).order_by(Membership.name)
    enumerators = every.where(cast(Membership.roles, String).contains('"enumerator"'))
    return enumerators if desk.teams is None else enumerators.where(Membership.team_id.in_(desk.teams))


def _told(desk: Desk, register: Register, share: BranchShare) -> ShareOut:
    place = -1 if share.unit_id is None else register.tree.place_of(share.unit_id)
    unit = register.units[place] if place >= 0 else None
    label = "" if unit is None else label_of(register.kinds[unit.kind_id], unit, hidden_fields(desk, register))
    return ShareOut(unit_id=share.unit_id or 0, label=label, person_id=share.person_id or 0, team_id=share.team_id or 0)


def share_branch(desk: Desk, study_id: int, wanted: SharedWith) -> SharesOut:
    """Say whose phones carry a branch; whoever is not named does not carry it any more, but for what they visit."""
    desk.needs_whole_study("Registers")
    with desk.store.session() as session:
        the_study(session, study_id)
        unit_id = wanted.unit_id or None
        if unit_id is not None and the_unit(session, unit_id).study_id != study_id:
            raise not_found("unit")
        _check_named(session, study_id, wanted)
        of_branch = select(BranchShare).where(BranchShare.study_id == study_id)
        same = BranchShare.unit_id.is_(None) if unit_id is None else BranchShare.unit_id == unit_id
        for share in session.scalars(of_branch.where(same)).all():
            session.delete(share)
        named: list[tuple[int | None, int | None]] = [(None, None)] if wanted.all else []
        if not wanted.all:
            named += [(None, team) for team in dict.fromkeys(wanted.teams)]
            named += [(person, None) for person in dict.fromkeys(wanted.people)]
        session.add_all(
            BranchShare(study_id=study_id, unit_id=unit_id, person_id=person, team_id=team, created_by=desk.name)
            for person, team in named
        )
        session.add(desk.event(study_id, "branch given to phones", unit=wanted.unit_id, to=len(named), all=wanted.all))
    return list_shares(desk, study_id)


def _check_named(session: Session, study_id: int, wanted: SharedWith) -> None:
    people = select(Membership.person_id).where(Membership.study_id == study_id, Membership.left_at.is_(None))
    teams = select(Team.id).where(Team.study_id == study_id)
    if {*wanted.people} - {*session.scalars(people)} or {*wanted.teams} - {*session.scalars(teams)}:
        raise Refused(
            "unknown_person", "A person or team is not in this study any more. Load the page and choose again."
        )
