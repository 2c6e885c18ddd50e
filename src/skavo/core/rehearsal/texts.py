"""Texts made up: by a mask, by a pattern, or plain words."""

from __future__ import annotations

import random
import re
from typing import Any

from skavo.core.rehearsal.patterns import text_of_pattern

_SYLLABLES = [
    "ba",
    "del",
    "fen",
    "gor",
    "hal",
    "is",
    "kor",
    "lum",
    "mar",
    "nel",
    "or",
    "pel",
    "sta",
    "tar",
    "ul",
    "ven",
]
_LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def plain_text(variable: str, rng: random.Random) -> str:
    """A word that nobody could mistake for a real answer."""
    return "".join(rng.choice(_SYLLABLES) for _ in range(rng.randint(2, 3))).capitalize()


def text_of_mask(mask: str, rng: random.Random) -> str:
    """A text that fits a mask of the rule language."""
    made = []
    for i, sign in enumerate(mask):
        if sign == "?" and i:
            continue
        if mask[i + 1 : i + 2] == "?" and rng.random() < 0.5:
            continue
        kinds = {"A": _LETTERS, "9": "0123456789", "*": _LETTERS + "0123456789"}
        made.append(rng.choice(kinds[sign]) if sign in kinds else sign)
    return "".join(made)


def matching_text(raw: dict[str, Any], rng: random.Random) -> str | None:
    """A text that fits the mask or the patterns that a question's hard checks ask of it; None where none is asked."""
    if raw["mask"]:
        return text_of_mask(raw["mask"], rng)
    for check in raw["checks"]:
        tree = check["rule"]
        if check["strength"] != "must" or tree[0] != "matches" or tree[1][0] != "variable":
            continue
        made = text_of_mask(tree[3], rng) if tree[2] == "mask" else text_of_pattern(tree[3], rng)
        if made is not None:
            return made
    least, most = raw["least"], raw["most"]
    if least is None and most is None:
        return None
    text = plain_text(raw["variable"], rng)
    while least is not None and len(text) < least:
        text += " " + plain_text(raw["variable"], rng)
    return re.sub(r"\s+$", "x", text[: int(most)]) if most is not None else text
