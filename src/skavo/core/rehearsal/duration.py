"""How long an interview would take: words to read and kinds to answer."""

from __future__ import annotations

from collections import defaultdict

from skavo.core.interview.engine import Engine
from skavo.core.interview.view import around, render, steps

WORDS_PER_SECOND = 2.5
# Seconds to answer once the question is read: an assumption to be replaced by the times of a pilot, not a finding.
ANSWER_SECONDS: dict[str, float] = {
    "statement": 1, "text": 9, "whole number": 4, "decimal": 5, "quantity": 8, "date": 8, "time": 6, "date-time": 12,
    "yes/no": 3, "single answer": 4, "multiple answer": 8, "ranking": 15, "point": 12, "path": 120, "area": 240,
    "photo": 20, "audio": 60, "video": 60, "file": 30, "signature": 15, "scanned code": 8, "instrument": 20,
    "unit": 8, "read-back": 3,
}  # fmt: skip
ASSUMPTION = (
    "2.5 words a second are read aloud (150 a minute), codes counted once a question; then a few seconds to answer, "
    "from 3 for yes/no to 240 for an area that is walked. These are assumptions: replace them by the times of a pilot."
)


def expected_seconds(engine: Engine) -> dict[int, float]:
    """Seconds for each part, by its index, of the interview as it stands: every screen that is asked once."""
    seconds: defaultdict[int, float] = defaultdict(float)
    for index, row in steps(engine):
        seconds[index] += _step_seconds(engine, index, row)
    return seconds


def _step_seconds(engine: Engine, index: int, row: tuple[object, ...]) -> float:
    part = engine.release.parts[index]
    words = len(render(engine, part.raw["wording"], row).split()) if part.raw["read_aloud"] else 0
    words += len(render(engine, part.raw["instruction"], row).split())
    if part.kind.uses_codes:
        labels = (engine.label(part.raw["code_list"], c["code"]) for c in engine.offered_codes(part, row))
        # A long list is not read out; it is searched.
        words += min(60, sum(len(label.split()) for label in labels))
    if _is_first(engine, index):
        titles = around(engine, index, row)
        words += len(titles[-1]["title"].split()) if titles else 0
    return words / WORDS_PER_SECOND + ANSWER_SECONDS.get(part.kind.name, 5)


def _is_first(engine: Engine, index: int) -> bool:
    """Whether a part is the first of its section, whose title is then said."""
    parent = engine.release.parts[index].parent
    return parent is not None and parent == index - 1
