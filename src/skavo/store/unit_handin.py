"""Taking in changes of units that phones hand in: kept as they came, and merged field by field into the register."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.errors import SkavoError
from skavo.core.interview.paths import find_part
from skavo.core.register.bring_in import MOST_KEY
from skavo.core.register.changes import Answers, changes_between
from skavo.core.register.doubts import AWAITS_ANOTHER, Why
from skavo.core.register.merging import merge
from skavo.core.rules.automaton import text_fits
from skavo.store.carrying import carried_by
from skavo.store.counters import raise_counter
from skavo.store.interview_document import InterviewDocument, ReadDocument, UnitTold, moments_of, read_document
from skavo.store.laying import loaded_release
from skavo.store.models import Questionnaire, Release, Unit, UnitChange, now
from skavo.store.registers import By, KindHere, kinds_of, put_answers, register_counter, take_over
from skavo.store.unit_acts import close_branch, free_key, key_taken


@dataclass(frozen=True)
class Handed:
    """A change as it came, and whose it is."""

    study_id: int
    uuid: str
    hash: str
    raw: bytes
    at: datetime
    by: str
    by_id: int | None
    device_id: int | None


def hand_in_change(session: Session, handed: Handed, document: InterviewDocument) -> tuple[UnitChange, bool]:
    """Keep a change, whatever it holds, and let it in as far as nobody has to decide; whether it was not here before."""
    same = select(UnitChange).where(
        UnitChange.study_id == handed.study_id, UnitChange.uuid == handed.uuid, UnitChange.hash == handed.hash
    )
    known = session.scalar(same)
    if known is not None:
        return known, False
    assert document.about is not None
    last = session.scalar(select(func.max(UnitChange.number)).where(UnitChange.study_id == handed.study_id))
    moments = moments_of(document.paradata, handed.at, UTC)
    change = UnitChange(
        study_id=handed.study_id, number=(last or 0) + 1, uuid=handed.uuid, hash=handed.hash,
        identity=document.about.identity, by=handed.by, by_id=handed.by_id, device_id=handed.device_id, raw=handed.raw,
        made_at=min(moments.ended or handed.at, handed.at), arrived_at=handed.at, standing="waits",
    )  # fmt: skip
    session.add(change)
    session.flush()
    let_in(session, change, document)
    _let_others_in(session, change)
    return change, True


def document_of(change: UnitChange) -> InterviewDocument:
    """What was handed in, in its newest form."""
    return read_document(change.raw).document


def unit_of(session: Session, change: UnitChange) -> Unit | None:
    """The unit that a change is about, whether or not anything of it went in; None where it is not in the register."""
    return _named(session, change.study_id, change.identity)


def wanted_of(session: Session, change: UnitChange) -> Answers:
    """The answers that a change holds, by field as its kind is now."""
    document = document_of(change)
    release, kind = _kind_of(session, change.study_id, document)
    if release is None or kind is None:
        return {}
    return {part_id: value for answers in _answers(kind, release, document) for part_id, value in answers.items()}


def by_phone(change: UnitChange) -> By:
    """Who made a change: whose phone it came from. `done` is when they did."""
    detail = {"change": change.number, "done": change.made_at.isoformat()}
    return By(change.by, change.by_id, "phone", detail)


def let_in(session: Session, change: UnitChange, document: InterviewDocument, *, ordered: bool = False) -> None:
    """Let a change into the register as far as nothing in it is doubtful, and write down what is.

    What somebody has `ordered` goes in although units of the kind are not changed on phones.
    """
    told = document.about
    assert told is not None
    release, kind = _kind_of(session, change.study_id, document)
    change.kind_id = None if kind is None else kind.id
    if release is None or kind is None:
        return _wait(change, "kind_unknown")
    if kind.settings.on_phones != "change" and not ordered:
        return _wait(change, "not_on_phones")
    wanted, wrong = _answers(kind, release, document)
    unit = _named(session, change.study_id, told.identity)
    at = unit if unit is not None or not told.made else _named(session, change.study_id, told.above)
    is_known = at is not None or (told.made and not told.above)
    if is_known and not ordered and not _carries(session, change, at, kind):
        return _wait(change, "not_carried")
    if unit is None:
        # An identity is one unit's for ever, also where that is another study's.
        if not told.made or session.scalar(select(Unit.id).where(Unit.identity == told.identity)) is not None:
            return _wait(change, "unit_unknown")
        return _make(session, change, kind, told, (wanted, wrong))
    if unit.kind_id != kind.id:
        return _wait(change, "kind_unknown")
    change.unit_id = unit.id
    before = {part_id: value for part_id, value in told.before.items() if part_id in kind.form.by_id}
    # What cannot be held is neither a change nor a field that was emptied.
    merged = merge(unit.answers, {p: v for p, v in before.items() if p not in wrong}, wanted)
    if merged.taken:
        held = {**unit.answers, **{part_id: pair[1] for part_id, pair in merged.taken.items()}}
        put_answers(session, unit, kind, {p: v for p, v in held.items() if v is not None}, by_phone(change))
    if told.closed and unit.closed_at is None:
        close_branch(session, unit, told.closed, by_phone(change))
    doubts = merged.doubtful | _not_held(unit.answers, before, wrong)
    _stand(change, "fields" if merged.doubtful else "wrong_value" if wrong else "", doubts)


def _named(session: Session, study_id: int, identity: str) -> Unit | None:
    return session.scalar(select(Unit).where(Unit.study_id == study_id, Unit.identity == identity))


def _carries(session: Session, change: UnitChange, unit: Unit | None, kind: KindHere) -> bool:
    carried = carried_by(session, change.study_id, change.by_id)
    return carried.has(session, unit, own=kind.settings.own)


def _stand(change: UnitChange, why: Why, doubts: dict[str, list[Any]]) -> None:
    change.standing, change.why, change.doubts = ("waits" if why else "taken"), why, doubts


def _wait(change: UnitChange, why: Why) -> None:
    _stand(change, why, {})


def _not_held(present: Answers, before: Answers, wrong: Answers) -> dict[str, list[Any]]:
    return {part_id: [before.get(part_id), present.get(part_id), value] for part_id, value in wrong.items()}


def _kind_of(session: Session, study_id: int, document: InterviewDocument) -> tuple[Release | None, KindHere | None]:
    """The release that a unit was filled in with, and its kind as it is now."""
    named = Release.identity == document.release if document.release else Release.hash == document.release_hash
    of_units = select(Release).join(Questionnaire).where(
        named, Questionnaire.study_id == study_id, Questionnaire.describes == "units"
    )  # fmt: skip
    release = session.scalars(of_units.order_by(Release.id.desc()).limit(1)).first()
    if release is None:
        return None, None
    kinds = kinds_of(session, study_id)
    return release, next((kind for kind in kinds if kind.questionnaire_id == release.questionnaire_id), None)


def _answers(kind: KindHere, release: Release, document: InterviewDocument) -> tuple[Answers, Answers]:
    """The answers by field as the kind is now, and those that their field cannot hold."""
    compiled, given = loaded_release(release), {}
    for path, value in document.answers.items():
        try:
            part, row = find_part(compiled, path)
        except SkavoError:
            continue
        now_is = kind.form.by_id.get(part.raw["id"])
        if now_is is not None and now_is.kind.takes_answer and not row and value is not None:
            given[part.raw["id"]] = value
    if kind.form.release is None or not given:
        return given, {}
    engine = kind.form.engine(given, now())
    wrong = {engine.release.parts[index].raw["id"] for index, _ in engine.wrong}
    return (
        {part_id: value for part_id, value in given.items() if part_id not in wrong},
        {part_id: value for part_id, value in given.items() if part_id in wrong},
    )


def _make(
    session: Session, change: UnitChange, kind: KindHere, told: UnitTold, answers: tuple[Answers, Answers]
) -> None:
    """Make the unit that a phone has made, where it was made."""
    above, why = _above(session, change.study_id, kind, told)
    if why:
        return _wait(change, why)
    wanted, wrong = answers
    key, doubt = _key(session, kind, told, above)
    by = by_phone(change)
    unit = Unit(
        study_id=change.study_id, kind_id=kind.id, above_id=above.id if above else None, identity=told.identity, key=key,
        owner_id=change.by_id if kind.settings.own else None,
    )  # fmt: skip
    take_over(unit, kind, wanted, kind.form.reckon(wanted, by.at))
    unit.changed = raise_counter(session, register_counter(change.study_id))
    session.add(unit)
    session.flush()
    change.unit_id = unit.id
    session.add(by.event(unit, "made", changes_between({}, wanted)))
    _stand(change, doubt or ("wrong_value" if wrong else ""), _not_held({}, {}, wrong))


def _above(session: Session, study_id: int, kind: KindHere, told: UnitTold) -> tuple[Unit | None, Why]:
    """The unit that a new one lies under, or why it cannot."""
    if not told.above:
        return None, "" if kind.settings.stands_alone else "cannot_hang_there"
    above = _named(session, study_id, told.above)
    if above is None:
        return None, "above_unknown"
    if above.kind_id not in kind.settings.under:
        return None, "cannot_hang_there"
    return above, "" if above.closed_at is None else "above_closed"


def _key(session: Session, kind: KindHere, told: UnitTold, above: Unit | None) -> tuple[str, Why]:
    """The key of a new unit, and what is doubtful about it; whoever decides gives it another one."""
    mask = kind.settings.key_mask
    wanted = told.key.strip()[:MOST_KEY] or free_key(session, kind, above) or told.identity[:8]
    if key_taken(session, kind, wanted):
        return _other_key(session, kind, wanted), "key_taken"
    return wanted, "wrong_key" if mask and not text_fits("mask", mask, wanted) else ""


def _other_key(session: Session, kind: KindHere, key: str) -> str:
    """A key beside one that is taken; whoever decides gives the unit its own."""
    number = 2
    while key_taken(session, kind, found := f"{key[: MOST_KEY - 8]} ({number})"):
        number += 1
    return found


def _let_others_in(session: Session, arrived: UnitChange) -> None:
    """Let in what has waited for the unit that has arrived, and what waited for those."""
    waiting = [arrived]
    while waiting:
        here = waiting.pop()
        if here.unit_id is None:
            continue
        before = select(UnitChange).where(
            UnitChange.study_id == here.study_id, UnitChange.standing == "waits", UnitChange.why.in_(AWAITS_ANOTHER)
        )
        for change in session.scalars(before.order_by(UnitChange.id)).all():
            document = document_of(change)
            told = document.about
            if told is not None and here.identity in (told.identity, told.above):
                let_in(session, change, document)
                waiting.append(change)


def is_about_unit(read: ReadDocument | SkavoError) -> bool:
    """Whether what arrived changes a unit instead of telling an interview."""
    return isinstance(read, ReadDocument) and read.document.about is not None
