"""A rule tried out: values for what it mentions, as if everything had been asked."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.services.explaining import Trial, TrialIn, function_words, try_rule
from tests.samples import staff_script


def tried(text: str, line: str = "id_remarks", rows: dict[str, int] | None = None, **answers: Any) -> Trial:
    paths = {path.replace("__", "/"): value for path, value in answers.items()}
    return try_rule(TrialIn(script=staff_script(), part_id=line, text=text, answers=paths, rows=rows or {}))


def outcome(trial: Trial) -> str:
    return trial.steps[0].outcome


def test_what_it_mentions_can_be_given() -> None:
    trial = tried("workers > 3 and island is kesk or any(staff where age < 14)")
    assert [(m.variable, m.kind, m.code_list, m.rosters) for m in trial.mentions] == [
        ("workers", "whole number", "", []), ("island", "single answer", "island", []),
        ("staff", "roster", "", []), ("age", "whole number", "", ["staff"]),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "rows", "answers", "expected"),
    [
        ("workers > 3", None, {"workers": 5}, "yes"),
        ("workers > 3", None, {"workers": 2}, "no"),
        ("workers > 3", None, {}, "unknown"),
        ("workers is not known", None, {"workers": {"special": "dont_know"}}, "yes"),
        ("tools includes saw", None, {"tools": ["saw"]}, "yes"),
        ("any(staff where age < 14)", {"staff": 2}, {"staff__1__age": 30, "staff__2__age": 12}, "yes"),
        ("count(staff) = 3", {"staff": 3}, {}, "yes"),
        ("sum(staff.hours) + 1", {"staff": 2}, {"staff__1__hours": "40.5", "staff__2__hours": "1"}, "42.5"),
    ],
)  # fmt: skip
def test_it_gives_what_the_engine_gives(
    text: str, rows: dict[str, int] | None, answers: dict[str, Any], expected: str
) -> None:
    assert outcome(tried(text, rows=rows, **answers)) == expected


def test_a_rule_in_a_roster_is_tried_in_its_first_row() -> None:
    trial = tried("age >= 14 and workers > 1", line="id_hours", staff__1__age=15, workers=2)
    assert outcome(trial) == "yes"
    assert [m.rosters for m in trial.mentions] == [["staff"], []]


def test_conditions_and_checks_of_the_lines_do_not_stand_in_the_way() -> None:
    assert outcome(tried("workers > 3", workers=50, consent=False)) == "yes"


def test_a_rule_with_errors_gives_nothing_and_still_says_what_it_mentions() -> None:
    trial = tried("workers > ")
    assert trial.steps == [] and [m.variable for m in trial.mentions] == ["workers"]
    assert tried("wrkers > 3").steps == []


def test_all_functions_are_told_but_the_hidden_ones() -> None:
    words = {f.name: f for f in function_words()}
    assert words["distance"].parameters == ["point", "point"] and not words["distance"].over_rows
    assert words["sum"].over_rows and "path_length" not in words and "label" in words
