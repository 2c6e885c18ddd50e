"""Signing in and out, the browsers somebody is signed in with, and asking again before what is dangerous."""

from __future__ import annotations

import logging
from datetime import datetime, timedelta
from typing import Any

from flask import request
from flask import session as cookie
from flask_login import UserMixin, current_user, login_user, logout_user
from flask_wtf.csrf import generate_csrf
from pydantic import BaseModel, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.services.refusals import not_found
from skavo.store.models import Person, SignedInSession, now
from skavo.store.people import has_administrator
from skavo.store.secrets import hash_of, new_secret
from skavo.web.guard import caller
from skavo.web.limits import by_login, by_login_and_address, limiter
from skavo.web.mail import tell_changed
from skavo.web.passphrases import check_passphrase, hash_passphrase, is_passphrase
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store
from skavo.web.shapes import Body

api = Resource("sessions", "/session")
log = logging.getLogger("skavo.sessions")
IDLE = timedelta(hours=1)
LONGEST = timedelta(hours=12)
CONFIRMED_FOR = timedelta(minutes=10)
# A session is noted as used this often, so that reading does not write.
_NOTED = timedelta(minutes=1)


class SignedIn(UserMixin):  # type: ignore[misc]
    """Who is asking; the identity that the cookie holds is the secret of the session, not the person's number."""

    def __init__(self, person: Person, session: SignedInSession, secret: str) -> None:
        self.id = person.id
        self.name = person.name
        self.login = person.login
        self.is_administrator = person.is_administrator
        self.session_id = session.id
        self.confirmed_at = session.confirmed_at
        self.secret = secret

    def get_id(self) -> str:
        return self.secret


class SignIn(Body):
    login: str = Field(max_length=64)
    password: str = Field(max_length=256)


class Confirm(Body):
    password: str = Field(max_length=256)


class NewPassphrase(Body):
    present: str = Field(max_length=256)
    wanted: str = Field(max_length=256)


class Who(BaseModel):
    """`csrf_token` goes into the header X-CSRFToken of everything that changes something. `is_new` says that nobody
    administers this server yet: then the first one is made with the code that the terminal printed."""

    name: str | None = None
    login: str | None = None
    is_administrator: bool = False
    is_new: bool = False
    csrf_token: str


class SessionOut(BaseModel):
    """A browser somebody is signed in with."""

    id: int
    browser: str
    address: str
    began_at: datetime
    used_at: datetime
    here: bool


class SessionPath(BaseModel):
    session_id: int


def load_user(secret: str) -> SignedIn | None:
    """The person of a session that goes on; one that was idle or is too old has ended."""
    at = now()
    with store().reading() as session:
        found = session.execute(_living(secret, at)).tuples().first()
        if found is None:
            return None
        signed_in = SignedIn(found[1], found[0], secret)
        used_at = found[0].used_at
    if at - used_at > _NOTED:
        with store().session() as session:
            session.get_one(SignedInSession, signed_in.session_id).used_at = at
            session.get_one(Person, signed_in.id).last_seen = at
    return signed_in


def is_signed_in() -> bool:
    """Whether a request comes from a session that goes on; unlike loading its person, nothing is noted."""
    secret = cookie.get("_user_id")
    if not isinstance(secret, str):
        return False
    with store().reading() as session:
        return session.execute(_living(secret, now())).first() is not None


def _living(secret: str, at: datetime):  # type: ignore[no-untyped-def]
    joined = select(SignedInSession, Person).join(Person, Person.id == SignedInSession.person_id)
    return joined.where(
        SignedInSession.secret_hash == hash_of(secret), SignedInSession.ended_at.is_(None),
        SignedInSession.used_at > at - IDLE, SignedInSession.began_at > at - LONGEST,
    )  # fmt: skip


def _who() -> Who:
    if not current_user.is_authenticated:
        with store().reading() as session:
            return Who(csrf_token=generate_csrf(), is_new=not has_administrator(session))
    return Who(
        name=current_user.name, login=current_user.login, is_administrator=current_user.is_administrator,
        csrf_token=generate_csrf(),
    )  # fmt: skip


def begin_session(session: Session, person: Person) -> Who:
    """Sign `person` in with this browser."""
    secret = new_secret()
    begun = SignedInSession(
        person_id=person.id, secret_hash=hash_of(secret), browser=request.user_agent.string[:200],
        address=(request.remote_addr or "")[:64],
    )  # fmt: skip
    session.add(begun)
    person.last_seen = now()
    session.flush()
    log.info("signed in", extra=_told(person))
    cookie.clear()
    cookie.permanent = True
    login_user(SignedIn(person, begun, secret))
    return _who()


def _told(person: Person | None) -> dict[str, Any]:
    return {"told": {"person": person.id if person else None, "address": request.remote_addr}}


@api.route_for("get", "", needs="open", returns=Who)
def show() -> Who:
    """Who is signed in, if anyone."""
    return _who()


@api.route_for("post", "", needs="open", returns=Who)
@limiter.limit("100 per minute")
@limiter.limit("60 per hour", key_func=by_login)
@limiter.limit("10 per minute", key_func=by_login_and_address)
def sign_in(body: SignIn) -> Who:
    with store().reading() as session:
        person = session.scalar(select(Person).where(Person.login == body.login.strip().lower()))
    # An unknown name takes as long as a wrong passphrase.
    if not is_passphrase(person, body.password) or person is None:
        # Never what was typed for the name: it may be the passphrase.
        log.warning("sign-in refused", extra=_told(person))
        raise Problem("wrong_sign_in", "This name and passphrase do not go together.")
    with store().session() as session:
        return begin_session(session, session.get_one(Person, person.id))


@api.route_for("delete", "", needs="signed-in", returns=Who)
def sign_out() -> Who:
    with store().session() as session:
        session.get_one(SignedInSession, current_user.session_id).ended_at = now()
    logout_user()
    cookie.clear()
    return _who()


@api.route_for("get", "/all", needs="signed-in", returns=list[SessionOut])
def list_all() -> list[SessionOut]:
    """Every browser that whoever asks is signed in with."""
    at = now()
    mine = select(SignedInSession).where(
        SignedInSession.person_id == caller().person_id, SignedInSession.ended_at.is_(None),
        SignedInSession.used_at > at - IDLE, SignedInSession.began_at > at - LONGEST,
    )  # fmt: skip
    with store().reading() as session:
        return [
            SessionOut(
                id=s.id, browser=s.browser, address=s.address, began_at=s.began_at, used_at=s.used_at,
                here=s.id == current_user.session_id,
            )
            for s in session.scalars(mine.order_by(SignedInSession.used_at.desc()))
        ]  # fmt: skip


@api.route_for("delete", "/all/<int:session_id>", needs="signed-in")
def end(path: SessionPath) -> None:
    """Sign out elsewhere."""
    with store().session() as session:
        found = session.scalar(
            select(SignedInSession).where(
                SignedInSession.id == path.session_id, SignedInSession.person_id == caller().person_id
            )
        )
        if found is None:
            raise not_found("session")
        found.ended_at = found.ended_at or now()


@api.route_for("post", "/confirmation", needs="signed-in")
@limiter.limit("10 per minute")
def confirm(body: Confirm) -> None:
    """Say the passphrase again before something dangerous."""
    with store().reading() as session:
        person = session.get_one(Person, caller().person_id)
    if not is_passphrase(person, body.password):
        log.warning("confirmation refused", extra=_told(person))
        raise Problem("wrong_sign_in", "This is not your passphrase.")
    with store().session() as session:
        session.get_one(SignedInSession, current_user.session_id).confirmed_at = now()


def confirmed() -> None:
    """Refuse what is dangerous until whoever asks has said their passphrase within the last minutes."""
    if now() - current_user.confirmed_at > CONFIRMED_FOR:
        raise Problem("confirm_first", "Say your passphrase again to go on.")


@api.route_for("put", "/passphrase", needs="signed-in")
@limiter.limit("10 per minute")
def change_passphrase(body: NewPassphrase) -> None:
    """Choose another passphrase; every other browser is signed out by it."""
    with store().reading() as session:
        person = session.get_one(Person, caller().person_id)
    if not is_passphrase(person, body.present):
        raise Problem("wrong_sign_in", "This is not your passphrase.")
    check_passphrase(body.wanted, [person.name, person.login or "", person.email])
    hashed = hash_passphrase(body.wanted)
    with store().session() as session:
        session.get_one(Person, person.id).password_hash = hashed
        end_sessions(session, person.id, but=current_user.session_id)
    tell_changed(person.name, person.email)


def end_sessions(session: Session, person_id: int, *, but: int | None = None) -> None:
    """Sign a person out everywhere, or everywhere else."""
    for found in session.scalars(
        select(SignedInSession).where(SignedInSession.person_id == person_id, SignedInSession.ended_at.is_(None))
    ):
        if found.id != but:
            found.ended_at = now()
