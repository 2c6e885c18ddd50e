"""Both ends of a range belong to it, written as they are or worked out, for everything that has an order."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.interview.view import all_findings
from tests.samples import part, release_of, script

LIMITS: list[tuple[str, str, str, list[Any], list[Any]]] = [
    ("whole number", "1", "3", [1, 2, 3], [0, 4]),
    ("decimal", "0.5", "2.5", ["0.5", "2.5"], ["0.4", "2.6"]),
    ("date", "2027-03-01", "2027-03-31", ["2027-03-01", "2027-03-31"], ["2027-02-28", "2027-04-01"]),
    ("time", "08:00", "17:30", ["08:00", "17:30"], ["07:59", "17:31"]),
]


def broken(release: Any, answers: dict[str, Any]) -> bool:
    return bool(
        [f for f in all_findings(Engine(release, answers=answers)) if f["code"] not in ("needed", "unanswered")]
    )


@pytest.mark.parametrize(("kind", "low", "high", "within", "outside"), LIMITS)
@pytest.mark.parametrize("is_worked_out", [False, True])
def test_both_ends_belong_to_the_range(
    kind: str, low: str, high: str, within: list[Any], outside: list[Any], is_worked_out: bool
) -> None:
    limits = "low and high" if is_worked_out else f"{low} and {high}"
    release = release_of(
        script(
            part(1, kind, "low"),
            part(1, kind, "high"),
            part(1, kind, "given", must=[f"given between {limits}"]),
        )
    )
    ends = {"low": int(low), "high": int(high)} if kind == "whole number" else {"low": low, "high": high}
    assert [value for value in within if broken(release, {**ends, "given": value})] == []
    assert [value for value in outside if not broken(release, {**ends, "given": value})] == []
