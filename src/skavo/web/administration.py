"""The server itself: all its studies and people, without anything that a study holds."""

from __future__ import annotations

from datetime import datetime

from flask import current_app
from pydantic import BaseModel, Field
from sqlalchemy import select

from skavo.services.found import the_study
from skavo.services.refusals import not_found
from skavo.store.models import Membership, Person, Study
from skavo.store.people import LinkKind, free_login, join, make_link, plain_login
from skavo.web.guard import caller
from skavo.web.mail import send_link
from skavo.web.problems import Problem
from skavo.web.routing import Resource, desk, store
from skavo.web.sessions import confirmed, end_sessions
from skavo.web.shapes import Body

api = Resource("administration", "/server")


class ServerStudy(BaseModel):
    """A study by its title and those who manage it; an administrator sees nothing else of it."""

    id: int
    title: str
    created_at: datetime
    managers: list[str]


class ServerPerson(BaseModel):
    id: int
    name: str
    login: str | None
    email: str
    is_administrator: bool
    has_passphrase: bool
    last_seen: datetime | None
    studies: list[str]


class ServerOverview(BaseModel):
    studies: list[ServerStudy]
    people: list[ServerPerson]


class NewPerson(Body):
    name: str = Field(min_length=1, max_length=128, pattern=r"\S")
    login: str = Field(min_length=1, max_length=64, pattern=r"^[^\s@/]+$")
    email: str = Field(default="", max_length=254, pattern=r"^$|^[^@\s]+@[^@\s]+$")
    is_administrator: bool = False


class PersonPath(BaseModel):
    person_id: int


class LinkMade(BaseModel):
    link: str
    mailed_to: str


@api.route_for("get", "", needs="administrator", returns=ServerOverview)
def show() -> ServerOverview:
    return _overview()


def _overview() -> ServerOverview:
    with store().reading() as session:
        joined = select(Membership.person_id, Membership.roles, Membership.name, Study.id, Study.title)
        rows = session.execute(joined.join(Study).where(Membership.left_at.is_(None)).order_by(Study.title)).all()
        studies = session.scalars(select(Study).order_by(Study.title))
        people = session.scalars(select(Person).where(Person.login.is_not(None)).order_by(Person.name))
        return ServerOverview(
            studies=[
                ServerStudy(
                    id=study.id, title=study.title, created_at=study.created_at,
                    managers=[r.name for r in rows if r.id == study.id and "data_manager" in r.roles],
                )
                for study in studies
            ],
            people=[
                ServerPerson(
                    id=p.id, name=p.name, login=p.login, email=p.email, is_administrator=p.is_administrator,
                    has_passphrase=bool(p.password_hash), last_seen=p.last_seen,
                    studies=[r.title for r in rows if r.person_id == p.id],
                )
                for p in people
            ],
        )  # fmt: skip


class ManagerIn(Body):
    """`login` is the sign-in name of whoever is to manage the study."""

    login: str = Field(min_length=1, max_length=64)


class ManagedPath(BaseModel):
    managed_id: int


@api.route_for("post", "/studies/<int:managed_id>/managers", needs="administrator", returns=ServerOverview)
def name_manager(path: ManagedPath, body: ManagerIn) -> ServerOverview:
    """Make somebody data manager of a study whose own are out of reach; its logbook tells who did.

    Nobody lets themselves into a study this way.
    """
    confirmed()
    with store().session() as session:
        study = the_study(session, path.managed_id)
        person = session.scalar(select(Person).where(Person.login == plain_login(body.login)))
        if person is None:
            raise Problem("no_such_person", f"Nobody signs in as {body.login}. Add the person first.")
        if person.id == caller().person_id:
            raise Problem("not_yourself", "Administering the server lets nobody into a study. Name somebody else.")
        mine = select(Membership).where(Membership.study_id == study.id, Membership.person_id == person.id)
        member = session.scalar(mine)
        kept = member.roles if member is not None and member.left_at is None else []
        join(session, study.id, person, [*kept, "data_manager"], member.team_id if member else None)
        session.add(desk().event(study.id, "manager named", person=person.name))
    return _overview()


class LetterOut(BaseModel):
    at: datetime
    to: str
    subject: str
    text: str


class Letters(BaseModel):
    """Letters that the stand-in for a mail server took; None where letters go out for real, or not at all."""

    letters: list[LetterOut] | None


@api.route_for("get", "/letters", needs="administrator", returns=Letters)
def letters() -> Letters:
    mailbox = current_app.extensions.get("skavo_mailbox")
    if mailbox is None:
        return Letters(letters=None)
    return Letters(letters=[LetterOut.model_validate(letter, from_attributes=True) for letter in [*mailbox.letters]])


@api.route_for("post", "/people", needs="administrator", returns=LinkMade, status=201)
def add(body: NewPerson) -> LinkMade:
    """Somebody who can sign in once they chose a passphrase with the link."""
    if body.is_administrator:
        confirmed()
    with store().session() as session:
        person = Person(
            name=body.name.strip(), login=free_login(session, body.login), email=body.email,
            is_administrator=body.is_administrator,
        )  # fmt: skip
        session.add(person)
        session.flush()
        secret = make_link(session, person, "invitation", caller().name)
        name = person.name
    return _sent(secret, name, body.email, "invitation")


@api.route_for("post", "/people/<int:person_id>/link", needs="administrator", returns=LinkMade)
def renew(path: PersonPath) -> LinkMade:
    """A link for a new passphrase, for somebody who cannot sign in any more; they are signed out everywhere."""
    confirmed()
    with store().session() as session:
        person = _person(session.get(Person, path.person_id))
        kind: LinkKind = "passphrase" if person.password_hash else "invitation"
        end_sessions(session, person.id)
        secret = make_link(session, person, kind, caller().name)
        name, email = person.name, person.email
    return _sent(secret, name, email, kind)


@api.route_for("post", "/people/<int:person_id>/administrator", needs="administrator", returns=ServerOverview)
def raise_up(path: PersonPath) -> ServerOverview:
    return _set_administrator(path, is_one=True)


@api.route_for("delete", "/people/<int:person_id>/administrator", needs="administrator", returns=ServerOverview)
def stand_down(path: PersonPath) -> ServerOverview:
    return _set_administrator(path, is_one=False)


def _set_administrator(path: PersonPath, *, is_one: bool) -> ServerOverview:
    confirmed()
    with store().session() as session:
        person = _person(session.get(Person, path.person_id))
        others = select(Person.id).where(Person.is_administrator.is_(True), Person.id != person.id)
        if not is_one and session.scalar(others.limit(1)) is None:
            raise Problem("last_manager", "This is the server’s only administrator. Make somebody else one first.")
        person.is_administrator = is_one
    return _overview()


def _person(found: Person | None) -> Person:
    if found is None or found.login is None:
        raise not_found("person")
    return found


def _sent(secret: str, name: str, email: str, kind: str) -> LinkMade:
    link, mailed = send_link(secret, name=name, email=email, kind=kind)
    return LinkMade(link=link, mailed_to=email if mailed else "")
