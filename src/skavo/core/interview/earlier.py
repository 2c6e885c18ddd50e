"""What the earlier round held, as rules read it."""

from __future__ import annotations

from copy import copy
from typing import TYPE_CHECKING, Any

from skavo.core.errors import InterviewError
from skavo.core.interview.answers import WrongAnswer
from skavo.core.interview.effective import sized
from skavo.core.interview.paths import find_part
from skavo.core.rules.state import Row

if TYPE_CHECKING:
    from skavo.core.interview.engine import Engine


def read_earlier(engine: Engine, answers: dict[str, Any]) -> dict[tuple[int, Row], Any]:
    """The values of earlier `answers` (JSON form by path) by part and row; what cannot be read and special answers are left out.

    A quantity has the size that its unit had then: by the factors that follow from the earlier answers.
    """
    if not answers:
        return {}
    # At its beginning an interview has no values of its own; these stand in for them.
    before = copy(engine)
    before.values = [{} for _ in engine.release.parts]
    for path, raw in answers.items():
        try:
            part, row = find_part(engine.release, path)
            value = engine.read(part, raw)
        except (InterviewError, WrongAnswer):
            continue
        if not isinstance(value, dict):
            before.values[part.index][row] = value
    found = {
        (part.index, row): value for part in engine.release.parts for row, value in before.values[part.index].items()
    }
    return {
        (index, row): sized(before, engine.release.parts[index], row, value) for (index, row), value in found.items()
    }
