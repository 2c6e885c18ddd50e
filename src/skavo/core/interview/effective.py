"""The value that counts at a place: derived, given, by default; quantities sized, read-backs held against what they confirm."""

from __future__ import annotations

import operator
from dataclasses import replace
from fractions import Fraction
from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.release import PartSpec
from skavo.core.interview.state import InterviewState
from skavo.core.rules.state import Row
from skavo.core.rules.values import Quantity, Reading, exactly, tidy


def value_of(state: InterviewState, part: PartSpec, row: Row) -> Any:
    """The effective answer of a part that is asked; a special answer as {"special": …}, None where there is nothing."""
    if part.derived is not None:
        return part.derived(state, row)
    value = state.given.get((part.index, row))
    if value is None:
        if part.default is None or (part.index, row) in state.wrong:
            return None
        return _default(state, part, row)
    if part.factors:
        return sized(state, part, row, value)
    if part.reads_back is not None and "special" not in value:
        return _confirmed(state, part.reads_back, row, value)
    return value


def _default(state: InterviewState, part: PartSpec, row: Row) -> Any:
    assert part.default is not None
    value = part.default(state, row)
    if value is not None and part.kind.type == "quantity":
        unit = part.raw["units"][0]["unit"]
        factor = part.factors[unit](state, row)
        return None if not factor else Quantity(tidy(Fraction(value) / Fraction(factor)), unit, value)
    return value


def sized(state: InterviewState, part: PartSpec, row: Row, value: Any) -> Any:
    """A quantity with its size in base units, by the factor that holds in this interview; anything else as it is."""
    if not isinstance(value, Quantity | Reading):
        return value
    unit = value.unit if isinstance(value, Quantity) else next(iter(part.factors), "")
    if unit not in part.factors:
        return replace(value, size=None if part.factors else value.amount)
    factor = part.factors[unit](state, row)
    return replace(value, size=None if factor is None else exactly(operator.mul, value.amount, factor))


def _confirmed(state: InterviewState, source: int, row: Row, given: dict[str, Any]) -> bool | None:
    """Whether what is read back was confirmed; missing once it has changed since."""
    part = state.release.parts[source]
    ((verdict, shown),) = given.items()
    present = state.values[source].get(row[: part.depth])
    return None if present is None or write_answer(present) != shown else verdict == "confirmed"
