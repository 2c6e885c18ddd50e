"""A rule in plain words, and why it came out as it did."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.questionnaire.outline import base_scope, build_outline, symbols_of
from skavo.core.questionnaire.script import Script
from skavo.core.rules.explain import Step, explain_outcome, explain_rule
from skavo.core.rules.state import Row
from skavo.core.rules.types import Scope, Type
from tests.samples import code_list, part, release_of, script


def sample() -> Script:
    return script(
        part(1, "yes/no", "has_apprentices"),
        part(1, "single answer", "trade", code_list="trade"),
        part(1, "multiple answer", "tools", code_list="tool"),
        part(1, "whole number", "workers", special_answers=["dont_know"]),
        part(1, "text", "plate", asked_when="workers > 3"),
        part(1, "date", "opened"),
        part(1, "roster", "staff", repeated="workers times"),
        part(2, "decimal", "hours"),
        part(2, "single answer", "role", code_list="role"),
        part(1, "roster", "each_tool", repeated="for each code in tools"),
        part(2, "whole number", "price"),
        lists=(code_list("trade", "bicycle", "phone"), code_list("tool", "saw", "vice"), code_list("role", "owner")),
    )


def scope() -> Scope:
    entries = build_outline(sample())
    return base_scope(sample(), entries, symbols_of(sample(), entries))


def label(code_list: str, code: str) -> str:
    return code.capitalize()


@pytest.mark.parametrize(
    ("rule", "words"),
    [
        ("has_apprentices is yes and trade is one of (bicycle, phone)", "has_apprentices is yes and trade is “Bicycle” or “Phone”."),
        ("workers between 0 and 7", "workers is from 0 to 7."),
        ("not (workers > 3 or plate is missing)", "It is not so that (workers is above 3 or plate has no answer)."),
        ('plate matches "****_999999"', "plate is written as four letters or digits, “_”, six digits."),
        ('plate matches pattern "[A-Z]+"', 'plate fits the pattern "[A-Z]+".'),
        ("tools includes all of (saw, vice)", "tools includes all of “Saw” and “Vice”."),
        ("count(tools) <= 3", "The number of codes chosen in tools is at most 3."),
        ("sum(staff.hours where role is not owner) / 40", "All hours of staff where role is not “Owner” added up divided by 40."),
        ("any(staff where hours > 84)", "In at least one row of staff, hours is above 84."),
        ("if has_apprentices then workers else 0", "If has_apprentices, then workers, otherwise 0."),
        ("opened + 3 months < today", "opened plus 3 months is below today."),
        ("workers is not known", "workers is answered with don’t know."),
        ("earlier.workers - workers", "workers in the earlier round minus workers."),
        ("smallest(workers, 3)", "The smallest of workers and 3."),
        ("years(opened, today) >= 1", "The completed years from opened to today is at least 1."),
    ],
)  # fmt: skip
def test_a_rule_is_said_in_plain_words(rule: str, words: str) -> None:
    assert explain_rule(rule, scope(), label) == words


def why(rule: str, answers: dict[str, Any], inside: str = "", row: Row = ()) -> list[Step]:
    engine = Engine(release_of(sample()), answers=answers)
    rosters = (engine.release.by_name[inside],) if inside else ()

    def show(kind: Type, value: Any) -> str:
        return str(value)

    return explain_outcome(rule, scope().inside(rosters), label, show, engine, row)


def test_each_part_tells_what_it_gave_and_which_answers_it_rests_on() -> None:
    steps = why("workers > 3 and (trade is bicycle or plate is answered)", {"workers": 5, "trade": "phone"})
    assert [(s.depth, s.text, s.outcome, s.because) for s in steps] == [
        (0, "workers > 3 and (trade is bicycle or plate is answered)", "no", ""),
        (1, "workers > 3", "yes", "workers is 5"),
        (1, "trade is bicycle or plate is answered", "no", ""),
        (2, "trade is bicycle", "no", "trade is phone"),
        (2, "plate is answered", "no", "plate has no answer yet"),
    ]


def test_an_unknown_part_says_which_kind_of_nothing_it_met() -> None:
    steps = why("workers > 3 and plate is missing", {"workers": {"special": "dont_know"}})
    assert [(s.outcome, s.because) for s in steps] == [
        ("unknown", ""),
        ("unknown", "workers is answered with don’t know"),
        ("yes", "plate is not asked"),
    ]


def test_a_rule_over_rows_says_how_many_there_are() -> None:
    steps = why("sum(staff.hours) > 40", {"workers": 2, "staff/1/hours": 30})
    assert [(s.outcome, s.because) for s in steps] == [("no", "staff has 2 rows")]


def test_the_code_of_a_row_is_told_like_an_answer() -> None:
    steps = why("each_tool is vice and price > 3", {"tools": ["saw"], "each_tool/saw/price": 9}, "each_tool", ("saw",))
    assert [(s.words, s.outcome, s.because) for s in steps] == [
        ("each_tool is “Vice” and price is above 3", "no", ""),
        ("each_tool is “Vice”", "no", "each_tool is saw"),
        ("price is above 3", "yes", "price is 9"),
    ]


@pytest.mark.parametrize("rule", ["count()", "days(opened)", "workers > nobody", "trade > 3", "sum(workers)"])
def test_a_rule_with_an_error_comes_back_as_it_is_written(rule: str) -> None:
    assert explain_rule(rule, scope(), label) == rule
    assert why(rule, {"workers": 2}) == []
