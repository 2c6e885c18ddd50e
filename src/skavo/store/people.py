"""People and their memberships: joining, leaving, handing over what somebody has in hand, links to choose a passphrase."""

from __future__ import annotations

from datetime import timedelta
from typing import Literal

from sqlalchemy import ColumnElement, and_, func, or_, select, update
from sqlalchemy.orm import InstrumentedAttribute, Session

from skavo.core.errors import DataError
from skavo.core.permissions import ROLES
from skavo.store.models import Device, Interview, Membership, OneTimeLink, Person, Team, now
from skavo.store.secrets import hash_of, new_secret

LinkKind = Literal["invitation", "passphrase"]
LINK_LASTS: dict[str, timedelta] = {"invitation": timedelta(days=14), "passphrase": timedelta(hours=2)}


def has_administrator(session: Session) -> bool:
    return session.scalar(select(Person.id).where(Person.is_administrator.is_(True)).limit(1)) is not None


def plain_login(login: str) -> str | None:
    """A sign-in name as it is kept and compared; None for none."""
    return login.strip().lower() or None


def free_login(session: Session, login: str, but: int | None = None) -> str | None:
    """The sign-in name as it is kept; raise DataError where somebody else has it."""
    wanted = plain_login(login)
    if wanted is not None:
        owner = session.scalar(select(Person.id).where(Person.login == wanted))
        if owner is not None and owner != but:
            raise DataError("login_taken", f"Somebody signs in as {wanted} already. Take another sign-in name.")
    return wanted


def of_teams(
    study_id: int, teams: frozenset[int], person: InstrumentedAttribute[int | None], name: InstrumentedAttribute[str]
) -> ColumnElement[bool]:
    """The condition that something belongs to a member of `teams`: by identity, or by name where it has no more."""
    members = (Membership.study_id == study_id, Membership.team_id.in_(teams))
    by_name = and_(person.is_(None), name.in_(select(Membership.name).where(*members)))
    return or_(person.in_(select(Membership.person_id).where(*members)), by_name)


def join(
    session: Session,
    study_id: int,
    person: Person,
    roles: list[str],
    team_id: int | None = None,
    supervises: list[int] | None = None,
) -> Membership:
    """Make `person` a member under their own name; raise DataError where the study has one of that name.

    Whoever left and comes again takes up the membership they had.
    """
    unknown = sorted({*roles} - {*ROLES})
    if unknown or not roles:
        raise DataError("wrong_role", f"A member has at least one of these roles: {', '.join(ROLES)}.")
    _check_teams(session, study_id, [team_id, *(supervises or [])])
    former = session.scalar(
        select(Membership).where(Membership.study_id == study_id, Membership.person_id == person.id)
    )
    check_name(session, study_id, person.name, but=former.id if former else None)
    member = former or Membership(study_id=study_id, person_id=person.id, version=0)
    member.name, member.roles, member.team_id, member.left_at = person.name, sorted({*roles}), team_id, None
    member.supervises = sorted({*(supervises or [])})
    member.version += 1
    session.add(member)
    session.flush()
    return member


def check_name(session: Session, study_id: int, name: str, but: int | None = None) -> None:
    """A name belongs to one person in a study."""
    same = select(Membership.id).where(Membership.study_id == study_id, func.lower(Membership.name) == name.lower())
    taken = session.scalar(same)
    if taken is not None and taken != but:
        raise DataError(
            "name_taken", f"This study has a {name} already. Write the name so that the two can be told apart.",
            {"name": name},
        )  # fmt: skip


def _check_teams(session: Session, study_id: int, named: list[int | None]) -> None:
    wanted = {team_id for team_id in named if team_id is not None}
    there = select(func.count()).select_from(Team).where(Team.study_id == study_id, Team.id.in_(wanted))
    if session.scalar(there) != len(wanted):
        raise DataError("no_such_team", "This study has no such team.")


def change(
    session: Session,
    member: Membership,
    *,
    name: str,
    roles: list[str],
    team_id: int | None,
    version: int,
    supervises: list[int] | None = None,
) -> None:
    """Change name, roles and teams, None for those supervised as they are; raise DataError where somebody else changed them meanwhile."""
    if member.version != version:
        raise DataError(
            "changed_meanwhile", "Somebody else changed this person meanwhile. Load the page again and repeat.",
            {"version": member.version},
        )  # fmt: skip
    if not roles or {*roles} - {*ROLES}:
        raise DataError("wrong_role", f"A member has at least one of these roles: {', '.join(ROLES)}.")
    _check_teams(session, member.study_id, [team_id, *(supervises or [])])
    check_name(session, member.study_id, name, but=member.id)
    if "data_manager" not in roles:
        keep_a_manager(session, member)
    member.name, member.roles, member.team_id = name, sorted({*roles}), team_id
    member.supervises = member.supervises if supervises is None else sorted({*supervises})
    member.version += 1


def keep_a_manager(session: Session, member: Membership) -> None:
    """A study keeps somebody who can let others in."""
    others = select(Membership.roles).where(
        Membership.study_id == member.study_id, Membership.id != member.id, Membership.left_at.is_(None)
    )
    if "data_manager" in member.roles and not any("data_manager" in roles for roles in session.scalars(others)):
        raise DataError("last_manager", "This is the study’s only data manager. Make somebody else one first.")


def leave(session: Session, member: Membership) -> list[Device]:
    """End a membership: the person may do nothing any more, and their phones are cut off. Return those phones."""
    keep_a_manager(session, member)
    if member.left_at is None:
        member.left_at = now()
        member.version += 1
    phones = select(Device).where(
        Device.study_id == member.study_id, Device.person_id == member.person_id, Device.cut_off_at.is_(None)
    )
    cut_off = list(session.scalars(phones))
    for device in cut_off:
        device.cut_off_at = now()
    return cut_off


def hand_over(session: Session, member: Membership, to: Membership) -> int:
    """Give what was sent back to `member` and waits for correction to `to`, whose phone fetches it; return how many.

    Who asked the questions stays as it was.
    """
    if to.left_at is not None or "enumerator" not in to.roles or to.study_id != member.study_id:
        raise DataError("wrong_role", f"{to.name} is no enumerator of this study.")
    waiting = (
        Interview.study_id == member.study_id, Interview.person_id == member.person_id, Interview.state == "sent back"
    )  # fmt: skip
    number = session.scalar(select(func.count()).where(*waiting)) or 0
    session.execute(update(Interview).where(*waiting).values(person_id=to.person_id))
    return number


def make_link(session: Session, person: Person, kind: LinkKind, by: str, study_id: int | None = None) -> str:
    """The secret of a link with which a person chooses a passphrase, once; earlier ones of the kind end."""
    earlier = update(OneTimeLink).where(OneTimeLink.person_id == person.id, OneTimeLink.used_at.is_(None))
    session.execute(earlier.values(used_at=now()))
    secret = new_secret()
    session.add(
        OneTimeLink(
            person_id=person.id, study_id=study_id, kind=kind, secret_hash=hash_of(secret), created_by=by,
            expires_at=now() + LINK_LASTS[kind],
        )
    )  # fmt: skip
    return secret


def link_of(session: Session, secret: str) -> OneTimeLink:
    """The link with this secret; raise DataError where it is unknown, used or too old."""
    found = session.scalar(select(OneTimeLink).where(OneTimeLink.secret_hash == hash_of(secret)))
    if found is None or found.used_at is not None or found.expires_at < now():
        raise DataError("link_ended", "This link was used already or is too old. Ask whoever sent it for a new one.")
    return found
