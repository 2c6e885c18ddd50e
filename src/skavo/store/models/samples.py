"""Samples: the frame that one was drawn from, how, and everybody who was drawn."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, now


class Sample(Base):
    """A sample as it was drawn: from the frame `frame_hash` in the store, a .csv file of `frame_count` rows, by `plan`
    (core.sampling.plan). `source` says what the frame was made of; `told` is what a reader is told of the draw: strata,
    what was left out of the frame, how many were certain."""

    __tablename__ = "sample"
    __table_args__ = (UniqueConstraint("study_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(64))
    source: Mapped[dict[str, Any]]
    plan: Mapped[dict[str, Any]]
    frame_hash: Mapped[str] = mapped_column(String(64))
    frame_count: Mapped[int]
    drawn: Mapped[int]
    told: Mapped[dict[str, Any]]
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class SampleUnit(Base):
    """One that was drawn, or stands by. `unit_id` is the unit of the register, None where the frame came from a file;
    `place` is its row in the frame, from 0, `rank` its order within its stratum or cluster."""

    __tablename__ = "sample_unit"
    __table_args__ = (UniqueConstraint("sample_id", "place"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    sample_id: Mapped[int] = mapped_column(ForeignKey("sample.id"), index=True)
    unit_id: Mapped[int | None] = mapped_column(ForeignKey("unit.id"), index=True)
    key: Mapped[str] = mapped_column(String(64))
    label: Mapped[str] = mapped_column(String(200), default="")
    place: Mapped[int]
    stratum: Mapped[str] = mapped_column(String(200), default="")
    cluster: Mapped[str] = mapped_column(String(200), default="")
    probability: Mapped[float]
    rank: Mapped[int]
    reserve: Mapped[bool] = mapped_column(default=False)
