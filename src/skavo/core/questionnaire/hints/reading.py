"""How many years of school a text asks for, by published formulas; syllables are those of hyphenation (pyphen).

English: Kincaid, Fishburne, Rogers, Chissom (1975), Derivation of New Readability Formulas for Navy Enlisted Personnel:
grade = 0.39 words per sentence + 11.8 syllables per word - 15.59. French: Kandel, Moles (1958), Application de l'indice
de Flesch à la langue française: ease = 207 - 1.015 words per sentence - 73.6 syllables per word. Coefficients from
memory of the published formulas.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import lru_cache

import pyphen

_WORD = re.compile(r"[^\W\d_]+(?:['’][^\W\d_]+)*")
_SENTENCE = re.compile(r"[.!?…]+(?:\s|$)")
_VALUE = re.compile(r"\{[^{}]*\}")
# Single wordings are short: below so many words a formula made for running text says nothing.
FEWEST_WORDS = 12


def _grade(words: float, syllables: float) -> float:
    return 0.39 * words + 11.8 * syllables - 15.59


def _grade_of_ease(words: float, syllables: float) -> float:
    """The ease of Kandel and Moles as years of school, by the table that Flesch gives for ease: 30 is college, 90 five years."""
    ease = 207 - 1.015 * words - 73.6 * syllables
    return 5 + (90 - ease) / 60 * 9


_FORMULAS: dict[str, Callable[[float, float], float]] = {"en": _grade, "fr": _grade_of_ease}


def years_of_school(text: str, language: str) -> float | None:
    """The years of school that a text asks for; None where it is too short or its language has no formula here."""
    base = language.split("-")[0]
    # A value stands for a word.
    plain = _VALUE.sub(" it ", text)
    words = _WORD.findall(plain)
    if base not in _FORMULAS or len(words) < FEWEST_WORDS:
        return None
    sentences = max(1, len(_SENTENCE.findall(plain)))
    syllables = sum(_syllables(word, base) for word in words)
    return round(_FORMULAS[base](len(words) / sentences, syllables / len(words)), 1)


@lru_cache(maxsize=20_000)
def _syllables(word: str, language: str) -> int:
    return len(_hyphenation(language).positions(word)) + 1


@lru_cache(maxsize=8)
def _hyphenation(language: str) -> pyphen.Pyphen:
    # Every place where a word may be parted counts, also right after its first letter.
    return pyphen.Pyphen(lang=pyphen.language_fallback(language), left=1, right=1)
