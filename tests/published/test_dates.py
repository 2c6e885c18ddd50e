"""Calendar arithmetic against dateutil, whose relativedelta clips to the last day of a shorter month as Skavo does."""

from __future__ import annotations

from datetime import date

from dateutil.relativedelta import relativedelta
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.rules.functions import Duration, completed_months, shift_date

_DAYS = st.dates(date(1900, 1, 1), date(2100, 12, 31))


@given(_DAYS, st.integers(0, 600))
def test_adding_months_is_that_of_dateutil(start: date, months: int) -> None:
    assert shift_date(start, Duration(months=months), 1) == start + relativedelta(months=months)
    assert shift_date(start, Duration(months=months), -1) == start - relativedelta(months=months)


@given(_DAYS, st.integers(0, 60_000))
def test_adding_days_is_that_of_the_standard_library(start: date, days: int) -> None:
    assert (shift_date(start, Duration(seconds=86400 * days), 1) - start).days == days


@given(_DAYS, _DAYS)
def test_completed_months_are_the_most_that_do_not_pass_the_end(first: date, second: date) -> None:
    start, end = sorted((first, second))
    months = completed_months(start, end)
    assert start + relativedelta(months=months) <= end < start + relativedelta(months=months + 1)
    assert completed_months(end, start) == -months
