"""Several answers in one go: all different, how often one occurs, codes that count; in interviews, over tables, proved."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest

from skavo.core.dataset.rules import DataRules
from skavo.core.interview.engine import Engine
from skavo.core.interview.view import all_findings
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.rename import rename_variables
from skavo.core.questionnaire.script import Script
from skavo.core.rehearsal.proof.prove import prove
from skavo.core.rehearsal.rehearse import rehearse
from tests.core.test_dataset import data_of
from tests.samples import code_list, part, release_of, script

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)
PROBLEMS = code_list("problem", "rent", "tools", "water", "none", exclusive="none")


def _sample(*more: Any) -> Script:
    return script(
        part(1, "single answer", "first", code_list="problem"),
        part(1, "single answer", "second", code_list="problem"),
        part(1, "single answer", "third", code_list="problem"),
        part(1, "multiple answer", "owned", code_list="problem"),
        part(1, "roster", "staff", repeated="3 times"),
        part(2, "text", "name"),
        part(2, "whole number", "age"),
        *more,
        lists=(PROBLEMS,),
    )


def _gives(rule: str, answers: dict[str, Any]) -> Any:
    release = release_of(_sample(part(1, "derived value", "found", derived=rule)))
    engine = Engine(release, answers=answers)
    return engine.values[len(release.parts) - 1].get(())


@pytest.mark.parametrize(
    ("rule", "answers", "expected"),
    [
        ("different(first, second, third)", {"first": "rent", "second": "tools", "third": "water"}, True),
        ("different(first, second, third)", {"first": "rent", "second": "tools", "third": "rent"}, False),
        ("different(first, second, third)", {"first": "rent", "third": "rent"}, False),
        ("different(first, second, third)", {"first": "rent"}, None),
        ("different(staff.name)", {"staff/1/name": "Bo", "staff/2/name": "Ann"}, True),
        ("different(staff.name)", {"staff/1/name": "Bo", "staff/3/name": "Bo"}, False),
        ("different(staff.name where age > 5)", {"staff/1/name": "Bo", "staff/3/name": "Bo", "staff/3/age": 9}, True),
        ("different(staff.name)", {}, None),
        ("different(staff.age)", {"staff/1/age": 2, "staff/2/age": 2}, False),
        ("occurs(rent, first, second, third)", {"first": "rent", "third": "rent"}, 2),
        ("occurs(rent, first, second, third)", {}, 0),
        ("occurs(none, first, second)", {"first": "none", "second": "tools"}, 1),
        ("count(owned)", {"owned": ["rent", "tools"]}, 2),
        ("count(owned)", {"owned": ["none"]}, 0),
        ("count(owned)", {}, None),
    ],
)  # fmt: skip
def test_in_an_interview(rule: str, answers: dict[str, Any], expected: Any) -> None:
    assert _gives(rule, answers) == expected


@pytest.mark.parametrize(
    ("rule", "code"),
    [
        ("different(first)", "needs_roster"),
        ("different(staff)", "needs_roster"),
        ("different(first, name)", "needs_aggregate"),
        ("different(first, owned)", "wrong_type"),
        ("different(first, second where first is rent)", "wrong_where"),
        ("occurs(rent, first)", "wrong_count"),
        ("occurs(rnt, first, second)", "impossible_code"),
        ("occurs(rent, first, 3)", "not_a_variable"),
        ("differnt(first, second)", "unknown_function"),
    ],
)
def test_what_is_wrong_is_told(rule: str, code: str) -> None:
    compiled = compile_script(_sample(part(1, "derived value", "found", derived=rule)))
    assert [f.code for f in compiled.errors] == [code]


def test_over_tables_as_in_interviews() -> None:
    answers = [
        {"first": "rent", "second": "rent", "owned": ["none"], "staff/1/name": "Bo", "staff/2/name": "Bo"},
        {"first": "rent", "second": "tools", "third": "water", "owned": ["rent"], "staff/1/name": "Bo"},
    ]
    rules = DataRules(data_of(release_of(_sample()), answers))
    for rule, expected in (
        ("different(first, second, third)", [False, True]),
        ("different(staff.name)", [False, True]),
        ("occurs(rent, first, second, third) = 2", [True, False]),
        ("count(owned) = 0", [True, False]),
    ):
        tree, faults = rules.check(rule, "interviews")
        assert tree is not None, faults
        assert rules.outcome(tree, "interviews").values.to_list() == expected, rule


def _checked(rule: str, variable: str = "third") -> Script:
    sample = _sample()
    for line in sample.parts:
        line.answer_needed = "yes" if line.kind != "roster" else ""
    line = next(p for p in sample.parts if p.variable == variable)
    line.must_hold = part(1, "text", "x", must=[rule]).must_hold
    if variable == "third":
        # Else two that are the same already leave no answer to the third.
        sample.parts[1].must_hold = part(1, "text", "x", must=["second is not first"]).must_hold
    return sample


@pytest.mark.parametrize(
    ("rule", "variable"),
    [
        ("different(first, second, third)", "third"),
        ("different(staff.name) and different(staff.age)", "staff"),
        ("occurs(rent, first, second, third) <= 1", "third"),
        ("count(owned) <= 2", "owned"),
    ],
)
def test_proved_and_rehearsed_like_the_rest(rule: str, variable: str) -> None:
    release = release_of(_checked(rule, variable))
    proof = prove(release, NOW)
    assert {(c.variable, c.verdict) for c in proof.checks} >= {(variable, "sound")} and not proof.is_faulty
    rehearsal = rehearse(release, 25, 3, now=NOW)
    assert rehearsal.made == 25
    for answers in rehearsal.answers:
        assert [f for f in all_findings(Engine(release, answers=answers)) if f.kind == "must_hold"] == []


def test_what_can_never_be_is_found() -> None:
    found = prove(release_of(_checked("occurs(rent, first, second) > 2", "second")), NOW)
    assert [c.verdict for c in found.checks] == ["never met"] and found.is_faulty


def test_renaming_follows_into_them_and_leaves_the_code() -> None:
    sample = _sample(
        part(1, "text", "rent"), part(1, "derived value", "found", derived="occurs(rent, first, second) + count(owned)"),
        part(1, "derived value", "each", derived="different(staff.name) and different(first, second)"),
    )  # fmt: skip
    names = {"id_rent": "hire", "id_first": "worst", "id_name": "called", "id_owned": "has"}
    after = rename_variables(sample, names).script
    assert [p.derived for p in after.parts[-2:]] == [
        "occurs(rent, worst, second) + count(has)", "different(staff.called) and different(worst, second)",
    ]  # fmt: skip
