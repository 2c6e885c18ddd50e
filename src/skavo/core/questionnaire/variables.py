"""Lawful variable names: the strictest common denominator of the usual analysis files."""

from __future__ import annotations

import re

from anyascii import anyascii

VARIABLE = re.compile(r"[a-z][a-z0-9_]*")


def suggest_variable(text: str) -> str:
    """A lawful variable name made of `text`.

    >>> suggest_variable("Ship Name")
    'ship_name'
    >>> suggest_variable("Île d’Étel")
    'ile_d_etel'
    """
    plain = re.sub(r"[^a-z0-9]+", "_", anyascii(text).lower()).strip("_")[:32]
    return plain if plain[:1].isalpha() else f"q_{plain}"[:32].rstrip("_")
