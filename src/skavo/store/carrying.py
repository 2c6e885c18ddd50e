"""Which units somebody's phones carry, or a supervisor may know of: those of visits, of branches given out, their own."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from skavo.core.register.tree import NOWHERE, Mask
from skavo.store.models import BranchShare, Membership, Unit, Visit, VisitList
from skavo.store.registers import Register


@dataclass(frozen=True)
class Carried:
    """What some people carry in a study: everything, or the branches under `roots`; and what is their own."""

    people: frozenset[int]
    everything: bool
    roots: frozenset[int]

    def in_register(self, register: Register) -> Mask:
        """Which units of a register those are, closed ones too; shape (n,). What is somebody else's own is not."""
        inside: Mask = np.full(len(register.units), self.everything, dtype=np.bool_)
        for root in self.roots:
            place = register.tree.place_of(root)
            if place != NOWHERE:
                inside[place : register.tree.ends[place]] = True
        owners = register.owners
        found: Mask = (inside & (owners == 0)) | np.isin(owners, [*self.people])
        return found

    def on_phones(self, register: Register) -> Mask:
        """Those that go onto phones: of kinds that do, and not closed."""
        goes = [kind_id for kind_id, kind in register.kinds.items() if kind.settings.on_phones != "no"]
        found: Mask = self.in_register(register) & np.isin(register.kind_ids, goes) & ~register.closed
        return found

    def has(self, session: Session, unit: Unit | None, *, own: bool) -> bool:
        """Whether a unit is among them, or would be one that is made outermost (None) or under it; `own` ones are."""
        if unit is not None and unit.owner_id is not None:
            return unit.owner_id in self.people
        if self.everything or (unit is None and own):
            return True
        at = unit
        while at is not None:
            if at.id in self.roots:
                return True
            at = session.get(Unit, at.above_id) if at.above_id is not None else None
        return False


def carried_by(session: Session, study_id: int, person_id: int | None) -> Carried:
    """What somebody's phones carry in a study; of their visits those on lists that are open."""
    team = select(Membership.team_id).where(Membership.study_id == study_id, Membership.person_id == person_id)
    people = frozenset() if person_id is None else frozenset({person_id})
    team_id = session.scalar(team)
    teams = frozenset() if team_id is None else frozenset({team_id})
    return _carried(session, study_id, people, teams, on_open_lists=True)


def carried_by_teams(session: Session, study_id: int, teams: Iterable[int]) -> Carried:
    """What the people of some teams carry, or have visited."""
    named = frozenset(teams)
    members = select(Membership.person_id).where(Membership.study_id == study_id, Membership.team_id.in_(named))
    return _carried(session, study_id, frozenset(session.scalars(members)), named, on_open_lists=False)


def _carried(
    session: Session, study_id: int, people: frozenset[int], teams: frozenset[int], *, on_open_lists: bool
) -> Carried:
    for_all = BranchShare.person_id.is_(None) & BranchShare.team_id.is_(None)
    named = or_(for_all, BranchShare.person_id.in_(people), BranchShare.team_id.in_(teams))
    shares = set(session.scalars(select(BranchShare.unit_id).where(BranchShare.study_id == study_id, named)))
    visits = select(Visit.unit_id).where(Visit.study_id == study_id, Visit.person_id.in_(people))
    if on_open_lists:
        visits = visits.join(VisitList, VisitList.id == Visit.list_id).where(VisitList.closed_at.is_(None))
    roots = {unit_id for unit_id in {*shares, *session.scalars(visits.distinct())} if unit_id is not None}
    return Carried(people, None in shares, frozenset(roots))
