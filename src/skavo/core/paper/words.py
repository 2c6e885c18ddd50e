"""The words of a paper questionnaire that are none of the questionnaire's own, by language."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files
from typing import Any

SPOKEN = ("en", "fr", "es", "pt", "ar")


@cache
def _catalogue(tag: str) -> dict[str, str]:
    text = files(__package__).joinpath("words", f"{tag}.json").read_text(encoding="utf-8")
    words: dict[str, str] = json.loads(text)
    return words


def words_in(language: str) -> dict[str, str]:
    """All words in a language; in English where there are none in it or in the one that it is a variety of."""
    tag = next((t for t in (language, language.split("-")[0]) if t in SPOKEN), "en")
    return _catalogue("en") | _catalogue(tag)


def say(words: dict[str, str], key: str, **values: Any) -> str:
    return words[key].format(**values)
