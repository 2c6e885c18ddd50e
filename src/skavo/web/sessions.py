"""Signing in and out."""

from __future__ import annotations

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from flask import session as cookie
from flask_login import UserMixin, current_user, login_user, logout_user
from flask_wtf.csrf import generate_csrf
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select

from skavo.store.models import User, now
from skavo.web.limits import limiter
from skavo.web.permissions import ROLES
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store

api = Resource("sessions", "/session")
_hasher = PasswordHasher()
_DUMMY = _hasher.hash("nobody has this password")


class SignedIn(UserMixin):  # type: ignore[misc]
    """Who is asking."""

    def __init__(self, user: User) -> None:
        self.id = user.id
        self.login = user.login
        self.name = user.name
        self.role = user.role


class SignIn(BaseModel):
    model_config = ConfigDict(extra="forbid")
    login: str = Field(max_length=64)
    password: str = Field(max_length=256)


class Who(BaseModel):
    """`csrf_token` goes into the header X-CSRFToken of everything that changes something."""

    name: str | None = None
    login: str | None = None
    role: str | None = None
    permissions: list[str] = []
    csrf_token: str


def hash_password(password: str) -> str:
    return _hasher.hash(password)


def load_user(user_id: str) -> SignedIn | None:
    with store().reading() as session:
        user = session.get(User, int(user_id))
        return SignedIn(user) if user else None


def _who() -> Who:
    if not current_user.is_authenticated:
        return Who(csrf_token=generate_csrf())
    granted: list[str] = sorted(p for name, ps in ROLES.items() if name == current_user.role for p in ps)
    return Who(
        name=current_user.name, login=current_user.login, role=current_user.role, permissions=granted,
        csrf_token=generate_csrf(),
    )  # fmt: skip


@api.route_for("get", "", needs="open", returns=Who)
def show() -> Who:
    """Who is signed in, if anyone."""
    return _who()


@api.route_for("post", "", needs="open", returns=Who)
@limiter.limit("10 per minute")
def sign_in(body: SignIn) -> Who:
    with store().session() as session:
        user = session.scalar(select(User).where(User.login == body.login.strip().lower()))
        try:
            _hasher.verify(user.password_hash if user else _DUMMY, body.password)
        except VerificationError:
            user = None
        if user is None:
            raise Problem("wrong_sign_in", "This name and password do not go together.")
        user.last_seen = now()
        signed_in = SignedIn(user)
    cookie.clear()
    cookie.permanent = True
    login_user(signed_in)
    return _who()


@api.route_for("delete", "", needs="signed-in", returns=Who)
def sign_out() -> Who:
    logout_user()
    cookie.clear()
    return _who()
