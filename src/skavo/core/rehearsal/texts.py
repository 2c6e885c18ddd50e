"""Texts made up: by a mask, by a pattern, or plain words."""

from __future__ import annotations

import random
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Any

from skavo.core.rehearsal.patterns import text_of_pattern
from skavo.core.rules.check_digits import check_digit_ok

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
_TRIES, _LONGEST = 25, 14
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


@dataclass
class TextDemands:
    """What the hard checks of a question ask of its text: forms to fit, least and most length, check digits."""

    forms: list[tuple[str, str]] = field(default_factory=list)
    least: int = 0
    most: int | None = None
    algorithms: list[str] = field(default_factory=list)

    @classmethod
    def of(cls, raw: dict[str, Any]) -> TextDemands:
        demands = cls(least=int(raw["least"] or 0), most=int(raw["most"]) if raw["most"] is not None else None)
        if raw["mask"]:
            demands.forms.append(("mask", raw["mask"]))
        for check in raw["checks"]:
            if check["strength"] == "must":
                demands.read(check["rule"])
        return demands

    def read(self, tree: Any) -> None:
        """Take up a rule, or each part of it where all of them have to hold."""
        op, *args = tree
        if op == "and":
            for arg in args:
                self.read(arg)
        elif op == "matches" and args[0][0] == "variable":
            self.forms.append((args[1], args[2]))
        elif tree[:2] == ["call", "check_digit_ok"] and tree[3][0] == "literal":
            self.algorithms.append(tree[3][2])
        elif (
            op in _LENGTHS
            and args[0][:2] == ["call", "length"]
            and all(a[:2] == ["literal", "number"] for a in args[1:])
        ):
            least, most = _LENGTHS[op](*[int(Decimal(a[2])) for a in args[1:]])
            self.least = max(self.least, least)
            self.most = most if self.most is None else self.most if most is None else min(self.most, most)

    @property
    def is_plain(self) -> bool:
        return not (self.forms or self.algorithms or self.least or self.most is not None)

    def are_met(self, text: str) -> bool:
        fits = self.least <= len(text) and (self.most is None or len(text) <= self.most)
        return fits and all(check_digit_ok(text, name) for name in self.algorithms)


_LENGTHS: dict[str, Callable[..., tuple[int, int | None]]] = {
    "ge": lambda n: (n, None),
    "gt": lambda n: (n + 1, None),
    "le": lambda n: (0, n),
    "lt": lambda n: (0, n - 1),
    "is": lambda n: (n, n),
    "between": lambda low, high: (low, high),
}


def matching_text(raw: dict[str, Any], rng: random.Random) -> str | None:
    """A text that a question's mask, limits and hard checks let through, as far as can be told; None where none is asked."""
    demands = TextDemands.of(raw)
    if demands.is_plain:
        return None
    made = None
    for _ in range(_TRIES):
        made = _draft(demands, raw["variable"], rng)
        if made is not None and demands.algorithms:
            made = _with_check_digit(demands, made)
        if made is not None and demands.are_met(made):
            return made
    return made


def _draft(demands: TextDemands, variable: str, rng: random.Random) -> str | None:
    if demands.forms:
        form, pattern = demands.forms[0]
        return text_of_mask(pattern, rng) if form == "mask" else text_of_pattern(pattern, rng)
    least = max(demands.least, 1)
    most = demands.most if demands.most is not None else max(least, _LONGEST)
    if demands.algorithms:
        return "".join(rng.choice("0123456789") for _ in range(rng.randint(min(max(least, 6), most), most)))
    text = plain_text(variable, rng)
    while len(text) < least:
        text += " " + plain_text(variable, rng)
    return re.sub(r"\s+$", "x", text[:most])


def _with_check_digit(demands: TextDemands, text: str) -> str | None:
    """`text` with its end replaced so that the first algorithm holds; one sign is enough for most, MOD 97-10 takes two."""
    algorithm = demands.algorithms[0]
    ends = [*"0123456789X*", *(f"{n:02}" for n in range(100)), *_LETTERS]
    return next((made for end in ends if check_digit_ok(made := text[: -len(end)] + end, algorithm)), None)
