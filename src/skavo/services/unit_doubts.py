"""Plan, registers: changes from phones that wait for somebody to decide."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.register.changes import changes_between
from skavo.core.register.doubts import WHY
from skavo.services.branches import hidden_fields, label_of
from skavo.services.desk import Conditions, Desk
from skavo.services.found import the_study
from skavo.services.refusals import Refused, not_found
from skavo.services.unit_changes import checked_answers
from skavo.services.units import ChangeLine, change_words, field_words
from skavo.store.models import Unit, UnitChange, UnitEvent, now
from skavo.store.people import of_teams
from skavo.store.registers import By, KindHere, Register, put_answers
from skavo.store.unit_handin import document_of, let_in, unit_of, wanted_of

_PAGE = 200


class DoubtLine(BaseModel):
    """A field that waits: what it was when the phone began, what it is now and who made it that, and what the phone made
    of it; "" for nothing. A field that cannot hold what the phone has is `wrong`."""

    part_id: str
    wording: str
    before: str
    present: str
    present_by: str
    present_at: datetime | None
    wanted: str
    wrong: bool


class DoubtOut(BaseModel):
    """A change that waits; `unit_id` is None where its unit is not in the register. `under` is what it lies under, the
    nearest first. `why` is said in `words`. `told` are the fields of a change of which nothing is in the register yet."""

    id: int
    number: int
    unit_id: int | None
    label: str
    under: str
    kind: str
    why: str
    words: str
    lines: list[DoubtLine]
    told: list[ChangeLine]
    by: str
    made_at: datetime
    arrived_at: datetime


class DoubtsOut(BaseModel):
    """The changes that have waited longest, of `total`."""

    total: int
    lines: list[DoubtOut]


class DecideIn(BaseModel):
    """`take` are the fields of which the phone's answer goes in; all others stay as they are. With `set_aside` nothing of a
    change goes in that is not in the register yet; otherwise all of it does."""

    model_config = ConfigDict(extra="forbid")
    take: list[str] = Field(default=[], max_length=1000)
    set_aside: bool = False


def count_doubts(desk: Desk, session: Session, study_id: int) -> int:
    return session.scalar(select(func.count()).where(*_waiting(desk, study_id))) or 0


def _waiting(desk: Desk, study_id: int) -> Conditions:
    """What waits of those that whoever asks may know of."""
    return (UnitChange.study_id == study_id, UnitChange.standing == "waits", *_reach(desk, study_id))


def _reach(desk: Desk, study_id: int) -> Conditions:
    return () if desk.teams is None else (of_teams(study_id, desk.teams, UnitChange.by_id, UnitChange.by),)


def list_doubts(desk: Desk, study_id: int) -> DoubtsOut:
    """The changes of units that wait for a decision, those that came first in front."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        register = desk.sets.registers.of(session, study_id)
        waits = select(UnitChange).where(*_waiting(desk, study_id))
        changes = list(session.scalars(waits.order_by(UnitChange.id).limit(_PAGE)))
        return DoubtsOut(
            total=count_doubts(desk, session, study_id),
            lines=[_told(session, register, change, hidden_fields(desk, register)) for change in changes],
        )


def _told(session: Session, register: Register, change: UnitChange, hidden: frozenset[str]) -> DoubtOut:
    kind = register.kinds.get(change.kind_id) if change.kind_id is not None else None
    unit = unit_of(session, change)
    told = document_of(change).about
    named = told.key if told is not None else ""
    return DoubtOut(
        id=change.id, number=change.number, unit_id=unit.id if unit is not None else None,
        label=label_of(kind, unit, hidden) if kind is not None and unit is not None else named,
        under=_under(register, unit, hidden), kind=kind.title if kind is not None else "", why=change.why, words=_words(change.why),
        lines=[] if kind is None else [_line(session, kind, change, p, hidden) for p in change.doubts],
        told=[] if kind is None or change.unit_id is not None else _changes(session, kind, unit, change, hidden),
        by=change.by, made_at=change.made_at, arrived_at=change.arrived_at,
    )  # fmt: skip


def _under(register: Register, unit: Unit | None, hidden: frozenset[str]) -> str:
    place = -1 if unit is None else register.tree.place_of(unit.id)
    way = [] if place < 0 else [register.units[at] for at in reversed(register.tree.way_to(place))]
    return ", ".join(label_of(register.kinds[above.kind_id], above, hidden) for above in way)


def _words(why: str) -> str:
    known: dict[str, str] = {str(key): words for key, words in WHY.items()}
    return known.get(why, "")


def _changes(
    session: Session, kind: KindHere, unit: Unit | None, change: UnitChange, hidden: frozenset[str]
) -> list[ChangeLine]:
    """What a change that is not in the register tells, field by field."""
    present = unit.answers if unit is not None else {}
    changes = changes_between(present, {**present, **wanted_of(session, change)})
    at = now().astimezone()
    return [change_words(kind.form, part_id, pair, hidden, at) for part_id, pair in changes.items()]


def _line(session: Session, kind: KindHere, change: UnitChange, part_id: str, hidden: frozenset[str]) -> DoubtLine:
    before, present, wanted = change.doubts[part_id]
    at = now().astimezone()
    unit = session.get(Unit, change.unit_id) if change.unit_id is not None else None
    if unit is not None:
        # It may have changed once more since the change arrived.
        present = unit.answers.get(part_id)
    words = change_words(kind.form, part_id, [before, present], hidden, at)
    other = change_words(kind.form, part_id, [None, wanted], hidden, at)
    newest = _changed_by(session, change.unit_id, part_id)
    return DoubtLine(
        part_id=part_id, wording=field_words(kind.form, part_id), before=words.before, present=words.after,
        present_by=newest.by if newest is not None else "", present_at=newest.at if newest is not None else None,
        wanted=other.after, wrong=not _can_hold(kind, part_id, wanted),
    )  # fmt: skip


def _can_hold(kind: KindHere, part_id: str, value: Any) -> bool:
    return value is None or not kind.form.engine({part_id: value}, now()).wrong


def _changed_by(session: Session, unit_id: int | None, part_id: str) -> UnitEvent | None:
    if unit_id is None:
        return None
    events = select(UnitEvent).where(UnitEvent.unit_id == unit_id).order_by(UnitEvent.id.desc())
    return next((event for event in session.scalars(events) if part_id in event.changes), None)


def decide(desk: Desk, change_id: int, wanted: DecideIn) -> DoubtsOut:
    """Decide what of a change goes into the register; what a phone has handed in stays as it came in any case.

    Where a whole change goes in, fields of it may be doubtful still: then it waits for those.
    """
    with desk.store.session() as session:
        study_id = session.scalar(select(UnitChange.study_id).where(UnitChange.id == change_id)) or 0
        change = session.scalar(select(UnitChange).where(UnitChange.id == change_id, *_reach(desk, study_id)))
        if change is None:
            raise not_found("change")
        if change.standing != "waits":
            raise Refused("decided", "Somebody has decided about this change meanwhile. Load the page again.")
        register = desk.sets.registers.of(session, study_id)
        kind = register.kinds.get(change.kind_id) if change.kind_id is not None else None
        is_left = False
        if not wanted.set_aside and change.unit_id is None:
            _let_in_anyway(session, change)
            is_left = change.standing == "waits" and bool(change.doubts)
        elif change.unit_id is not None and kind is not None:
            _take_fields(desk, session, change, kind, wanted.take)
        change.standing = "waits" if is_left else "decided"
        change.decided = {"by": desk.name, "at": now().isoformat(), "take": wanted.take, "set_aside": wanted.set_aside}
        session.add(desk.event(study_id, "change of unit decided", change=change.number, set_aside=wanted.set_aside))
    return list_doubts(desk, study_id)


def _let_in_anyway(session: Session, change: UnitChange) -> None:
    let_in(session, change, document_of(change), ordered=True)
    if change.unit_id is None:
        raise Refused("cannot_go_in", f"It cannot go in: {_words(change.why)} Mend that first, or set it aside.")


def _take_fields(desk: Desk, session: Session, change: UnitChange, kind: KindHere, take: list[str]) -> None:
    unknown = [part_id for part_id in take if part_id not in change.doubts]
    if unknown:
        raise Refused("unknown_field", "A field is not among those that wait. Load the page again.")
    if any(part_id in _hidden_of(desk, kind) for part_id in take):
        raise Refused("not_allowed", "This field is sensitive, and your role does not show it.")
    if not take:
        return
    unit = session.get_one(Unit, change.unit_id)
    chosen = {part_id: change.doubts[part_id][2] for part_id in take}
    checked_answers(kind, chosen)
    answers = {**unit.answers, **chosen}
    detail = {"change": change.number, "of": change.by, "done": change.made_at.isoformat()}
    by = By(desk.name, desk.person_id, "desk", detail)
    put_answers(session, unit, kind, {p: v for p, v in answers.items() if v is not None}, by)


def _hidden_of(desk: Desk, kind: KindHere) -> frozenset[str]:
    return frozenset() if desk.sees_sensitive else kind.hidden
