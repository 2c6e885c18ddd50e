"""Phones: pairing, what a device is told and tells, and what opens its storage when a PIN is forgotten."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, LargeBinary, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, now


class PairingCode(Base):
    """A one-time code that turns a phone into a device of the study; only its hash is kept.

    `replaces_id` is the device whose place the new one takes. `withdrawn_at` is when somebody took it back.
    """

    __tablename__ = "pairing_code"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    code_hash: Mapped[str] = mapped_column(String(64), unique=True)
    enumerator: Mapped[str] = mapped_column(String(128))
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    replaces_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128), default="", server_default="")
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
    withdrawn_at: Mapped[datetime | None]


class Device(Base):
    """A phone of a person; `enumerator` is their name as it was when it was paired.

    `carries` is what it told of itself at the last contact. `replaces_id` is the lost one whose place it took.
    `wipe_at` is when it was ordered to forget everything, `wiped_at` when it said that it had. `key_check` tells its
    storage key (store/sealing.py), "" where it has none; `rescue` is {public, asked, wrapped}, and {answer} once the
    office has let it in, while somebody who forgot the PIN waits.
    """

    __tablename__ = "device"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(128))
    enumerator: Mapped[str] = mapped_column(String(128))
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"), index=True)
    replaces_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    token_hash: Mapped[str] = mapped_column(String(64), unique=True)
    paired_at: Mapped[datetime] = mapped_column(default=now)
    last_heard: Mapped[datetime | None]
    carries: Mapped[dict[str, Any]] = mapped_column(default=dict)
    cut_off_at: Mapped[datetime | None]
    wipe_at: Mapped[datetime | None]
    wiped_at: Mapped[datetime | None]
    key_check: Mapped[str] = mapped_column(String(64), default="", server_default="", index=True)
    rescue: Mapped[dict[str, Any] | None]


class KeptProfile(Base):
    """A field profile (core/fieldwork/profile.py) under its name; the study's oldest one holds for teams without one.

    `version` counts changes, so that two people cannot overwrite each other's.
    """

    __tablename__ = "field_profile"
    __table_args__ = (UniqueConstraint("study_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(128))
    settings: Mapped[dict[str, Any]] = mapped_column(default=dict)
    version: Mapped[int] = mapped_column(default=1)


class StudyKey(Base):
    """The study's pair of keys; `public` is SubjectPublicKeyInfo in base64, `private` PKCS #8."""

    __tablename__ = "study_key"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), unique=True)
    public: Mapped[str] = mapped_column(String(1000))
    private: Mapped[bytes] = mapped_column(LargeBinary)
    created_at: Mapped[datetime] = mapped_column(default=now)


class LeftInterview(Base):
    """An interview in hand that somebody left at the office, for themselves to go on with on another phone.

    `content` is what the phone kept of it, `label` what it is called in lists. `taken_at` is when a phone took it up;
    it stays here until it is handed in, so that another one can go on where that phone is lost.
    """

    __tablename__ = "left_interview"
    __table_args__ = (UniqueConstraint("study_id", "uuid"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    uuid: Mapped[str] = mapped_column(String(36))
    person_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"), index=True)
    enumerator: Mapped[str] = mapped_column(String(128))
    device_id: Mapped[int] = mapped_column(ForeignKey("device.id"))
    hash: Mapped[str] = mapped_column(String(64))
    label: Mapped[str] = mapped_column(String(200), default="")
    left_at: Mapped[datetime] = mapped_column(default=now)
    taken_at: Mapped[datetime | None]
    taken_by_id: Mapped[int | None] = mapped_column(ForeignKey("device.id"))
    content: Mapped[bytes] = mapped_column(LargeBinary)
