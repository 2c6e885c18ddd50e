"""Pairing: one-time codes for one phone or for a whole team, how long they last, and which are still open."""

from __future__ import annotations

from datetime import datetime, timedelta

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from skavo.formats.qr import draw_qr
from skavo.services.desk import Desk
from skavo.services.refusals import Refused, not_found
from skavo.store.models import Device, Membership, PairingCode, now
from skavo.store.people import of_teams
from skavo.store.sealing import fingerprint, key_of
from skavo.store.secrets import hash_of, new_code, plain_code

_LEAST_MINUTES, _MOST_MINUTES = 5, 14 * 24 * 60


class PairingIn(BaseModel):
    """`member_ids` are the enumerators who will carry the phones, one code each; `replaces_id` is the lost phone whose
    place the one new one takes. `minutes` is how long the codes last."""

    model_config = ConfigDict(extra="forbid")

    member_ids: list[int] = Field(min_length=1, max_length=500)
    replaces_id: int | None = None
    minutes: int = Field(default=30, ge=_LEAST_MINUTES, le=_MOST_MINUTES)


class PairingOut(BaseModel):
    """A code, shown this once. `qr` is a picture of the address that the phone opens, as an SVG path on a grid of `size`
    modules; the address carries the code and the fingerprint of the study's key."""

    enumerator: str
    code: str
    address: str
    qr: str
    size: int
    expires_at: datetime


class OpenCodeOut(BaseModel):
    """A code that was neither used nor taken back and has not ended."""

    id: int
    enumerator: str
    created_at: datetime
    created_by: str
    expires_at: datetime


def make_codes(desk: Desk, study_id: int, wanted: PairingIn, address: str) -> list[PairingOut]:
    """One-time codes; `address` is that of the server as phones reach it, with a slash at its end."""
    expires = now() + timedelta(minutes=wanted.minutes)
    with desk.store.session() as session:
        lost = _lost(desk, session, study_id, wanted)
        mark = fingerprint(key_of(session, study_id).public)
        codes: list[PairingOut] = []
        for member in _carriers(desk, session, study_id, wanted.member_ids):
            code = new_code()
            session.add(
                PairingCode(
                    study_id=study_id, code_hash=hash_of(plain_code(code)), enumerator=member.name,
                    person_id=member.person_id, replaces_id=None if lost is None else lost.id, created_by=desk.name,
                    expires_at=expires,
                )
            )  # fmt: skip
            whole = f"{address}field/#pair={code}&key={mark}"
            qr, size = draw_qr(whole)
            codes.append(
                PairingOut(
                    enumerator=member.name, code=code, address=whole, qr=qr, size=size, expires_at=expires
                )
            )  # fmt: skip
    return codes


def _lost(desk: Desk, session: Session, study_id: int, wanted: PairingIn) -> Device | None:
    if wanted.replaces_id is None:
        return None
    lost = session.scalar(select(Device).where(*desk.reach_devices(study_id), Device.id == wanted.replaces_id))
    if lost is None:
        raise not_found("device")
    if len(wanted.member_ids) != 1:
        raise Refused("one_phone", "One phone takes the place of one lost phone. Choose who carries it.")
    return lost


def _carriers(desk: Desk, session: Session, study_id: int, ids: list[int]) -> list[Membership]:
    there = select(Membership).where(
        Membership.id.in_(ids), Membership.study_id == study_id, Membership.left_at.is_(None)
    )
    members = session.scalars(there.order_by(Membership.name)).all()
    if len(members) != len({*ids}) or any("enumerator" not in member.roles for member in members):
        raise Refused("wrong_role", "Only an enumerator of this study carries a phone. Add the person under People.")
    for member in members:
        if desk.teams is not None and member.team_id not in desk.teams:
            raise Refused("not_your_team", f"{member.name} is in none of your teams. Ask the data manager.")
    return list(members)


def open_codes(desk: Desk, study_id: int) -> list[OpenCodeOut]:
    """Those that could still be used, the one that ends first before the others."""
    with desk.store.reading() as session:
        rows = session.scalars(_open(desk, study_id).order_by(PairingCode.expires_at, PairingCode.enumerator))
        return [
            OpenCodeOut(
                id=code.id, enumerator=code.enumerator, created_at=code.created_at, created_by=code.created_by,
                expires_at=code.expires_at,
            )
            for code in rows
        ]  # fmt: skip


def withdraw_codes(desk: Desk, study_id: int, ids: list[int]) -> list[OpenCodeOut]:
    """Take codes back that nobody has used; those used or ended meanwhile stay as they are."""
    with desk.store.session() as session:
        for code in session.scalars(_open(desk, study_id).where(PairingCode.id.in_(ids))):
            code.withdrawn_at = now()
    return open_codes(desk, study_id)


def _open(desk: Desk, study_id: int) -> Select[PairingCode]:
    mine = [
        PairingCode.study_id == study_id, PairingCode.used_at.is_(None), PairingCode.withdrawn_at.is_(None),
        PairingCode.expires_at > now(),
    ]  # fmt: skip
    if desk.teams is not None:
        mine.append(of_teams(study_id, desk.teams, PairingCode.person_id, PairingCode.enumerator))
    return select(PairingCode).where(*mine)
