"""Somebody's day of visits behind a window of JSON: what the phone's worker calls. Standard library only."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any, TypedDict

from skavo.core.visits.attempts import Attempt, Next, Standing, Ways, next_attempt
from skavo.core.visits.way import Place, metres, order_of_day

# What is not of today is not put in order by distance: it would take long and help nobody.
_MOST_IN_ORDER = 150


class DayLine(TypedDict):
    """One visit of a day: where it stands, what the rules say of the next attempt, moments in ISO 8601 with the study's
    offset; `is_due` once the next attempt may be made. `metres` is how far it is from here, None where that is not known."""

    visit: str
    standing: Standing
    is_due: bool
    before: str | None
    part: str | None
    appointment: str | None
    metres: float | None


@dataclass(frozen=True)
class KeptRules:
    most: int
    hours_apart: int
    other_parts_of_day: bool


def day_of_visits(day_json: str) -> str:
    """The visits of `day_json` in the order in which to make them, as JSON [DayLine].

    It holds `now` (ISO 8601 by the study's clock), `here` ([latitude, longitude], or null), `lists` ({rules, ending,
    passing_on} by id) and `visits` ({visit, list, place, attempts: [{outcome, at, appointment, own}]}). Appointments of
    today stand first, by their hour; what is due follows by distance; the rest comes after, the soonest first.
    """
    day: dict[str, Any] = json.loads(day_json)
    now = datetime.fromisoformat(day["now"])
    lists = {
        key: (KeptRules(**one["rules"]), Ways(one["ending"], one["passing_on"])) for key, one in day["lists"].items()
    }
    said = [(visit, _next(visit, *lists[visit["list"]], now)) for visit in day["visits"]]
    agreed = sorted((one for one in said if _is_agreed_today(one[1], now)), key=lambda one: str(one[1].appointment))
    due = [one for one in said if _is_due(one[1], now) and one not in agreed]
    rest = sorted((one for one in said if one not in agreed and one not in due), key=_when)
    return json.dumps(list(_lines([*agreed, *_by_distance(due, _start(day, agreed)), *rest], day["here"], now)))


_Said = tuple[dict[str, Any], Next]


def _next(visit: dict[str, Any], rules: KeptRules, ways: Ways, now: datetime) -> Next:
    attempts = [
        Attempt(
            one["outcome"], datetime.fromisoformat(one["at"]),
            None if one["appointment"] is None else datetime.fromisoformat(one["appointment"]), one["own"],
        )
        for one in visit["attempts"]
    ]  # fmt: skip
    return next_attempt(attempts, ways, rules, now)


def _is_agreed_today(one: Next, now: datetime) -> bool:
    return one.appointment is not None and one.appointment.date() == now.date()


def _is_due(one: Next, now: datetime) -> bool:
    return one.standing == "open" and (one.before is None or one.before <= now)


def _when(one: _Said) -> tuple[bool, str]:
    return one[1].before is None, str(one[1].before)


def _place(visit: dict[str, Any]) -> Place | None:
    return None if visit["place"] is None else (visit["place"][0], visit["place"][1])


def _start(day: dict[str, Any], agreed: list[_Said]) -> Place | None:
    """Where the way begins: here; where that is not known, at the first place that there is."""
    if day["here"] is not None:
        return day["here"][0], day["here"][1]
    return next((place for visit, _ in agreed if (place := _place(visit)) is not None), None)


def _by_distance(due: list[_Said], start: Place | None) -> list[_Said]:
    placed = [(one, place) for one in due if (place := _place(one[0])) is not None]
    if not placed or len(placed) > _MOST_IN_ORDER:
        return due
    order = order_of_day(start or placed[0][1], [place for _, place in placed])
    return [*(placed[at][0] for at in order), *(one for one in due if one[0]["place"] is None)]


def _lines(said: list[_Said], here: list[float] | None, now: datetime) -> Iterator[DayLine]:
    start = None if here is None else (here[0], here[1])
    for visit, found in said:
        place = _place(visit)
        yield {
            "visit": visit["visit"],
            "standing": found.standing,
            "is_due": _is_due(found, now) or _is_agreed_today(found, now),
            "before": None if found.before is None else found.before.isoformat(),
            "part": found.part,
            "appointment": None if found.appointment is None else found.appointment.isoformat(),
            "metres": None if start is None or place is None else round(metres(start, place), 1),
        }
