"""What the desk did: decisions, steps, tables, work in the background."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, now

# The position of what was added and not moved yet: behind everything else.
LAST = 1_000_000


class Counter(Base):
    """A number that only rises: with every change of what `name` stands for."""

    __tablename__ = "counter"
    name: Mapped[str] = mapped_column(String(64), primary_key=True)
    value: Mapped[int]


class Event(Base):
    """What happened, append-only; the logbook is read from here."""

    __tablename__ = "event"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    interview_id: Mapped[int | None] = mapped_column(ForeignKey("interview.id"), index=True)
    kind: Mapped[str] = mapped_column(String(32))
    at: Mapped[datetime] = mapped_column(default=now, index=True)
    by: Mapped[str] = mapped_column(String(128))
    by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    detail: Mapped[dict[str, Any]] = mapped_column(default=dict)


class Access(Base):
    """That somebody saw sensitive answers or took something out: `what` is one of interview, raw, file, extract."""

    __tablename__ = "access"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"), index=True)
    name: Mapped[str] = mapped_column(String(128))
    at: Mapped[datetime] = mapped_column(default=now, index=True)
    what: Mapped[str] = mapped_column(String(16))
    interview_id: Mapped[int | None] = mapped_column(ForeignKey("interview.id"), index=True)
    detail: Mapped[dict[str, Any]] = mapped_column(default=dict)


class PlanStep(Base):
    """A step of the cleaning plan; `body` is a step of core.cleaning.steps. A removed step stays, with the date.

    A step that is `off` keeps its place and does nothing. Steps go by `position`, those of the same by their identity.
    """

    __tablename__ = "plan_step"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    body: Mapped[dict[str, Any]]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    removed_at: Mapped[datetime | None]
    position: Mapped[int] = mapped_column(default=LAST, server_default=str(LAST))
    off: Mapped[bool] = mapped_column(default=False, server_default="0")
    remark: Mapped[str] = mapped_column(Text, default="", server_default="")


class PlanState(Base):
    """The plan as it was after an act, so that acts can be undone and two states compared.

    `entries` are {step, off, remark} in order, `act` is {what, step}. A state is *done*, *undone*, or *dropped*: undone, and
    something else was done instead.
    """

    __tablename__ = "plan_state"
    __table_args__ = (UniqueConstraint("questionnaire_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    number: Mapped[int]
    entries: Mapped[list[Any]]
    act: Mapped[dict[str, Any]]
    standing: Mapped[str] = mapped_column(String(16), default="done")
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class OutsideTable(Base):
    """A table from elsewhere, with the card that says where it is from; its cells are a file named by its hash."""

    __tablename__ = "outside_table"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    name: Mapped[str] = mapped_column(String(64))
    file_name: Mapped[str] = mapped_column(String(200))
    file_hash: Mapped[str] = mapped_column(String(64))
    columns: Mapped[list[Any]]
    rows: Mapped[int]
    card: Mapped[dict[str, Any]] = mapped_column(default=dict)
    joined: Mapped[dict[str, Any] | None]
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class SavedTable(Base):
    __tablename__ = "saved_table"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    request: Mapped[dict[str, Any]]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class Job(Base):
    """Long work: `progress` from 0 to 1; `result` is what it made, `problem` why it could not.

    `study_id` is None for the server's own work; it is not begun before `not_before`.
    """

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int | None] = mapped_column(ForeignKey("study.id"), index=True)
    kind: Mapped[str] = mapped_column(String(32))
    order: Mapped[dict[str, Any]]
    state: Mapped[str] = mapped_column(String(16), default="waiting")
    progress: Mapped[float] = mapped_column(default=0.0)
    saying: Mapped[str] = mapped_column(String(200), default="")
    result: Mapped[dict[str, Any] | None]
    problem: Mapped[str] = mapped_column(Text, default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    ended_at: Mapped[datetime | None]
    tries: Mapped[int] = mapped_column(default=0)
    not_before: Mapped[datetime | None]
