"""Lines from elsewhere: names and lists of their own, rules that follow, nothing of the script changed."""

from __future__ import annotations

import pytest

from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.graft import Fragment, cut_fragment, free_name, graft
from skavo.core.questionnaire.script import Code, CodeList, UnitList, UnitOfMeasure
from tests.samples import code_list, part, script, staff_script


def test_a_section_taken_again_asks_the_same_under_names_of_its_own() -> None:
    sample = staff_script()
    fragment = cut_fragment(sample, range(len(sample.parts)))
    found = graft(sample, fragment, len(sample.parts), 1)
    assert compile_script(found.script).errors == []
    half = len(sample.parts)
    assert found.script.parts[:half] == sample.parts
    assert [p.kind for p in found.script.parts[half:]] == [p.kind for p in sample.parts]
    assert found.added == [p.id for p in found.script.parts[half:]]
    assert len({p.id for p in found.script.parts}) == 2 * half
    names = [p.variable for p in found.script.parts if p.variable]
    assert len(names) == len(set(names))
    for old, new in found.renamed.items():
        assert new == f"{old}_2"
    assert found.script.code_lists == sample.code_lists and found.lists_renamed == {}


def test_rules_among_the_lines_follow_and_others_stay() -> None:
    sample = script(part(1, "whole number", "age"), part(1, "whole number", "most"))
    fragment = Fragment(
        languages=["en"], parts=[part(1, "whole number", "age", must=["age <= most"], wording={"en": "Of {age}"})]
    )
    line = graft(sample, fragment, 1, 1).script.parts[1]
    assert (line.variable, line.must_hold[0].rule, line.wording["en"]) == ("age_2", "age_2 <= most", "Of {age_2}")


def test_a_prefix_where_it_makes_the_name_free() -> None:
    sample = script(part(1, "text", "name"), part(1, "text", "hh_street"), part(1, "text", "street"))
    fragment = Fragment(languages=["en"], parts=[part(1, "text", v) for v in ("name", "street", "town")])
    found = graft(sample, fragment, 0, 1, prefix="hh")
    assert [p.variable for p in found.script.parts[:3]] == ["hh_name", "street_2", "town"]
    assert found.renamed == {"name": "hh_name", "street": "street_2"}


def test_a_list_of_the_same_name_that_holds_something_else_comes_under_another() -> None:
    mine, theirs = code_list("trade", "tailor", "smith"), code_list("trade", "cook")
    theirs.codes[0].attributes["place"] = "x"
    sample = script(part(1, "single answer", "craft", code_list="trade"), lists=(mine,))
    line = part(1, "single answer", "other", code_list="trade", code_filter='trade.place is "x"')
    found = graft(sample, Fragment(languages=["en"], parts=[line], code_lists=[theirs]), 1, 1)
    assert [entry.name for entry in found.script.code_lists] == ["trade", "trade_2"]
    assert found.script.code_lists[0] == mine and found.script.code_lists[1].codes == theirs.codes
    assert (found.script.parts[1].code_list, found.script.parts[1].code_filter) == ("trade_2", 'trade_2.place is "x"')
    assert compile_script(found.script).errors == []


def test_lists_that_are_missing_come_along_and_same_ones_do_not_twice() -> None:
    sacks = UnitList(name="sacks", units=[UnitOfMeasure(unit="sack", dimension="mass", factor="50")])
    fragment = Fragment(
        languages=["en"],
        parts=[part(1, "single answer", "a", code_list="yn"), part(1, "quantity", "b", unit="sacks")],
        code_lists=[CodeList(name="yn", codes=[Code(code="y")])],
        unit_lists=[sacks],
    )
    once = graft(script(part(1, "text", "x")), fragment, 1, 1).script
    twice = graft(once, fragment, 1, 1).script
    assert [e.name for e in twice.code_lists] == ["yn"] and twice.unit_lists == [sacks]


def test_the_outermost_lines_stand_on_the_level_asked_for() -> None:
    fragment = Fragment(languages=["en"], parts=[part(3, "section", "s"), part(4, "text", "t"), part(3, "text", "u")])
    sample = script(part(1, "section", "top"), part(2, "text", "x"))
    assert [p.level for p in graft(sample, fragment, 2, 2).script.parts] == [1, 2, 2, 3, 2]


@pytest.mark.parametrize("at", [0, 1, 99])
def test_where_it_is_put_in(at: int) -> None:
    sample = script(part(1, "text", "a"), part(1, "text", "b"))
    fragment = Fragment(languages=["en"], parts=[part(1, "text", "new")])
    places = [p.variable for p in graft(sample, fragment, at, 1).script.parts]
    assert places.index("new") == min(at, 2)


def test_names_stay_short_enough_and_free() -> None:
    long = "a" * 32
    assert free_name(long, {long}) == "a" * 30 + "_2"
    assert free_name("a", {"a", "a_2", "a_3"}) == "a_4"
    assert free_name("a", {"b"}) == "a"
    assert len(free_name(long, {long}, prefix="hh")) == 32
