"""Secrets that are given out once: of each only the hash is kept."""

from __future__ import annotations

import hashlib
import secrets

CODE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"


def new_secret() -> str:
    return secrets.token_urlsafe(32)


def new_code() -> str:
    """A code that is read out and typed, as ABCD-EFGH."""
    letters = "".join(secrets.choice(CODE_LETTERS) for _ in range(8))
    return f"{letters[:4]}-{letters[4:]}"


def plain_code(code: str) -> str:
    """A code as it is compared: capital letters, no dashes or spaces."""
    return "".join(c for c in code.upper() if c in CODE_LETTERS)


def hash_of(secret: str) -> str:
    """What is kept of a secret; long random ones need no slow hash."""
    return hashlib.sha256(secret.encode()).hexdigest()
