"""How far visits have come: rates by group, interviews by day, and when they will be done if it goes on like that."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import ceil
from typing import TypeVar

from skavo.core.sampling.rates import Outcomes, Rates, outcome_rates
from skavo.core.visits.outcomes import Outcome, tallied

Group = TypeVar("Group", bound=Hashable)
# What the forecast goes by: long enough to hold every day of the week once.
FORECAST_DAYS = 7


@dataclass(frozen=True)
class GroupRates:
    counts: Outcomes
    rates: Rates


def rates_by(final: Iterable[tuple[Group, str | None]], outcomes: Mapping[str, Outcome]) -> dict[Group, GroupRates]:
    """Counts and rates of each group, from (group, what the unit counts as), in the order in which groups first come.

    e, the share of eligible among the unknown, is that of all groups together: those of one group are few.
    """
    groups: dict[Group, list[str | None]] = defaultdict(list)
    for group, code in final:
        groups[group].append(code)
    all_of_them = tallied([code for codes in groups.values() for code in codes], outcomes)
    share = all_of_them.eligible_share if all_of_them.known else None
    counts = {group: tallied(codes, outcomes) for group, codes in groups.items()}
    return {group: GroupRates(found, outcome_rates(found, share)) for group, found in counts.items()}


@dataclass(frozen=True)
class Forecast:
    """`a_day` interviews on the last days, so that the `left` ones are done `on` a day; None where none come in."""

    left: int
    a_day: float
    on: date | None


def forecast(done: Sequence[date], left: int, today: date) -> Forecast:
    """When `left` more visits will have ended, at the pace of the last seven days, today left out: it is not over.

    `done` are the days on which visits ended. Of a shorter time the pace is that since the first of them. Source: none;
    a straight line, as practitioners draw it.
    """
    until = today - timedelta(days=1)
    first = min(done, default=today)
    days = min(FORECAST_DAYS, (until - first).days + 1)
    if days < 1:
        return Forecast(left, 0.0, today if left == 0 else None)
    a_day = sum(until - timedelta(days=days) < day <= until for day in done) / days
    if left == 0:
        return Forecast(0, a_day, today)
    on = today + timedelta(days=ceil(left / a_day) - 1) if a_day else None
    return Forecast(left, a_day, on)
