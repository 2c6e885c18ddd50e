"""Links: questionnaires answered in a browser, whom they are sent to, and who began."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, now


class Link(Base):
    """`entry` is who may answer: "open" whoever has the address, "personal" its addressees, each once, "signed in" the
    study's own people, as often as they like.

    `secret` is in the address of those that are not personal. Nobody begins after `closes_at`, once `most` have answered
    (None for any number), or once somebody has closed it. `once` asks a browser that has answered no second time.
    `texts` are LinkTexts (core/fieldwork/links.py) by language. `version` counts changes.
    """

    __tablename__ = "link"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    questionnaire_id: Mapped[int] = mapped_column(ForeignKey("questionnaire.id"))
    title: Mapped[str] = mapped_column(String(128))
    entry: Mapped[str] = mapped_column(String(16))
    secret: Mapped[str] = mapped_column(String(64), unique=True)
    closes_at: Mapped[datetime | None]
    most: Mapped[int | None]
    once: Mapped[bool] = mapped_column(default=False)
    texts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    closed_at: Mapped[datetime | None]


class Addressee(Base):
    """Whom a personal link is for. Its `secret` is kept as it is, because every reminder carries the same address.

    `trouble` says why the last letter could not be sent, "" where it was. `interview_uuid` is what was answered.
    """

    __tablename__ = "addressee"
    __table_args__ = (UniqueConstraint("link_id", "email"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    link_id: Mapped[int] = mapped_column(ForeignKey("link.id"), index=True)
    name: Mapped[str] = mapped_column(String(128))
    email: Mapped[str] = mapped_column(String(254))
    language: Mapped[str] = mapped_column(String(35), default="")
    secret: Mapped[str] = mapped_column(String(64), unique=True)
    created_at: Mapped[datetime] = mapped_column(default=now)
    sent_at: Mapped[datetime | None]
    reminded_at: Mapped[datetime | None]
    reminders: Mapped[int] = mapped_column(default=0)
    trouble: Mapped[str] = mapped_column(String(200), default="")
    answered_at: Mapped[datetime | None]
    interview_uuid: Mapped[str | None] = mapped_column(String(36))
    withdrawn_at: Mapped[datetime | None]


class Answering(Base):
    """An interview that was begun through a link; `browser_hash` is that of the mark its browser keeps."""

    __tablename__ = "answering"
    __table_args__ = (UniqueConstraint("link_id", "uuid"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    link_id: Mapped[int] = mapped_column(ForeignKey("link.id"), index=True)
    addressee_id: Mapped[int | None] = mapped_column(ForeignKey("addressee.id"), index=True)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    uuid: Mapped[str] = mapped_column(String(36))
    browser_hash: Mapped[str] = mapped_column(String(64), default="", index=True)
    begun_at: Mapped[datetime] = mapped_column(default=now)
    answered_at: Mapped[datetime | None]
