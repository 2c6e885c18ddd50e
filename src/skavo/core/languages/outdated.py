"""Translations whose source has changed since: which, and what the source said when they were made."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from skavo.core.languages.texts import ScriptText, source_language, texts_of
from skavo.core.questionnaire.script import Script

# By key and language: the source as it was when the translation was written or confirmed.
Outdated = dict[str, dict[str, str]]


def follow(before: Script, after: Script, known: Mapping[str, Mapping[str, str]]) -> Outdated:
    """What is out of date in `after`, which was `before` until now; `known` is what was out of date then.

    A translation is so from the moment its source says something else until it is written anew, confirmed, or the
    source says again what it said. Where the first language is another one nothing is known.
    """
    if before.languages[0] != after.languages[0]:
        return {}
    if _same_texts(before, after):
        return {key: dict(texts) for key, texts in known.items()}
    earlier = {text.key: text for text in texts_of(before)}
    found: Outdated = {}
    for text in texts_of(after):
        was = earlier.get(text.key)
        if was is not None and (stale := _stale(after, was, text, known.get(text.key, {}))):
            found[text.key] = stale
    return found


def _same_texts(before: Script, after: Script) -> bool:
    return (before.parts, before.code_lists, before.unit_lists, before.title, before.phone_words) == (
        after.parts, after.code_lists, after.unit_lists, after.title, after.phone_words,
    )  # fmt: skip


def _stale(script: Script, was: ScriptText, now: ScriptText, known: Mapping[str, str]) -> dict[str, str]:
    source = source_language(script, now.key)
    old, new = was.texts.get(source, ""), now.texts.get(source, "")
    stale = {}
    for tag, said in now.texts.items():
        if tag == source or not said.strip() or said != was.texts.get(tag, ""):
            continue
        made_from = known.get(tag, old)
        if made_from.strip() and made_from != new:
            stale[tag] = made_from
    return stale


def confirm(known: Mapping[str, Mapping[str, str]], language: str, keys: Iterable[str]) -> Outdated:
    """The same without those that somebody found to be right still."""
    confirmed = set(keys)
    left = {
        key: {tag: said for tag, said in texts.items() if tag != language or key not in confirmed}
        for key, texts in known.items()
    }
    return {key: texts for key, texts in left.items() if texts}
