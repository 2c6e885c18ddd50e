"""Codes called otherwise: whatever means the code follows, whatever only looks like it stays."""

from __future__ import annotations

from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.rename import rename_codes
from skavo.core.questionnaire.script import Code, CodeList, Script
from tests.samples import code_list, part, script


def _sample() -> Script:
    wards = CodeList(
        name="ward", codes=[Code(code="kesk", label={"en": "K"}, attributes={"island": "kesk", "x": "kesk"})]
    )
    return script(
        part(1, "single answer", "island", code_list="island", default="kesk"),
        part(1, "single answer", "ward", code_list="ward", code_filter="ward.island is island", default="kesk"),
        part(1, "multiple answer", "seen", code_list="island"),
        part(1, "text", "kesk", wording={"en": "{island} and {kesk_2}"}),
        part(1, "whole number", "kesk_2", asked_when='island is kesk and ward is kesk and kesk is "kesk"'),
        part(
            1, "text", "why", asked_when='seen includes any of (kesk, luma) or kesk is island or occurs(kesk, island, island) > 1',
            must=['ward is not "kesk" or island is "kesk" # kesk stays'],
        ),
        part(1, "roster", "each", repeated="for each code in seen", wording={"en": "{row}"}),
        part(2, "yes/no", "liked", asked_when='island is one of (kesk)'),
        lists=(code_list("island", "kesk", "luma"), wards),
    )  # fmt: skip


def test_rules_of_that_list_follow_and_others_stay() -> None:
    renamed = rename_codes(_sample(), "island", {"kesk": "kesk_isle"})
    lines = {p.variable: p for p in renamed.script.parts}
    assert (lines["island"].default, lines["ward"].default) == ("kesk_isle", "kesk")
    assert lines["kesk_2"].asked_when == 'island is kesk_isle and ward is kesk and kesk is "kesk"'
    assert lines["why"].must_hold[0].rule == 'ward is not "kesk" or island is kesk_isle # kesk stays'
    assert lines["liked"].asked_when == "island is one of (kesk_isle)"
    assert "seen includes any of (kesk_isle, luma)" in lines["why"].asked_when
    islands, wards = renamed.script.code_lists
    assert [c.code for c in islands.codes] == ["kesk_isle", "luma"]
    assert wards.codes[0].attributes == {"island": "kesk_isle", "x": "kesk"} and wards.codes[0].code == "kesk"


def test_the_script_compiles_as_before_and_is_left_as_it_was() -> None:
    before = _sample()
    again = rename_codes(rename_codes(before, "island", {"kesk": "K 1"[:1]}).script, "island", {"K": "kesk"}).script
    assert [f.message for f in compile_script(again).findings] == [f.message for f in compile_script(before).findings]
    assert before == _sample()


def test_a_code_that_would_read_as_something_else_is_quoted() -> None:
    for new, written in (("7", "7"), ("a-1", '"a-1"'), ("seen", '"seen"'), ("yes", '"yes"'), ("Luma", "Luma")):
        lines = {p.variable: p for p in rename_codes(_sample(), "island", {"kesk": new}).script.parts}
        assert lines["liked"].asked_when == f"island is one of ({written})", new


def test_a_rule_that_cannot_be_read_is_left_alone() -> None:
    sample = _sample()
    sample.parts[4].asked_when = "island is kesk and"
    assert rename_codes(sample, "island", {"kesk": "k"}).script.parts[4].asked_when == "island is kesk and"
