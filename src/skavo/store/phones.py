"""What phones are told, and what waits for them."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.profile import FieldProfile
from skavo.store.models import Device, KeptProfile, Membership, Team

_ORDINARY = "ordinary"


def ordinary_profile(session: Session, study_id: int) -> KeptProfile:
    """The profile of whoever has no other: the study's oldest one, made when it is first asked for."""
    oldest = select(KeptProfile).where(KeptProfile.study_id == study_id).order_by(KeptProfile.id).limit(1)
    known = session.scalar(oldest)
    if known is not None:
        return known
    made = KeptProfile(study_id=study_id, name=_ORDINARY, settings=FieldProfile().model_dump())
    session.add(made)
    session.flush()
    return made


def profile_of(session: Session, device: Device) -> FieldProfile:
    """What a device obeys: the profile of its person's team, or the ordinary one."""
    of_team = (
        select(KeptProfile)
        .join(Team, Team.profile_id == KeptProfile.id)
        .join(Membership, Membership.team_id == Team.id)
        .where(Membership.study_id == device.study_id, Membership.person_id == device.person_id)
    )
    kept = session.scalars(of_team).first() or ordinary_profile(session, device.study_id)
    return FieldProfile.model_validate(kept.settings)
