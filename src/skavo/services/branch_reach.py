"""Which branches of the register somebody at the desk may know of: whoever supervises some teams, what those carry."""

from __future__ import annotations

from sqlalchemy.orm import Session

from skavo.core.register.tree import Mask
from skavo.services.desk import Desk
from skavo.services.found import the_unit
from skavo.services.refusals import not_found
from skavo.store.carrying import carried_by_teams
from skavo.store.models import Unit
from skavo.store.registers import Register


def reached(desk: Desk, session: Session, study_id: int, register: Register) -> Mask | None:
    """The units that whoever asks may know of; shape (n,), None for all of them."""
    if desk.teams is None:
        return None
    return carried_by_teams(session, study_id, desk.teams).in_register(register)


def the_unit_within_reach(desk: Desk, session: Session, unit_id: int) -> Unit:
    """A unit that whoever asks may know of; raise Refused where there is none."""
    unit = the_unit(session, unit_id)
    if desk.teams is not None:
        carried = carried_by_teams(session, unit.study_id, desk.teams)
        if not carried.has(session, unit, own=False):
            raise not_found("unit")
    return unit
