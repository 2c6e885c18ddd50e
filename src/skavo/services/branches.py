"""Plan, registers: the tree as it is unfolded, searched and narrowed down, and where its units lie."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, Json
from sqlalchemy.orm import Session

from skavo.core.interview.release import PartSpec
from skavo.core.register.coarse import coarsened
from skavo.core.register.narrowing import Narrowing
from skavo.core.register.tree import NOWHERE, Mask
from skavo.services.branch_reach import reached
from skavo.services.desk import Desk
from skavo.services.found import the_study
from skavo.store.models import now
from skavo.store.registers import KindHere, Register
from skavo.store.sensitive import MASK

MOST_POINTS = 20_000
_MOST_DEEP = 500


class BranchQuery(BaseModel):
    """`above` is the unit whose direct units are asked for, 0 for the outermost; `narrowing` is a Narrowing as JSON.

    With `deep` all that the narrowing leaves is told at once, as long as it is not too much.
    """

    model_config = ConfigDict(extra="forbid")
    above: int = Field(default=0, ge=0, le=2**62)
    narrowing: Json[Narrowing] = Field(default=Narrowing())
    deep: bool = False
    limit: int = Field(default=200, ge=1, le=5000)


class PointsQuery(BaseModel):
    model_config = ConfigDict(extra="forbid")
    narrowing: Json[Narrowing] = Field(default=Narrowing())


class BranchLine(BaseModel):
    """A unit in the tree. `meant` says whether the narrowing means it itself, `below` how many of those that it means lie
    in its branch, itself left out. `filled` is the share of the fields of its
    whole branch that hold something, None where it has none."""

    id: int
    kind_id: int
    key: str
    label: str
    closed: bool
    faults: int
    depth: int
    meant: bool
    below: int
    filled: float | None


class Total(BaseModel):
    kind_id: int
    units: int


class Branch(BaseModel):
    """The first units directly below one, of `total` that the narrowing leaves there; or, `deep`, all that it leaves, each
    behind what it lies under. `meant` are in the whole register, `totals` by kind; `filled` is the share of all fields that
    hold something."""

    lines: list[BranchLine]
    deep: bool
    total: int
    meant: int
    totals: list[Total]
    filled: float | None


class WayOut(BaseModel):
    """The units above one, the outermost first."""

    ids: list[int]


class PointsOut(BaseModel):
    """Units with a place, column by column; `left` is how many more have one than are told."""

    ids: list[int]
    kind_ids: list[int]
    latitudes: list[float]
    longitudes: list[float]
    labels: list[str]
    left: int


def hidden_fields(desk: Desk, register: Register) -> frozenset[str]:
    """The fields of all kinds that whoever asks may not see."""
    if desk.sees_sensitive:
        return frozenset()
    return frozenset(part_id for kind in register.kinds.values() for part_id in kind.hidden)


def label_of(kind: KindHere, unit: Any, hidden: frozenset[str]) -> str:
    """What a unit is called for whoever may not see `hidden` fields: its key, where its name is one of them."""
    return unit.key if not unit.label or kind.settings.label in hidden else str(unit.label)


def shows_places(kind: KindHere, hidden: frozenset[str]) -> bool:
    """Whether the place that units of a kind are drawn at may be seen: its first field with one is not hidden."""
    return not any(part.raw["id"] in hidden for part in place_fields(kind))


def place_seen(kind: KindHere, unit: Any, hidden: frozenset[str]) -> tuple[float, float] | None:
    """Where a unit lies for whoever may not see `hidden` fields: roughly, or not at all, where its place is one of them."""
    known = unit.latitude is not None and unit.longitude is not None
    return seen_at(kind, (unit.latitude, unit.longitude) if known else None, hidden)


def seen_at(kind: KindHere, point: tuple[float, float] | None, hidden: frozenset[str]) -> tuple[float, float] | None:
    """A place of a unit of a kind as it may be told."""
    if point is None or shows_places(kind, hidden):
        return point
    km = kind.settings.coarse_km
    return coarsened(*point, km) if km else None


def place_fields(kind: KindHere) -> list[PartSpec]:
    return [part for part in kind.form.fields if part.raw["type"] in ("point", "path", "area")]


def show_branch(desk: Desk, study_id: int, query: BranchQuery) -> Branch:
    """What a narrowing leaves of the units directly below one, with what hangs below them."""
    with desk.store.reading() as session:
        register, hidden = _register(desk, session, study_id, query.narrowing)
        mask = _meant(desk, session, study_id, register, query.narrowing, hidden)
    tree, counts = register.tree, register.tree.counts(mask)
    place = tree.place_of(query.above) if query.above else NOWHERE
    below = tree.below(place) if place != NOWHERE or not query.above else np.empty(0, dtype=np.int64)
    # In an unnarrowed tree closed units are left out, and with them nothing that is open.
    shown = below[counts[below] > 0]
    every = np.flatnonzero(counts > 0) if query.deep else shown
    deep = query.deep and len(every) <= _MOST_DEEP
    page = every if deep else shown[: query.limit]
    filled, asked = register.filled
    outermost = tree.depth == 0
    return Branch(
        lines=[_line(register, int(at), mask, counts, hidden) for at in page],
        deep=deep,
        total=len(shown),
        meant=int(mask.sum()),
        totals=_totals(register, mask),
        filled=_share(float(np.nansum(filled[outermost])), float(np.nansum(asked[outermost]))),
    )


def _meant(
    desk: Desk, session: Session, study_id: int, register: Register, narrowing: Narrowing, hidden: frozenset[str]
) -> Mask:
    """The units that a narrowing means, of those that whoever asks may know of."""
    within = reached(desk, session, study_id, register)
    mask = register.meant(narrowing, hidden)
    return mask if within is None else mask & within


def _register(
    desk: Desk, session: Session, study_id: int, narrowing: Narrowing | None = None
) -> tuple[Register, frozenset[str]]:
    the_study(session, study_id)
    register = desk.sets.registers.of(session, study_id, held=narrowing is not None and bool(narrowing.conditions))
    return register, hidden_fields(desk, register)


def _line(register: Register, at: int, mask: Mask, counts: Any, hidden: frozenset[str]) -> BranchLine:
    unit = register.units[at]
    filled, asked = register.filled
    below = int(counts[at]) - int(mask[at])
    return BranchLine(
        id=unit.id, kind_id=unit.kind_id, key=unit.key, label=label_of(register.kinds[unit.kind_id], unit, hidden),
        closed=unit.closed_at is not None, faults=unit.faults, depth=int(register.tree.depth[at]), meant=bool(mask[at]), below=below,
        filled=_share(float(filled[at]), float(asked[at])),
    )  # fmt: skip


def _share(filled: float, asked: float) -> float | None:
    return filled / asked if asked > 0 else None


def _totals(register: Register, mask: Mask) -> list[Total]:
    counted = np.bincount(register.kind_ids[mask], minlength=1) if mask.any() else np.zeros(1, dtype=np.int64)
    return [
        Total(kind_id=kind_id, units=int(counted[kind_id]) if kind_id < len(counted) else 0)
        for kind_id in register.kinds
    ]


def way_to(desk: Desk, study_id: int, unit_id: int) -> WayOut:
    """What has to be unfolded to see a unit."""
    with desk.store.reading() as session:
        register, _ = _register(desk, session, study_id)
    place = register.tree.place_of(unit_id)
    way = [] if place == NOWHERE else register.tree.way_to(place)
    return WayOut(ids=[register.units[at].id for at in way])


def show_points(desk: Desk, study_id: int, query: PointsQuery) -> PointsOut:
    """Where the units lie that a narrowing means, as far as whoever asks may see that."""
    with desk.store.reading() as session:
        register, hidden = _register(desk, session, study_id, query.narrowing)
        mask = _meant(desk, session, study_id, register, query.narrowing, hidden)
    found = [
        (unit, place)
        for at in np.flatnonzero(mask)
        if (place := place_seen(register.kinds[(unit := register.units[at]).kind_id], unit, hidden)) is not None
    ]
    shown = found[:MOST_POINTS]
    return PointsOut(
        ids=[unit.id for unit, _ in shown], kind_ids=[unit.kind_id for unit, _ in shown],
        latitudes=[place[0] for _, place in shown], longitudes=[place[1] for _, place in shown],
        labels=[label_of(register.kinds[unit.kind_id], unit, hidden) for unit, _ in shown],
        left=len(found) - len(shown),
    )  # fmt: skip


def masked_words(words: str, part_id: str, hidden: frozenset[str]) -> str:
    """What stands in a field for whoever may not see `hidden` ones; that it is empty may be known."""
    return MASK if words and part_id in hidden else words


def moment() -> Any:
    """The present moment with an offset, as rules ask for it."""
    return now().astimezone()
