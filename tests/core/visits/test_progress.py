"""Rates by group, and when visits will be done."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from skavo.core.sampling.rates import outcome_rates
from skavo.core.visits.outcomes import FIRST_OUTCOMES, tallied
from skavo.core.visits.progress import forecast, rates_by

KNOWN = {outcome.code: outcome for outcome in FIRST_OUTCOMES}
TODAY = date(2027, 3, 16)


def before(*days: int) -> list[date]:
    return [TODAY - timedelta(days=day) for day in days]


def test_groups_add_up_and_share_what_is_known_of_the_unknown() -> None:
    north = ["completed"] * 6 + ["refused"] * 2 + [None] * 4
    south = ["completed"] * 3 + ["gone"] * 3
    found = rates_by([*(("north", code) for code in north), *(("south", code) for code in south)], KNOWN)
    assert list(found) == ["north", "south"]
    assert found["north"].counts.reached + found["south"].counts.reached == 9
    # e of all: 11 eligible among the 14 of whom it is known.
    everybody = outcome_rates(tallied([*north, *south], KNOWN))
    assert found["north"].rates.eligible_share == everybody.eligible_share == pytest.approx(11 / 14)
    assert found["north"].rates.response[2] == pytest.approx(6 / (8 + 11 / 14 * 4))
    assert found["south"].rates.response[0] == 1.0


def test_nothing_known_of_anybody_gives_no_rate() -> None:
    found = rates_by([("north", None)], KNOWN)["north"]
    assert found.counts.unknown == 1 and found.rates.response[0] == 0.0
    assert found.rates.eligible_share != found.rates.eligible_share


@pytest.mark.parametrize(
    ("done", "left", "a_day", "days"),
    [
        ([*before(1, 1, 2, 2, 3, 4, 5, 6, 7, 7), *before(8) * 90], 20, 10 / 7, 13),
        # Three days of work: their pace, not a week's.
        (before(3, 3, 2, 2, 1, 1), 4, 2.0, 1),
        (before(3, 3, 2, 2, 1, 1), 5, 2.0, 2),
        (before(0, 0, 0), 5, 0.0, None),
        (before(30, 30), 5, 0.0, None),
        ([], 5, 0.0, None),
        (before(2, 1), 0, 1.0, 0),
        ([], 0, 0.0, 0),
    ],
)  # fmt: skip
def test_the_pace_of_the_last_days_says_when_it_is_done(
    done: list[date], left: int, a_day: float, days: int | None
) -> None:
    found = forecast(done, left, TODAY)
    assert found.a_day == pytest.approx(a_day)
    assert found.on == (None if days is None else TODAY + timedelta(days=days))
