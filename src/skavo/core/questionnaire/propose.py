"""What a line may be, guessed from its wording: a variable, the kind of answer, whether one is needed.

A proposal is only a beginning: it fills what the author has left empty, and never replaces what was chosen.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from anyascii import anyascii

from skavo.core.questionnaire.clues import CLUES, EMPTY_WORDS, OPTIONAL
from skavo.core.questionnaire.graft import free_name
from skavo.core.questionnaire.variables import RESERVED, suggest_variable

_MOST_CHARACTERS = 22
_STATEMENT_CHARACTERS = 40


@dataclass(frozen=True)
class Proposal:
    """`code_list` goes with a single or multiple answer, `unit` with a quantity; an empty text proposes nothing."""

    variable: str
    kind: str
    answer_needed: str = ""
    code_list: str = ""
    unit: str = ""


@dataclass(frozen=True)
class Around:
    """What a new line finds in its script: languages, first one first, variables that are taken, names of code lists."""

    languages: Sequence[str]
    taken: Collection[str] = ()
    lists: Sequence[str] = ()


def propose(around: Around, wording: Mapping[str, str], holds: bool = False) -> Proposal:
    """A proposal for a new line, from its wording in the first language that has one.

    A line that `holds` others is asked for a name only.
    """
    language, text = _first_text(around, wording)
    names = {*around.taken, *RESERVED}
    if not text:
        return Proposal("", "text")
    variable = free_name(name_from(text, language), names)
    if holds:
        return Proposal(variable, "")
    kind, unit = _kind(text, language)
    if kind == "statement":
        return Proposal("", kind)
    chosen = _list_meant(around, text, language) if kind in ("text", "multiple answer") else ""
    if chosen and kind == "text":
        kind = "single answer"
    clue = OPTIONAL.get(_base(language))
    needed = "" if clue is not None and clue.search(text.casefold()) else "yes"
    return Proposal(variable, kind, needed, chosen, unit)


def name_from(text: str, language: str) -> str:
    """A lawful variable of the first words that say what a wording is about, in Latin letters.

    >>> name_from("How many people work here, you included?", "en")
    'people_work'
    """
    empty = EMPTY_WORDS.get(_base(language), frozenset())
    words = _words(text)
    telling = [w for w in words if w not in empty] or words
    name = ""
    for word in telling[:2]:
        plain = re.sub(r"[^a-z0-9]", "", anyascii(word).lower())
        longer = f"{name}_{plain}" if name else plain[:_MOST_CHARACTERS]
        if plain and len(longer) <= _MOST_CHARACTERS:
            name = longer
    return suggest_variable(name) if name else "q_1"


def _words(text: str) -> list[str]:
    plain = re.sub(r"\{[^{}]*\}", " ", unicodedata.normalize("NFC", text)).casefold()
    # An elided article is no part of its word: « l'atelier ».
    return [re.sub(r"^\w{1,2}['’]", "", word) for word in re.findall(r"[^\W_]+(?:['’][^\W_]+)*", plain)]


def _first_text(around: Around, wording: Mapping[str, str]) -> tuple[str, str]:
    for language in [*around.languages, *wording]:
        if wording.get(language, "").strip():
            return language, wording[language].strip()
    return around.languages[0], ""


def _base(language: str) -> str:
    return language.split("-")[0].lower()


def _kind(text: str, language: str) -> tuple[str, str]:
    plain = text.casefold().replace("’", "'")
    for clue in CLUES.get(_base(language), []):
        if clue.pattern.search(plain.lstrip('¿¡ «"')):
            return clue.kind, clue.unit
    asks = any(mark in text for mark in "?؟;") or len(text) < _STATEMENT_CHARACTERS
    return ("text" if asks or not text.endswith((".", "!", "。")) else "statement"), ""


def _list_meant(around: Around, text: str, language: str) -> str:
    """The code list whose name is one of the first telling words: *Which island is it on?* means `island`."""
    empty = EMPTY_WORDS.get(_base(language), frozenset())
    telling = [anyascii(w) for w in _words(text) if w not in empty][:2]
    stems = {stem for w in telling for stem in (w, w.removesuffix("s"))}
    return next((name for name in around.lists if name in stems), "")
