"""Answers at which the two sides of a comparison meet: the way through tight checks."""

from __future__ import annotations

import random
from collections.abc import Iterator
from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import PartSpec
from skavo.core.interview.state import Place
from skavo.core.rehearsal.draw import NoAnswer, as_quantity
from skavo.core.rehearsal.reading import COMPARISONS, ReleaseReading, subtrees
from skavo.core.rules.evaluate import bind
from skavo.core.rules.limits import OPEN, Limits
from skavo.core.rules.state import Row
from skavo.core.rules.values import as_decimal, tidy


def meeting_answers(
    engine: Engine,
    reading: ReleaseReading,
    part: PartSpec,
    row: Row,
    broken: list[tuple[Place, int]],
    rng: random.Random,
) -> Iterator[Any]:
    """Answers in JSON form that may mend `broken` checks: where sides meet, and just above and below."""
    for (index, at), check in broken:
        if check < 0:
            continue
        for left, right in _comparisons(engine.release.parts[index].raw["checks"][check]["rule"]):
            if part.kind.is_number:
                yield from _numbers(engine, reading, part, row, at, left, right, rng)
            else:
                yield from _same_as_other_side(engine, part, at, left, right)


def _comparisons(tree: Any) -> Iterator[tuple[Any, Any]]:
    for piece in subtrees(tree):
        if piece[0] in COMPARISONS and len(piece) == 3:
            yield piece[1], piece[2]
        elif piece[0] == "between":
            yield piece[1], piece[2]
            yield piece[1], piece[3]


def _numbers(
    engine: Engine,
    reading: ReleaseReading,
    part: PartSpec,
    row: Row,
    at: Row,
    left: Any,
    right: Any,
    rng: random.Random,
) -> Iterator[Any]:
    path = path_of(engine.release, part.index, row)
    rules = bind(left), bind(right)

    def as_answer(x: Decimal) -> Any:
        if part.raw["type"] == "quantity" and part.kind.name == "quantity":
            return as_quantity(engine, part, row, x, rng)
        number = write_answer(tidy(x))
        return {"amount": number, "instrument": "made up", "time": ""} if part.kind.name == "instrument" else number

    def apart(x: int) -> Decimal | None:
        try:
            engine.answer(path, as_answer(Decimal(x)))
            a, b = (rule(engine, at) for rule in rules)
        except (NoAnswer, TypeError):
            return None
        a, b = as_decimal(a), as_decimal(b)
        number = isinstance(a, int | Decimal) and isinstance(b, int | Decimal) and not isinstance(a, bool)
        return Decimal(a) - Decimal(b) if number else None

    first, second = apart(1), apart(2)
    if first is None or second is None or first == second:
        return
    meet = 1 - first / (second - first)
    step = Decimal(1) if part.kind.name == "whole number" else Decimal("0.01")
    if part.kind.name == "whole number":
        meet = meet.to_integral_value()
    limits = reading.limits.get(part.index, OPEN)
    near = [meet, meet - step, meet + step, meet - rng.randint(2, 20), meet + rng.randint(2, 20)]
    within = [x for x in near if _in(x, limits)]
    for x in within or [_towards(meet, limits, part, rng)]:
        try:
            yield as_answer(round(x, 6))
        except NoAnswer:
            return


def _in(x: Decimal, limits: Limits) -> bool:
    return (limits.low is None or x >= limits.low) and (limits.high is None or x <= limits.high)


def _towards(meet: Decimal, limits: Limits, part: PartSpec, rng: random.Random) -> Decimal:
    """A number within the limits on the side where the sides would meet: another answer has to do the rest."""
    low, high = limits.low, limits.high
    end = low if low is not None and meet < low else high
    assert end is not None
    other = (high if end is low else low) or end
    x = end + (other - end) * Decimal(repr(round(rng.random() ** 2, 3)))
    return x.to_integral_value() if part.kind.name == "whole number" else x


def _same_as_other_side(engine: Engine, part: PartSpec, at: Row, left: Any, right: Any) -> Iterator[Any]:
    for side in (left, right):
        try:
            value = bind(side)(engine, at)
        except TypeError:
            continue
        if part.raw["type"] == "date" and isinstance(value, date):
            for days in (0, 1, -1, 40, -40):
                yield write_answer(value + timedelta(days=days))[:10]
        elif part.raw["type"] == "date-time" and isinstance(value, datetime):
            for minutes in (0, 1, -1, 600, -600):
                yield write_answer(value + timedelta(minutes=minutes))
        elif value is not None and isinstance(value, str) and part.raw["type"] in ("text", "code"):
            yield value
