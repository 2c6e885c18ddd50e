"""Hints about code lists: not used, two codes with one label, scales with unequal sides."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints.words import BAD_SIDE, GOOD_SIDE, NEITHER_SIDE
from skavo.core.questionnaire.script import Code, CodeList, Script

_LONGEST_SCALE = 11


def hint_lists(script: Script) -> Iterator[Finding]:
    """Hints about every list."""
    used = {part.code_list for part in script.parts}
    first = script.languages[0]
    for entry in script.code_lists:
        if entry.name not in used:
            message = f"No question takes its codes from {entry.name}."
            yield Finding("hint", "unused_list", message, "Use it, or remove it.", code_list=entry.name)
        yield from _double_labels(entry, first)
        yield from _unequal_sides(entry, first)


def _double_labels(entry: CodeList, language: str) -> Iterator[Finding]:
    """The same label under the same code of the list above is one code too many; elsewhere it is another place."""

    def place(code: Code) -> tuple[object, ...]:
        return (code.label.get(language, "").strip().casefold(), *sorted(code.attributes.items()))

    counted = Counter(place(code) for code in entry.codes)
    told: set[tuple[object, ...]] = set()
    for code in entry.codes:
        key = place(code)
        if key[0] and counted[key] > 1 and key not in told:
            told.add(key)
            message = f"{entry.name} has the label “{code.label[language]}” {counted[key]} times."
            yield Finding(
                "hint", "double_label", message, "Tell them apart, or merge them.", code_list=entry.name, item=code.code
            )


def _unequal_sides(entry: CodeList, language: str) -> Iterator[Finding]:
    base = language.split("-")[0]
    if base not in GOOD_SIDE or not 3 <= len(entry.codes) <= _LONGEST_SCALE:
        return
    labels = [code.label.get(language, "") for code in entry.codes]
    sides = [_side(label, base) for label in labels]
    good, bad = sides.count(1), sides.count(-1)
    # Only where every label is on a side, or in the middle, it is a scale.
    if good and bad and good != bad and None not in sides:
        message = f"This scale has {good} on the good side and {bad} on the bad one."
        yield Finding("hint", "unequal_sides", message, "Give both sides as many.", code_list=entry.name)


def _side(label: str, base: str) -> int | None:
    if NEITHER_SIDE[base].search(label):
        return 0
    if BAD_SIDE[base].search(label):
        return -1
    return 1 if GOOD_SIDE[base].search(label) else None
