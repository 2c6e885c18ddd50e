"""The phones of a study as a supervisor sees them: what each holds and carries, what is amiss, and what it is ordered to do."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Literal

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.services.desk import Desk
from skavo.services.refusals import Refused
from skavo.store.models import Device, Interview, Membership, Questionnaire, Release, Team, now
from skavo.store.sealing import fingerprint

SILENT_AFTER = timedelta(days=3)
CLOCK_MATTERS_SECONDS = 300
FULL_FROM = 0.9
DoubtKind = Literal[
    "locked out", "wipe ordered", "silent", "never heard", "clock", "full", "older release", "older build", "may be cleared",
]  # fmt: skip


class Doubt(BaseModel):
    """Something amiss with a phone. `figure` goes with some: seconds its clock is ahead, percent full, the release held;
    `told` is what to read out to whoever is locked out."""

    kind: DoubtKind
    figure: int | None = None
    told: str = ""


class PhoneOut(BaseModel):
    """`release` is the number of the newest release that it holds, `files` those that wait to be sent, `storage` the used
    part of its storage, 0 to 1; None where it has not told. `answered` is whether somebody may be let in again."""

    id: int
    name: str
    enumerator: str
    team: str
    paired_at: datetime
    last_heard: datetime | None
    release: int | None
    in_hand: int
    packed: int
    files: int
    handed_in: int
    storage: float | None
    battery: int | None
    locked: bool | None
    cut_off_at: datetime | None
    wipe_at: datetime | None
    wiped_at: datetime | None
    replaces: str
    doubts: list[Doubt]


def list_phones(desk: Desk, study_id: int, build: str) -> list[PhoneOut]:
    """By team and name, those cut off last; `build` is that of the page that the server gives out now."""
    with desk.store.reading() as session:
        rows = session.scalars(select(Device).where(*desk.reach_devices(study_id)))
        return _told(session, study_id, list(rows), build)


def cut_off(desk: Desk, device_id: int, build: str) -> PhoneOut:
    """A lost phone may do nothing any more; what it handed in stays. Cutting it off twice changes nothing."""
    return _switch(desk, device_id, build, off=True)


def give_back(desk: Desk, device_id: int, build: str) -> PhoneOut:
    """Let a phone that was cut off do its work again; not where its person has left, or where it was wiped."""
    return _switch(desk, device_id, build, off=False)


def order_wipe(desk: Desk, device_id: int, build: str) -> PhoneOut:
    """Let a phone forget everything at its next contact, handed in or not."""
    with desk.store.session() as session:
        device = session.get_one(Device, device_id)
        if device.wipe_at is None:
            device.wipe_at = now()
            session.add(desk.event(device.study_id, "wipe ordered", device=device.name))
        return _told(session, device.study_id, [device], build)[0]


def take_back_wipe(desk: Desk, device_id: int, build: str) -> PhoneOut:
    """A phone that has not been heard of since keeps what it carries."""
    with desk.store.session() as session:
        device = session.get_one(Device, device_id)
        if device.wiped_at is not None:
            raise Refused("wiped_already", f"{device.name} has forgotten everything already. Pair it again.")
        device.wipe_at = None
        return _told(session, device.study_id, [device], build)[0]


def _switch(desk: Desk, device_id: int, build: str, *, off: bool) -> PhoneOut:
    with desk.store.session() as session:
        device = session.get_one(Device, device_id)
        if (device.cut_off_at is not None) is not off:
            if not off:
                _check_member(session, device)
            device.cut_off_at = now() if off else None
            kind = "device cut off" if off else "device given back"
            session.add(desk.event(device.study_id, kind, device=device.name))
        return _told(session, device.study_id, [device], build)[0]


def _check_member(session: Session, device: Device) -> None:
    if device.wiped_at is not None:
        raise Refused("wiped_already", f"{device.name} has forgotten everything. Pair it again.")
    member = select(Membership.id).where(
        Membership.study_id == device.study_id, Membership.person_id == device.person_id, Membership.left_at.is_(None)
    )
    if device.person_id is not None and session.scalar(member) is None:
        raise Refused("has_left", f"{device.enumerator} has left the study. Take them in again under People first.")


def _told(session: Session, study_id: int, devices: list[Device], build: str) -> list[PhoneOut]:
    ids = [device.id for device in devices]
    counts = select(Interview.device_id, func.count()).where(
        Interview.device_id.in_(ids), Interview.practice.is_(False)
    )
    handed_in = dict(session.execute(counts.group_by(Interview.device_id)).tuples().all())
    teams = select(Membership.person_id, Team.name).join(Team, Membership.team_id == Team.id)
    team_of = dict(session.execute(teams.where(Membership.study_id == study_id)).tuples().all())
    names = dict(session.execute(select(Device.id, Device.name).where(Device.study_id == study_id)).tuples().all())
    releases = _releases(session, study_id)
    told = [
        PhoneOut(
            id=device.id, name=device.name, enumerator=device.enumerator, team=team_of.get(device.person_id or 0, ""),
            paired_at=device.paired_at, last_heard=device.last_heard, release=releases.newest_held(device),
            in_hand=_figure(device, "in_hand") or 0, packed=_figure(device, "packed") or 0,
            files=_figure(device, "files") or 0, handed_in=handed_in.get(device.id, 0), storage=_storage(device),
            battery=_figure(device, "battery"), locked=device.carries.get("locked"), cut_off_at=device.cut_off_at,
            wipe_at=device.wipe_at, wiped_at=device.wiped_at, replaces=names.get(device.replaces_id or 0, ""),
            doubts=_doubts(device, releases, build),
        )
        for device in devices
    ]  # fmt: skip
    return sorted(told, key=lambda phone: (phone.cut_off_at is not None, phone.team == "", phone.team, phone.name))


class _Releases:
    """The releases of a study, to tell how far behind what a phone holds is."""

    def __init__(self, rows: list[tuple[str, int, int]]) -> None:
        self._number = {digest: (questionnaire, number) for digest, questionnaire, number in rows}
        self._newest: dict[int, int] = {}
        for _, questionnaire, number in rows:
            self._newest[questionnaire] = max(number, self._newest.get(questionnaire, 0))

    def _held(self, device: Device) -> dict[int, int]:
        held: dict[int, int] = {}
        for digest in device.carries.get("releases", {}):
            questionnaire, number = self._number.get(digest, (0, 0))
            held[questionnaire] = max(number, held.get(questionnaire, 0))
        return {questionnaire: number for questionnaire, number in held.items() if number}

    def newest_held(self, device: Device) -> int | None:
        return max(self._held(device).values(), default=None)

    def behind(self, device: Device) -> int | None:
        """The number held of a questionnaire that has a newer release; None where nothing newer is out."""
        held = self._held(device)
        return next((held[q] for q, newest in sorted(self._newest.items()) if q in held and held[q] < newest), None)


def _releases(session: Session, study_id: int) -> _Releases:
    out = (
        Release.withdrawn.is_(None), Release.awaits.is_(False), Release.practice.is_(False),
        Questionnaire.describes == "interviews",
    )  # fmt: skip
    query = select(Release.hash, Release.questionnaire_id, Release.number).join(Questionnaire)
    rows = session.execute(query.where(Questionnaire.study_id == study_id, *out).order_by(Release.number))
    return _Releases(list(rows.tuples()))


def _doubts(device: Device, releases: _Releases, build: str) -> list[Doubt]:
    """What is amiss, the most pressing first; nothing is said of a phone that is cut off."""
    if device.cut_off_at is not None or device.wiped_at is not None:
        return []
    doubts: list[Doubt] = []
    if device.rescue is not None and "answer" not in device.rescue:
        doubts.append(Doubt(kind="locked out", told=fingerprint(device.rescue["public"])[:6]))
    if device.wipe_at is not None:
        doubts.append(Doubt(kind="wipe ordered"))
    if device.last_heard is None:
        return [*doubts, Doubt(kind="never heard")]
    if now() - device.last_heard > SILENT_AFTER:
        doubts.append(Doubt(kind="silent", figure=(now() - device.last_heard).days))
    ahead, storage = _figure(device, "clock_ahead") or 0, _storage(device)
    if abs(ahead) >= CLOCK_MATTERS_SECONDS:
        doubts.append(Doubt(kind="clock", figure=ahead))
    if storage is not None and storage >= FULL_FROM:
        doubts.append(Doubt(kind="full", figure=round(100 * storage)))
    if (behind := releases.behind(device)) is not None:
        doubts.append(Doubt(kind="older release", figure=behind))
    if build and device.carries.get("build", build) not in ("", build):
        doubts.append(Doubt(kind="older build"))
    if device.carries.get("persisted") is False:
        doubts.append(Doubt(kind="may be cleared"))
    return doubts


def _figure(device: Device, name: str) -> int | None:
    value = device.carries.get(name)
    return value if isinstance(value, int) and not isinstance(value, bool) else None


def _storage(device: Device) -> float | None:
    used, quota = _figure(device, "storage_used"), _figure(device, "storage_quota")
    return None if used is None or not quota else min(1.0, used / quota)
