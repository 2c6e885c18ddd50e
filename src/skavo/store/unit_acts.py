"""What is done to units wherever it is done from: keys that are free, and closing a branch."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.register.bring_in import next_key
from skavo.core.register.changes import What
from skavo.store.models import Unit
from skavo.store.registers import By, KindHere, touch


def key_taken(session: Session, kind: KindHere, key: str) -> bool:
    return session.scalar(select(Unit.id).where(Unit.kind_id == kind.id, Unit.key == key)) is not None


def free_key(session: Session, kind: KindHere, above: Unit | None) -> str:
    """The next free key of a unit under another one; "" where the kind prescribes how keys look."""
    beside = select(func.count()).where(Unit.kind_id == kind.id, Unit.above_id == (above.id if above else None))
    return next_key(
        kind.settings.key_mask, lambda key: key_taken(session, kind, key), above.key if above else "",
        session.scalar(beside) or 0,
    )  # fmt: skip


def branch_of(session: Session, unit: Unit) -> Iterable[Unit]:
    """A unit and all that lies below it."""
    branch = select(Unit.id).where(Unit.id == unit.id).cte(recursive=True)
    # Each once, also where units hang in a ring.
    branch = branch.union(select(Unit.id).join(branch, Unit.above_id == branch.c.id))
    return session.scalars(select(Unit).where(Unit.id.in_(select(branch.c.id))).order_by(Unit.id)).all()


def close_branch(session: Session, unit: Unit, why: str, by: By) -> None:
    """Close a unit with all that lies below it, or, without a reason, open what was closed at the same time."""
    stood = unit.closed_at
    for one in branch_of(session, unit):
        if one.closed_at == (None if why else stood):
            one.closed_at, one.closed_why = (by.at, why) if why else (None, "")
            touch(session, one)
            what: What = "closed" if why else "opened again"
            session.add(by.event(one, what, why=why, closed_with="" if one is unit else unit.key))
