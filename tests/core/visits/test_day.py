"""Somebody's day of visits, as the phone asks for it."""

from __future__ import annotations

import json
from typing import Any

from skavo.core.visits.day import day_of_visits

LISTS = {
    "1": {
        "rules": {"most": 3, "hours_apart": 4, "other_parts_of_day": True},
        "ending": ["completed", "gone"], "passing_on": ["refused"],
    }
}  # fmt: skip
NOW = "2027-03-16T10:00:00+12:00"


def tried(*attempts: tuple[str, str], appointment: str | None = None, own: bool = True) -> list[dict[str, Any]]:
    found = [{"outcome": code, "at": at, "appointment": None, "own": own} for code, at in attempts]
    return [*found[:-1], {**found[-1], "appointment": appointment}]


def day(*visits: dict[str, Any], here: list[float] | None = None) -> list[dict[str, Any]]:
    known = [{"list": "1", "place": None, "attempts": [], **visit} for visit in visits]
    return list(json.loads(day_of_visits(json.dumps({"now": NOW, "here": here, "lists": LISTS, "visits": known}))))


def test_appointments_of_today_come_first_then_what_is_due_by_distance_then_the_rest() -> None:
    found = day(
        {"visit": "far", "place": [0, 0.03]},
        {"visit": "done", "attempts": tried(("completed", "2027-03-15T10:00:00+12:00"))},
        {"visit": "waits", "place": [0, 0.001], "attempts": tried(("locked", "2027-03-16T09:00:00+12:00"))},
        {"visit": "near", "place": [0, 0.01]},
        {"visit": "nowhere"},
        {
            "visit": "agreed",
            "attempts": tried(("appointment", "2027-03-15T10:00:00+12:00"), appointment="2027-03-16T15:00:00+12:00"),
        },
        {"visit": "refused", "attempts": tried(("refused", "2027-03-15T10:00:00+12:00"))},
        here=[0.0, 0.0],
    )
    assert [line["visit"] for line in found] == ["agreed", "near", "far", "nowhere", "waits", "done", "refused"]
    by_visit = {line["visit"]: line for line in found}
    assert by_visit["agreed"]["is_due"] and by_visit["agreed"]["appointment"] == "2027-03-16T15:00:00+12:00"
    assert by_visit["near"]["metres"] == 1112.0 and by_visit["far"]["metres"] == 3335.9
    assert by_visit["waits"]["before"] == "2027-03-16T13:00:00+12:00" and not by_visit["waits"]["is_due"]
    assert [by_visit[name]["standing"] for name in ("done", "refused")] == ["ended", "to pass on"]


def test_an_appointment_of_tomorrow_waits_and_one_that_was_missed_is_due_again() -> None:
    agreed = tried(("appointment", "2027-03-15T10:00:00+12:00"), appointment="2027-03-17T09:00:00+12:00")
    missed = tried(("appointment", "2027-03-14T10:00:00+12:00"), appointment="2027-03-15T09:00:00+12:00")
    found = {
        line["visit"]: line
        for line in day({"visit": "agreed", "attempts": agreed}, {"visit": "missed", "attempts": missed})
    }
    assert not found["agreed"]["is_due"] and found["missed"]["is_due"]


def test_what_was_refused_to_somebody_else_is_open() -> None:
    refused = tried(("refused", "2027-03-15T10:00:00+12:00"), own=False)
    assert day({"visit": "passed on", "attempts": refused})[0]["standing"] == "open"


def test_without_knowing_where_one_is_the_way_begins_at_the_first_place() -> None:
    found = day({"visit": "a", "place": [0, 0]}, {"visit": "c", "place": [0, 2]}, {"visit": "b", "place": [0, 1]})
    assert [line["visit"] for line in found] == ["a", "b", "c"] and found[0]["metres"] is None


def test_a_day_without_visits_is_empty() -> None:
    assert day() == []
