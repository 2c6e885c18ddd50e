"""Which fields of which units an interview fills, once it is accepted. Standard library only."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.rules.evaluate import bind


@dataclass(frozen=True)
class Filled:
    """The answer at `path` becomes `value` (JSON) of the field called `field` of the unit with this identity."""

    unit: str
    field: str
    value: Any
    path: str


def fills_any(engine: Engine) -> bool:
    return any(part.raw.get("fills") for part in engine.release.parts)


def filled_by(engine: Engine) -> Iterator[Filled]:
    """What an interview says of units, in the order of asking; don't know, refused and nothing say nothing."""
    for part in engine.release.parts:
        fills = part.raw.get("fills")
        if not fills:
            continue
        which = bind(fills[1])
        for row, value in engine.values[part.index].items():
            unit = which(engine, row)
            if isinstance(unit, str) and engine.asked[part.index].get(row):
                yield Filled(unit, fills[2], write_answer(value), path_of(engine.release, part.index, row))
