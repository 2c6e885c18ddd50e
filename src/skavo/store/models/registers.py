"""The register of a study: kinds of unit, units, and everything that happened to them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, String, Text, UniqueConstraint
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
