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
    """A table from elsewhere, with the card that says where it is from.

    `raw_hash` names the file as it came (None for those brought in before it was kept), `file_hash` its cells as texts,
    `reading` how they were found in it, `described` what each column is read as. `earlier` are the same of what stood before
    it was brought in again, the newest last.
    """

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
    raw_hash: Mapped[str | None] = mapped_column(String(64))
    reading: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    described: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    earlier: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")


class SentTable(Base):
    """A file that was sent to be brought in as an outside table of a questionnaire: nothing else in the store can be."""

    __tablename__ = "sent_table"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    file_hash: Mapped[str] = mapped_column(String(64))
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class MatchDecision(Base):
    """What somebody said of two rows that may be the same unit: `place` names ours, `ours` and `theirs` are marks of the cells
    that were compared, `shown` what stood in them, for whoever reads the list. Undone, it is kept and does not count."""

    __tablename__ = "match_decision"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    outside_id: Mapped[int] = mapped_column(ForeignKey("outside_table.id", ondelete="CASCADE"), index=True)
    place: Mapped[str] = mapped_column(String(400))
    ours: Mapped[str] = mapped_column(String(24))
    theirs: Mapped[str] = mapped_column(String(24))
    decided: Mapped[str] = mapped_column(String(8))
    shown: Mapped[dict[str, Any]]
    undone_at: Mapped[datetime | None]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class SourceCheck(Base):
    """A rule over the data set with its outside tables joined, that every row of `table` must or should keep."""

    __tablename__ = "source_check"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    table: Mapped[str] = mapped_column(String(64))
    rule: Mapped[str] = mapped_column(Text)
    strength: Mapped[str] = mapped_column(String(8))
    words: Mapped[str] = mapped_column(String(500), default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class NamedDataSet(Base):
    """A data set by its `recipe` (core.recipes.recipe), under a title.

    One that `begins` with a questionnaire holds all of its interviews, is called like it, and stays as it is. `shift` is added
    to the counters of what it is made from, so that its revision rises with its recipe as well (store.recipes).
    """

    __tablename__ = "data_set"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    begins_id: Mapped[int | None] = mapped_column(ForeignKey("questionnaire.id"), unique=True)
    title: Mapped[str] = mapped_column(String(200))
    recipe: Mapped[dict[str, Any]]
    version: Mapped[int] = mapped_column(default=1)
    shift: Mapped[int] = mapped_column(default=0)
    removed_at: Mapped[datetime | None]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class SavedTable(Base):
    __tablename__ = "saved_table"
    id: Mapped[int] = mapped_column(primary_key=True)
    data_set_id: Mapped[int] = mapped_column(ForeignKey("data_set.id"), index=True)
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
