"""Which units somebody's phones carry: those of their visits, of branches that were given out, and their own."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.register.tree import NOWHERE, Mask
from skavo.store.models import BranchShare, Membership, Unit, Visit, VisitList
from skavo.store.registers import Register


@dataclass(frozen=True)
class Carried:
    """What is carried in a study by a person: everything, or the branches under `roots`; and what is their own."""

    person_id: int | None
    everything: bool
    roots: frozenset[int]

    def in_register(self, register: Register) -> Mask:
        """Which units go onto their phones; shape (n,). What is closed does not, nor what is somebody else's own."""
        count = len(register.units)
        inside: Mask = np.full(count, self.everything, dtype=np.bool_)
        for root in self.roots:
            place = register.tree.place_of(root)
            if place != NOWHERE:
                inside[place : register.tree.ends[place]] = True
        goes = [kind_id for kind_id, kind in register.kinds.items() if kind.settings.on_phones != "no"]
        owners = register.owners
        mine = owners == (self.person_id or 0)
        found: Mask = ((inside & (owners == 0)) | (mine & (owners != 0))) & np.isin(register.kind_ids, goes)
        found &= ~register.closed
        return found

    def has(self, session: Session, unit: Unit | None, *, own: bool) -> bool:
        """Whether a unit is among them, or would be one that is made outermost (None) or under it; `own` ones are."""
        if unit is not None and unit.owner_id is not None:
            return unit.owner_id == self.person_id
        if self.everything or (unit is None and own):
            return True
        at = unit
        while at is not None:
            if at.id in self.roots:
                return True
            at = session.get(Unit, at.above_id) if at.above_id is not None else None
        return False


def carried_by(session: Session, study_id: int, person_id: int | None) -> Carried:
    """What somebody's phones carry in a study."""
    team = select(Membership.team_id).where(Membership.study_id == study_id, Membership.person_id == person_id)
    team_id = session.scalar(team)
    roots: set[int] = set()
    everything = False
    for share in session.scalars(select(BranchShare).where(BranchShare.study_id == study_id)):
        for_all = share.person_id is None and share.team_id is None
        by_person = share.person_id is not None and share.person_id == person_id
        if for_all or by_person or (share.team_id is not None and share.team_id == team_id):
            everything |= share.unit_id is None
            roots |= {share.unit_id} if share.unit_id is not None else set()
    if person_id is not None:
        visits = select(Visit.unit_id).join(VisitList, VisitList.id == Visit.list_id)
        mine = visits.where(Visit.study_id == study_id, Visit.person_id == person_id, VisitList.closed_at.is_(None))
        roots |= {unit_id for unit_id in session.scalars(mine) if unit_id is not None}
    return Carried(person_id, everything, frozenset(roots))
