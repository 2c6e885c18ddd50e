"""The rounds of a study: a survey comes back to those it asks, and each time has a name and a first day."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from itertools import pairwise

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.errors import DataError


class Round(BaseModel):
    """`begins` is its first day; it lasts until the next one begins."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=64, pattern=r"\S")
    begins: date


def in_order(rounds: Sequence[Round]) -> list[Round]:
    """The rounds by their first day; raise DataError where two have the same name or begin on the same day."""
    ordered = sorted(rounds, key=lambda one: one.begins)
    names = [one.name.strip() for one in ordered]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise DataError("twice", f"Two rounds are called {twice}. Give each a name of its own.")
    for before, after in pairwise(ordered):
        if before.begins == after.begins:
            message = (
                f"{before.name} and {after.name} begin on the same day, {after.begins}. One comes after the other."
            )
            raise DataError("twice", message)
    return [Round(name=name, begins=one.begins) for name, one in zip(names, ordered, strict=True)]


def round_on(rounds: Sequence[Round], day: date) -> Round | None:
    """The round that a day belongs to; None before the first one, and where there are none."""
    begun = [one for one in rounds if one.begins <= day]
    return max(begun, key=lambda one: one.begins, default=None)
