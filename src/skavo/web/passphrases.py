"""Passphrases: what is kept of them, and which are too easily guessed."""

from __future__ import annotations

import re

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from zxcvbn import zxcvbn

from skavo.store.models import Person
from skavo.web.problems import Problem

_hasher = PasswordHasher()
_NOBODYS = _hasher.hash("nobody has this passphrase")
_SHORTEST = 12
# Of 0 to 4, as zxcvbn counts: 3 withstands some 10⁸ guesses.
_LEAST_SCORE = 3
_LEAST_OWN = 6


def hash_passphrase(passphrase: str) -> str:
    return _hasher.hash(passphrase)


def is_passphrase(person: Person | None, passphrase: str) -> bool:
    """Whether it is the person's; it takes as long for nobody, and for one who never chose any."""
    kept = person.password_hash if person is not None and person.password_hash else _NOBODYS
    try:
        _hasher.verify(kept, passphrase)
    except VerificationError:
        return False
    return kept is not _NOBODYS


def check_passphrase(passphrase: str, known: list[str]) -> None:
    """Refuse one that is short, common, or made of what is `known` about the person."""
    if len(passphrase) < _SHORTEST:
        raise Problem(
            "weak_passphrase", f"A passphrase has at least {_SHORTEST} characters. Three or four words are good."
        )
    words = [word.lower() for name in known for word in (name, *re.split(r"\W+", name)) if len(word) > 2]
    # What is left of it without what everybody knows of the person.
    own = re.sub(
        "|".join(re.escape(word) for word in sorted(words, key=len, reverse=True)) or "$^", "", passphrase.lower()
    )
    # The judgement takes long for long ones, which are good enough by their first hundred characters.
    judged = zxcvbn(passphrase[:100], user_inputs=words)
    if judged["score"] < _LEAST_SCORE or len(re.sub(r"\W", "", own)) < _LEAST_OWN:
        raise Problem(
            "weak_passphrase",
            "This is guessed too easily: it is common, or made of your name. Take three or four words that do not "
            "belong together.",
        )
