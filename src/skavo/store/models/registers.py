"""The register of a study: kinds of unit, units, and everything that happened to them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, LargeBinary, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, new_identity, now


class UnitKind(Base):
    """A kind of unit: its fields are the lines of a questionnaire that `describes` units, `settings` a KindSettings of
    core.register. Kinds stand in the order of `position`."""

    __tablename__ = "unit_kind"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), unique=True)
    settings: Mapped[dict[str, Any]]
    position: Mapped[int] = mapped_column(default=0)
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class Unit(Base):
    """A unit as it is now; what it was is in its events.

    `key` is the one that people use, `identity` its own for ever. `answers` are by the lasting identity of the field, in
    JSON form. What follows from them by the kind's release `release_id` is kept beside them: `derived` values, `faults`
    ({field, strength, text}), `label` (what it is called), `filled` of `asked` fields, and where it is in degrees.
    `owner_id` is the person whose own unit it is. `changed` is the study's counter of registers when it last changed.
    """

    __tablename__ = "unit"
    __table_args__ = (UniqueConstraint("kind_id", "key"), Index("ix_unit_changed", "study_id", "changed"))
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"))
    kind_id: Mapped[int] = mapped_column(ForeignKey("unit_kind.id"))
    above_id: Mapped[int | None] = mapped_column(ForeignKey("unit.id"), index=True)
    identity: Mapped[str] = mapped_column(String(32), unique=True, default=new_identity)
    key: Mapped[str] = mapped_column(String(64))
    label: Mapped[str] = mapped_column(String(200), default="")
    answers: Mapped[dict[str, Any]] = mapped_column(default=dict)
    derived: Mapped[dict[str, Any]] = mapped_column(default=dict)
    faults: Mapped[list[Any]] = mapped_column(default=list)
    filled: Mapped[int] = mapped_column(default=0)
    asked: Mapped[int] = mapped_column(default=0)
    latitude: Mapped[float | None]
    longitude: Mapped[float | None]
    release_id: Mapped[int | None] = mapped_column(ForeignKey("release.id"))
    closed_at: Mapped[datetime | None]
    closed_why: Mapped[str] = mapped_column(Text, default="")
    owner_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    changed: Mapped[int] = mapped_column(default=0)
    version: Mapped[int] = mapped_column(default=1)


class UnitEvent(Base):
    """What happened to a unit, append-only. `what` and `origin` are those of core.register.changes.

    `changes` are [before, after] by field; `detail` says more: where it moved from and to, why it was closed, the file and
    row it came from, what it was merged with, the place where it was done.
    """

    __tablename__ = "unit_event"
    __table_args__ = (Index("ix_unit_event_unit", "unit_id", "at"), Index("ix_unit_event_study", "study_id", "at"))
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"))
    unit_id: Mapped[int] = mapped_column(ForeignKey("unit.id"))
    at: Mapped[datetime] = mapped_column(default=now)
    by: Mapped[str] = mapped_column(String(128))
    by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    origin: Mapped[str] = mapped_column(String(16))
    what: Mapped[str] = mapped_column(String(16))
    changes: Mapped[dict[str, Any]] = mapped_column(default=dict)
    detail: Mapped[dict[str, Any]] = mapped_column(default=dict)


class BranchShare(Base):
    """A branch that phones carry: `unit_id` is its uppermost unit, None for the whole register. It is carried by one
    person, by the phones of a team, or, without either, by all."""

    __tablename__ = "branch_share"
    __table_args__ = (UniqueConstraint("study_id", "unit_id", "person_id", "team_id"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    unit_id: Mapped[int | None] = mapped_column(ForeignKey("unit.id"), index=True)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    team_id: Mapped[int | None] = mapped_column(ForeignKey("team.id"))
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))


class UnitChange(Base):
    """A change of a unit as it was handed in; `raw` is what came, byte for byte, and never changes.

    `uuid` is that of the document and `identity` the unit's, which may not be in the register yet. `standing` is taken,
    waits or decided; while it waits, `why` is a key of core.register.doubts.WHY and `doubts` are the fields that somebody
    has to decide, [before, present, after]. `decided` is {by, at} of who did.
    """

    __tablename__ = "unit_change"
    __table_args__ = (
        UniqueConstraint("study_id", "uuid", "hash"),
        UniqueConstraint("study_id", "number"),
        Index("ix_unit_change_standing", "study_id", "standing"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"))
    number: Mapped[int]
    uuid: Mapped[str] = mapped_column(String(36))
    hash: Mapped[str] = mapped_column(String(64))
    identity: Mapped[str] = mapped_column(String(32), index=True)
    unit_id: Mapped[int | None] = mapped_column(ForeignKey("unit.id"), index=True)
    kind_id: Mapped[int | None] = mapped_column(ForeignKey("unit_kind.id"))
    standing: Mapped[str] = mapped_column(String(16))
    why: Mapped[str] = mapped_column(String(32), default="")
    doubts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    decided: Mapped[dict[str, Any] | None]
    by: Mapped[str] = mapped_column(String(128))
    by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    made_at: Mapped[datetime]
    arrived_at: Mapped[datetime] = mapped_column(default=now)
    raw: Mapped[bytes] = mapped_column(LargeBinary)
