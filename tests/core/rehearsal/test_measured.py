"""How long questions took: from what the phone noted, whatever it noted."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.questionnaire.flow import Block
from skavo.core.rehearsal.measured import Measured, measured, seconds_by_path


def event(kind: str, path: str | None, second: float) -> dict[str, Any]:
    minute, rest = divmod(second, 60)
    named = {} if path is None else {"path": path}
    return {"kind": kind, "at": f"2027-03-14T10:{int(minute):02d}:{rest:06.3f}+00:00", **named}


def test_the_time_on_a_screen_belongs_to_its_question() -> None:
    events = [
        event("seen", "a", 0), event("answered", "a", 4), event("seen", "b", 6), event("answered", "b", 16),
        event("answered", "b", 20), event("seen", "a", 21), event("seen", "staff/1/age", 25), event("left", None, 30),
        event("resumed", "staff/1/age", 500), event("seen", "b", 503),
    ]  # fmt: skip
    assert seconds_by_path(events) == {"a": 10, "b": 15, "staff/1/age": 8}


def test_answers_alone_are_timed_from_one_to_the_next() -> None:
    assert seconds_by_path([event("answered", "a", 10), event("answered", "b", 17)]) == {"b": 7}


@pytest.mark.parametrize(
    "events",
    [
        [],
        [event("seen", "a", 0)],
        [event("seen", "a", 60), event("seen", "b", 0)],
        [event("seen", "a", 0), event("seen", "b", 901)],
        [event("seen", None, 0), event("seen", "b", 5)],
        [{"kind": "seen", "path": "a", "at": "yesterday"}, event("seen", "b", 5)],
        [{"kind": "seen", "path": ["a"], "at": None}, {"at": 7}, {}],
        [{"kind": "seen", "path": "a", "at": "2027-03-14T10:00:00"}, event("seen", "b", 5)],
    ],
)
def test_what_cannot_be_read_is_left_out(events: list[dict[str, Any]]) -> None:
    assert seconds_by_path(events) == {}


def test_medians_are_told_by_part_and_by_block() -> None:
    interviews = [{"p": 4.0, "q": 10.0}, {"p": 6.0}, {}, {"p": 8.0, "r": 1.0}]
    parts, blocks = measured(interviews, [Block("s", ["p", "q"]), Block("", ["r"]), Block("t", ["gone"])])
    assert parts == [Measured("p", 3, 6.0), Measured("q", 1, 10.0), Measured("r", 1, 1.0)]
    assert blocks == [Measured("s", 3, 8.0), Measured("r", 1, 1.0)]
