"""The one limiter of how often something may be tried: by address, and by person without locking anybody out for good."""

from __future__ import annotations

from flask import request
from flask_limiter import Limiter
from flask_limiter.util import get_remote_address

limiter = Limiter(get_remote_address, storage_uri="memory://")


def by_login() -> str:
    """One person's name, from wherever it is tried."""
    body = request.get_json(silent=True)
    login = body.get("login") if isinstance(body, dict) else ""
    return f"login {str(login).strip().lower()[:64]}"


def by_login_and_address() -> str:
    """One person's name from one address: the others of an office go on."""
    return f"{by_login()} {get_remote_address()}"
