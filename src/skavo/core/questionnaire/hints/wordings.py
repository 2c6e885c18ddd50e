"""Hints about how something is asked: two things in one, leading, long, hard to read."""

from __future__ import annotations

import re
from collections.abc import Iterator

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints.reading import years_of_school
from skavo.core.questionnaire.hints.words import LEADING, TWO_IN_ONE
from skavo.core.questionnaire.script import Part, Script

# Common practice, not a standard.
_MOST_WORDS = 40
_MOST_YEARS = 12


def hint_wordings(script: Script) -> Iterator[Finding]:
    """Hints about wordings, each at its language.

    Two things in one are looked for where the answer is one judgement: yes or no, or a place on the scale of a grid.
    """
    around: list[Part] = []
    for line, part in enumerate(script.parts):
        around = [above for above in around if above.level < part.level]
        is_one_thing = part.kind == "yes/no" or bool(
            part.kind == "single answer" and around and around[-1].kind == "grid"
        )
        for tag, text in part.wording.items():
            if tag in script.languages and text.strip():
                yield from _wording(line, part, tag, text, is_one_thing)
        around.append(part)


def _wording(line: int, part: Part, tag: str, text: str, is_one_thing: bool) -> Iterator[Finding]:
    def hint(code: str, message: str, mend: str, start: int = 0, length: int = 0) -> Finding:
        return Finding("hint", code, message, mend, line, part.id, f"wording.{tag}", start, length)

    base = tag.split("-")[0]
    leading = LEADING[base].search(text) if base in LEADING else None
    if leading is not None:
        message = f"“{leading[0]}” says which answer is expected."
        yield hint("leading", message, "Ask without it.", leading.start(), leading.end() - leading.start())
    two = TWO_IN_ONE[base].search(_question(text)) if base in TWO_IN_ONE and is_one_thing else None
    if two is not None:
        message = f"“{two[0]}” may ask two things in one; an answer to one of them is not known then."
        yield hint("two_in_one", message, "Ask them one by one, or set this aside.")
    words = len(text.split())
    if words > _MOST_WORDS:
        yield hint(
            "long_wording",
            f"{words} words are hard to keep in mind while listening.",
            "Say it in two sentences, or put a part before it as a statement.",
        )
    years = years_of_school(text, tag) if part.read_aloud else None
    if years is not None and years > _MOST_YEARS:
        message = f"By its sentences and words this asks for {round(years)} years of school."
        yield hint("hard_to_read", message, "Use shorter words and sentences.")


def _question(text: str) -> str:
    """The sentence that asks: what is said before it may join anything."""
    sentences = [s for s in re.split(r"(?<=[.!?؟])\s+", text.strip()) if s]
    return sentences[-1] if sentences else text
