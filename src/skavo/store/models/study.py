"""Studies, their questionnaires and releases."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from skavo.store.models.base import Base, new_identity, now


class Study(Base):
    """`tells_contact` lets e-mail and phone of the enumerators go along with their interviews as paradata.

    `standard` says how its variables are called and what is measured in (core/questionnaire/hints/standard.py).
    `two_sign` lets a release out to phones only once a second person has signed it. `rounds` are {name, begins} by their
    first day (core/fieldwork/rounds.py), `outcomes` how attempts at a visit end (core/visits/outcomes.py), none where the
    study has those it began with.
    """

    __tablename__ = "study"
    id: Mapped[int] = mapped_column(primary_key=True)
    title: Mapped[str] = mapped_column(String(200))
    purpose: Mapped[str] = mapped_column(Text, default="")
    population: Mapped[str] = mapped_column(Text, default="")
    time_zone: Mapped[str] = mapped_column(String(64), default="UTC")
    strips_location: Mapped[bool] = mapped_column(default=False)
    tells_contact: Mapped[bool] = mapped_column(default=False)
    two_sign: Mapped[bool] = mapped_column(default=False, server_default="0")
    standard: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    rounds: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    outcomes: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Questionnaire(Base):
    """`script` is the draft; `version` counts its changes, so that two writers cannot overwrite each other.

    `tests` are its test interviews: {name, answers, earlier, visits, outcome}; `outdated` are translations whose source
    has changed since, by key and language (core/languages/outdated.py), `set_aside` findings with reasons
    (core/questionnaire/aside.py). It `describes` interviews, or units of a register: then its lines are the fields of a kind.
    """

    __tablename__ = "questionnaire"
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    script: Mapped[dict[str, Any]]
    version: Mapped[int] = mapped_column(default=1)
    changed_at: Mapped[datetime] = mapped_column(default=now)
    tests: Mapped[list[Any]] = mapped_column(default=list, server_default="[]")
    outdated: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    set_aside: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    describes: Mapped[str] = mapped_column(String(16), default="interviews", server_default="interviews")
    study: Mapped[Study] = relationship()


class Release(Base):
    """Frozen: the compiled questionnaire, numbered.

    `identity` is its own for ever; `hash` is that of its content, which another release may have as well. One for
    `practice` makes no interview that counts. While it `awaits` a second signature it goes to no phone; `signed` is
    {at, by, by_id, remark} once there is one. `withdrawn` is {at, by, why} once no interview is to begin with it.
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
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    practice: Mapped[bool] = mapped_column(default=False, server_default="0")
    awaits: Mapped[bool] = mapped_column(default=False, server_default="0")
    signed: Mapped[dict[str, Any] | None]
    withdrawn: Mapped[dict[str, Any] | None]
    questionnaire: Mapped[Questionnaire] = relationship()


class KeptModule(Base):
    """A module that somebody of the study saved; `body` is a Module of core.modules. A removed one keeps its name."""

    __tablename__ = "module"
    __table_args__ = (UniqueConstraint("study_id", "name", name="uq_module_study_name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(64))
    body: Mapped[dict[str, Any]]
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
    removed_at: Mapped[datetime | None]
