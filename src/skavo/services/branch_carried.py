"""What a phone holds of the register: the branch that its person carries, in pieces that are told apart by marks.

Each unit belongs to one of 256 pieces, by the first letters of its identity. A phone says which pieces it holds, by their
marks, and is told those that are others by now; so a change of one unit costs one piece, and there is no order of changes
to go wrong.
"""

from __future__ import annotations

from collections.abc import Iterable
from hashlib import sha256
from typing import Annotated, Any

import numpy as np
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.register.settings import KindSettings
from skavo.core.register.tree import NOWHERE
from skavo.store.carrying import carried_by
from skavo.store.models import Device, Release, Unit, UnitChange
from skavo.store.registers import KindHere, Register, Registers, UnitRow, kinds_of

_AT_ONCE = 500
_LETTERS = 2
Mark = Annotated[str, Field(pattern="^[0-9a-f]{32}$")]
PieceName = Annotated[str, Field(pattern=f"^[0-9a-f]{{{_LETTERS}}}$")]


class CarriedKind(BaseModel):
    """A kind of unit: `release` is the identity of the one whose lines are its fields and `hash` that of its content, ""
    before the first; `hidden` are sensitive fields that stay at the office."""

    id: int
    name: str
    title: dict[str, str]
    settings: KindSettings
    release: str
    hash: str
    hidden: list[str]


class CarriedUnit(BaseModel):
    """A unit; `above` is the identity of the nearest one above it that is carried too, "" for none. `answers` and
    what is `derived` of them are by the identity of the field; `place` is [degrees north, degrees east]."""

    unit: str
    kind: int
    above: str
    key: str
    label: str
    place: list[float] | None
    answers: dict[str, Any]
    derived: dict[str, Any]
    faults: int
    filled: int
    asked: int
    own: bool


class CarriedPiece(BaseModel):
    name: str
    mark: str
    units: list[CarriedUnit]


class CarriedUnits(BaseModel):
    """`pieces` are those that differ from what the phone holds, `gone` those that it is to forget; `mark` tells all.
    `waiting` are the changes of its person, by the UUID of their document, that somebody at the office has to decide."""

    mark: str
    waiting: list[str]
    kinds: list[CarriedKind]
    pieces: list[CarriedPiece]
    gone: list[str]


class UnitsHeld(BaseModel):
    """The pieces that a phone holds, with their marks."""

    model_config = ConfigDict(extra="forbid")
    pieces: dict[PieceName, Mark] = Field(default={}, max_length=16**_LETTERS)


class _Branch:
    """What one person carries of a register, with the marks of its pieces."""

    def __init__(self, session: Session, registers: Registers, device: Device) -> None:
        self.register: Register = registers.of(session, device.study_id)
        self.person_id = device.person_id
        mask = carried_by(session, device.study_id, device.person_id).on_phones(self.register)
        self.kinds = [kind for kind in self.register.kinds.values() if kind.settings.on_phones != "no"]
        above = _nearest(self.register, mask)
        self.pieces: dict[str, list[tuple[UnitRow, str]]] = {}
        for place in np.flatnonzero(mask).tolist():
            unit, over = self.register.units[place], int(above[place])
            identity = "" if over == NOWHERE else self.register.units[over].identity
            self.pieces.setdefault(unit.identity[:_LETTERS], []).append((unit, identity))
        state = "".join(f"{kind.id}/{kind.version}/{kind.release_id}/{sorted(kind.hidden)}" for kind in self.kinds)
        self.marks = {name: _mark([state, *_lines(units)]) for name, units in self.pieces.items()}
        waits = select(UnitChange.uuid).where(
            UnitChange.study_id == device.study_id, UnitChange.by_id == device.person_id, UnitChange.standing == "waits"
        )
        self.waiting = sorted(session.scalars(waits))
        is_any = bool(self.marks or self.waiting or self._is_begun)
        self.mark = _mark([state, *self.waiting, *sorted(self.marks.values())]) if is_any else ""

    @property
    def _is_begun(self) -> bool:
        """Whether a phone may begin a list of its own."""
        return any(kind.settings.own and kind.settings.on_phones == "change" for kind in self.kinds)


def _lines(units: Iterable[tuple[UnitRow, str]]) -> Iterable[str]:
    return (f"{unit.identity}{unit.changed}{above}" for unit, above in units)


def _mark(lines: Iterable[str]) -> str:
    return sha256("\n".join(lines).encode()).hexdigest()[:32]


def _nearest(register: Register, mask: np.ndarray) -> np.ndarray:
    """For each place the nearest one above it that is in the mask; -1 for none."""
    above = register.tree.above
    found = np.full(len(above), NOWHERE, dtype=np.int64)
    for depth in range(1, int(register.tree.depth.max(initial=0)) + 1):
        here = np.flatnonzero(register.tree.depth == depth)
        over = above[here]
        found[here] = np.where(mask[over], over, found[over])
    return found


def mark_of_units(session: Session, registers: Registers, device: Device) -> str:
    """What tells that a phone holds what it is to hold of the register; "" for nothing."""
    if all(kind.settings.on_phones == "no" for kind in kinds_of(session, device.study_id)):
        return ""
    return _Branch(session, registers, device).mark


def units_for(session: Session, registers: Registers, device: Device, held: UnitsHeld) -> CarriedUnits:
    """What a phone lacks of the branch that its person carries."""
    branch = _Branch(session, registers, device)
    wanted = {name: units for name, units in branch.pieces.items() if held.pieces.get(name) != branch.marks[name]}
    answers = _answers(session, [unit.id for units in wanted.values() for unit, _ in units])
    kinds = {kind.id: kind for kind in branch.kinds}
    return CarriedUnits(
        mark=branch.mark,
        waiting=branch.waiting,
        kinds=[_kind(session, kind) for kind in branch.kinds] if branch.mark else [],
        pieces=[
            CarriedPiece(
                name=name, mark=branch.marks[name],
                units=[_unit(kinds[unit.kind_id], unit, above, answers[unit.id]) for unit, above in units],
            )
            for name, units in sorted(wanted.items())
        ],
        gone=sorted(held.pieces.keys() - branch.pieces.keys()),
    )  # fmt: skip


def _hidden(kind: KindHere) -> frozenset[str]:
    return frozenset() if kind.settings.sensitive_on_phones else kind.hidden


def _kind(session: Session, kind: KindHere) -> CarriedKind:
    release = session.get(Release, kind.release_id) if kind.release_id is not None else None
    return CarriedKind(
        id=kind.id, name=kind.name, title=release.compiled["title"] if release is not None else {"en": kind.title},
        settings=kind.settings, release=release.identity if release is not None else "",
        hash=release.hash if release is not None else "", hidden=sorted(_hidden(kind)),
    )  # fmt: skip


def _unit(kind: KindHere, unit: UnitRow, above: str, held: tuple[dict[str, Any], dict[str, Any]]) -> CarriedUnit:
    hidden = _hidden(kind)
    answers, derived = ({p: value for p, value in of.items() if p not in hidden} for of in held)
    is_named = bool(unit.label) and kind.settings.label not in hidden
    places = {part.raw["id"] for part in kind.form.fields if part.raw["type"] in ("point", "path", "area")}
    has_place = unit.latitude is not None and unit.longitude is not None and not places & hidden
    return CarriedUnit(
        unit=unit.identity, kind=unit.kind_id, above=above, key=unit.key, label=unit.label if is_named else unit.key,
        place=[unit.latitude, unit.longitude] if has_place else None,  # type: ignore[list-item]
        answers=answers, derived=derived,
        faults=unit.faults, filled=unit.filled, asked=unit.asked, own=unit.owner_id is not None,
    )  # fmt: skip


def _answers(session: Session, unit_ids: list[int]) -> dict[int, tuple[dict[str, Any], dict[str, Any]]]:
    """What units hold, and what is derived of it."""
    found: dict[int, tuple[dict[str, Any], dict[str, Any]]] = {}
    for begin in range(0, len(unit_ids), _AT_ONCE):
        wanted = select(Unit.id, Unit.answers, Unit.derived).where(Unit.id.in_(unit_ids[begin : begin + _AT_ONCE]))
        found |= {unit_id: (answers, derived) for unit_id, answers, derived in session.execute(wanted).tuples()}
    return found
