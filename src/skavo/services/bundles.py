"""Reading in what a phone saved to a file: the same hand-in, by a person's hand."""

from __future__ import annotations

import base64
import json
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, NamedTuple

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.formats.bundle import RECEIPTS, Bundle, InHand, Seal, Unseal, open_bundle
from skavo.services.desk import Desk
from skavo.services.finishing import finish
from skavo.services.refusals import Refused
from skavo.store.database import Store
from skavo.store.files import Upload
from skavo.store.filing import tell_file
from skavo.store.handin import Receipt, from_device, hand_in, read_arrival
from skavo.store.models import Device, Event, Interview, Membership, StudyKey, now
from skavo.store.sealing import check_of, decoded, fingerprint, seal, unseal, unwrap
from skavo.store.secrets import hash_of, new_secret

_MOST_FILE_BYTES = 2 << 30


class ReceiptsOut(BaseModel):
    """What a phone without a network is brought back: `sealed` is {receipts: [{uuid, hash, number}]} under its own key
    (base64), so that it believes nobody but the office."""

    format: str
    device: str
    sealed: str


class BundleOut(BaseModel):
    """What became of each interview of a phone's file: how many arrived, were known already, came as a revision.

    `in_hand` of them were not packed yet, and come again once they are. `receipts` is None for a file that is not sealed.
    """

    device: str
    enumerator: str
    arrived: int
    known: int
    revisions: int
    not_laid_out: int
    files: int
    in_hand: int
    receipts: ReceiptsOut | None


# Raises Refused where a device's file may not be read in by whoever brings it.
_Allow = Callable[[Session, Device, bool], None]


class _Kept(NamedTuple):
    """A file of the bundle that is on the disk now."""

    interview_uuid: str
    kind: str
    hash: str


def read_in_bundle(desk: Desk, study_id: int, sent: Path) -> BundleOut:
    """Take in a phone's file that was brought to the desk."""

    def allow(session: Session, device: Device, by_key: bool) -> None:
        _check_team(desk, session, device)

    return _read_in(desk.store, study_id, sent, allow, partial(desk.event, study_id))


def carry_in_bundle(store: Store, carrier_id: int, sent: Path) -> BundleOut:
    """Take in a phone's file that another phone of the study brought along.

    The other one sees counts only, and speaks for nobody: only what is sealed under the key of a phone that the office
    knows is believed.
    """
    with store.reading() as session:
        carrier = session.get_one(Device, carrier_id)
        study_id, name, person_id = carrier.study_id, carrier.enumerator, carrier.person_id

    def allow(session: Session, device: Device, by_key: bool) -> None:
        if not by_key:
            raise Refused(
                "unknown_phone",
                "The office does not know the phone that this file is of. Bring the file to the office, to be read in there.",
            )

    def event(kind: str, /, **detail: Any) -> Event:
        return Event(study_id=study_id, kind=kind, by=name, by_id=person_id, detail=detail)

    return _read_in(store, study_id, sent, allow, event)


def _read_in(store: Store, study_id: int, sent: Path, allow: _Allow, event: Callable[..., Event]) -> BundleOut:
    """Take in a phone's file; it is looked through, and computed, before anything is kept."""
    bundle = open_bundle(sent)
    with bundle.packed:
        with store.reading() as session:
            secret = None if bundle.seal is None else _secret(session, study_id, bundle.seal)
            device, by_key = _device(session, study_id, bundle, secret)
            allow(session, device, by_key)
            held = list(bundle.interviews(_opener(secret)))
            documents = [
                (uuid, found if isinstance(found, bytes) else finish(session, study_id, device, found))
                for uuid, found in held
            ]
            arrivals = [read_arrival(session, from_device(device), uuid, raw) for uuid, raw in documents]
        files = _keep_files(store, bundle, _opener(secret))
    with store.session() as session:
        device = session.merge(device)
        session.flush()
        receipts = [hand_in(session, from_device(device), arrival) for arrival in arrivals]
        for file in files:
            tell_file(
                session, store.files, study_id=study_id, interview_uuid=file.interview_uuid, digest=file.hash,
                kind=file.kind, device_id=device.id,
            )  # fmt: skip
        session.add(event("bundle read in", device=bundle.device, interviews=len(receipts)))
        told = _told(session, device, bundle, receipts, len(files))
    in_hand = {uuid for uuid, found in held if isinstance(found, InHand)}
    told.in_hand = len(in_hand)
    if secret is not None and bundle.seal is not None:
        told.receipts = _sealed_receipts(bundle, secret, bundle.seal, [r for r in receipts if r.uuid not in in_hand])
    return told


def _secret(session: Session, study_id: int, seal: Seal) -> bytes:
    """The key of a sealed file; raise Refused where it was sealed for another study."""
    if not seal.wrapped and seal.plain:
        return decoded(seal.plain)
    key = session.scalar(select(StudyKey).where(StudyKey.study_id == study_id))
    if key is None or fingerprint(key.public) != seal.study_key:
        raise Refused("other_study", "This file is of a phone of another study. Read it in there.")
    return unwrap(key, seal.wrapped)


def _opener(secret: bytes | None) -> Unseal | None:
    return None if secret is None else lambda sealed: unseal(secret, sealed)


def _sealed_receipts(bundle: Bundle, secret: bytes, opened: Seal, receipts: list[Receipt]) -> ReceiptsOut:
    told = [{"uuid": receipt.uuid, "hash": receipt.hash, "number": receipt.number} for receipt in receipts]
    sealed = seal(secret, opened.generation, json.dumps({"receipts": told}).encode())
    return ReceiptsOut(
        format=RECEIPTS.newest, device=bundle.device, sealed=base64.b64encode(sealed).decode()
    )  # fmt: skip


def _keep_files(store: Store, bundle: Bundle, opener: Unseal | None) -> list[_Kept]:
    kept = []
    for uuid, kind, digest, content in bundle.files(opener):
        upload = Upload(store.files, "bundle", digest)
        if not upload.is_whole():
            upload.forget()
            upload.append(0, content, _MOST_FILE_BYTES)
            upload.finish()
        kept.append(_Kept(uuid, kind, digest))
    return kept


def _check_team(desk: Desk, session: Session, device: Device) -> None:
    theirs = (Membership.study_id == device.study_id, Membership.person_id == device.person_id)
    if desk.teams is not None and session.scalar(select(Membership.team_id).where(*theirs)) not in desk.teams:
        raise Refused("not_your_team", f"This file is of {device.enumerator}, who is in none of your teams.")


def _device(session: Session, study_id: int, bundle: Bundle, secret: bytes | None) -> tuple[Device, bool]:
    """The device that saved the file, and whether it is known by its key; else by its name, which proves nothing.

    One that is not known any more may do nothing else.
    """
    if secret is not None:
        same_key = select(Device).where(Device.study_id == study_id, Device.key_check == check_of(secret))
        by_key = session.scalar(same_key)
        if by_key is not None:
            return by_key, True
    of_study = select(Device).where(
        Device.study_id == study_id, Device.name == bundle.device, Device.enumerator == bundle.enumerator
    )
    known = session.scalars(of_study.order_by(Device.id.desc())).first()
    named = select(Membership.person_id).where(Membership.study_id == study_id, Membership.name == bundle.enumerator)
    unknown = Device(
        study_id=study_id, name=bundle.device[:128] or "a file", enumerator=bundle.enumerator[:128] or "unknown",
        person_id=session.scalar(named), token_hash=hash_of(new_secret()), cut_off_at=now(),
    )  # fmt: skip
    return known or unknown, False


def _told(session: Session, device: Device, bundle: Bundle, receipts: list[Receipt], files: int) -> BundleOut:
    outcomes = [receipt.outcome for receipt in receipts]
    failed = select(Interview.id).where(
        Interview.study_id == device.study_id, Interview.uuid.in_([r.uuid for r in receipts]), Interview.problem != ""
    )
    return BundleOut(
        device=bundle.device, enumerator=bundle.enumerator, arrived=outcomes.count("arrived"),
        known=outcomes.count("known"), revisions=outcomes.count("revision"),
        not_laid_out=len(session.scalars(failed).all()), files=files, in_hand=0, receipts=None,
    )  # fmt: skip
