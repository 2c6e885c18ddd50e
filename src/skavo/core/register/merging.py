"""Two people who changed the same unit: different fields merge by themselves, the same one waits for somebody."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from skavo.core.register.changes import Answers, Changes, changes_between


@dataclass(frozen=True)
class Merged:
    """What comes of a change: `taken` goes in, [present, after] by field; `doubtful` is left for somebody to decide,
    [before, present, after] by field."""

    taken: Changes
    doubtful: dict[str, list[Any]]


def merge(present: Answers, before: Answers, after: Answers) -> Merged:
    """A change from `before` to `after`, made elsewhere, of a unit that holds `present` by now.

    Only fields that the change is about are looked at. One that is still what was seen of it is changed; one that has
    become the same meanwhile is left; one that somebody else has made something else of is doubtful.

    >>> merge({"roof": "tin", "age": 4}, {"roof": "tin", "age": 3}, {"roof": "tile", "age": 5})
    Merged(taken={'roof': ['tin', 'tile']}, doubtful={'age': [3, 4, 5]})
    """
    taken: Changes = {}
    doubtful: dict[str, list[Any]] = {}
    for part_id, (was, wanted) in changes_between(before, after).items():
        now = present.get(part_id)
        if now == was:
            taken[part_id] = [now, wanted]
        elif now != wanted:
            doubtful[part_id] = [was, now, wanted]
    return Merged(taken, doubtful)
