"""How long questions took in interviews, from what the phone noted of its own accord."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from statistics import median
from typing import Any

from skavo.core.questionnaire.flow import Block

# Whoever stays longer on one screen has put the phone down.
LONGEST_SECONDS = 900


@dataclass(frozen=True)
class Measured:
    """Median seconds in the interviews in which something was timed, all rows together; `part` is its identity."""

    part: str
    interviews: int
    seconds: float


def seconds_by_path(events: Iterable[Mapping[str, Any]]) -> dict[str, float]:
    """Seconds by the path of an answer; `events` are {kind, path, at}, kinds those of the phone, in their order.

    The time up to an answer belongs to its question, that after it too, until the next screen is seen. What lies
    between leaving and coming back, what cannot be read and what goes backwards is left out.
    """
    found: defaultdict[str, float] = defaultdict(float)
    before: Mapping[str, Any] | None = None
    for event in events:
        if before is not None and before.get("kind") != "left":
            path = event.get("path") if event.get("kind") == "answered" else before.get("path")
            taken = _between(before.get("at"), event.get("at"))
            if isinstance(path, str) and path and taken is not None:
                found[path] += taken
        before = event
    return found


def _between(start: Any, end: Any) -> float | None:
    try:
        taken = (datetime.fromisoformat(end) - datetime.fromisoformat(start)).total_seconds()
    except (TypeError, ValueError):
        return None
    return taken if 0 <= taken <= LONGEST_SECONDS else None


def measured(
    interviews: Iterable[Mapping[str, float]], blocks: Iterable[Block]
) -> tuple[list[Measured], list[Measured]]:
    """The parts, and the blocks by their heads, of interviews given as {part identity: seconds}."""
    timed = [interview for interview in interviews if interview]
    parts = {
        part: [each[part] for each in timed if part in each] for part in dict.fromkeys(p for i in timed for p in i)
    }
    whole = {
        block.head or block.parts[0]: [
            sum(each.get(part, 0.0) for part in block.parts) for each in timed if any(p in each for p in block.parts)
        ]
        for block in blocks
    }
    return _medians(parts), _medians(whole)


def _medians(seconds: Mapping[str, list[float]]) -> list[Measured]:
    return [Measured(part, len(taken), round(median(taken), 1)) for part, taken in seconds.items() if taken]
