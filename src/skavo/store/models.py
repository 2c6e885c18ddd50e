"""The tables of the database."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, ClassVar
from uuid import uuid4

from sqlalchemy import JSON, ForeignKey, Index, LargeBinary, String, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship
from sqlalchemy.types import DateTime, TypeDecorator


def new_identity() -> str:
    """A name that nothing else has."""
    return uuid4().hex


def now() -> datetime:
    """The present moment in UTC."""
    return datetime.now(UTC)


class Moment(TypeDecorator[datetime]):
    """A moment kept in UTC and given back with its offset, which SQLite alone would drop."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Any) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Any) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    type_annotation_map: ClassVar[dict[Any, Any]] = {dict[str, Any]: JSON, list[Any]: JSON, datetime: Moment}


class User(Base):
    """A person with a sign-in; `role` is one of web.permissions.ROLES."""

    __tablename__ = "user"
    id: Mapped[int] = mapped_column(primary_key=True)
    login: Mapped[str] = mapped_column(String(64), unique=True)
    name: Mapped[str] = mapped_column(String(128))
    role: Mapped[str] = mapped_column(String(32))
    password_hash: Mapped[str] = mapped_column(String(256))
    last_seen: Mapped[datetime | None]


class Study(Base):
    __tablename__ = "study"
    id: Mapped[int] = mapped_column(primary_key=True)
    title: Mapped[str] = mapped_column(String(200))
    purpose: Mapped[str] = mapped_column(Text, default="")
    population: Mapped[str] = mapped_column(Text, default="")
    time_zone: Mapped[str] = mapped_column(String(64), default="UTC")
    strips_location: Mapped[bool] = mapped_column(default=False)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Questionnaire(Base):
    """`script` is the draft; `version` counts its changes, so that two writers cannot overwrite each other.

    `tests` are its test interviews: {name, answers, earlier, visits, outcome}.
    """

    __tablename__ = "questionnaire"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    script: Mapped[dict[str, Any]]
    version: Mapped[int] = mapped_column(default=1)
    changed_at: Mapped[datetime] = mapped_column(default=now)
    tests: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    study: Mapped[Study] = relationship()


class Release(Base):
    """Frozen: the compiled questionnaire, numbered.

    `identity` is its own for ever; `hash` is that of its content, which another release may have as well.
    """

    __tablename__ = "release"
    __table_args__ = (UniqueConstraint("questionnaire_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    number: Mapped[int]
    identity: Mapped[str] = mapped_column(String(32), unique=True, default=new_identity)
    hash: Mapped[str] = mapped_column(String(64), index=True)
    # Large: read only where they are asked for.
    compiled: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    script: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    remark: Mapped[str] = mapped_column(Text, default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128), default="")
    questionnaire: Mapped[Questionnaire] = relationship()


class PairingCode(Base):
    """A one-time code that turns a phone into a device of the study; only its hash is kept."""

    __tablename__ = "pairing_code"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    code_hash: Mapped[str] = mapped_column(String(64), unique=True)
    enumerator: Mapped[str] = mapped_column(String(128))
    created_at: Mapped[datetime] = mapped_column(default=now)
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]


class Device(Base):
    __tablename__ = "device"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(128))
    enumerator: Mapped[str] = mapped_column(String(128))
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    paired_at: Mapped[datetime] = mapped_column(default=now)
    last_heard: Mapped[datetime | None]
    carries: Mapped[dict[str, Any]] = mapped_column(default=dict)
    cut_off_at: Mapped[datetime | None]


class Interview(Base):
    """An interview as its counting revision gives it; what the devices sent lies in its revisions.

    `problem` names why it is not laid out and so not in the data set, "" where it is; then questionnaire and release
    may be unknown. `flags` are doubts about its moments and texts. `laid_by` is the version of what derived it,
    `laid_at` rises with every time it is laid out. `waiting` says that a revision waits for a decision.
    """

    __tablename__ = "interview"
    __table_args__ = (
        UniqueConstraint("study_id", "number"),
        UniqueConstraint("study_id", "uuid"),
        Index("ix_interview_counts", "study_id", "practice", "state", "enumerator", "read_at"),
        Index("ix_interview_arrivals", "study_id", "practice", "arrived_at"),
        Index("ix_interview_laid", "questionnaire_id", "laid_at"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    questionnaire_id: Mapped[int | None] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    release_id: Mapped[int | None] = mapped_column(ForeignKey("release.id"), index=True)
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"), index=True)
    uuid: Mapped[str] = mapped_column(String(36), index=True)
    number: Mapped[int]
    hash: Mapped[str] = mapped_column(String(64))
    counting: Mapped[int] = mapped_column(default=1)
    revisions: Mapped[int] = mapped_column(default=1)
    waiting: Mapped[bool] = mapped_column(default=False)
    problem: Mapped[str] = mapped_column(String(40), default="", index=True)
    problem_at: Mapped[str] = mapped_column(String(400), default="")
    laid_by: Mapped[int] = mapped_column(default=0, index=True)
    laid_at: Mapped[int] = mapped_column(default=0)
    flags: Mapped[list[Any]] = mapped_column(default=list)
    hard_findings: Mapped[int] = mapped_column(default=0)
    soft_findings: Mapped[int] = mapped_column(default=0)
    asked: Mapped[int] = mapped_column(default=0)
    dont_know: Mapped[int] = mapped_column(default=0)
    refused: Mapped[int] = mapped_column(default=0)
    differs: Mapped[bool] = mapped_column(default=False)
    state: Mapped[str] = mapped_column(String(16), default="arrived", index=True)
    practice: Mapped[bool] = mapped_column(default=False)
    enumerator: Mapped[str] = mapped_column(String(128), index=True)
    device_name: Mapped[str] = mapped_column(String(128), default="")
    language: Mapped[str] = mapped_column(String(35), default="")
    started_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None]
    minutes: Mapped[float | None]
    arrived_at: Mapped[datetime] = mapped_column(default=now, index=True)
    read_at: Mapped[datetime | None]
    # Last, so that lists are read without walking through them.
    findings: Mapped[list[Any]] = mapped_column(default=list)
    laid_out: Mapped[dict[str, Any]] = mapped_column(default=dict)
    release: Mapped[Release | None] = relationship()

    @property
    def key(self) -> str:
        """The short name people use for it."""
        return f"{self.number:04d}"


class Revision(Base):
    """An interview as it was handed in once. `raw` is what came, byte for byte, and never changes.

    `basis` is the hash of the revision that was corrected, "" where it was begun afresh; `waits` names why it does
    not count until somebody has decided, "" once that is done.
    """

    __tablename__ = "revision"
    __table_args__ = (UniqueConstraint("interview_id", "hash"), UniqueConstraint("interview_id", "number"))
    id: Mapped[int] = mapped_column(primary_key=True)
    interview_id: Mapped[int] = mapped_column(ForeignKey("interview.id"), index=True)
    number: Mapped[int]
    hash: Mapped[str] = mapped_column(String(64))
    basis: Mapped[str] = mapped_column(String(64), default="")
    waits: Mapped[str] = mapped_column(String(40), default="")
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    by: Mapped[str] = mapped_column(String(128), default="")
    arrived_at: Mapped[datetime] = mapped_column(default=now)
    raw: Mapped[bytes] = mapped_column(LargeBinary)


class StoredFile(Base):
    """A file that an interview refers to; its content lies in the store's folder under its hash.

    `kind` is that of the question, `type` what its content shows it to be.
    """

    __tablename__ = "file"
    __table_args__ = (UniqueConstraint("study_id", "interview_uuid", "hash"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    interview_uuid: Mapped[str] = mapped_column(String(36), index=True)
    hash: Mapped[str] = mapped_column(String(64), index=True)
    bytes: Mapped[int]
    kind: Mapped[str] = mapped_column(String(32))
    type: Mapped[str] = mapped_column(String(100))
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    created_at: Mapped[datetime] = mapped_column(default=now)


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
    detail: Mapped[dict[str, Any]] = mapped_column(default=dict)


class PlanStep(Base):
    """A step of the cleaning plan; `body` is a Step of core.cleaning.plan. A removed step stays, with the date."""

    __tablename__ = "plan_step"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    body: Mapped[dict[str, Any]]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    removed_at: Mapped[datetime | None]


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
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))


class SavedTable(Base):
    __tablename__ = "saved_table"
    id: Mapped[int] = mapped_column(primary_key=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    request: Mapped[dict[str, Any]]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))


class Job(Base):
    """Long work: `progress` from 0 to 1; `result` is what it made, `problem` why it could not."""

    __tablename__ = "job"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    kind: Mapped[str] = mapped_column(String(32))
    order: Mapped[dict[str, Any]]
    state: Mapped[str] = mapped_column(String(16), default="waiting")
    progress: Mapped[float] = mapped_column(default=0.0)
    saying: Mapped[str] = mapped_column(String(200), default="")
    result: Mapped[dict[str, Any] | None]
    problem: Mapped[str] = mapped_column(Text, default="")
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    ended_at: Mapped[datetime | None]
    tries: Mapped[int] = mapped_column(default=0)
