"""An interview led for practice, held against the test interview that was its exercise. Standard library only."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.screens import ExerciseDifference
from skavo.core.interview.state import Place
from skavo.core.interview.view import overview_line, steps

# What depends on where, when and by whom it is practised, and no answer of the exercise.
NOT_COMPARED = frozenset({"photo", "audio", "video", "file", "signature", "point", "path", "area", "date-time", "time"})


def differences(engine: Engine, exercise: dict[str, Any]) -> list[ExerciseDifference]:
    """What was entered otherwise than in the exercise {answers, now, started}, in the order of the questionnaire.

    A question that one of both was not asked is told too: mostly an earlier answer led elsewhere.
    """
    outside = {name: datetime.fromisoformat(exercise[name]) for name in ("now", "started")}
    meant = Engine(
        engine.release, {"now": outside["now"], "interview.started": outside["started"]}, exercise["answers"], {},
        engine.language,
    )  # fmt: skip
    mine, wanted = set(steps(engine)), set(steps(meant))
    return [
        _told(engine, meant, place, mine, wanted)
        for place in sorted(mine | wanted, key=lambda place: _order(engine, place))
        if _is_compared(engine, place) and _given(engine, place, mine) != _given(meant, place, wanted)
    ]


def _is_compared(engine: Engine, place: Place) -> bool:
    kind = engine.release.parts[place[0]].kind
    return kind.takes_answer and kind.name not in NOT_COMPARED


def _order(engine: Engine, place: Place) -> tuple[int, tuple[str, ...], int]:
    """Rows stand where their roster does, one after the other."""
    index, row = place
    rosters = engine.release.parts[index].rosters
    return (rosters[0] if rosters else index, tuple(f"{name:>9}" for name in row), index)


def _given(engine: Engine, place: Place, asked: set[Place]) -> tuple[bool, Any, Any]:
    index, row = place
    value = engine.values[index].get(row)
    amount = getattr(value, "amount", None)
    # Which instrument showed it, and when, is not the exercise's.
    shown = amount if engine.release.parts[index].kind.name == "instrument" and amount is not None else value
    return place in asked, shown, engine.special[index].get(row)


def _told(engine: Engine, meant: Engine, place: Place, mine: set[Place], wanted: set[Place]) -> ExerciseDifference:
    line = overview_line(engine if place in mine else meant, place)
    return {
        "path": path_of(engine.release, *place),
        "around": line["around"],
        "wording": line["wording"],
        "mine": overview_line(engine, place)["answer"] if place in mine else None,
        "wanted": overview_line(meant, place)["answer"] if place in wanted else None,
    }
