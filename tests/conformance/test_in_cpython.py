"""The conformance table, in CPython: every rule on its own, so that a failure names the rule."""

from __future__ import annotations

import json
from typing import Any

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from tests.conformance.cases import ANSWER_SETS, CASES, conformance_script
from tests.conformance.interviews import EXAMPLES, every_kind_script, interviews
from tests.conformance.saying import everything_said


@pytest.fixture(scope="module")
def derived() -> list[dict[str, Any]]:
    compiled = compile_script(conformance_script())
    assert compiled.release is not None, [
        (f.field, f.message, conformance_script().parts[f.line or 0].derived) for f in compiled.errors
    ]
    release = Release(compiled.release)
    return [Engine(release, answers=answers).derived_values() for answers in ANSWER_SETS]


@pytest.mark.parametrize(("number", "rule"), list(enumerate(CASES)))
def test_the_rule_gives_what_the_table_says(derived: list[dict[str, Any]], number: int, rule: str) -> None:
    assert tuple(values.get(f"r{number}") for values in derived) == CASES[rule]


def test_there_are_at_least_400_cases() -> None:
    whole = [i for i in interviews() if not i.rules]
    assert len(CASES) * len(ANSWER_SETS) + len(EXAMPLES) + len(whole) >= 400


def test_the_made_up_interviews_hold_every_kind_of_answer() -> None:
    answered = {path.split("/")[-1] for i in interviews() for path in json.loads(i.interview)["answers"]}
    asked = {
        p.variable
        for p in every_kind_script().parts
        if p.kind not in ("section", "roster", "derived value", "carried value")
    }
    assert asked <= answered


def test_the_engine_says_the_same_twice() -> None:
    for one in interviews()[-5:]:
        assert everything_said(one.release, one.interview, one.outside) == everything_said(
            one.release, one.interview, one.outside
        )
