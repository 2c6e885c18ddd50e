"""Lawful variable names: the strictest common denominator of the usual analysis files."""

from __future__ import annotations

import re

from anyascii import anyascii

VARIABLE = re.compile(r"[a-z][a-z0-9_]*")
MOST_CHARACTERS = 32
# Words of the rule language.
RESERVED = {
    "and", "or", "not", "if", "then", "else", "is", "of", "between", "includes", "matches", "where", "was", "yes",
    "no", "answered", "missing", "known", "refused", "asked", "today", "now", "row", "one", "none", "any", "all",
    "only", "pattern", "unit", "earlier", "interview", "enumerator", "times", "while", "label",
}  # fmt: skip


def is_variable(name: str) -> bool:
    """Whether a name is lawful, no longer than all analysis files take, and no word of the rule language."""
    return len(name) <= MOST_CHARACTERS and VARIABLE.fullmatch(name) is not None and name not in RESERVED


def suggest_variable(text: str) -> str:
    """A lawful variable name made of `text`.

    >>> suggest_variable("Ship Name")
    'ship_name'
    >>> suggest_variable("Île d’Étel")
    'ile_d_etel'
    """
    plain = re.sub(r"[^a-z0-9]+", "_", anyascii(text).lower()).strip("_")[:MOST_CHARACTERS]
    return plain if plain[:1].isalpha() else f"q_{plain}"[:MOST_CHARACTERS].rstrip("_")


def suggest_lawful(text: str) -> str:
    """As `suggest_variable`, and no word of the rule language."""
    name = suggest_variable(text)
    return f"{name}_2" if name in RESERVED else name
