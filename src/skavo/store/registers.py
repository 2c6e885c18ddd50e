"""The register of a study as columns in memory, and writing to it: every change with its event, in one transaction."""

from __future__ import annotations

import re
import threading
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import cached_property
from itertools import accumulate
from typing import Any

import numpy as np
from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from skavo.core.interview.release import Release as EngineRelease
from skavo.core.interview.sensitive import marked_in, sensitive_parts
from skavo.core.register.bring_in import Judged, Kind
from skavo.core.register.cells import plain
from skavo.core.register.changes import Changes, Origin, What, changes_between
from skavo.core.register.figures import figures_of, said
from skavo.core.register.form import Reckoned, UnitForm
from skavo.core.register.narrowing import Narrowing, meets
from skavo.core.register.settings import Carried, KindSettings
from skavo.core.register.tree import NOWHERE, Mask, Tree, tree_of
from skavo.store.counters import counter, raise_counter
from skavo.store.laying import loaded_release
from skavo.store.models import Questionnaire, Release, Unit, UnitEvent, UnitKind, now

_KEPT = 4
_INSERTED_AT_ONCE = 2_000
# So many units are found in one text, line by line, before each is looked at by itself.
_FOUND_ONE_BY_ONE = 5_000


def register_counter(study_id: int) -> str:
    """The name of the counter of all changes to a study's register."""
    return f"register/{study_id}"


@dataclass(frozen=True, kw_only=True)
class KindHere(Kind):
    """A kind with what the store says of it. `name` is the short name of its questionnaire; `release_id` and `number` are
    those of the release in force, None before the first; `hidden` are its sensitive fields."""

    study_id: int
    questionnaire_id: int
    position: int
    version: int
    release_id: int | None
    number: int | None
    hidden: frozenset[str]


def kinds_of(session: Session, study_id: int) -> list[KindHere]:
    """The kinds of a study in their order, each with its newest release that is in force."""
    rows = session.execute(
        select(UnitKind, Questionnaire)
        .join(Questionnaire, Questionnaire.id == UnitKind.questionnaire_id)
        .where(UnitKind.study_id == study_id)
        .order_by(UnitKind.position, UnitKind.id)
    )
    return [_kind(session, kind, questionnaire) for kind, questionnaire in rows]


def _kind(session: Session, kind: UnitKind, questionnaire: Questionnaire) -> KindHere:
    in_force = (Release.practice.is_(False), Release.awaits.is_(False), Release.withdrawn.is_(None))
    mine = select(Release).where(Release.questionnaire_id == questionnaire.id, *in_force)
    release = session.scalars(mine.order_by(Release.number.desc()).limit(1)).first()
    compiled = loaded_release(release) if release is not None else None
    settings = KindSettings.model_validate(kind.settings)
    return KindHere(
        id=kind.id, name=questionnaire.script["name"], settings=settings, form=UnitForm(compiled, settings.label),
        study_id=kind.study_id, questionnaire_id=questionnaire.id, title=questionnaire.title, position=kind.position,
        version=kind.version, release_id=release.id if release is not None else None,
        number=release.number if release is not None else None, hidden=_hidden(compiled, questionnaire),
    )  # fmt: skip


def _hidden(release: EngineRelease | None, questionnaire: Questionnaire) -> frozenset[str]:
    if release is None:
        return frozenset()
    marked = marked_in([release], questionnaire.script.get("parts", ()))
    return marked | {release.parts[index].raw["id"] for index in sensitive_parts(release, marked)}


@dataclass(frozen=True)
class UnitRow:
    """A unit as the tree is made of it; what its fields hold is told apart, and read only where it is asked for."""

    id: int
    kind_id: int
    above_id: int | None
    key: str
    label: str
    faults: int
    filled: int
    asked: int
    latitude: float | None
    longitude: float | None
    closed_at: datetime | None
    changed: int
    identity: str
    owner_id: int | None

    @cached_property
    def sorted_by(self) -> str:
        """Its name for putting in order, so that 9 comes before 10."""
        return _NUMBER.sub(lambda digits: digits[0].rjust(12, "0"), (self.label or self.key).casefold())

    @cached_property
    def found_by(self) -> str:
        return f"{plain(self.label)} {plain(self.key)}"

    def stands_as(self, other: UnitRow) -> bool:
        """Whether both stand at the same place of the tree."""
        return (self.kind_id, self.above_id, self.sorted_by, self.key) == (
            other.kind_id, other.above_id, other.sorted_by, other.key,
        )  # fmt: skip


_NUMBER = re.compile(r"\d+", re.ASCII)
_COLUMNS = (
    Unit.id, Unit.kind_id, Unit.above_id, Unit.key, Unit.label, func.json_array_length(Unit.faults), Unit.filled,
    Unit.asked, Unit.latitude, Unit.longitude, Unit.closed_at, Unit.changed,
    Unit.identity, Unit.owner_id,
)  # fmt: skip
# Answers and derived values of units, by unit and field.
Held = dict[int, dict[str, Any]]


@dataclass
class Register:
    """The units of a study in the tree's order, at one state of it. `held` is what their fields hold, None where nobody
    has asked for it."""

    kinds: dict[int, KindHere]
    tree: Tree
    units: list[UnitRow]
    held: Held | None = None
    # What a station has made of it and would make again, by what was asked; only the last of it.
    kept: dict[str, Any] = field(default_factory=dict)
    # Figures of single units by field, places where they are out of date, and what was carried upward.
    _single: dict[str, np.ndarray] = field(default_factory=dict)
    _stale: dict[str, set[int]] = field(default_factory=dict)
    _carried: dict[tuple[str, str], np.ndarray] = field(default_factory=dict)

    @cached_property
    def kind_ids(self) -> np.ndarray:
        return np.array([unit.kind_id for unit in self.units], dtype=np.int64)

    @cached_property
    def closed(self) -> Mask:
        return np.array([unit.closed_at is not None for unit in self.units], dtype=np.bool_)

    @cached_property
    def owners(self) -> np.ndarray:
        """Whose own each unit is, 0 for nobody's."""
        return np.array([unit.owner_id or 0 for unit in self.units], dtype=np.int64)

    @cached_property
    def filled(self) -> tuple[np.ndarray, np.ndarray]:
        """Of each branch, how many fields hold something, and how many there are; what is closed does not count."""
        filled = np.array([unit.filled for unit in self.units], dtype=np.float64)
        asked = np.array([unit.asked for unit in self.units], dtype=np.float64)
        return self.tree.carried(filled * ~self.closed, "sum"), self.tree.carried(asked * ~self.closed, "sum")

    @cached_property
    def keys_above(self) -> list[dict[int, str]]:
        """For each unit the keys of what it lies under, by kind; units under the same one share theirs."""
        under: dict[int, dict[int, str]] = {NOWHERE: {}}
        found: list[dict[int, str]] = []
        for place in self.tree.above.tolist():
            if place not in under:
                unit = self.units[place]
                under[place] = {**found[place], unit.kind_id: unit.key}
            found.append(under[place])
        return found

    def values(self, part_id: str, kind_id: int) -> list[Any]:
        """What a field of a kind holds in every unit, None in those of other kinds."""
        assert self.held is not None, "what fields hold has to be asked for"
        held = self.held
        return [held[unit.id].get(part_id) if unit.kind_id == kind_id else None for unit in self.units]

    def meant(self, narrowing: Narrowing, hidden: frozenset[str] = frozenset()) -> Mask:
        """Which units a narrowing means; shape (n,). Nothing is found by the fields that are `hidden` from who asks."""
        count = len(self.units)
        mask: Mask = np.ones(count, dtype=np.bool_) if narrowing.closed else ~self.closed
        if narrowing.kind:
            mask &= self.kind_ids == narrowing.kind
        if narrowing.below:
            place = self.tree.place_of(narrowing.below)
            inside = np.zeros(count, dtype=np.bool_)
            if place != NOWHERE:
                inside[place + 1 : self.tree.ends[place]] = True
            mask &= inside
        if words := plain(narrowing.words):
            mask &= self._holding(words, {kind.id for kind in self.kinds.values() if kind.settings.label in hidden})
        if narrowing.faulty:
            mask &= np.fromiter((unit.faults > 0 for unit in self.units), np.bool_, count)
        for condition in narrowing.conditions:
            asked = [self.kinds[narrowing.kind]] if narrowing.kind in self.kinds else self.kinds.values()
            kind = next((k for k in asked if condition.part_id in k.form.by_id), None)
            if kind is None or kind.form.release is None or condition.part_id in hidden:
                mask &= False
                continue
            part = kind.form.by_id[condition.part_id]
            mask &= (self.kind_ids == kind.id) & meets(
                kind.form.release, part, condition, self.values(condition.part_id, kind.id)
            )
        return mask

    def _holding(self, words: str, nameless: set[int]) -> Mask:
        """The units that hold these words in their name or key; those of `nameless` kinds are found by their key only."""
        found: Mask = np.zeros(len(self.units), dtype=np.bool_)
        text, begins = self._text
        at = -1 if nameless else text.find(words)
        for _ in range(_FOUND_ONE_BY_ONE):
            if at < 0:
                break
            place = bisect_right(begins, at) - 1
            found[place] = True
            at = text.find(words, begins[place + 1]) if place + 1 < len(begins) else -1
        if at < 0 and not nameless:
            return found
        # Where most of them hold it, each is looked at.
        holds = (words in (plain(u.key) if u.kind_id in nameless else u.found_by) for u in self.units)
        return np.fromiter(holds, np.bool_, len(self.units))

    @cached_property
    def _text(self) -> tuple[str, list[int]]:
        """What all units are found by, a line for each, and where each line begins."""
        lines = [unit.found_by for unit in self.units]
        begins = [0, *accumulate(len(line) + 1 for line in lines)][: len(lines)]
        return "\n".join(lines), begins

    def carried(self, kind: KindHere, carried: Carried) -> np.ndarray:
        """What every branch holds of a field that is carried upward; what is closed does not count. NaN for none."""
        known = (carried.part_id, carried.how)
        if known not in self._carried:
            self._carried[known] = self.tree.carried(self._figures(kind, carried.part_id), carried.how)
        return self._carried[known]

    def _figures(self, kind: KindHere, part_id: str) -> np.ndarray:
        """The figures of single units; after a change only those of the units that changed are worked out."""
        assert kind.form.release is not None and self.held is not None
        stale, single = self._stale.pop(part_id, set()), self._single.get(part_id)
        places = range(len(self.units)) if single is None else sorted(stale)
        values = [
            self.held[unit.id].get(part_id) if unit.kind_id == kind.id and unit.closed_at is None else None
            for unit in (self.units[place] for place in places)
        ]
        found = figures_of(kind.form.release, kind.form.by_id[part_id], values)
        if single is not None and len(found):
            single = single.copy()
            single[places] = found
        self._single[part_id] = found if single is None else single
        return self._single[part_id]

    def followed_by(self, later: Register, changed: Iterable[int]) -> Register:
        """Hand what was worked out to the register as it is after these units, by identity, have changed in their places."""
        places = {self.tree.place_of(unit_id) for unit_id in changed}
        later._single = dict(self._single)
        later._stale = {part_id: self._stale.get(part_id, set()) | places for part_id in self._single}
        return later

    def carried_said(self, kind: KindHere, carried: Carried, place: int) -> Any:
        """The same at one place, as an answer of the field; None for none."""
        figure = float(self.carried(kind, carried)[place])
        assert kind.form.release is not None
        return None if np.isnan(figure) else said(kind.form.release, kind.form.by_id[carried.part_id], figure)


@dataclass
class _Known:
    """What is kept of a study: units by identity, the register made of them, and the state that it was made at."""

    rows: dict[int, UnitRow] = field(default_factory=dict)
    state: tuple[int, ...] = ()
    register: Register | None = None
    held: Held = field(default_factory=dict)
    held_at: int = -1


class Registers:
    """Keeps the registers of the studies used last in memory, each brought forward by what has changed since."""

    def __init__(self) -> None:
        self._known: dict[int, _Known] = {}
        self._turn = threading.Lock()

    def of(self, session: Session, study_id: int, *, held: bool = False) -> Register:
        """The register of a study as it stands; with what its fields hold only where that is asked for."""
        kinds = kinds_of(session, study_id)
        stands = counter(session, register_counter(study_id))
        # A mark that a field is sensitive counts before it is released.
        marks = (n for kind in kinds for n in (kind.id, kind.version, kind.release_id or 0, hash(kind.hidden)))
        state = (stands, *marks)
        with self._turn:
            known = self._known.pop(study_id, None) or _Known()
            # A restored backup may stand behind what is kept here.
            if known.state and known.state[0] > stands:
                known = _Known()
            self._known[study_id] = known
            while len(self._known) > _KEPT:
                del self._known[next(iter(self._known))]
            if known.register is None or known.state != state:
                known.register = _brought_forward(session, study_id, kinds, known)
                known.state = state
            if held and known.register.held is None:
                known.register.held = _held(session, study_id, known, stands)
            return known.register


def _brought_forward(session: Session, study_id: int, kinds: Sequence[KindHere], known: _Known) -> Register:
    last, before = known.state[0] if known.state else -1, known.register
    found = select(*_COLUMNS).where(Unit.study_id == study_id, Unit.changed > last)
    changed = [UnitRow(*row) for row in session.execute(found).tuples()]
    rows, by_id = known.rows, {kind.id: kind for kind in kinds}
    stands = before is not None and all(row.id in rows and rows[row.id].stands_as(row) for row in changed)
    rows.update((row.id, row) for row in changed)
    for row in changed:
        # Whoever opens a register waits for this, so that nobody does who searches in it.
        _ = row.found_by
    if before is not None and stands and before.kinds == by_id:
        after = Register(by_id, before.tree, [rows[unit_id] for unit_id in before.tree.ids.tolist()])
        return before.followed_by(after, [row.id for row in changed])
    units = list(rows.values())
    position = {kind.id: at for at, kind in enumerate(kinds)}
    order = [(position.get(unit.kind_id, 0), unit.sorted_by, unit.key) for unit in units]
    tree = tree_of([unit.id for unit in units], [unit.above_id for unit in units], order)
    return Register(by_id, tree, [rows[unit_id] for unit_id in tree.ids.tolist()])


def _held(session: Session, study_id: int, known: _Known, stands: int) -> Held:
    """What the fields of all units hold; a new one for every state, so that nobody's changes under their hands."""
    wanted = select(Unit.id, Unit.answers, Unit.derived).where(Unit.study_id == study_id, Unit.changed > known.held_at)
    changed = {unit_id: {**derived, **answers} for unit_id, answers, derived in session.execute(wanted).tuples()}
    known.held, known.held_at = {**known.held, **changed}, stands
    return known.held


@dataclass(frozen=True)
class By:
    """Who changes a register, from where; `detail` is told with every event."""

    name: str
    person_id: int | None
    origin: Origin
    detail: dict[str, Any] = field(default_factory=dict)
    at: datetime = field(default_factory=now)

    def event(self, unit: Unit, what: What, changes: Changes | None = None, **detail: Any) -> UnitEvent:
        return UnitEvent(
            study_id=unit.study_id, unit_id=unit.id, at=self.at, by=self.name, by_id=self.person_id,
            origin=self.origin, what=what, changes=changes or {}, detail={**self.detail, **detail},
        )  # fmt: skip


def touch(session: Session, unit: Unit) -> None:
    """Let everybody who keeps the register know that a unit has changed."""
    unit.changed = raise_counter(session, register_counter(unit.study_id))
    unit.version = (unit.version or 0) + 1


def put_answers(session: Session, unit: Unit, kind: KindHere, answers: dict[str, Any], by: By) -> Changes:
    """Give a unit these answers, with what follows from them and the event; nothing happens where they are the same."""
    changes = changes_between(unit.answers, answers)
    if changes:
        take_over(unit, kind, answers, kind.form.reckon(answers, by.at))
        touch(session, unit)
        session.add(by.event(unit, "changed", changes))
    return changes


def take_over(unit: Unit, kind: KindHere, answers: dict[str, Any], reckoned: Reckoned) -> None:
    for name, value in reckoned_columns(kind, answers, reckoned).items():
        setattr(unit, name, value)


def reckoned_columns(kind: KindHere, answers: dict[str, Any], reckoned: Reckoned) -> dict[str, Any]:
    """The columns of a unit that hold its answers and what follows from them."""
    latitude, longitude = reckoned.point or (None, None)
    return {
        "answers": answers, "derived": reckoned.derived, "label": reckoned.label[:200], "filled": reckoned.filled,
        "asked": reckoned.asked, "latitude": latitude, "longitude": longitude, "release_id": kind.release_id,
        "faults": [{"field": f.part_id, "strength": f.strength, "text": f.text} for f in reckoned.faults],
    }  # fmt: skip


def put_rows(session: Session, kinds: dict[int, KindHere], wanted: Sequence[Judged], by: By) -> dict[str, int]:
    """Write the rows of a file that come in (core.register.bring_in); how many became what."""
    if not wanted:
        return {"made": 0, "changed": 0}
    stands = raise_counter(session, register_counter(next(iter(kinds.values())).study_id))
    made_ids: dict[int, int] = {one.row: one.unit_id for one in wanted if one.unit_id is not None}
    new = [one for one in wanted if one.unit_id is None]
    waiting = new
    while waiting:
        ready = [one for one in waiting if one.above_row is None or one.above_row in made_ids]
        assert ready, "rows that lie under themselves are judged wrong"
        for ids, batch in _inserted(session, kinds, ready, made_ids, stands):
            made_ids.update(zip((one.row for one in batch), ids, strict=True))
        waiting = [one for one in waiting if one.row not in made_ids]
    old = [one for one in wanted if one.unit_id is not None]
    events = [_row_event(kinds, one, made_ids, by, "made") for one in new]
    for one in old:
        unit = session.get_one(Unit, one.unit_id)
        assert one.reckoned is not None
        take_over(unit, kinds[one.kind_id], one.answers, one.reckoned)
        unit.changed, unit.version = stands, unit.version + 1
        if one.moves:
            above = _above(one, made_ids)
            events.append(_row_event(kinds, one, made_ids, by, "moved", **moved(session, unit.above_id, above)))
            unit.above_id = above
        if one.changes:
            events.append(_row_event(kinds, one, made_ids, by, "changed"))
    session.flush()
    for at in range(0, len(events), _INSERTED_AT_ONCE):
        session.execute(insert(UnitEvent), events[at : at + _INSERTED_AT_ONCE])
    return {"made": len(new), "changed": len(old)}


def moved(session: Session, before: int | None, after: int | None) -> dict[str, Any]:
    """What an event tells of a move: the unit that another one hung under, and the one it hangs under now."""

    def named(unit_id: int | None) -> dict[str, Any] | None:
        unit = session.get(Unit, unit_id) if unit_id is not None else None
        return None if unit is None else {"id": unit.id, "key": unit.key}

    return {"from": named(before), "to": named(after)}


def _above(one: Judged, made_ids: dict[int, int]) -> int | None:
    return made_ids[one.above_row] if one.above_row is not None else one.above_unit


def _inserted(
    session: Session, kinds: dict[int, KindHere], rows: Sequence[Judged], made_ids: dict[int, int], stands: int
) -> Iterable[tuple[list[int], Sequence[Judged]]]:
    statement = insert(Unit).returning(Unit.id, sort_by_parameter_order=True)
    for at in range(0, len(rows), _INSERTED_AT_ONCE):
        batch = rows[at : at + _INSERTED_AT_ONCE]
        values = []
        for one in batch:
            kind = kinds[one.kind_id]
            assert one.reckoned is not None
            values.append(
                {
                    "study_id": kind.study_id, "kind_id": kind.id, "above_id": _above(one, made_ids), "key": one.key,
                    "changed": stands, **reckoned_columns(kind, one.answers, one.reckoned),
                }
            )  # fmt: skip
        yield list(session.scalars(statement, values)), batch


def _row_event(
    kinds: dict[int, KindHere], one: Judged, made_ids: dict[int, int], by: By, what: What, **detail: Any
) -> dict[str, Any]:
    changes = {} if what == "moved" else one.changes
    return {
        "study_id": kinds[one.kind_id].study_id, "unit_id": made_ids[one.row], "at": by.at, "by": by.name,
        "by_id": by.person_id, "origin": by.origin, "what": what, "changes": changes,
        "detail": {**by.detail, "row": one.row, **detail},
    }  # fmt: skip
