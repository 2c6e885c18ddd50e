"""Interviews as tables: types, kinds of missing, renames through releases; rules over the tables."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.dataset.flatten import DataSet, build_data_set, lay_out
from skavo.core.dataset.layout import layout_of
from skavo.core.dataset.rules import DataRules
from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from tests.samples import part, release_of, script, staff_script

ANSWERS: list[dict[str, Any]] = [
    {"consent": True, "island": "kesk", "workers": 2, "staff/1/age": 30, "staff/1/hours": "40.5", "staff/2/age": 12, "tools": ["saw", "other"], "tools_other": "lathe"},
    {"consent": False},
    {"consent": True, "workers": {"special": "dont_know"}, "island": "luma"},
]  # fmt: skip


def data_of(release: Release, answers: list[dict[str, Any]], releases: list[Release] | None = None) -> DataSet:
    documents = [
        {"facts": {"interview.key": f"{i:04d}"}, "tables": lay_out(Engine(release, answers=a))}
        for i, a in enumerate(answers, 1)
    ]
    return build_data_set(layout_of(releases or [release]), documents)


@pytest.fixture(scope="module")
def data() -> DataSet:
    return data_of(release_of(staff_script()), ANSWERS)


def test_there_is_a_table_for_the_interviews_and_one_for_the_roster(data: DataSet) -> None:
    assert {n: t.frame.height for n, t in data.items()} == {"interviews": 3, "staff": 2}
    assert data["staff"].frame["staff.row"].to_list() == ["1", "2"]
    assert data["staff"].frame["interview.key"].to_list() == ["0001", "0001"]


def test_columns_stand_in_the_order_of_the_questionnaire(data: DataSet) -> None:
    assert [c.variable for c in data["interviews"].layout.columns] == [
        "consent", "island", "ward", "workers", "posts", "tools", "tools_other", "remarks",
    ]  # fmt: skip


def test_the_four_kinds_of_nothing_are_kept_apart(data: DataSet) -> None:
    frame = data["interviews"].frame
    assert frame["workers"].to_list() == [2, None, None]
    assert frame["workers?"].to_list() == [None, "not_asked", "dont_know"]
    assert frame["ward?"].to_list() == ["unanswered", "not_asked", "unanswered"]
    assert data["staff"].frame["hours?"].to_list() == [None, "not_asked"]


def test_a_renamed_variable_stays_one_column_and_a_new_one_was_not_asked_before() -> None:
    old = release_of(script(part(1, "text", "nick", id="p1")))
    new = release_of(script(part(1, "text", "nickname", id="p1"), part(1, "whole number", "age", id="p2")))
    layouts = layout_of([old, new])
    tables = [lay_out(Engine(old, answers={"nick": "Bo"})), lay_out(Engine(new, answers={"nickname": "Edda"}))]
    built = build_data_set(layouts, [{"facts": {"interview.key": str(i)}, "tables": t} for i, t in enumerate(tables)])
    frame = built["interviews"].frame
    assert frame["nickname"].to_list() == ["Bo", "Edda"]
    assert frame["age?"].to_list() == ["not_asked", "unanswered"]


@pytest.mark.parametrize(
    ("rule", "table", "expected"),
    [
        ("workers > 1", "interviews", [True, None, None]),
        ("workers is not known", "interviews", [False, False, True]),
        ("consent was asked", "interviews", [True, True, True]),
        ("island was asked", "interviews", [True, False, True]),
        ("tools includes saw", "interviews", [True, None, None]),
        ("sum(staff.hours) = 40.5", "interviews", [True, None, None]),
        ("any(staff where age < 14)", "interviews", [True, False, False]),
        ("age >= 14 and island is kesk", "staff", [True, False]),
        ("hours = 40.5", "staff", [True, None]),
    ],
)
def test_rules_run_over_tables_as_they_run_in_an_interview(
    data: DataSet, rule: str, table: str, expected: list[Any]
) -> None:
    rules = DataRules(data)
    tree, faults = rules.check(rule, table)
    assert tree is not None, faults
    assert rules.outcome(tree, table).values.to_list() == expected


def test_a_rule_over_tables_has_the_same_faults(data: DataSet) -> None:
    _, faults = DataRules(data).check("wrkers > 3", "interviews")
    assert faults[0].mend == "Did you mean workers?"
