"""How an answer of each kind is read and written."""

from __future__ import annotations

from datetime import date, time
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.interview.answers import WrongAnswer, in_list_order, write_answer
from skavo.core.interview.kinds import KINDS
from skavo.core.interview.messages import MESSAGES, WORDS, message


def read(kind: str, raw: Any) -> Any:
    reader = KINDS[kind].read
    assert reader is not None
    return reader(raw)


@pytest.mark.parametrize(
    ("kind", "raw", "value"),
    [
        ("text", "Bo", "Bo"),
        ("whole number", 7, 7),
        ("whole number", "7", 7),
        ("whole number", "-7", -7),
        ("whole number", 7.0, 7),
        ("decimal", "12.50", Decimal("12.5")),
        ("decimal", "12,5", Decimal("12.5")),
        ("decimal", 3, 3),
        ("decimal", "3.0", 3),
        ("date", "2027-03-14", date(2027, 3, 14)),
        ("time", "08:05", time(8, 5)),
        ("yes/no", False, False),
        ("single answer", "3", "3"),
        ("multiple answer", ["b", "a", "b"], ("b", "a")),
    ],
)
def test_a_good_answer_is_read(kind: str, raw: Any, value: Any) -> None:
    found = read(kind, raw)
    assert (found, type(found)) == (value, type(value))


@pytest.mark.parametrize(
    ("kind", "raw", "code"),
    [
        ("text", 7, "not_a_text"),
        ("whole number", "7.5", "not_whole"),
        ("whole number", "", "not_a_number"),
        ("whole number", True, "not_a_number"),
        ("whole number", None, "not_a_number"),
        ("decimal", "1e400", "not_a_number"),
        ("decimal", "NaN", "not_a_number"),
        ("decimal", "Infinity", "not_a_number"),
        ("decimal", "1.2.3", "not_a_number"),
        ("date", "14.3.2027", "not_a_date"),
        ("date", "2027-02-30", "not_a_date"),
        ("time", "25:00", "not_a_time"),
        ("yes/no", "yes", "not_yes_or_no"),
        ("yes/no", 1, "not_yes_or_no"),
        ("multiple answer", "saw", "not_codes"),
        ("multiple answer", ["saw", 3], "not_codes"),
    ],
)
def test_a_wrong_answer_says_why(kind: str, raw: Any, code: str) -> None:
    with pytest.raises(WrongAnswer) as caught:
        read(kind, raw)
    assert caught.value.code == code


@given(st.decimals(-(10**12), 10**12, places=6))
def test_a_decimal_written_and_read_again_is_the_same(number: Decimal) -> None:
    written = write_answer(read("decimal", str(number)))
    assert read("decimal", written) == number
    assert "E" not in str(written)


@given(st.integers(-(10**14), 10**14))
def test_a_whole_number_is_written_as_a_number(number: int) -> None:
    assert write_answer(read("whole number", str(number))) == number


@given(st.dates())
def test_a_date_written_and_read_again_is_the_same(day: date) -> None:
    assert read("date", write_answer(day)) == day


@given(st.lists(st.sampled_from("abcde"), unique=True))
def test_chosen_codes_stand_in_the_order_of_their_list(chosen: list[str]) -> None:
    assert in_list_order(chosen, list("abcde")) == tuple(sorted(chosen))


def test_every_built_in_text_is_there_in_every_language() -> None:
    for texts in (*MESSAGES.values(), *WORDS.values()):
        assert set(texts) == {"en", "fr", "ar"}


def test_an_unknown_fault_and_an_unknown_language_still_have_words() -> None:
    assert message("never heard of", "en", {}) == "This answer does not fit."
    assert message("needed", "xx", {}) == MESSAGES["needed"]["en"]
