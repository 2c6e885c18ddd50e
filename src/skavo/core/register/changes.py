"""What happened to a unit, and what it was on any day: changes are kept with what was before, and read backwards."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

Answers = dict[str, Any]
# Before and after, None for nothing, by the identity of the field; `KEY` stands for the key.
Changes = dict[str, list[Any]]
KEY = "#key"
What = Literal["made", "changed", "moved", "merged", "split", "closed", "opened again"]
Origin = Literal["file", "desk", "phone", "interview"]


def changes_between(before: Answers, after: Answers) -> Changes:
    """The fields whose answers differ; one that is empty on both sides is none."""
    return {
        key: [before.get(key), after.get(key)]
        for key in dict.fromkeys([*before, *after])
        if before.get(key) != after.get(key)
    }


def applied(answers: Answers, changes: Changes) -> Answers:
    """The answers after changes; a field that became empty goes."""
    return _with(answers, changes, 1)


def undone(answers: Answers, later: Iterable[Changes]) -> Answers:
    """The answers as they were before some later changes, the newest first."""
    for changes in later:
        answers = _with(answers, changes, 0)
    return answers


def _with(answers: Answers, changes: Changes, side: int) -> Answers:
    merged = {**answers, **{key: pair[side] for key, pair in changes.items() if key != KEY}}
    return {key: value for key, value in merged.items() if value is not None}
