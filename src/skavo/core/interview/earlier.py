"""What the earlier round held, as rules read it."""

from __future__ import annotations

from copy import copy
from typing import Any

from skavo.core.errors import InterviewError
from skavo.core.interview.answers import WrongAnswer
from skavo.core.interview.effective import sized
from skavo.core.interview.paths import find_part
from skavo.core.interview.state import InterviewState
from skavo.core.rules.state import Row


def read_earlier(state: InterviewState, answers: dict[str, Any]) -> dict[tuple[int, Row], Any]:
    """The values of earlier `answers` (JSON form by path) by part and row; what cannot be read and special answers are left out.

    A quantity has the size that its unit had then: by the factors that follow from the earlier answers.
    """
    if not answers:
        return {}
    # At its beginning an interview has no values of its own; these stand in for them.
    before = copy(state)
    before.values = [{} for _ in state.release.parts]
    for path, raw in answers.items():
        try:
            part, row = find_part(state.release, path)
            value = state.read(part, raw)
        except (InterviewError, WrongAnswer):
            continue
        if not isinstance(value, dict):
            before.values[part.index][row] = value
    found = {
        (part.index, row): value for part in state.release.parts for row, value in before.values[part.index].items()
    }
    return {
        (index, row): sized(before, state.release.parts[index], row, value) for (index, row), value in found.items()
    }
