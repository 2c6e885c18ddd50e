"""Patterns and masks: the same answers as Python's own matcher, in time that grows with the text."""

from __future__ import annotations

import re
import sys

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from skavo.core.rules.automaton import NoAutomaton, automaton_of, mask_automaton

PIECES = ["a", "b", "é", "я", ".", r"\d", r"\w", r"\s", "[a-c]", "[^a]", "(?:ab|a)", "(x|y)", "-", r"\b", "^", "$"]
REPEATS = ["", "", "", "*", "+", "?", "{2}", "{1,3}", "*?", "+?"]
patterns = st.lists(st.tuples(st.sampled_from(PIECES), st.sampled_from(REPEATS)), max_size=6).map(
    lambda pieces: "".join(p if p in (r"\b", "^", "$") else p + r for p, r in pieces)
)
texts = st.text(alphabet="ab cxyéя-1\n", max_size=12)


@settings(max_examples=400)
@given(patterns, texts)
@example("(?:a|ab)(?:c|bcd)", "abcd")
@example("a$", "a\n")
@example("", "")
def test_the_same_texts_fit_as_for_pythons_own_matcher(pattern: str, text: str) -> None:
    assert automaton_of(pattern).fits(text) is (re.fullmatch(pattern, text) is not None)


@pytest.mark.parametrize(
    ("pattern", "fitting", "other"),
    [
        ("(?i)ab+", "aBB", "acb"),
        ("(?i:a)b", "Ab", "AB"),
        ("(?s).b", "\nb", "b"),
        ("(?a)\\w+", "abc", "é"),
        ("(?m)a\n^b$", "a\nb", "a b"),
        (r"[\w.-]+@[\w-]+\.\w{2,}", "ilse.varn@crafts.example", "ilse@crafts"),
        (r"[A-Z]{2}\d{6}", "KB123456", "KB12345"),
        (r"\Aab\Z", "ab", "ab\n"),
        (r"\w\B\w", "ab", "a "),
    ],
)
def test_flags_and_places_mean_what_they_mean_in_python(pattern: str, fitting: str, other: str) -> None:
    assert automaton_of(pattern).fits(fitting) and re.fullmatch(pattern, fitting)
    assert not automaton_of(pattern).fits(other) and not re.fullmatch(pattern, other)


@pytest.mark.parametrize(
    ("pattern", "text"),
    [
        ("(?:ab|a[b])+", "ab" * 5_000 + "!"),
        ("(?:я|я)+", "я" * 10_000 + "!"),
        ("(a+)+b", "a" * 10_000),
        ("(a|aa)*b", "a" * 10_000),
        ("a*a*a*a*b", "a" * 10_000),
        ("(x?){40}x{40}", "x" * 39),
        (".*-.*/.*", "-" * 10_000),
    ],
)
def test_a_pattern_that_would_run_for_ages_ends_after_so_many_steps(pattern: str, text: str) -> None:
    """Steps are counted, not seconds: each character is taken once by each state at most."""
    made = automaton_of(pattern)
    steps = 0

    def count(frame: object, event: str, _argument: object) -> None:
        nonlocal steps
        steps += event == "call"

    sys.setprofile(count)
    try:
        assert not made.fits(text)
    finally:
        sys.setprofile(None)
    assert steps <= (len(text) + 1) * (len(made.takes) + 3) * 2


def test_a_mask_of_forty_optional_letters_is_an_automaton_of_as_many() -> None:
    made = mask_automaton("A?" * 40)
    assert made.fits("K" * 40) and made.fits("") and not made.fits("K" * 41) and not made.fits("K" * 39 + "1")
    assert len(made.takes) < 200


@pytest.mark.parametrize(
    ("mask", "fitting", "other"),
    [("A*_999", "KB_204", "K-_204"), ("9?9", "7", "777"), ("??", "?", "a"), ("9??", "", "12"), ("A.9", "K.1", "Kx1")],
)
def test_masks_say_letter_digit_either_and_optional(mask: str, fitting: str, other: str) -> None:
    assert mask_automaton(mask).fits(fitting) and not mask_automaton(mask).fits(other)


@pytest.mark.parametrize(
    ("pattern", "reason"),
    [
        (r"(.)x\1", "refers back"), ("a(?=b)b", "looks ahead"), ("(?<!a)b", "looks ahead"), ("a++b", "without giving back"),
        ("(?:a{900}){900}", "too much"),
    ],
)  # fmt: skip
def test_what_no_automaton_can_follow_is_refused_by_name(pattern: str, reason: str) -> None:
    with pytest.raises(NoAutomaton) as raised:
        automaton_of(pattern)
    assert reason in raised.value.reason
