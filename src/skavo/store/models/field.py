"""What devices handed in."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, LargeBinary, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from skavo.store.models.base import Base, now
from skavo.store.models.study import Release


class Interview(Base):
    """An interview as its counting revision gives it; what the devices sent lies in its revisions.

    `problem` names why it is not laid out and so not in the data set, "" where it is; then questionnaire and release
    may be unknown. `person_id` is whose phone handed it in, `enumerator` their name as it was then. `flags` are doubts
    about its moments and texts. `laid_by` is the version of what derived it, `laid_at` rises with every time it is laid
    out. `origin` is the way it came: one of phone, link, paper;
    `visit_id` and `unit_id` are the visit it was made on and the unit it is about, as far as it says so;
    `exercise` is {name, differences} of one that was led for practice after a test interview. `waiting` says that a revision waits for a decision. `version` counts decisions, so that two people cannot
    overwrite each other's.
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
    version: Mapped[int] = mapped_column(default=1)
    practice: Mapped[bool] = mapped_column(default=False)
    enumerator: Mapped[str] = mapped_column(String(128), index=True)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"), index=True)
    device_name: Mapped[str] = mapped_column(String(128), default="")
    origin: Mapped[str] = mapped_column(String(8), default="phone", server_default="phone")
    exercise: Mapped[dict[str, Any] | None]
    link_id: Mapped[int | None] = mapped_column(ForeignKey("link.id"), index=True)
    visit_id: Mapped[int | None] = mapped_column(ForeignKey("visit.id"), index=True)
    unit_id: Mapped[int | None] = mapped_column(ForeignKey("unit.id"), index=True)
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
    by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
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
