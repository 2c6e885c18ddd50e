"""What may be wrong with an answer besides its checks: codes, limits, masks, units, read-backs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

from skavo.core.interview.release import PartSpec
from skavo.core.interview.rows import is_of_register
from skavo.core.interview.state import InterviewState
from skavo.core.rules.automaton import text_fits
from skavo.core.rules.state import Row
from skavo.core.rules.values import Quantity, size_of


@dataclass(frozen=True)
class Broken:
    """Something to mend at one place. `check` is the number of the broken check, -1 for the built-in ones."""

    code: str
    strength: Literal["must", "should"]
    check: int = -1


def built_in(state: InterviewState, part: PartSpec, row: Row, value: Any) -> Iterator[Broken]:
    """What is wrong with a value that is there, without looking at the part's own checks."""
    if part.kind.uses_codes:
        yield from _codes(state, part, row, value)
    elif part.kind.is_number:
        yield from _number(part, value)
    elif part.kind.type == "text":
        yield from _text(part, value)
    elif part.kind.name == "unit":
        yield from _unit(state, part, value)
    elif part.kind.name == "read-back" and value is False:
        yield Broken("read_back_wrong", "must")


def _codes(state: InterviewState, part: PartSpec, row: Row, value: Any) -> Iterator[Broken]:
    codes = (value,) if isinstance(value, str) else value
    if part.code_filter is not None:
        offered = {code["code"] for code in state.offered_codes(part, row)}
        if not offered.issuperset(codes):
            yield Broken("code_not_offered", "must")
    if isinstance(value, str):
        return
    exclusive = state.release.exclusive[part.raw["code_list"]]
    if len(codes) > 1 and exclusive.intersection(codes):
        yield Broken("exclusive", "must")
    if part.least is not None and len(codes) < part.least and not exclusive.intersection(codes):
        yield Broken("too_few", "must")
    if part.most is not None and len(codes) > part.most:
        yield Broken("too_many", "must")


def _number(part: PartSpec, value: Any) -> Iterator[Broken]:
    if isinstance(value, Quantity) and value.unit not in part.factors:
        yield Broken("no_such_unit_of_measure", "must")
    size = size_of(value)
    if size is None:
        return
    if part.least is not None and size < part.least:
        yield Broken("below_least", "must")
    if part.most is not None and size > part.most:
        yield Broken("above_most", "must")


def _text(part: PartSpec, value: str) -> Iterator[Broken]:
    if part.raw["mask"] and not text_fits("mask", part.raw["mask"], value):
        yield Broken("no_match", "must")
    if part.least is not None and len(value) < part.least:
        yield Broken("too_short", "must")
    if part.most is not None and len(value) > part.most:
        yield Broken("too_long", "must")


def _unit(state: InterviewState, part: PartSpec, value: str) -> Iterator[Broken]:
    known: dict[str, Any] = state.outside.get("units", {})
    register = part.raw["register"]
    # A device without the register's units cannot say that one is not among them.
    has_some = any(is_of_register(unit, register) for unit in known.values())
    if has_some and not (value in known and is_of_register(known[value], register)):
        yield Broken("no_such_unit", "must")
