"""Plan, registers: one unit, with what is known of it since when and from whom, and everything that is done to it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict
from sqlalchemy import select

from skavo.core.register.changes import undone
from skavo.core.register.form import UnitForm
from skavo.services.branch_reach import the_unit_within_reach
from skavo.services.branches import hidden_fields, label_of, masked_words, seen_at
from skavo.services.desk import Desk
from skavo.services.refusals import Refused
from skavo.services.visits import InterviewAbout, VisitTo, interviews_about, visits_to
from skavo.store.interview_document import zone_named
from skavo.store.models import Person, Study, Unit, UnitEvent, now
from skavo.store.registers import KindHere, Register
from skavo.store.sensitive import MASK

_EVENTS = 100


class Since(BaseModel):
    """Where a value is from: when, by whom, on which way it came; `told` names the file, the interview."""

    at: datetime
    by: str
    origin: str
    told: str


class FieldLine(BaseModel):
    """A field of a unit in words, and its value in JSON form; `asked` says whether it applies to this unit."""

    part_id: str
    kind: str
    wording: str
    shown: str
    value: Any
    state: Literal["answered", "special", "open"]
    derived: bool
    asked: bool
    hidden: bool
    since: Since | None


class CarriedLine(BaseModel):
    """What lies below a unit adds up to, or its least or most: `field` of the kind `of`, in words."""

    of: int
    type: str
    field: str
    how: str
    shown: str


class FaultLine(BaseModel):
    part_id: str
    strength: str
    text: str


class WayStep(BaseModel):
    """A unit on the way to another one."""

    id: int
    kind_id: int
    label: str


class ChangeLine(BaseModel):
    part_id: str
    wording: str
    before: str
    after: str


class EventLine(BaseModel):
    """What happened to a unit; `detail` says more in words that differ with `what` (see services.units)."""

    id: int
    at: datetime
    by: str
    origin: str
    what: str
    changes: list[ChangeLine]
    detail: dict[str, Any]


class Below(BaseModel):
    kind_id: int
    units: int


class UnitOut(BaseModel):
    """A unit as it is, or as it was at the end of the day `on`."""

    id: int
    study_id: int
    kind_id: int
    key: str
    label: str
    way: list[WayStep]
    fields: list[FieldLine]
    carried: list[CarriedLine]
    faults: list[FaultLine]
    below: list[Below]
    history: list[EventLine]
    more_history: int
    filled: int
    asked: int
    latitude: float | None
    longitude: float | None
    closed_at: datetime | None
    closed_why: str
    owner: str
    version: int
    on: date | None
    visits: list[VisitTo]
    interviews: list[InterviewAbout]


class UnitQuery(BaseModel):
    """`on` is a day of the past, in the study’s time zone."""

    model_config = ConfigDict(extra="forbid")
    on: date | None = None


def show_unit(desk: Desk, unit_id: int, on: date | None = None) -> UnitOut:
    with desk.store.reading() as session:
        unit = the_unit_within_reach(desk, session, unit_id)
        register = desk.sets.registers.of(session, unit.study_id, held=True)
        kind, hidden = register.kinds[unit.kind_id], hidden_fields(desk, register)
        every = select(UnitEvent).where(UnitEvent.unit_id == unit_id).order_by(UnitEvent.id.desc())
        events = list(session.scalars(every))
        owner = session.get(Person, unit.owner_id).name if unit.owner_id else ""  # type: ignore[union-attr]
        zone = zone_named(session.get_one(Study, unit.study_id).time_zone)
        answers = dict(unit.answers)
        at = now()
        if on is not None:
            at = datetime.combine(on + timedelta(days=1), time(), zone)
            later = [event for event in events if event.at >= at]
            answers = undone(answers, [event.changes for event in later])
            events = [event for event in events if event.at < at]
            if not events:
                raise Refused("not_there_yet", f"This unit came into the register after {on.isoformat()}.")
        about = (
            list(visits_to(desk, session, unit.study_id, unit_id)),
            list(interviews_about(desk, session, unit.study_id, unit_id)),
        )
    return _told(desk, register, unit, kind, hidden, answers, events, at.astimezone(zone), owner, on, about)


def _told(
    desk: Desk, register: Register, unit: Unit, kind: KindHere, hidden: frozenset[str], answers: dict[str, Any],
    events: Sequence[UnitEvent], at: datetime, owner: str, on: date | None,
    about: tuple[list[VisitTo], list[InterviewAbout]],
) -> UnitOut:  # fmt: skip
    reckoned = kind.form.reckon(answers, at)
    place = register.tree.place_of(unit.id)
    way = [register.units[step] for step in register.tree.way_to(place)]
    since = _since(events)
    lines = [
        FieldLine(
            part_id=line.part_id, kind=line.kind, wording=line.wording, derived=line.derived, asked=line.asked,
            shown=masked_words(line.shown, line.part_id, hidden), hidden=line.part_id in hidden,
            value=None if line.part_id in hidden else line.value, state=line.state,  # type: ignore[arg-type]
            since=since.get(line.part_id),
        )
        for line in kind.form.lines(answers, at)
    ]  # fmt: skip
    point = seen_at(kind, reckoned.point, hidden)
    shown_events = events[:_EVENTS]
    return UnitOut(
        id=unit.id, study_id=unit.study_id, kind_id=kind.id, key=unit.key,
        label=label_of(kind, unit, hidden) if on is None else reckoned.label or unit.key,
        way=[WayStep(id=u.id, kind_id=u.kind_id, label=label_of(register.kinds[u.kind_id], u, hidden)) for u in way],
        fields=lines, carried=_carried(register, place, kind, hidden, at) if on is None else [],
        faults=[
            FaultLine(part_id=fault.part_id, strength=fault.strength, text=fault.text)
            for fault in reckoned.faults
            if fault.part_id not in hidden
        ],
        below=_below(register, place), filled=reckoned.filled, asked=reckoned.asked,
        history=[_event(kind.form, event, hidden, at) for event in shown_events],
        more_history=len(events) - len(shown_events),
        latitude=point[0] if point else None, longitude=point[1] if point else None,
        closed_at=unit.closed_at, closed_why=unit.closed_why, owner=owner, version=unit.version, on=on,
        visits=about[0], interviews=about[1],
    )  # fmt: skip


def _since(events: Sequence[UnitEvent]) -> dict[str, Since]:
    """For each field the newest event that changed it; events come newest first."""
    found: dict[str, Since] = {}
    for event in events:
        told = str(event.detail.get("file") or event.detail.get("interview") or "")
        for part_id in event.changes:
            found.setdefault(part_id, Since(at=event.at, by=event.by, origin=event.origin, told=told))
    return found


def _carried(register: Register, place: int, own: KindHere, hidden: frozenset[str], at: datetime) -> list[CarriedLine]:
    """What is carried up to a unit from kinds below it."""
    found = []
    first, end = place + 1, int(register.tree.ends[place])
    below = set(register.kind_ids[first:end].tolist())
    for kind in register.kinds.values():
        if kind.id not in below or kind.id == own.id:
            continue
        for carried in kind.settings.carried:
            part = kind.form.by_id.get(carried.part_id)
            if part is None or carried.part_id in hidden:
                continue
            value = register.carried_said(kind, carried, place)
            if value is not None:
                words = _figure_words(kind.form, carried.part_id, value, at)
                found.append(
                    CarriedLine(
                        of=kind.id,
                        type=part.raw["type"],
                        field=field_words(kind.form, carried.part_id),
                        how=carried.how,
                        shown=words,
                    )
                )
    return found


def _figure_words(form: UnitForm, part_id: str, value: Any, at: datetime) -> str:
    """A figure in words: a code by its label, a quantity in its base unit."""
    part = form.by_id[part_id]
    if part.raw["type"] == "code":
        return form.words(part, value, at)
    return f"{value} {part.raw['base_unit']}".strip()


def field_words(form: UnitForm, part_id: str) -> str:
    """What a field is called, in the first language of its kind."""
    part = form.by_id.get(part_id)
    if part is None or form.release is None:
        return part_id
    pieces = part.raw["wording"].get(form.release.languages[0]) or []
    return "".join(piece for piece in pieces if isinstance(piece, str)) or part.variable


def _below(register: Register, place: int) -> list[Below]:
    first, end = place + 1, int(register.tree.ends[place])
    open_kinds = register.kind_ids[first:end][~register.closed[first:end]]
    return [
        Below(kind_id=kind_id, units=count)
        for kind_id in register.kinds
        if (count := int((open_kinds == kind_id).sum()))
    ]


def _event(form: UnitForm, event: UnitEvent, hidden: frozenset[str], at: datetime) -> EventLine:
    return EventLine(
        id=event.id, at=event.at, by=event.by, origin=event.origin, what=event.what, detail=event.detail,
        changes=[change_words(form, part_id, pair, hidden, at) for part_id, pair in event.changes.items()],
    )  # fmt: skip


def change_words(form: UnitForm, part_id: str, pair: list[Any], hidden: frozenset[str], at: datetime) -> ChangeLine:
    before, after = (_words(form, part_id, value, at) for value in pair)
    if part_id in hidden:
        before, after = (MASK if words else "" for words in (before, after))
    return ChangeLine(part_id=part_id, wording=field_words(form, part_id), before=before, after=after)


def _words(form: UnitForm, part_id: str, value: Any, at: datetime) -> str:
    if value is None:
        return ""
    part = form.by_id.get(part_id)
    return str(value) if part is None else form.words(part, value, at) or str(value)
