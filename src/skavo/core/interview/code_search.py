"""Finding a code of a long list, or a unit of a register, by any part of a word, without accents: ten thousand names on a small screen."""

from __future__ import annotations

import unicodedata
from typing import Any, TypeVar

from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import find_part
from skavo.core.interview.release import PartSpec
from skavo.core.interview.screens import CodesFound, CodeShown
from skavo.core.interview.unit_choices import shown_unit, units_offered

T = TypeVar("T")
# A list longer than this is not scrolled through: its first codes are shown, and a field to type in.
MOST_AT_A_GLANCE = 40
FIRST_SHOWN = 12
MOST_FOUND = 30
# Letters that stand for themselves in Unicode, but that a keyboard without them writes otherwise.
_PLAIN = str.maketrans({"ø": "o", "ł": "l", "đ": "d", "ð": "d", "æ": "ae", "œ": "oe", "þ": "th", "ı": "i", "ـ": ""})


def folded(text: str) -> str:
    """`text` in small letters without accents and vowel signs, one space between words.

    >>> folded("Élan  de l’Œuvre")
    "elan de l'oeuvre"
    """
    split = unicodedata.normalize("NFKD", text.casefold())
    plain = "".join(sign for sign in split if unicodedata.category(sign) != "Mn").translate(_PLAIN)
    return " ".join(plain.replace("’", "'").split())


def shown_code(engine: Engine, part: PartSpec, code: dict[str, Any]) -> CodeShown:
    return {
        "code": code["code"],
        "label": engine.label(part.raw["code_list"], code["code"]),
        "exclusive": code["exclusive"],
        "media": code["media"],
    }


def find_codes(engine: Engine, path: str, typed: str) -> CodesFound:
    """The codes offered at `path` whose label or code holds every word typed.

    Those that begin with it come first, then those of which a word does, then the others, each in the list's order.
    """
    part, row = find_part(engine.release, path)
    wanted = folded(typed)
    words = wanted.split()
    if words and part.kind.name == "unit":
        return _find_units(engine, part, wanted)
    if not words or not part.kind.uses_codes:
        return {"codes": [], "more": 0}
    offered = engine.offered_codes(part, row)
    texts = _texts(engine, part.raw["code_list"])
    found = _ranked([(code, texts[code["code"]]) for code in offered], wanted)
    shown = [shown_code(engine, part, code) for code in found[:MOST_FOUND]]
    return {"codes": shown, "more": len(found) - len(shown)}


def _find_units(engine: Engine, part: PartSpec, wanted: str) -> CodesFound:
    offered, units = units_offered(engine, part), engine.outside.get("units", {})
    found = _ranked(
        [(key, folded(f"{unit.get('label') or key} {unit.get('id') or ''}")) for key, unit in offered.items()], wanted
    )
    shown = [shown_unit(units, key) for key in found[:MOST_FOUND]]
    return {"codes": shown, "more": len(found) - len(shown)}


def _ranked(texts: list[tuple[T, str]], wanted: str) -> list[T]:
    """What holds every word wanted, in ranks: those that begin with it, those of which a word does, the others."""
    words = wanted.split()
    ranked: tuple[list[T], ...] = ([], [], [])
    for thing, text in texts:
        if all(word in text for word in words):
            ranked[0 if text.startswith(wanted) else 1 if f" {words[0]}" in text else 2].append(thing)
    return [thing for group in ranked for thing in group]


def _texts(engine: Engine, code_list: str) -> dict[str, str]:
    """Label and code of every code of a list as they are looked through, in the interview's language."""
    key = (code_list, engine.language)
    known = engine.release.folded
    if key not in known:
        codes = engine.release.lists[code_list]
        known[key] = {c["code"]: f"{folded(engine.label(code_list, c['code']))} {c['code'].casefold()}" for c in codes}
    return known[key]
