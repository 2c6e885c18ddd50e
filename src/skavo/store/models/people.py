"""People, their memberships in studies, and the ways in: one-time links and sessions."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from skavo.store.models.base import Base, now


class Person(Base):
    """Somebody, once for the whole server. Who has no `login` cannot sign in; `email` may be that of a whole team.

    `is_administrator` makes studies and people and sees no answer by it. `password_hash` is "" until one was chosen.
    """

    __tablename__ = "person"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(128))
    login: Mapped[str | None] = mapped_column(String(64), unique=True)
    email: Mapped[str] = mapped_column(String(254), default="")
    phone: Mapped[str] = mapped_column(String(40), default="")
    language: Mapped[str] = mapped_column(String(35), default="")
    password_hash: Mapped[str] = mapped_column(String(256), default="")
    is_administrator: Mapped[bool] = mapped_column(default=False)
    last_seen: Mapped[datetime | None]
    created_at: Mapped[datetime] = mapped_column(default=now)


class Team(Base):
    """`profile_id` is the field profile that its phones obey, None for the ordinary one."""

    __tablename__ = "team"
    __table_args__ = (UniqueConstraint("study_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(128))
    profile_id: Mapped[int | None] = mapped_column(ForeignKey("field_profile.id"))


class Membership(Base):
    """A person in a study, under the `name` that only they have there. `roles` are some of core.permissions.ROLES.

    `team_id` is the team they work in, `supervises` those that a supervisor is limited to, none for the whole study. Who
    has left may do nothing any more; what they did keeps their name. `version` counts changes, so that two people cannot
    overwrite each other.
    """

    __tablename__ = "membership"
    __table_args__ = (UniqueConstraint("study_id", "person_id"), UniqueConstraint("study_id", "name"))
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), index=True)
    name: Mapped[str] = mapped_column(String(128))
    roles: Mapped[list[Any]]
    team_id: Mapped[int | None] = mapped_column(ForeignKey("team.id"), index=True)
    supervises: Mapped[list[Any]] = mapped_column(default=list)
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    left_at: Mapped[datetime | None]
    person: Mapped[Person] = relationship()


class OneTimeLink(Base):
    """A link that lets a person choose a passphrase, once; only the hash of its secret is kept."""

    __tablename__ = "one_time_link"
    id: Mapped[int] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), index=True)
    study_id: Mapped[int | None] = mapped_column(ForeignKey("study.id"))
    kind: Mapped[str] = mapped_column(String(16))
    secret_hash: Mapped[str] = mapped_column(String(64), unique=True)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128), default="")
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]


class SignedInSession(Base):
    """A browser in which somebody is signed in; `secret_hash` is that of what its cookie holds."""

    __tablename__ = "signed_in_session"
    id: Mapped[int] = mapped_column(primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("person.id"), index=True)
    secret_hash: Mapped[str] = mapped_column(String(64), unique=True)
    browser: Mapped[str] = mapped_column(String(200), default="")
    address: Mapped[str] = mapped_column(String(64), default="")
    began_at: Mapped[datetime] = mapped_column(default=now)
    used_at: Mapped[datetime] = mapped_column(default=now)
    confirmed_at: Mapped[datetime] = mapped_column(default=now)
    ended_at: Mapped[datetime | None]
