"""Sound interviews with one answer spoiled: the way to see a check fail that the solver cannot follow."""

from __future__ import annotations

import random
from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any

from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import PartSpec
from skavo.core.rehearsal.draw import Draw, NoAnswer
from skavo.core.rehearsal.reading import ReleaseReading
from skavo.core.rules.state import Row

MOST_INTERVIEWS, DRAWN = 8, 6
_TEXTS = ["x", "0", "12", "AB", "123456789", "1234567890123", "x" * 60]
_DAYS = [0, 1, -1, 400, -400, 9_000, -9_000, 40_000, -40_000]


def spoiled(reading: ReleaseReading, sound: list[Engine], part: PartSpec) -> Iterator[Engine]:
    """`sound` interviews with the answer to `part` replaced by others, each as a new one."""
    draw = Draw(reading, random.Random(0))
    asked = [(engine, row) for engine in sound for row, on in engine.asked[part.index].items() if on]
    for engine, row in asked[:MOST_INTERVIEWS]:
        path = path_of(engine.release, part.index, row)
        for answer in _others(draw, engine, part, row):
            yield Engine(engine.release, dict(engine.outside), {**engine.answers, path: answer})


def _others(draw: Draw, engine: Engine, part: PartSpec, row: Row) -> Iterator[Any]:
    for _ in range(DRAWN):
        try:
            yield draw.answer(engine, part, row)
        except NoAnswer:
            return
    kind = part.raw["type"]
    if kind == "text":
        yield from _TEXTS
    elif kind == "date":
        today: date = engine.outside["now"].date()
        yield from ((today + timedelta(days=days)).isoformat() for days in _DAYS)
    elif part.kind.name in ("whole number", "decimal"):
        yield from (0, 1, -1, 50, 1000, -1000, 1_000_000)
