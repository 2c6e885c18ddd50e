"""Reading in what a phone saved to a file: the same hand-in, by a person's hand."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.formats.bundle import Bundle, open_bundle
from skavo.services.desk import Desk
from skavo.services.refusals import Refused
from skavo.store.database import Store
from skavo.store.files import Upload
from skavo.store.filing import tell_file
from skavo.store.handin import Receipt, hand_in, read_arrival
from skavo.store.models import Device, Interview, Membership, now
from skavo.store.secrets import hash_of, new_secret

_MOST_FILE_BYTES = 2 << 30


class BundleOut(BaseModel):
    """What became of each interview of a phone's file: how many arrived, were known already, came as a revision."""

    device: str
    enumerator: str
    arrived: int
    known: int
    revisions: int
    not_laid_out: int
    files: int


class _Kept(NamedTuple):
    """A file of the bundle that is on the disk now."""

    interview_uuid: str
    kind: str
    hash: str


def read_in_bundle(desk: Desk, study_id: int, sent: Path) -> BundleOut:
    """Take in a phone's file; it is looked through, and computed, before anything is kept."""
    bundle = open_bundle(sent)
    with bundle.packed:
        files = _keep_files(desk.store, bundle)
        with desk.store.reading() as session:
            device = _device(session, study_id, bundle)
            _check_team(desk, session, device)
            arrivals = [read_arrival(session, device, uuid, raw) for uuid, raw in bundle.interviews()]
    with desk.store.session() as session:
        device = session.merge(device)
        session.flush()
        receipts = [hand_in(session, device, arrival) for arrival in arrivals]
        for file in files:
            tell_file(
                session, desk.store.files, study_id=study_id, interview_uuid=file.interview_uuid, digest=file.hash,
                kind=file.kind, device_id=device.id,
            )  # fmt: skip
        session.add(desk.event(study_id, "bundle read in", device=bundle.device, interviews=len(receipts)))
        return _told(session, device, bundle, receipts, len(files))


def _keep_files(store: Store, bundle: Bundle) -> list[_Kept]:
    kept = []
    for uuid, kind, digest, content in bundle.files():
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


def _device(session: Session, study_id: int, bundle: Bundle) -> Device:
    """The device that saved the file; one that is not known any more is told by its name, and may do nothing else."""
    of_study = select(Device).where(
        Device.study_id == study_id, Device.name == bundle.device, Device.enumerator == bundle.enumerator
    )
    known = session.scalars(of_study.order_by(Device.id.desc())).first()
    named = select(Membership.person_id).where(Membership.study_id == study_id, Membership.name == bundle.enumerator)
    return known or Device(
        study_id=study_id, name=bundle.device[:128] or "a file", enumerator=bundle.enumerator[:128] or "unknown",
        person_id=session.scalar(named), token_hash=hash_of(new_secret()), cut_off_at=now(),
    )  # fmt: skip


def _told(session: Session, device: Device, bundle: Bundle, receipts: list[Receipt], files: int) -> BundleOut:
    outcomes = [receipt.outcome for receipt in receipts]
    failed = select(Interview.id).where(
        Interview.study_id == device.study_id, Interview.uuid.in_([r.uuid for r in receipts]), Interview.problem != ""
    )
    return BundleOut(
        device=bundle.device, enumerator=bundle.enumerator, arrived=outcomes.count("arrived"),
        known=outcomes.count("known"), revisions=outcomes.count("revision"),
        not_laid_out=len(session.scalars(failed).all()), files=files,
    )  # fmt: skip
