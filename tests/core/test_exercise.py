"""An interview led for practice against the test interview it was to be: what was entered otherwise."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.interview.exercise import differences
from tests.samples import code_list, part, release_of, script

AT = datetime(2026, 11, 20, 12, tzinfo=UTC)
RELEASE = release_of(
    script(
        part(1, "yes/no", "works"),
        part(1, "single answer", "ward", code_list="ward", asked_when="works"),
        part(1, "whole number", "hands"),
        part(1, "roster", "helper", repeated="hands times", wording={"en": "Helper"}),
        part(2, "text", "called"),
        part(2, "whole number", "age"),
        part(1, "point", "door"),
        part(1, "text", "last", special_answers=["refused"]),
        lists=(code_list("ward", "harbour", "hill"),),
    )
)
MEANT = {"works": True, "ward": "hill", "hands": 1, "helper/1/called": "Bo", "helper/1/age": 30}


def told(answers: dict[str, Any], meant: dict[str, Any]) -> list[tuple[str, str | None, str | None]]:
    engine = Engine(RELEASE, {"now": AT}, answers)
    exercise = {"answers": meant, "now": AT.isoformat(), "started": AT.isoformat()}
    return [(d["path"], d["mine"], d["wanted"]) for d in differences(engine, exercise)]


@pytest.mark.parametrize(
    ("change", "found"),
    [
        ({}, []),
        ({"ward": "harbour"}, [("ward", "Harbour", "Hill")]),
        ({"works": False, "ward": None}, [("works", "No", "Yes"), ("ward", None, "Hill")]),
        ({"hands": None}, [("hands", "", "1"), ("helper/1/called", None, "Bo"), ("helper/1/age", None, "30")]),
        (
            {"hands": 2, "helper/2/called": "Cy"},
            [("hands", "2", "1"), ("helper/2/called", "Cy", None), ("helper/2/age", "", None)],
        ),
        ({"last": {"special": "refused"}}, [("last", "Refused", "")]),
        ({"door": {"latitude": 1, "longitude": 2, "accuracy": 3}}, []),
    ],
)
def test_what_was_entered_otherwise_is_told_in_order_with_both_answers(
    change: dict[str, Any], found: list[tuple[str, str | None, str | None]]
) -> None:
    assert told({path: v for path, v in {**MEANT, **change}.items() if v is not None}, MEANT) == found
