"""Checking and compiling scripts: faults with their line and field, releases with their hash."""

from __future__ import annotations

import pytest

from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.script import Check, Script
from skavo.core.questionnaire.variables import suggest_variable
from tests.samples import code_list, part, script, staff_script


def faults(sample: Script) -> list[tuple[int | None, str, str]]:
    return [(f.line, f.field, f.code) for f in compile_script(sample).findings]


def test_a_sound_script_has_no_findings() -> None:
    assert faults(staff_script()) == []


@pytest.mark.parametrize(
    ("sample", "expected"),
    [
        (script(), [(None, "", "no_parts")]),
        (script(part(1, "text", "Ship Name")), [(0, "variable", "wrong_variable")]),
        (script(part(1, "text", "a" * 33)), [(0, "variable", "long_variable")]),
        (script(part(1, "text", "includes")), [(0, "variable", "reserved")]),
        (script(part(1, "text", "")), [(0, "variable", "no_variable")]),
        (script(part(1, "text", "a"), part(1, "text", "a", id="b")), [(1, "variable", "double_variable")]),
        (script(part(1, "txet", "a")), [(0, "kind", "unknown_kind")]),
        (script(part(2, "text", "a")), [(0, "level", "level_jump")]),
        (script(part(1, "single answer", "a")), [(0, "code_list", "no_code_list")]),
        (
            script(part(1, "single answer", "a", code_list="tol"), lists=(code_list("tool", "x"),)),
            [(0, "code_list", "unknown_code_list")],
        ),
        (script(part(1, "text", "a", wording={})), [(0, "wording.en", "no_wording")]),
        (script(part(1, "roster", "a"), part(2, "text", "b")), [(0, "repeated", "no_repeat")]),
        (script(part(1, "derived value", "a")), [(0, "derived", "no_rule")]),
        (
            script(part(1, "text", "a", asked_when="b is answered"), part(1, "text", "b")),
            [(0, "asked_when", "asked_later")],
        ),
        (script(part(1, "text", "a", asked_when="a is answered")), [(0, "asked_when", "cycle")]),
        (script(part(1, "text", "a", wording={"en": "Hello {nobody}"})), [(0, "wording.en", "unknown_name")]),
        (script(part(1, "text", "a"), lists=(code_list("empty"),)), [(None, "", "empty_list")]),
        (script(part(1, "text", "a"), lists=(code_list("l", "x", "x"),)), [(None, "", "double_code")]),
        (
            script(part(1, "text", "a", wording={"en": "A"}), languages=("en", "fr")),
            [(0, "wording.fr", "not_translated")],
        ),
    ],
)
def test_each_fault_is_found_at_its_line_and_field(sample: Script, expected: list[tuple[int | None, str, str]]) -> None:
    assert faults(sample) == expected


def test_one_fault_does_not_hide_the_others() -> None:
    sample = script(
        part(1, "whole number", "a", must=["a > b", "a > 3 and"]),
        part(1, "text", "c", asked_when="zzz is 3"),
        part(1, "text", "c", id="second"),
    )
    assert sorted(f[2] for f in faults(sample)) == ["double_variable", "unfinished", "unknown_name", "unknown_name"]


def test_a_fault_inside_a_wording_has_its_place_in_the_wording() -> None:
    sample = script(part(1, "text", "a", wording={"en": "How is {wrold} today?"}))
    finding = compile_script(sample).findings[0]
    assert "How is {wrold} today?"[finding.start : finding.start + finding.length] == "wrold"


def test_a_message_may_carry_values_that_are_checked_too() -> None:
    sample = script(part(1, "whole number", "a"))
    sample.parts[0].must_hold = [Check(rule="a < 9", message={"en": "{a} of {b}"})]
    assert faults(sample) == [(0, "must_hold.0.message.en", "unknown_name")]


def test_a_derived_value_passes_its_type_on() -> None:
    sample = script(
        part(1, "whole number", "a"),
        part(1, "derived value", "big", derived="a > 10"),
        part(1, "text", "b", asked_when="big"),
        part(1, "text", "c", asked_when="big > 3"),
    )
    assert faults(sample) == [(3, "asked_when", "wrong_type")]


def test_a_script_with_errors_compiles_to_nothing() -> None:
    assert compile_script(script(part(1, "text", "A"))).release is None


def test_the_hash_changes_with_the_content_and_with_nothing_else() -> None:
    first, second = compile_script(staff_script()).release, compile_script(staff_script()).release
    assert first is not None and second is not None
    assert content_hash(first) == content_hash(dict(reversed(second.items())))
    changed = staff_script()
    changed.parts[1].wording["en"] += "?"
    third = compile_script(changed).release
    assert third is not None and content_hash(third) != content_hash(first)


@pytest.mark.parametrize(("text", "variable"), [("Ship Name", "ship_name"), ("2nd", "q_2nd"), ("a" * 40, "a" * 32)])
def test_a_lawful_variable_is_suggested(text: str, variable: str) -> None:
    assert suggest_variable(text) == variable
