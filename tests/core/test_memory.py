"""One changed rule checks only what it touches, and the result is that of checking everything."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.core.questionnaire import compile_part
from skavo.core.questionnaire.compile import Compiled, compile_script
from skavo.core.questionnaire.memory import Memory
from skavo.core.questionnaire.script import Script
from tests.samples import part, script, staff_script


@pytest.fixture
def checked(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The rules that are checked from now on, with nothing remembered."""
    texts: list[str] = []
    original = compile_part.check_typed

    def counted(text: str, *more: Any) -> Any:
        texts.append(text)
        return original(text, *more)

    monkeypatch.setattr(compile_part, "check_typed", counted)
    monkeypatch.setattr(compile_part, "MEMORY", Memory())
    return texts


def from_scratch(sample: Script, monkeypatch: pytest.MonkeyPatch) -> Compiled:
    with monkeypatch.context() as patch:
        patch.setattr(compile_part, "MEMORY", Memory())
        return compile_script(sample)


def test_the_same_script_again_checks_nothing(checked: list[str]) -> None:
    compile_script(staff_script())
    assert len(checked) > 10
    checked.clear()
    compile_script(staff_script())
    assert checked == []


def test_one_changed_rule_is_checked_by_itself(checked: list[str]) -> None:
    compile_script(staff_script())
    checked.clear()
    sample = staff_script()
    sample.parts[10].derived = "sum(staff.hours) / 38"
    compile_script(sample)
    assert checked == ["sum(staff.hours) / 38"]


def test_what_refers_to_a_changed_type_is_checked_again(checked: list[str], monkeypatch: pytest.MonkeyPatch) -> None:
    sample = script(
        part(1, "whole number", "a"),
        part(1, "derived value", "b", derived="a > 3"),
        part(1, "text", "c", asked_when="b"),
        part(1, "text", "d", asked_when="a > 1"),
    )
    compile_script(sample)
    checked.clear()
    sample.parts[1].derived = "a + 3"
    found = compile_script(sample)
    assert set(checked) == {"a + 3", "b"}
    assert [(f.line, f.code) for f in found.errors] == [(2, "wrong_type")]
    assert found == from_scratch(sample, monkeypatch)


def test_a_removed_code_is_noticed_by_the_rules_that_name_it(
    checked: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    compile_script(staff_script())
    sample = staff_script()
    sample.code_lists[2].codes.pop(0)
    found = compile_script(sample)
    assert [(f.line, f.code) for f in found.errors] == [(12, "impossible_code")]
    assert found == from_scratch(sample, monkeypatch)


_EDITS = st.sampled_from(["rule", "name", "kind", "remove", "move", "wording", "code", "level"])


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(_EDITS, st.integers(0, 12), st.integers(0, 5)), min_size=1, max_size=6))
def test_any_edits_give_the_same_as_from_scratch(edits: list[tuple[str, int, int]]) -> None:
    patch = pytest.MonkeyPatch()
    sample = staff_script()
    compile_script(sample)
    for what, line, number in edits:
        at = line % max(1, len(sample.parts))
        if what == "rule" and sample.parts:
            sample.parts[at].asked_when = ["", "consent is yes", "workers > 2", "age > 3", "posts > 1", "gone"][number]
        elif what == "name" and sample.parts:
            sample.parts[at].variable = ["workers", "people", "age", "x", "", "tools"][number]
        elif what == "kind" and sample.parts:
            sample.parts[at].kind = ["text", "whole number", "roster", "section", "yes/no", "date"][number]
        elif what == "remove" and len(sample.parts) > 1:
            del sample.parts[at]
        elif what == "move" and sample.parts:
            sample.parts.insert(number, sample.parts.pop(at))
        elif what == "wording" and sample.parts:
            sample.parts[at].wording = {"en": ["x", "{name}", "{workers} of {row}", "", "{", '"{age}"'][number]}
        elif what == "code":
            sample.code_lists[number % 3].codes[0].code = f"c{number}"
        elif what == "level" and sample.parts:
            sample.parts[at].level = number % 3 + 1
        assert compile_script(sample) == from_scratch(sample, patch)
