"""A translator's texts brought back: what each of them changes, and what is wrong with it, before any is taken."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Literal

from skavo.core.languages.texts import source_language, texts_of, with_texts
from skavo.core.languages.values import compare_values
from skavo.core.questionnaire.script import Script

Trouble = Literal["", "source changed", "value lost", "no such text"]


@dataclass(frozen=True)
class Brought:
    """A text as it came back; `row` is its row in the file, `source` what it says it was translated from."""

    row: int
    key: str
    source: str
    text: str


@dataclass(frozen=True)
class Judged:
    """What a text that was brought changes. `words` say what is wrong with it; it is taken all the same, but for
    texts that are not there any more."""

    row: int
    key: str
    place: str
    source: str
    before: str
    after: str
    trouble: Trouble
    words: str


@dataclass(frozen=True)
class Taken:
    """The script with the texts that came back; `left_empty` of them have no translation yet, `same` changed nothing."""

    script: Script
    changed: list[Judged] = field(default_factory=list)
    doubtful: list[Judged] = field(default_factory=list)
    left_empty: int = 0
    same: int = 0


def take_texts(script: Script, language: str, brought: Iterable[Brought]) -> Taken:
    """Put a translator's texts into the script; none is lost without being told."""
    known = {text.key: text for text in texts_of(script)}
    changes: dict[str, dict[str, str]] = {}
    changed: list[Judged] = []
    doubtful: list[Judged] = []
    left_empty = same = 0
    for entry in brought:
        text = known.get(entry.key)
        after = entry.text.strip()
        if not after:
            left_empty += 1
            continue
        if text is None:
            words = "This text is not in the questionnaire any more; it is left out."
            doubtful.append(Judged(entry.row, entry.key, "", entry.source, "", after, "no such text", words))
            continue
        source = text.texts.get(source_language(script, entry.key), "")
        before = text.texts.get(language, "")
        if before == after:
            same += 1
            continue
        trouble, words = _trouble(source, entry.source, after)
        judged = Judged(entry.row, entry.key, f"{text.place} · {text.field}", source, before, after, trouble, words)
        (doubtful if trouble else changed).append(judged)
        changes[entry.key] = {language: after}
    return Taken(with_texts(script, changes), changed, doubtful, left_empty, same)


def _trouble(source: str, translated_from: str, after: str) -> tuple[Trouble, str]:
    values = compare_values(source, after)
    if values.lost or values.added:
        lost = ", ".join(f"{{{value}}}" for value in values.lost)
        added = ", ".join(f"{{{value}}}" for value in values.added)
        words = " ".join(
            piece
            for piece in (f"It lacks {lost}." if lost else "", f"The source has no {added}." if added else "")
            if piece
        )
        return "value lost", words
    if translated_from.strip() and translated_from.strip() != source.strip():
        return "source changed", f"It was translated from “{translated_from.strip()}”; the source is another one now."
    return "", ""
