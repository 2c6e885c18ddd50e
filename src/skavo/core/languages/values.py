"""Whether every `{value}` of a text survived its translation."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from skavo.core.questionnaire.compile_part import PLACEHOLDER


@dataclass(frozen=True)
class Values:
    """What stands between braces in the source and not in the translation, and the other way round."""

    lost: list[str]
    added: list[str]


def compare_values(source: str, translation: str) -> Values:
    """Hold two texts against each other; an untranslated text has lost nothing.

    >>> compare_values("How old is {name}?", "Quel âge a {nom} ?")
    Values(lost=['name'], added=['nom'])
    """
    if not source.strip() or not translation.strip():
        return Values([], [])
    before, after = _values(source), _values(translation)
    return Values(list((before - after).elements()), list((after - before).elements()))


def _values(text: str) -> Counter[str]:
    return Counter(" ".join(value.split()) for value in PLACEHOLDER.findall(text))
