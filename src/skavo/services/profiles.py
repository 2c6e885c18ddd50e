"""The field profiles of a study: which settings the phones of which teams obey."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.profile import FieldProfile, check_languages, check_sheets
from skavo.services.desk import Desk
from skavo.services.refusals import Refused, not_found, same_version
from skavo.store.models import KeptProfile, Questionnaire, Release, Team
from skavo.store.phones import ordinary_profile
from skavo.store.sheets import sheets_of


class ProfileIn(BaseModel):
    """`teams` are those whose phones obey it; a team that had another one leaves that."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=128, pattern=r"\S")
    settings: FieldProfile
    teams: list[int] = Field(default=[], max_length=1000)


class ProfileChange(ProfileIn):
    """`version` is that of the profile that was changed."""

    version: int


class ProfileOut(BaseModel):
    """`is_ordinary` says that it holds for every team without one of its own, and for people without a team."""

    id: int
    name: str
    settings: FieldProfile
    teams: list[int]
    is_ordinary: bool
    version: int


def list_profiles(desk: Desk, study_id: int) -> list[ProfileOut]:
    """The ordinary profile first, then the others by name."""
    with desk.store.reading() as session:
        if session.scalar(select(KeptProfile.id).where(KeptProfile.study_id == study_id).limit(1)) is not None:
            return _listed(session, study_id)
    with desk.store.session() as session:
        return _listed(session, study_id)


def make_profile(desk: Desk, study_id: int, wanted: ProfileIn) -> list[ProfileOut]:
    with desk.store.session() as session:
        ordinary_profile(session, study_id)
        _check(session, study_id, wanted)
        made = KeptProfile(study_id=study_id, name=wanted.name.strip(), settings=wanted.settings.model_dump())
        session.add(made)
        session.flush()
        _give(session, study_id, made, wanted.teams)
        session.add(desk.event(study_id, "profile changed", profile=made.name))
        return _listed(session, study_id)


def change_profile(desk: Desk, study_id: int, profile_id: int, wanted: ProfileChange) -> list[ProfileOut]:
    """What its phones obey from their next contact on."""
    with desk.store.session() as session:
        profile = session.get_one(KeptProfile, profile_id)
        same_version(profile.version, wanted.version)
        _check(session, study_id, wanted, but=profile_id)
        profile.name, profile.settings = wanted.name.strip(), wanted.settings.model_dump()
        profile.version += 1
        _give(session, study_id, profile, wanted.teams)
        session.add(desk.event(study_id, "profile changed", profile=profile.name))
        return _listed(session, study_id)


def remove_profile(desk: Desk, study_id: int, profile_id: int) -> list[ProfileOut]:
    """Its teams obey the ordinary one again."""
    with desk.store.session() as session:
        profile = session.get_one(KeptProfile, profile_id)
        if profile.id == ordinary_profile(session, study_id).id:
            raise Refused("last_profile", "This profile holds for everybody without another one. Change it instead.")
        _give(session, study_id, profile, [])
        session.flush()
        session.delete(profile)
        session.add(desk.event(study_id, "profile removed", profile=profile.name))
        session.flush()
        return _listed(session, study_id)


def _listed(session: Session, study_id: int) -> list[ProfileOut]:
    ordinary = ordinary_profile(session, study_id)
    profiles = session.scalars(select(KeptProfile).where(KeptProfile.study_id == study_id).order_by(KeptProfile.name))
    teams = session.execute(select(Team.profile_id, Team.id).where(Team.study_id == study_id).order_by(Team.name)).all()
    listed = [
        ProfileOut(
            id=profile.id, name=profile.name, settings=FieldProfile.model_validate(profile.settings),
            teams=[team for held, team in teams if held == profile.id], is_ordinary=profile.id == ordinary.id,
            version=profile.version,
        )
        for profile in profiles
    ]  # fmt: skip
    return sorted(listed, key=lambda profile: not profile.is_ordinary)


def _check(session: Session, study_id: int, wanted: ProfileIn, but: int | None = None) -> None:
    same = select(KeptProfile.id).where(KeptProfile.study_id == study_id, KeptProfile.name == wanted.name.strip())
    taken = session.scalar(same)
    if taken is not None and taken != but:
        raise Refused("name_taken", f"This study has a profile {wanted.name.strip()} already.")
    check_languages(wanted.settings, _spoken(session, study_id))
    check_sheets(wanted.settings, {sheet.id for sheet in sheets_of(session, study_id)})


def _spoken(session: Session, study_id: int) -> set[str]:
    """The languages of the study's drafts and releases."""
    drafts = session.scalars(select(Questionnaire.script["languages"]).where(Questionnaire.study_id == study_id))
    released = session.scalars(
        select(Release.script["languages"]).join(Questionnaire).where(Questionnaire.study_id == study_id)
    )
    return {tag for tags in (*drafts, *released) for tag in tags or []}


def _give(session: Session, study_id: int, profile: KeptProfile, wanted: list[int]) -> None:
    teams = {team.id: team for team in session.scalars(select(Team).where(Team.study_id == study_id))}
    if not {*wanted} <= {*teams}:
        raise not_found("team")
    for team in teams.values():
        if team.id in wanted:
            team.profile_id = profile.id
        elif team.profile_id == profile.id:
            team.profile_id = None
