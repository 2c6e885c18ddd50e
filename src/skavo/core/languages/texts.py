"""Every text of a script that people read, under a key that lasts: what is translated, and put back.

Keys are `title`, `part/ID/wording`, `part/ID/must_hold.0.message`, `code/LIST/CODE`, `unit/LIST/UNIT` and, for languages
that the phone does not speak by itself, `phone/KEY`.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

from skavo.core.interview.messages import MESSAGES
from skavo.core.questionnaire.script import Script, Texts

SPOKEN_BY_THE_PHONE = ("en", "fr", "ar")


@dataclass(frozen=True)
class ScriptText:
    """A text in its languages; `place` says where it stands in words people know, `field` what it is there."""

    key: str
    place: str
    field: str
    texts: Texts


@lru_cache(maxsize=1)
def phone_words() -> dict[str, Texts]:
    """The words of the interview's own buttons and messages, by key and language."""
    words: dict[str, Texts] = {f"engine.{key}": dict(texts) for key, texts in MESSAGES.items()}
    folder = resources.files("skavo.core.interview") / "words"
    for tag in SPOKEN_BY_THE_PHONE:
        for key, text in json.loads((folder / f"interview.{tag}.json").read_text("utf-8")).items():
            words.setdefault(f"interview.{key}", {})[tag] = text
    return words


def unspoken(script: Script) -> list[str]:
    """The languages of a script that the phone does not speak by itself."""
    return [tag for tag in script.languages if tag.split("-")[0] not in SPOKEN_BY_THE_PHONE]


def texts_of(script: Script) -> Iterator[ScriptText]:
    """The texts of a script in the order in which somebody reads it; empty ones are left out."""
    for text in _written(script):
        if any(said.strip() for said in text.texts.values()):
            yield text
    if tags := unspoken(script):
        for key, said in phone_words().items():
            own = {tag: script.phone_words.get(tag, {}).get(key, "") for tag in tags}
            yield ScriptText(f"phone/{key}", "the phone", key.split(".")[-1], {**said, **own})


def _written(script: Script) -> Iterator[ScriptText]:
    yield ScriptText("title", "the questionnaire", "title", script.title)
    for part in script.parts:
        place = part.variable or part.kind
        yield ScriptText(f"part/{part.id}/wording", place, "wording", part.wording)
        yield ScriptText(f"part/{part.id}/instruction", place, "instruction", part.instruction)
        for field in ("must_hold", "should_hold"):
            for number, check in enumerate(getattr(part, field)):
                yield ScriptText(f"part/{part.id}/{field}.{number}.message", place, "message", check.message)
    for entry in script.code_lists:
        for code in entry.codes:
            yield ScriptText(f"code/{entry.name}/{code.code}", f"list {entry.name}", code.code, code.label)
    for units in script.unit_lists:
        for unit in units.units:
            yield ScriptText(f"unit/{units.name}/{unit.unit}", f"units {units.name}", unit.unit, unit.label)


def source_language(script: Script, key: str) -> str:
    """The language that a text is translated from: the script's first one, English for the phone's own words."""
    return "en" if key.startswith("phone/") else script.languages[0]


def with_texts(script: Script, changes: Mapping[str, Mapping[str, str]]) -> Script:
    """The script with other texts: `changes` leads from keys to texts by language; unknown keys change nothing."""
    changed = script.model_copy(deep=True)
    for key, texts in changes.items():
        if key.startswith("phone/"):
            for tag, said in texts.items():
                changed.phone_words.setdefault(tag, {})[key.removeprefix("phone/")] = said
    # A code or unit that is written twice, as it may be in a draft, has one key and is said alike.
    for text in _written(changed):
        text.texts.update(changes.get(text.key, {}))
    return changed
