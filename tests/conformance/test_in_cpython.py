"""The conformance table, in CPython: every rule on its own, so that a failure names the rule."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from tests.conformance.cases import ANSWER_SETS, CASES, conformance_script


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
