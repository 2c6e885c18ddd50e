"""Rounds by their first day: which one a day belongs to, and what cannot be a plan of rounds."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.errors import DataError
from skavo.core.fieldwork.rounds import Round, in_order, round_on

FIRST, SECOND = Round(name="Round 1", begins=date(2026, 3, 2)), Round(name="Round 2", begins=date(2026, 11, 2))


@pytest.mark.parametrize(
    ("day", "name"),
    [
        (date(2026, 3, 1), None),
        (date(2026, 3, 2), "Round 1"),
        (date(2026, 11, 1), "Round 1"),
        (date(2026, 11, 2), "Round 2"),
        (date(2031, 1, 1), "Round 2"),
    ],
)
def test_a_day_belongs_to_the_round_that_began_last(day: date, name: str | None) -> None:
    for rounds in ([FIRST, SECOND], [SECOND, FIRST]):
        found = round_on(rounds, day)
        assert (found.name if found else None) == name
    assert round_on([], day) is None


def test_two_of_one_name_or_of_one_day_are_refused() -> None:
    with pytest.raises(DataError, match="Two rounds are called Round 1"):
        in_order([FIRST, Round(name=" Round 1 ", begins=SECOND.begins)])
    with pytest.raises(DataError, match="begin on the same day, 2026-03-02"):
        in_order([FIRST, Round(name="Pilot", begins=FIRST.begins)])


@given(st.lists(st.integers(0, 2000), unique=True, max_size=8), st.integers(-10, 2100))
def test_no_round_that_is_found_begins_later_or_leaves_out_a_later_one(days: list[int], day: int) -> None:
    start = date(2026, 1, 1)
    rounds = in_order([Round(name=str(n), begins=start + timedelta(n)) for n in days])
    assert [one.begins for one in rounds] == sorted(one.begins for one in rounds)
    found = round_on(rounds, start + timedelta(day))
    assert (found is None) == (not any(n <= day for n in days))
    assert found is None or found.name == str(max(n for n in days if n <= day))
