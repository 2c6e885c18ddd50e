"""Plan, registers: what is done to units at the desk, each act with its event."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError
from skavo.core.register.bring_in import MOST_KEY
from skavo.core.register.changes import KEY, Changes, changes_between
from skavo.core.rules.automaton import text_fits
from skavo.services.branch_reach import the_unit_within_reach
from skavo.services.desk import Desk
from skavo.services.found import the_study
from skavo.services.refusals import Refused, not_found
from skavo.services.units import UnitOut, field_words, show_unit
from skavo.store.counters import raise_counter
from skavo.store.models import Unit, UnitEvent, now
from skavo.store.registers import By, KindHere, kinds_of, moved, put_answers, register_counter, take_over, touch
from skavo.store.unit_acts import close_branch, free_key, key_taken


class UnitIn(BaseModel):
    """A unit to be made under another one, 0 for none; without a key it gets one, where its kind prescribes none."""

    model_config = ConfigDict(extra="forbid")
    kind_id: int
    above: int = Field(default=0, ge=0)
    key: str = Field(default="", max_length=MOST_KEY)
    answers: dict[str, Any] = Field(default={}, max_length=1000)


class UnitChange(BaseModel):
    """Fields by identity with the answer that was seen before and the new one; `#key` is the key. Where a field is no
    longer what was seen, nothing is changed; other fields of the unit may have changed meanwhile."""

    model_config = ConfigDict(extra="forbid")
    changes: dict[str, list[Any]] = Field(min_length=1, max_length=1000)


class MoveIn(BaseModel):
    """`above` is the unit to hang it under, 0 for none."""

    model_config = ConfigDict(extra="forbid")
    above: int = Field(ge=0)


class CloseIn(BaseModel):
    """`why` it is closed; empty opens it again, with what was closed together with it."""

    model_config = ConfigDict(extra="forbid")
    why: str = Field(max_length=1000)


class MergeIn(BaseModel):
    """`into` is the unit of the same kind that remains."""

    model_config = ConfigDict(extra="forbid")
    into: int = Field(ge=1)


class SplitIn(BaseModel):
    """`key` is that of the new unit; `below` are the units that go over to it."""

    model_config = ConfigDict(extra="forbid")
    key: str = Field(default="", max_length=MOST_KEY)
    below: list[int] = Field(default=[], max_length=10_000)


def make_unit(desk: Desk, study_id: int, wanted: UnitIn) -> UnitOut:
    """Make a unit by hand; its key is the one given, or the next free one under the unit above."""
    with desk.store.session() as session:
        the_study(session, study_id)
        kind = _kind(session, study_id, wanted.kind_id)
        above = the_unit_within_reach(desk, session, wanted.above) if wanted.above else None
        if above is None:
            desk.needs_whole_study("Outermost units")
        _check_above(session, kind, above, study_id)
        key = wanted.key.strip() or free_key(session, kind, above)
        _check_key(session, kind, key)
        answers = checked_answers(kind, wanted.answers)
        unit = Unit(study_id=study_id, kind_id=kind.id, above_id=above.id if above else None, key=key)
        take_over(unit, kind, answers, kind.form.reckon(answers, now()))
        unit.changed = raise_counter(session, register_counter(study_id))
        session.add(unit)
        session.flush()
        session.add(_by(desk).event(unit, "made", changes_between({}, answers)))
        unit_id = unit.id
    return show_unit(desk, unit_id)


def change_unit(desk: Desk, unit_id: int, wanted: UnitChange) -> UnitOut:
    """Change fields of a unit, each from what was seen of it; refused where one of them is another by now."""
    with desk.store.session() as session:
        unit = the_unit_within_reach(desk, session, unit_id)
        kind = _kind(session, unit.study_id, unit.kind_id)
        changes = dict(wanted.changes)
        wrong = next((key for key, pair in changes.items() if len(pair) != 2), None)
        if wrong is not None:
            raise DataError("wrong_change", f"{wrong} has to come with what was before and what is to be.")
        for part_id in changes:
            if part_id in kind.hidden and not desk.sees_sensitive:
                raise Refused("not_allowed", "This field is sensitive, and your role does not show it.")
        if KEY in changes:
            _rename(session, unit, kind, changes.pop(KEY), _by(desk))
        _check_seen(session, unit, kind, changes)
        answers = {**unit.answers, **{part_id: pair[1] for part_id, pair in changes.items()}}
        checked_answers(kind, {part_id: pair[1] for part_id, pair in changes.items()})
        put_answers(session, unit, kind, {p: value for p, value in answers.items() if value is not None}, _by(desk))
    return show_unit(desk, unit_id)


def _check_seen(session: Session, unit: Unit, kind: KindHere, changes: Changes) -> None:
    """Refuse a change of a field that is no longer what was seen of it; the same change made twice is one."""
    for part_id, (before, after) in changes.items():
        present = unit.answers.get(part_id)
        if present not in (before, after):
            newest = select(UnitEvent).where(UnitEvent.unit_id == unit.id).order_by(UnitEvent.id.desc())
            by = next((event.by for event in session.scalars(newest) if part_id in event.changes), "Somebody else")
            field = field_words(kind.form, part_id)
            raise Refused(
                "changed_meanwhile", f"{by} has changed “{field}” meanwhile. Look at it again; nothing was kept of yours.",
                {"field": part_id},
            )  # fmt: skip


def _rename(session: Session, unit: Unit, kind: KindHere, pair: list[Any], by: By) -> None:
    before, key = pair
    if not isinstance(key, str):
        raise DataError("wrong_key", "A key is a text.")
    key = key.strip()
    if unit.key == key:
        return
    if unit.key != before:
        raise Refused("changed_meanwhile", f"The key is {unit.key} by now. Look at it again.", {"field": KEY})
    _check_key(session, kind, key)
    unit.key = key
    touch(session, unit)
    session.add(by.event(unit, "changed", {KEY: [before, key]}))


def move_unit(desk: Desk, unit_id: int, wanted: MoveIn) -> UnitOut:
    """Hang a unit, with all that lies below it, under another one."""
    with desk.store.session() as session:
        unit = the_unit_within_reach(desk, session, unit_id)
        kind = _kind(session, unit.study_id, unit.kind_id)
        above = the_unit_within_reach(desk, session, wanted.above) if wanted.above else None
        _check_above(session, kind, above, unit.study_id)
        _check_no_ring(session, unit, above)
        target = above.id if above else None
        if unit.above_id != target:
            session.add(_by(desk).event(unit, "moved", **moved(session, unit.above_id, target)))
            unit.above_id = target
            touch(session, unit)
    return show_unit(desk, unit_id)


def close_unit(desk: Desk, unit_id: int, wanted: CloseIn) -> UnitOut:
    """Close a unit with all that lies below it, or open it again with what was closed at the same time."""
    with desk.store.session() as session:
        unit = the_unit_within_reach(desk, session, unit_id)
        why, by = wanted.why.strip(), _by(desk)
        if bool(why) == (unit.closed_at is not None):
            raise Refused("already_so", "It is closed already." if why else "It is open already.")
        if not why and unit.above_id is not None and session.get_one(Unit, unit.above_id).closed_at is not None:
            raise Refused("above_is_closed", "What it lies under is closed. Open that again first.")
        close_branch(session, unit, why, by)
    return show_unit(desk, unit_id)


def merge_unit(desk: Desk, unit_id: int, wanted: MergeIn) -> UnitOut:
    """Let two units be one: what the other one lacks goes over, with all that lies below; this one is closed."""
    with desk.store.session() as session:
        unit, into = the_unit_within_reach(desk, session, unit_id), the_unit_within_reach(desk, session, wanted.into)
        if into.study_id != unit.study_id:
            raise not_found("unit")
        if unit.kind_id != into.kind_id or unit.id == into.id:
            raise Refused("other_kind", "Units that are merged are two of the same kind. Choose another one.")
        if unit.closed_at is not None or into.closed_at is not None:
            raise Refused("is_closed", "One of the two is closed. Open it again first.")
        kind, by = _kind(session, unit.study_id, unit.kind_id), _by(desk)
        _check_no_ring(session, unit, into)
        answers = {**unit.answers, **into.answers}
        changes = changes_between(into.answers, answers)
        take_over(into, kind, answers, kind.form.reckon(answers, by.at))
        for below in session.scalars(select(Unit).where(Unit.above_id == unit.id)).all():
            session.add(by.event(below, "moved", **moved(session, unit.id, into.id)))
            below.above_id = into.id
            touch(session, below)
        unit.closed_at, unit.closed_why = by.at, f"Merged with {into.key}"
        session.add(by.event(into, "merged", changes, other=unit.key))
        session.add(by.event(unit, "merged", other=into.key, closed=True))
        for one in (unit, into):
            touch(session, one)
        into_id = into.id
    return show_unit(desk, into_id)


def split_unit(desk: Desk, unit_id: int, wanted: SplitIn) -> UnitOut:
    """Make a second unit with the same answers beside one, and let some of what lies below go over to it."""
    with desk.store.session() as session:
        unit = the_unit_within_reach(desk, session, unit_id)
        kind, by = _kind(session, unit.study_id, unit.kind_id), _by(desk)
        above = session.get(Unit, unit.above_id) if unit.above_id else None
        key = wanted.key.strip() or free_key(session, kind, above)
        _check_key(session, kind, key)
        going = session.scalars(select(Unit).where(Unit.id.in_(wanted.below), Unit.above_id == unit.id)).all()
        if len(going) != len(set(wanted.below)):
            raise Refused(
                "not_below", "Some of what is to go over does not lie directly below it any more. Look again."
            )
        made = Unit(study_id=unit.study_id, kind_id=kind.id, above_id=unit.above_id, key=key)
        take_over(made, kind, dict(unit.answers), kind.form.reckon(unit.answers, by.at))
        made.changed = raise_counter(session, register_counter(unit.study_id))
        session.add(made)
        session.flush()
        session.add(by.event(made, "split", changes_between({}, made.answers), other=unit.key, made=True))
        session.add(by.event(unit, "split", other=key))
        for below in going:
            session.add(by.event(below, "moved", **moved(session, unit.id, made.id)))
            below.above_id = made.id
            touch(session, below)
        touch(session, unit)
        made_id = made.id
    return show_unit(desk, made_id)


def _by(desk: Desk) -> By:
    return By(desk.name, desk.person_id, "desk")


def _kind(session: Session, study_id: int, kind_id: int) -> KindHere:
    found = next((kind for kind in kinds_of(session, study_id) if kind.id == kind_id), None)
    if found is None:
        raise not_found("kind of unit")
    return found


def checked_answers(kind: KindHere, answers: dict[str, Any]) -> dict[str, Any]:
    """The answers that hold something; raise DataError where a field cannot hold one, or there is no such field."""
    unknown = next((part_id for part_id in answers if part_id not in kind.form.by_id), None)
    if unknown is not None or any(kind.form.by_id[part_id].kind.derives for part_id in answers):
        raise DataError("unknown_field", "A field is not among those of this kind any more. Load the page again.")
    given = {part_id: value for part_id, value in answers.items() if value is not None}
    if given:
        engine = kind.form.engine(given, now())
        for (index, _), code in engine.wrong.items():
            part = engine.release.parts[index]
            field = field_words(kind.form, part.raw["id"])
            raise DataError(
                "wrong_value", f"“{field}” cannot hold this ({code.replace('_', ' ')}).", {"field": part.raw["id"]}
            )
    return given


def _check_above(session: Session, kind: KindHere, above: Unit | None, study_id: int) -> None:
    if above is None:
        if not kind.settings.stands_alone:
            raise Refused("needs_above", f"A unit of the kind {kind.title} hangs under another one. Choose which.")
        return
    if above.study_id != study_id:
        raise not_found("unit")
    if above.kind_id not in kind.settings.under:
        raise Refused("cannot_hang_there", f"A unit of the kind {kind.title} does not hang under one of this kind.")
    if above.closed_at is not None:
        raise Refused("is_closed", f"{above.label or above.key} is closed. Open it again first.")


def _check_no_ring(session: Session, unit: Unit, above: Unit | None) -> None:
    at = above
    while at is not None:
        if at.id == unit.id:
            raise Refused("below_itself", "It would lie below itself. Choose another one.")
        at = session.get(Unit, at.above_id) if at.above_id is not None else None


def _check_key(session: Session, kind: KindHere, key: str) -> None:
    if not key:
        raise Refused("no_key", f"A unit of the kind {kind.title} needs a key like {kind.settings.key_mask}.")
    if len(key) > MOST_KEY:
        raise Refused("wrong_key", f"The key has {len(key)} characters; {MOST_KEY} is the most.")
    if kind.settings.key_mask and not text_fits("mask", kind.settings.key_mask, key):
        raise Refused("wrong_key", f"“{key}” does not look like {kind.settings.key_mask}.")
    if key_taken(session, kind, key):
        raise Refused("key_taken", f"There is a unit {key} of this kind already. Give this one another key.")
