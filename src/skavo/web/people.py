"""The people of a study: who they are, what they may do, their teams, and the way in."""

from __future__ import annotations

from datetime import datetime

from flask import request
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.permissions import Role
from skavo.formats.read_table import read_table
from skavo.services.refusals import not_found
from skavo.store.models import Device, Interview, Membership, OneTimeLink, Person, Team, now
from skavo.store.people import LinkKind, free_login, hand_over, join, leave, make_link
from skavo.store.people import change as change_member
from skavo.store.people_file import PersonRow, judge_people, keep_people
from skavo.web.guard import caller
from skavo.web.mail import send_link
from skavo.web.problems import Problem
from skavo.web.routing import Resource, desk, store
from skavo.web.sessions import confirmed, end_sessions
from skavo.web.shapes import Body, StudyPath

api = Resource("people", "/studies/<int:study_id>")


class PersonOut(BaseModel):
    """A member. `way_in` says whether they can sign in: none, invited, invitation ended, signs in."""

    id: int
    person_id: int
    name: str
    login: str | None
    email: str
    phone: str
    language: str
    roles: list[str]
    team_id: int | None
    team: str
    supervises: list[int]
    version: int
    way_in: str
    last_seen: datetime | None
    left_at: datetime | None
    devices: int
    interviews: int
    to_correct: int
    is_me: bool


class TeamOut(BaseModel):
    id: int
    name: str
    members: int


class People(BaseModel):
    people: list[PersonOut]
    teams: list[TeamOut]


class PersonIn(Body):
    """Somebody new in the study. `login` of somebody who signs in on this server already takes that person in.

    `supervises` are the teams that a supervisor is limited to, none for the whole study.
    """

    name: str = Field(min_length=1, max_length=128, pattern=r"\S")
    login: str = Field(default="", max_length=64, pattern=r"^[^\s@/]*$")
    email: str = Field(default="", max_length=254, pattern=r"^$|^[^@\s]+@[^@\s]+$")
    phone: str = Field(default="", max_length=40)
    language: str = Field(default="", max_length=35)
    roles: list[Role] = Field(min_length=1)
    team_id: int | None = None
    supervises: list[int] = Field(default=[], max_length=1000)


class PersonChange(PersonIn):
    version: int


class MemberPath(BaseModel):
    study_id: int
    member_id: int


class TeamIn(Body):
    name: str = Field(min_length=1, max_length=128, pattern=r"\S")


class TeamPath(BaseModel):
    study_id: int
    team_id: int


class HandOverIn(Body):
    """`to` is the member who takes over what was sent back."""

    to: int


class HandedOver(BaseModel):
    interviews: int


class Invited(BaseModel):
    """`link` is shown this once; `mailed_to` is the address it was sent to, "" where there is none."""

    link: str
    mailed_to: str
    expires_at: datetime


@api.route_for("get", "/people", needs="people.read", returns=People)
def list_all(path: StudyPath) -> People:
    return told(path.study_id)


def told(study_id: int) -> People:
    with store().reading() as session:
        members = session.scalars(
            select(Membership).where(Membership.study_id == study_id).order_by(Membership.left_at, Membership.name)
        ).all()
        counts = _Counts(session, study_id)
        sizes: dict[int | None, int] = {}
        for member in members:
            if member.left_at is None:
                sizes[member.team_id] = sizes.get(member.team_id, 0) + 1
        teams = session.scalars(select(Team).where(Team.study_id == study_id).order_by(Team.name)).all()
        return People(
            people=[counts.out(member) for member in members],
            teams=[TeamOut(id=team.id, name=team.name, members=sizes.get(team.id, 0)) for team in teams],
        )


class _Counts:
    """What each member of a study has, counted once for all of them."""

    def __init__(self, session: Session, study_id: int) -> None:
        self.teams = dict(session.execute(select(Team.id, Team.name).where(Team.study_id == study_id)).tuples().all())
        phones = select(Device.person_id, func.count()).where(Device.study_id == study_id, Device.cut_off_at.is_(None))
        self.devices = dict(session.execute(phones.group_by(Device.person_id)).tuples().all())
        own = select(Interview.person_id, func.count()).where(Interview.study_id == study_id)
        self.interviews = dict(session.execute(own.group_by(Interview.person_id)).tuples().all())
        back = own.where(Interview.state == "sent back")
        self.to_correct = dict(session.execute(back.group_by(Interview.person_id)).tuples().all())
        open_links = select(OneTimeLink.person_id, func.max(OneTimeLink.expires_at)).where(
            OneTimeLink.used_at.is_(None)
        )
        self.links = dict(session.execute(open_links.group_by(OneTimeLink.person_id)).tuples().all())

    def out(self, member: Membership) -> PersonOut:
        person = member.person
        return PersonOut(
            id=member.id, person_id=person.id, name=member.name, login=person.login, email=person.email,
            phone=person.phone, language=person.language, roles=member.roles, team_id=member.team_id,
            team=self.teams.get(member.team_id or 0, ""), supervises=member.supervises, version=member.version, way_in=self._way_in(person),
            last_seen=person.last_seen, left_at=member.left_at, devices=self.devices.get(person.id, 0),
            interviews=self.interviews.get(person.id, 0), to_correct=self.to_correct.get(person.id, 0),
            is_me=person.id == caller().person_id,
        )  # fmt: skip

    def _way_in(self, person: Person) -> str:
        if person.password_hash:
            return "signs in"
        expires = self.links.get(person.id)
        return "none" if expires is None else "invited" if expires > now() else "invitation ended"


@api.route_for("post", "/people", needs="people.manage", returns=People, status=201)
def add(path: StudyPath, body: PersonIn) -> People:
    with store().session() as session:
        known = session.scalar(select(Person).where(Person.login == body.login.strip().lower())) if body.login else None
        if known is not None and known.name != body.name.strip():
            raise Problem(
                "login_taken", f"Somebody else signs in as {known.login}. Take another sign-in name, or write the name "
                "as that person has it to take them in.",
            )  # fmt: skip
        person = known or Person(
            name=body.name.strip(), login=free_login(session, body.login), email=body.email, phone=body.phone,
            language=body.language,
        )  # fmt: skip
        session.add(person)
        session.flush()
        join(session, path.study_id, person, [*body.roles], body.team_id, body.supervises)
        session.add(desk().event(path.study_id, "person added", person=person.name, roles=[*body.roles]))
    return told(path.study_id)


def _member(session: Session, path: MemberPath) -> Membership:
    return session.get_one(Membership, path.member_id)


@api.route_for("put", "/people/<int:member_id>", needs="people.manage", returns=People)
def change(path: MemberPath, body: PersonChange) -> People:
    """Change a member. Sign-in, e-mail and phone of somebody who is in another study too are theirs to change."""
    with store().session() as session:
        member = _member(session, path)
        before = [*member.roles]
        change_member(
            session, member, name=body.name.strip(), roles=[*body.roles], team_id=body.team_id, version=body.version,
            supervises=body.supervises,
        )  # fmt: skip
        _change_person(session, member, body)
        if before != member.roles:
            session.add(
                desk().event(path.study_id, "roles changed", person=member.name, before=before, after=member.roles)
            )
    return told(path.study_id)


def _change_person(session: Session, member: Membership, body: PersonChange) -> None:
    person = member.person
    contact = {"login": body.login.strip().lower() or None, "email": body.email, "phone": body.phone}
    changed = {name: value for name, value in contact.items() if getattr(person, name) != value}
    elsewhere = select(Membership.id).where(Membership.person_id == person.id, Membership.study_id != member.study_id)
    is_elsewhere = person.is_administrator or session.scalar(elsewhere.limit(1)) is not None
    if changed and is_elsewhere and person.id != caller().person_id:
        raise Problem(
            "not_yours", f"{person.name} works in other studies too: sign-in, e-mail and phone are theirs to change."
        )
    if "login" in changed:
        person.login = free_login(session, body.login, but=person.id)
    person.email, person.phone, person.language = body.email, body.phone, body.language
    if session.scalar(elsewhere.limit(1)) is None:
        person.name = member.name


@api.route_for("post", "/people/<int:member_id>/departure", needs="people.manage", returns=People)
def end(path: MemberPath) -> People:
    """Somebody leaves: they may do nothing here any more, their phones are cut off, what they did keeps their name."""
    confirmed()
    with store().session() as session:
        member = _member(session, path)
        phones = leave(session, member)
        for device in phones:
            session.add(desk().event(path.study_id, "device cut off", device=device.name))
        session.add(desk().event(path.study_id, "person left", person=member.name))
    return told(path.study_id)


@api.route_for("delete", "/people/<int:member_id>/departure", needs="people.manage", returns=People)
def take_in_again(path: MemberPath) -> People:
    with store().session() as session:
        member = _member(session, path)
        if member.left_at is not None:
            member.left_at = None
            member.version += 1
            session.add(desk().event(path.study_id, "person added", person=member.name, roles=member.roles))
    return told(path.study_id)


@api.route_for("post", "/people/<int:member_id>/handing-over", needs="people.manage", returns=HandedOver)
def give(path: MemberPath, body: HandOverIn) -> HandedOver:
    """Give what was sent back to somebody to another enumerator, whose phone fetches it."""
    with store().session() as session:
        to = session.get(Membership, body.to)
        if to is None or to.study_id != path.study_id:
            raise not_found("person")
        member = _member(session, path)
        number = hand_over(session, member, to)
        if number:
            session.add(desk().event(path.study_id, "handed over", person=member.name, to=to.name, interviews=number))
        return HandedOver(interviews=number)


@api.route_for("post", "/people/<int:member_id>/invitation", needs="people.manage", returns=Invited)
def invite(path: MemberPath) -> Invited:
    """A link with which somebody chooses a passphrase, once. Whoever has one already asks for another themselves."""
    with store().session() as session:
        member = _member(session, path)
        person = member.person
        if person.login is None:
            raise Problem("no_login", f"{member.name} has no sign-in name yet. Write one, then invite.")
        if member.left_at is not None:
            raise Problem("has_left", f"{member.name} has left the study.")
        if person.password_hash:
            _may_reset(session, member)
        kind: LinkKind = "passphrase" if person.password_hash else "invitation"
        secret = make_link(session, person, kind, caller().name, path.study_id)
        session.add(desk().event(path.study_id, "invited", person=member.name))
        email, name = person.email, person.name
        expires = session.scalar(select(func.max(OneTimeLink.expires_at)).where(OneTimeLink.person_id == person.id))
    link, mailed = send_link(secret, name=name, email=email, kind=kind)
    return Invited(link=link, mailed_to=email if mailed else "", expires_at=expires or now())


def _may_reset(session: Session, member: Membership) -> None:
    """Whoever can set somebody's passphrase can be them: only where they are nothing elsewhere."""
    confirmed()
    elsewhere = select(Membership.id).where(
        Membership.person_id == member.person_id, Membership.study_id != member.study_id
    )
    if member.person.is_administrator or session.scalar(elsewhere.limit(1)) is not None:
        raise Problem(
            "not_yours", f"{member.name} works elsewhere too and asks for a new passphrase on the sign-in page."
        )
    end_sessions(session, member.person_id)


class FileQuery(BaseModel):
    """`name` is that of the file; `keep` takes in what is new or changed instead of only telling it."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)
    keep: bool = False


class PeopleFile(BaseModel):
    rows: list[PersonRow]
    kept: int


@api.route_for("post", "/people/file", needs="people.manage", returns=PeopleFile)
def bring_in(path: StudyPath, query: FileQuery) -> PeopleFile:
    """Many people from a .csv or .xlsx file sent as the body: what is new, changed or doubtful; nothing is kept unasked."""
    frame = read_table(query.name, request.get_data(cache=False))
    if not query.keep:
        with store().reading() as session:
            return PeopleFile(rows=judge_people(session, path.study_id, frame), kept=0)
    with store().session() as session:
        rows = judge_people(session, path.study_id, frame)
        kept = keep_people(session, path.study_id, rows)
        if kept:
            session.add(desk().event(path.study_id, "people brought in", people=kept))
        return PeopleFile(rows=rows, kept=kept)


@api.route_for("post", "/teams", needs="people.manage", returns=People, status=201)
def make_team(path: StudyPath, body: TeamIn) -> People:
    with store().session() as session:
        _check_team_name(session, path.study_id, body.name.strip())
        session.add(Team(study_id=path.study_id, name=body.name.strip()))
    return told(path.study_id)


@api.route_for("put", "/teams/<int:team_id>", needs="people.manage", returns=People)
def rename_team(path: TeamPath, body: TeamIn) -> People:
    with store().session() as session:
        _check_team_name(session, path.study_id, body.name.strip(), but=path.team_id)
        session.get_one(Team, path.team_id).name = body.name.strip()
    return told(path.study_id)


@api.route_for("delete", "/teams/<int:team_id>", needs="people.manage", returns=People)
def remove_team(path: TeamPath) -> People:
    """Its members stay, without a team; refused where it is the only one that a supervisor is limited to."""
    with store().session() as session:
        for member in session.scalars(select(Membership).where(Membership.study_id == path.study_id)):
            if path.team_id in member.supervises:
                _stop_supervising(member, path.team_id)
            if member.team_id == path.team_id:
                member.team_id = None
        session.delete(session.get_one(Team, path.team_id))
    return told(path.study_id)


def _stop_supervising(member: Membership, team_id: int) -> None:
    """Without a team left, the supervisor would see the whole study."""
    if member.supervises == [team_id]:
        raise Problem(
            "last_team", f"{member.name} supervises this team only. Give them another one, or the whole study, first."
        )
    member.supervises = [other for other in member.supervises if other != team_id]


def _check_team_name(session: Session, study_id: int, name: str, but: int | None = None) -> None:
    same = session.scalar(select(Team.id).where(Team.study_id == study_id, Team.name == name))
    if same is not None and same != but:
        raise Problem("name_taken", f"This study has a team {name} already.")
