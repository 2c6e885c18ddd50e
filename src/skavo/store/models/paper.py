"""Paper questionnaires: batches of them, keyed once or twice, and what was settled where two keyers differ."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, now


class Batch(Base):
    """Paper questionnaires that came in together; `received` is how many. Each of `twice` in a hundred is keyed twice.

    `signed` is {name, on}: the supervisor whose signature stands on the batch, and the day. `version` counts changes.
    """

    __tablename__ = "batch"
    __table_args__ = (UniqueConstraint("study_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"))
    release_id: Mapped[int] = mapped_column(ForeignKey("release.id"))
    name: Mapped[str] = mapped_column(String(64))
    language: Mapped[str] = mapped_column(String(35))
    received: Mapped[int]
    twice: Mapped[int] = mapped_column(default=100)
    signed: Mapped[dict[str, Any] | None]
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class PaperForm(Base):
    """One paper questionnaire of a batch; `number` is what stands on it, `enumerator` who held the interview.

    `uuid` is the interview that it becomes. `settled` is {path: {value, by, at}} where the two keyers differ;
    `finished_at` is when it became an interview. `version` counts changes.
    """

    __tablename__ = "paper_form"
    __table_args__ = (UniqueConstraint("batch_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    batch_id: Mapped[int] = mapped_column(ForeignKey("batch.id"), index=True)
    number: Mapped[str] = mapped_column(String(40))
    uuid: Mapped[str] = mapped_column(String(36), unique=True)
    enumerator: Mapped[str] = mapped_column(String(128), default="")
    held_on: Mapped[datetime | None]
    is_twice: Mapped[bool]
    settled: Mapped[dict[str, Any]] = mapped_column(default=dict)
    finished_at: Mapped[datetime | None]
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Keying(Base):
    """One keyer's typing of a paper form: `turn` 1 or 2; `content` is {answers, kept, fields}, and may be unfinished
    until `ended_at`. `seconds` is how long it was worked on."""

    __tablename__ = "keying"
    __table_args__ = (UniqueConstraint("form_id", "turn"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    form_id: Mapped[int] = mapped_column(ForeignKey("paper_form.id"), index=True)
    turn: Mapped[int]
    by: Mapped[str] = mapped_column(String(128))
    by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"), index=True)
    content: Mapped[dict[str, Any]] = mapped_column(default=dict)
    seconds: Mapped[int] = mapped_column(default=0)
    begun_at: Mapped[datetime] = mapped_column(default=now)
    ended_at: Mapped[datetime | None]
