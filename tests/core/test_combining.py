"""Joining outside tables: what matches, what does not, what is never guessed."""

from __future__ import annotations

import polars as pl
import pytest

from skavo.core.combining.join import join_outside, joined_name, normalise_key
from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import DataError
from tests.core.test_dataset import data_of
from tests.samples import part, release_of, script


@pytest.fixture
def data() -> DataSet:
    answers = [{"plate": p} for p in ("KE1", "ke2 ", "LU3", "TA4", "TA4")] + [{}]
    return data_of(release_of(script(part(1, "text", "plate"))), answers)


OUTSIDE = pl.DataFrame(
    {
        "nr": ["ke1", "KE2", "LU3", "lu3", "ZZ9", None],
        "fee": ["10", "20.5", "1", "2", "3", "4"],
        "zone": ["007", "012", None, "1", "1", "1"],
    }
)


def test_the_report_counts_both_sides_and_ambiguous_keys_are_not_joined(data: DataSet) -> None:
    joined, report = join_outside(data, OUTSIDE, source="roll", variable="plate", key="nr", take=["fee", "zone"])
    assert (report.interviews, report.outside_rows, report.matched, report.without_key) == (6, 6, 2, 1)
    assert report.unmatched_interviews == [("0004", "ta4"), ("0005", "ta4")]
    assert report.unmatched_rows == [(5, "zz9"), (6, "")]
    assert report.ambiguous == [("lu3", 2)]
    assert report.repeated_interviews == [("ta4", 2)]
    frame = joined["interviews"].frame
    assert frame["roll_fee"].to_list() == [10.0, 20.5, None, None, None, None]
    assert frame["roll_fee?"].to_list() == [None, None, "not_asked", "not_asked", "not_asked", "not_asked"]


def test_numbers_that_look_like_identifiers_stay_texts(data: DataSet) -> None:
    joined, _ = join_outside(data, OUTSIDE, source="roll", variable="plate", key="nr", take=["zone"])
    assert joined["interviews"].frame["roll_zone"].to_list()[:2] == ["007", "012"]


def test_an_unknown_column_is_refused_with_the_nearest(data: DataSet) -> None:
    with pytest.raises(DataError, match="Did you mean zone"):
        join_outside(data, OUTSIDE, source="roll", variable="plate", key="nr", take=["zonn"])


def test_keys_are_compared_without_case_and_space() -> None:
    assert [normalise_key(v) for v in (" Ke1 ", 7.0, "", None)] == ["ke1", "7", None, None]
    assert joined_name("licence", "Fee class (old)") == "licence_fee_class__old"
