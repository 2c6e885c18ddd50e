"""A text that fits a pattern."""

from __future__ import annotations

import random
import re
from typing import Any

from skavo.core.rules.automaton import text_fits

_parser: Any = re._parser
_PRINTABLE = [chr(c) for c in range(33, 127)]
_CATEGORIES = {
    "CATEGORY_DIGIT": "0123456789", "CATEGORY_SPACE": " ", "CATEGORY_WORD": "abcdefghijklmnopqrstuvwxyz0123456789_",
    "CATEGORY_NOT_DIGIT": "abcxyz", "CATEGORY_NOT_SPACE": "abcxyz", "CATEGORY_NOT_WORD": "-.",
}  # fmt: skip


def text_of_pattern(pattern: str, rng: random.Random) -> str | None:
    """A text that the pattern fits; None where it asks for something that cannot be made up (looking around)."""
    made = _make(_parser.parse(pattern), rng)
    return made if made is not None and text_fits("pattern", pattern, made) else None


def _make(items: Any, rng: random.Random) -> str | None:
    made = []
    for op, argument in items:
        piece = _piece(str(op), argument, rng)
        if piece is None:
            return None
        made.append(piece)
    return "".join(made)


def _piece(name: str, argument: Any, rng: random.Random) -> str | None:
    if name == "LITERAL":
        return chr(argument)
    if name == "ANY":
        return rng.choice(_PRINTABLE)
    if name == "NOT_LITERAL":
        return rng.choice([c for c in _PRINTABLE if ord(c) != argument])
    if name == "IN":
        return _one_of(argument, rng)
    if name in ("MAX_REPEAT", "MIN_REPEAT", "POSSESSIVE_REPEAT"):
        least, most, inner = argument
        made = [_make(inner, rng) for _ in range(rng.randint(least, min(most, least + 3)))]
        return None if None in made else "".join(piece for piece in made if piece is not None)
    if name == "SUBPATTERN":
        return _make(argument[3], rng)
    if name == "BRANCH":
        return _make(rng.choice(argument[1]), rng)
    return "" if name == "AT" else None


def _one_of(members: Any, rng: random.Random) -> str:
    names = [(str(op), value) for op, value in members]
    wanted: set[str] = set()
    for name, value in names:
        if name == "LITERAL":
            wanted.add(chr(value))
        elif name == "RANGE":
            wanted.update(chr(c) for c in range(value[0], min(value[1], value[0] + 500) + 1))
        elif name == "CATEGORY":
            wanted.update(_CATEGORIES[str(value)])
    if names[0][0] == "NEGATE":
        return rng.choice([c for c in _PRINTABLE if c not in wanted])
    return rng.choice(sorted(wanted))
