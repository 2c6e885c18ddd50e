"""Which units of a register are meant: of a kind, below one, with words, with fields that are so."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.interview.release import PartSpec, Release
from skavo.core.register.cells import plain
from skavo.core.register.figures import figure_of, figures_of
from skavo.core.register.tree import Mask

Is = Literal["is", "is not", "at least", "at most", "holds", "is empty", "is filled"]


class Condition(BaseModel):
    """That the field `part_id` is so; `value` is an answer in JSON form, None where the comparison needs none."""

    model_config = ConfigDict(extra="forbid")
    part_id: str = Field(min_length=1, max_length=200)
    how: Is
    value: str | int | float | bool | None = None


class Narrowing(BaseModel):
    """`kind` 0 is any, `below` 0 the whole register; `words` are looked for in names and keys; `closed` counts in
    what is closed, `faulty` asks for something wrong or doubtful about a unit."""

    model_config = ConfigDict(extra="forbid")
    kind: int = Field(default=0, ge=0)
    below: int = Field(default=0, ge=0)
    words: str = Field(default="", max_length=200)
    conditions: list[Condition] = Field(default=[], max_length=20)
    closed: bool = False
    faulty: bool = False

    @property
    def is_open(self) -> bool:
        """Whether it means every unit that is not closed."""
        return not (self.kind or self.below or plain(self.words) or self.conditions or self.faulty)


def meets(release: Release, part: PartSpec, condition: Condition, values: list[Any]) -> Mask:
    """Which values meet a condition; shape (n,). What is empty meets none but that of being empty, or of not being so."""
    empty = np.array([value is None for value in values], dtype=np.bool_)
    if condition.how == "is empty":
        return empty
    if condition.how == "is filled":
        return ~empty
    if condition.how in ("at least", "at most"):
        figures, limit = figures_of(release, part, values), figure_of(release, part, condition.value)
        if np.isnan(limit) and part.raw["type"] == "quantity":
            limit = figure_of(release, part, {"amount": condition.value})
        met: Mask = figures >= limit if condition.how == "at least" else figures <= limit
        return met
    test = _holds(condition.value) if condition.how == "holds" else _same(condition.value)
    found = np.fromiter((value is not None and test(value) for value in values), np.bool_, len(values))
    return ~found if condition.how == "is not" else found


def _same(wanted: Any) -> Callable[[Any], bool]:
    """Whether an answer is the one that is wanted; of several codes, whether it is among them; a special one by name."""
    text = str(wanted)

    def same(value: Any) -> bool:
        if isinstance(value, list):
            return text in value
        if isinstance(value, dict):
            return text in (value.get("special"), str(value.get("amount")))
        return value == wanted if isinstance(value, bool) or isinstance(wanted, bool) else str(value) == text

    return same


def _holds(wanted: Any) -> Callable[[Any], bool]:
    text = plain(str(wanted))
    return lambda value: text in plain(str(value))
