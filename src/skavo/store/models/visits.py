"""Visits: whom a list of them visits, who goes, and every attempt that was made."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, new_identity, now


class VisitList(Base):
    """Visits made for one purpose: with `questionnaire_id` somebody is asked, by the AttemptRules `rules` of core.visits.

    `sample_id` is the sample whose units they visit, None where they come from the register without one. `due` is the
    last day, in ISO 8601, "" where none was said. A `closed_at` list is on no phone any more.
    """

    __tablename__ = "visit_list"
    __table_args__ = (UniqueConstraint("study_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"))
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("sample.id"))
    name: Mapped[str] = mapped_column(String(64))
    rules: Mapped[dict[str, Any]]
    due: Mapped[str] = mapped_column(String(10), default="")
    closed_at: Mapped[datetime | None]
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class Visit(Base):
    """One unit to be visited by a person, None while it is given to nobody. `unit_id` is the one of the register, None
    where the sample came from a file; `key`, `label`, `area` (what it lies in) and place are as they were when it was made.

    What follows from its attempts is kept beside them: the `outcome` that it counts as ("" before the first), where it is
    `standing` (core.visits.attempts), how often it was `tried`, when last, and the appointment that was made last.
    """

    __tablename__ = "visit"
    __table_args__ = (
        Index("ix_visit_of_list", "list_id", "standing", "person_id"),
        Index("ix_visit_of_person", "study_id", "person_id"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"))
    list_id: Mapped[int] = mapped_column(ForeignKey("visit_list.id"))
    identity: Mapped[str] = mapped_column(String(32), unique=True, default=new_identity)
    unit_id: Mapped[int | None] = mapped_column(ForeignKey("unit.id"), index=True)
    sample_unit_id: Mapped[int | None] = mapped_column(ForeignKey("sample_unit.id"))
    key: Mapped[str] = mapped_column(String(64))
    label: Mapped[str] = mapped_column(String(200), default="")
    area: Mapped[str] = mapped_column(String(200), default="")
    latitude: Mapped[float | None]
    longitude: Mapped[float | None]
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    reserve: Mapped[bool] = mapped_column(default=False)
    remark: Mapped[str] = mapped_column(Text, default="")
    outcome: Mapped[str] = mapped_column(String(32), default="")
    standing: Mapped[str] = mapped_column(String(16), default="open")
    tried: Mapped[int] = mapped_column(default=0)
    last_at: Mapped[datetime | None]
    appointment: Mapped[datetime | None]


class VisitAttempt(Base):
    """One attempt, append-only: whoever took one back is named in `taken_back`, {by, at, why}.

    `identity` is a UUID that the phone gave it. `at` is when it ended, corrected where the phone's clock was off;
    `device_id` is None where somebody at the desk entered it. `interview_uuid` names the interview it ended with, ""
    where there was none.
    """

    __tablename__ = "visit_attempt"
    __table_args__ = (UniqueConstraint("study_id", "identity"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"))
    visit_id: Mapped[int] = mapped_column(ForeignKey("visit.id"), index=True)
    identity: Mapped[str] = mapped_column(String(36))
    outcome: Mapped[str] = mapped_column(String(32))
    at: Mapped[datetime]
    appointment: Mapped[datetime | None]
    remark: Mapped[str] = mapped_column(Text, default="")
    interview_uuid: Mapped[str] = mapped_column(String(36), default="")
    latitude: Mapped[float | None]
    longitude: Mapped[float | None]
    accuracy: Mapped[float | None]
    by: Mapped[str] = mapped_column(String(128))
    by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    device_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    arrived_at: Mapped[datetime] = mapped_column(default=now)
    taken_back: Mapped[dict[str, Any] | None]
