"""What an interview says of units goes into the register when it is accepted, and out again when that is taken back."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import UTC
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.register.changes import Answers
from skavo.core.register.filled import Filled, filled_by
from skavo.services.desk import Desk
from skavo.services.refusals import Refused
from skavo.store.interview_document import ReadDocument, moments_of, try_reading
from skavo.store.laying import by_its_clock, run_engine
from skavo.store.models import Interview, Revision, Unit, UnitEvent, now
from skavo.store.registers import By, KindHere, kinds_of, put_answers


@dataclass(frozen=True)
class Told:
    """What the counting revision of an interview, by its hash, says of units, by their identities."""

    hash: str
    of_units: dict[str, list[Filled]]


def told_of_units(session: Session, interview: Interview) -> Told:
    """Work out what an interview says of units, before anything is written."""
    return Told(interview.hash, _told_by(session, interview))


def fill_units(desk: Desk, session: Session, interview: Interview, told: Told) -> dict[str, int]:
    """Let what an accepted interview says of units into the register; how many fields were filled, and how many were left.

    A field is left that somebody has changed since the interview was held, or that cannot hold the answer; one of a unit
    that is not in the register has none. Raise Refused where another revision counts meanwhile.
    """
    if told.hash != interview.hash:
        raise Refused("changed_meanwhile", "Another revision of it counts by now. Look at it again.")
    if not told.of_units:
        return {}
    kinds = {kind.id: kind for kind in kinds_of(session, interview.study_id)}
    by = By(desk.name, desk.person_id, "interview", _detail(interview))
    counts = {"filled": 0, "left": 0}
    for identity, filled in told.of_units.items():
        found = select(Unit).where(Unit.study_id == interview.study_id, Unit.identity == identity)
        unit = session.scalar(found)
        if unit is None:
            counts["left"] += len(filled)
            continue
        kind = kinds[unit.kind_id]
        wanted = {part_id: one.value for one in filled if (part_id := _field(kind, one.field)) is not None}
        good = {
            p: v for p, v in wanted.items() if _can_hold(kind, p, v) and not _changed_since(session, unit, p, interview)
        }
        counts["left"] += len(filled) - len(good)
        counts["filled"] += len(put_answers(session, unit, kind, {**unit.answers, **good}, by))
    return counts


def take_back_filling(desk: Desk, session: Session, interview: Interview) -> int:
    """Put back what an interview has filled and nobody has changed since; how many fields that were."""
    kinds = {kind.id: kind for kind in kinds_of(session, interview.study_id)}
    by = By(desk.name, desk.person_id, "interview", {**_detail(interview), "taken_back": True})
    before: dict[int, Answers] = defaultdict(dict)
    for event in session.scalars(_events_of(interview)):
        if not event.detail.get("taken_back"):
            # The oldest filling tells what was there before all of them.
            for part_id, (was, value) in event.changes.items():
                held = before[event.unit_id].get(part_id, [was, value])
                before[event.unit_id][part_id] = [held[0], value]
    count = 0
    for unit_id, pairs in before.items():
        unit = session.get_one(Unit, unit_id)
        restored = {p: was for p, (was, value) in pairs.items() if unit.answers.get(p) == value}
        answers = {p: v for p, v in {**unit.answers, **restored}.items() if v is not None}
        count += len(put_answers(session, unit, kinds[unit.kind_id], answers, by))
    return count


def _detail(interview: Interview) -> dict[str, Any]:
    return {"interview": interview.key, "uuid": interview.uuid, "of": interview.enumerator}


def _events_of(interview: Interview) -> Any:
    """What an interview has filled, the oldest first."""
    mine = (UnitEvent.study_id == interview.study_id, UnitEvent.origin == "interview")
    named = UnitEvent.detail["uuid"].as_string() == interview.uuid
    return select(UnitEvent).where(*mine, named).order_by(UnitEvent.id)


def _told_by(session: Session, interview: Interview) -> dict[str, list[Filled]]:
    """What an interview says of units, by their identities; nothing where it cannot be computed or counts nowhere."""
    release = interview.release
    if interview.practice or interview.problem or release is None:
        return {}
    if not any(part.get("fills") for part in release.compiled["parts"]):
        return {}
    counting = (Revision.interview_id == interview.id, Revision.number == interview.counting)
    read = try_reading(session.scalars(select(Revision.raw).where(*counting)).one())
    if not isinstance(read, ReadDocument):
        return {}
    moments = moments_of(read.document.paradata, interview.arrived_at, UTC)
    engine = run_engine(release, read.document, *by_its_clock(moments, interview.arrived_at))
    told: dict[str, list[Filled]] = defaultdict(list)
    for filled in filled_by(engine):
        told[filled.unit].append(filled)
    return told


def _field(kind: KindHere, variable: str) -> str | None:
    """The identity of a field by its name as it is now."""
    found = (part.raw["id"] for part in kind.form.fields if part.variable == variable and part.kind.takes_answer)
    return next(found, None)


def _can_hold(kind: KindHere, part_id: str, value: Any) -> bool:
    return not kind.form.engine({part_id: value}, now()).wrong


def _changed_since(session: Session, unit: Unit, part_id: str, interview: Interview) -> bool:
    """Whether somebody has changed a field after the interview was held."""
    held = interview.ended_at or interview.arrived_at
    later = (UnitEvent.unit_id == unit.id, UnitEvent.at > held)
    return any(
        part_id in event.changes and event.detail.get("uuid") != interview.uuid
        for event in session.scalars(select(UnitEvent).where(*later))
    )
