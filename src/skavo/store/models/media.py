"""The media shelf of a study: pictures, sounds and films that its questionnaires show."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import Float, ForeignKey, Index, String, text
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, now


class ShelfFile(Base):
    """A file of a shelf. One that is replaced or removed stays as a row with `removed_at`: releases may hold it still.

    `hash` names the file as it was brought in, `phone_hash` as phones get it; `said` is what it shows in words, by
    language. `width` and `height` are pixels, `seconds` a length, each where there is one.
    """

    __tablename__ = "shelf_file"
    __table_args__ = (
        Index("uq_shelf_file", "study_id", "name", unique=True, sqlite_where=text("removed_at IS NULL")),
        Index("ix_shelf_file_phone_hash", "study_id", "phone_hash"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"))
    name: Mapped[str] = mapped_column(String(120))
    hash: Mapped[str] = mapped_column(String(64))
    type: Mapped[str] = mapped_column(String(40))
    bytes: Mapped[int]
    phone_hash: Mapped[str] = mapped_column(String(64))
    phone_type: Mapped[str] = mapped_column(String(40))
    phone_bytes: Mapped[int]
    width: Mapped[int | None]
    height: Mapped[int | None]
    seconds: Mapped[float | None] = mapped_column(Float)
    said: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    removed_at: Mapped[datetime | None]
