"""Plan, samples: whom a sample could reach, from the register or from a file, and what is amiss with it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError
from skavo.core.questionnaire.script import read_script
from skavo.core.register.changes import Answers
from skavo.core.register.narrowing import Narrowing
from skavo.core.register.rule import units_meeting
from skavo.formats.frame import OWN
from skavo.formats.read_table import read_table
from skavo.formats.units_frame import KEY, UNIT, FrameUnit, frame_of_units
from skavo.services.branches import label_of, moment
from skavo.services.desk import Desk
from skavo.services.found import the_study
from skavo.services.refusals import Refused, not_found
from skavo.store.files import read_file
from skavo.store.models import Release, Unit
from skavo.store.registers import KindHere, Register

_VALUES = 40
FIRST = 5


class RegisterFrame(BaseModel):
    """Units of a kind, narrowed down, and by a rule over their fields where there is one."""

    model_config = ConfigDict(extra="forbid")
    kind: int = Field(ge=1)
    narrowing: Narrowing = Field(default=Narrowing())
    rule: str = Field(default="", max_length=4000)


class FileFrame(BaseModel):
    """The rows of a file in the store, each named by the column `key`."""

    model_config = ConfigDict(extra="forbid")
    file: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field(min_length=1, max_length=200)
    key: str = Field(min_length=1, max_length=200)


class FrameIn(BaseModel):
    """One of both."""

    model_config = ConfigDict(extra="forbid")
    units: RegisterFrame | None = None
    table: FileFrame | None = None


class FrameColumn(BaseModel):
    """A column of the frame. `empty` rows hold nothing there; `numbers` says that all others are numbers of more than
    nothing; `values` are how many different ones there are, with the most frequent ones."""

    name: str
    empty: int
    numbers: bool
    values: int
    most: list[str]


class LeftOutRows(BaseModel):
    """Rows that are not in the frame because of what is amiss with their key, and the first of them."""

    why: Literal["no key", "twice"]
    rows: int
    first: list[str]


class FrameOut(BaseModel):
    count: int
    columns: list[FrameColumn]
    left_out: list[LeftOutRows]


@dataclass(frozen=True)
class HeldFrame:
    """A frame with what is told of it; `units` and `labels` are those of its rows where it is of the register."""

    rows: pl.DataFrame
    key: str
    left_out: list[LeftOutRows]
    units: list[int]
    labels: list[str]


def look_at_frame(desk: Desk, study_id: int, wanted: FrameIn) -> FrameOut:
    """Whom a sample could reach: how many, what is known of them, what is amiss with keys."""
    frame = frame_of(desk, study_id, wanted)
    return FrameOut(
        count=frame.rows.height, left_out=frame.left_out,
        columns=[_column(frame.rows[name]) for name in frame.rows.columns if name not in (UNIT, frame.key)],
    )  # fmt: skip


def _column(cells: pl.Series) -> FrameColumn:
    numbers = cells.drop_nulls().cast(pl.Float64, strict=False)
    counts = cells.drop_nulls().value_counts(sort=True, name="rows")
    return FrameColumn(
        name=cells.name, empty=cells.null_count(), values=counts.height,
        numbers=numbers.len() > 0 and numbers.null_count() == 0, most=counts[cells.name].head(_VALUES).to_list(),
    )  # fmt: skip


def frame_of(desk: Desk, study_id: int, wanted: FrameIn) -> HeldFrame:
    """The frame that is meant; raise DataError where it is none, or empty."""
    if (wanted.units is None) is (wanted.table is None):
        raise DataError("no_frame", "A frame is of the register or from a file: choose one of both.")
    if wanted.table is not None:
        with desk.store.reading() as session:
            the_study(session, study_id)
        return _from_file(desk, wanted.table)
    assert wanted.units is not None
    return units_frame(desk, study_id, wanted.units)


def units_frame(desk: Desk, study_id: int, wanted: RegisterFrame) -> HeldFrame:
    """The units of a register as a frame. Sensitive fields are in no frame, whoever draws: a frame is handed on, with the
    sample. The frame made last is kept while the register stands, so that a plan can be tried out at every key."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        register = desk.sets.registers.of(session, study_id, held=True)
        # A rule may ask for the day, and what may be narrowed by depends on who asks.
        asked = f"{wanted.model_dump_json()} {moment().date()} {desk.sees_sensitive}"
        kept = register.kept.get(asked)
        if isinstance(kept, HeldFrame):
            return kept
        kind = register.kinds.get(wanted.kind)
        if kind is None:
            raise not_found("kind of unit")
        meets = units_meeting(_fields_of(session, kind), wanted.rule) if wanted.rule.strip() else None
        named = select(Unit.id, Unit.identity).where(Unit.study_id == study_id, Unit.kind_id == kind.id)
        identities = dict(session.execute(named).tuples().all())
    made = _made(register, kind, wanted, meets, identities, sees_sensitive=desk.sees_sensitive)
    register.kept = {asked: made}
    return made


def _made(
    register: Register, kind: KindHere, wanted: RegisterFrame, meets: Callable[[Answers, datetime], bool] | None,
    identities: dict[int, str], *, sees_sensitive: bool,
) -> HeldFrame:  # fmt: skip
    hidden = frozenset(part_id for one in register.kinds.values() for part_id in one.hidden)
    # Whoever may not see a field finds nothing by it either.
    mask = register.meant(wanted.narrowing, frozenset() if sees_sensitive else hidden)
    at, held = moment(), register.held or {}
    units, rows = [], []
    for unit, above, meant in zip(register.units, register.keys_above, mask, strict=True):
        if meant and unit.kind_id == kind.id and (meets is None or meets(held[unit.id], at)):
            units.append(unit)
            rows.append(FrameUnit(identities[unit.id], unit.key, above, held[unit.id]))
    if not units:
        raise DataError("empty_frame", "No unit is like that: there is nobody to draw from. Widen the frame.")
    frame = frame_of_units(kind, list(register.kinds.values()), hidden, rows)
    return HeldFrame(frame, KEY, [], [unit.id for unit in units], [label_of(kind, unit, hidden) for unit in units])


def _fields_of(session: Session, kind: KindHere) -> Any:
    if kind.release_id is None:
        raise Refused("no_fields", f"{kind.title} has no fields yet: a rule has nothing to ask.")
    return read_script(session.get_one(Release, kind.release_id).script)


def _from_file(desk: Desk, wanted: FileFrame) -> HeldFrame:
    rows = read_table(wanted.name, read_file(desk.store.files, wanted.file))
    if wanted.key not in rows.columns:
        raise DataError("unknown_column", f"{wanted.name} has no column “{wanted.key}”.", {"column": wanted.key})
    taken = next((name for name in (*OWN, UNIT) if name in rows.columns), None)
    if taken is not None:
        raise DataError(
            "double_heading", f"{wanted.name} has a column “{taken}”, which the sample writes itself. Rename it."
        )
    left_out = []
    numbered = rows.with_row_index("", offset=2)
    without = numbered.filter(pl.col(wanted.key).is_null())
    if without.height:
        first = [f"row {row}" for row in without[""].head(FIRST)]
        left_out.append(LeftOutRows(why="no key", rows=without.height, first=first))
    keyed = rows.filter(pl.col(wanted.key).is_not_null())
    unique = keyed.unique(subset=[wanted.key], keep="first", maintain_order=True)
    if unique.height < keyed.height:
        twice = keyed.filter(pl.col(wanted.key).is_duplicated())[wanted.key].unique(maintain_order=True)
        left_out.append(LeftOutRows(why="twice", rows=keyed.height - unique.height, first=twice.head(FIRST).to_list()))
    if unique.is_empty():
        raise DataError("empty_frame", f"No row of {wanted.name} has a key: there is nobody to draw from.")
    return HeldFrame(unique, wanted.key, left_out, [], [])
