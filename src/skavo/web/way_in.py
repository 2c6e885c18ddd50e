"""The ways in: a one-time link, a forgotten passphrase, and the first administrator of a new server."""

from __future__ import annotations

from flask import current_app
from pydantic import BaseModel, Field
from sqlalchemy import select

from skavo.store.models import Person, now
from skavo.store.people import free_login, has_administrator, link_of, make_link
from skavo.store.secrets import plain_code
from skavo.web.limits import by_login, limiter
from skavo.web.mail import send_link, tell_changed
from skavo.web.passphrases import check_passphrase, hash_passphrase
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store
from skavo.web.sessions import Who, begin_session, end_sessions
from skavo.web.shapes import Body

api = Resource("way_in", "/way-in")


class WayInSecret(Body):
    secret: str = Field(max_length=100)


class WayInOut(BaseModel):
    """For whom a link is, and whether it is an invitation or for a new passphrase."""

    name: str
    login: str
    kind: str


class Chosen(WayInSecret):
    passphrase: str = Field(max_length=256)


class Forgotten(Body):
    login: str = Field(max_length=64)


class First(Body):
    """Whoever administers a new server; `code` is what the terminal printed."""

    code: str = Field(max_length=32)
    name: str = Field(min_length=1, max_length=128, pattern=r"\S")
    login: str = Field(min_length=1, max_length=64, pattern=r"^[^\s@/]+$")
    passphrase: str = Field(max_length=256)


@api.route_for("post", "/link", needs="open", returns=WayInOut)
@limiter.limit("30 per minute")
def look(body: WayInSecret) -> WayInOut:
    """What a link is for; it is not used up by that. Its secret comes in the body, so that no log holds it."""
    with store().reading() as session:
        link = link_of(session, body.secret)
        person = session.get_one(Person, link.person_id)
        return WayInOut(name=person.name, login=person.login or "", kind=link.kind)


@api.route_for("post", "/passphrase", needs="open", returns=Who)
@limiter.limit("10 per minute")
def choose(body: Chosen) -> Who:
    """Choose a passphrase with a link, which is used up by it; every other browser is signed out."""
    with store().reading() as session:
        person = session.get_one(Person, link_of(session, body.secret).person_id)
    check_passphrase(body.passphrase, [person.name, person.login or "", person.email])
    hashed = hash_passphrase(body.passphrase)
    with store().session() as session:
        link_of(session, body.secret).used_at = now()
        person = session.get_one(Person, person.id)
        had_one = bool(person.password_hash)
        person.password_hash = hashed
        end_sessions(session, person.id)
        who = begin_session(session, person)
    if had_one:
        tell_changed(person.name, person.email)
    return who


@api.route_for("post", "/forgotten", needs="open")
@limiter.limit("5 per minute")
@limiter.limit("5 per hour", key_func=by_login)
def forgotten(body: Forgotten) -> None:
    """Mail a link for a new passphrase; the answer is the same whether anybody has that name and address or not."""
    with store().session() as session:
        person = session.scalar(select(Person).where(Person.login == body.login.strip().lower()))
        if person is None or not person.email or not person.password_hash:
            return
        secret = make_link(session, person, "passphrase", person.name)
        name, email = person.name, person.email
    send_link(secret, name=name, email=email, kind="passphrase")


@api.route_for("post", "/first", needs="open", returns=Who)
@limiter.limit("10 per minute")
def first(body: First) -> Who:
    """Make the first administrator of a server that has none, with the code that its terminal printed."""
    code = current_app.config["FIRST_CODE"]
    if not code or plain_code(body.code) != plain_code(code):
        raise Problem("wrong_first_code", "This is not the code that the server printed when it started.")
    check_passphrase(body.passphrase, [body.name, body.login])
    hashed = hash_passphrase(body.passphrase)
    with store().session() as session:
        if has_administrator(session):
            raise Problem("not_new", "Somebody administers this server already. Sign in, or ask them.")
        person = Person(
            name=body.name.strip(), login=free_login(session, body.login), password_hash=hashed, is_administrator=True
        )
        session.add(person)
        session.flush()
        return begin_session(session, person)
