"""Checking and compiling scripts: faults with their line and field, releases with their hash."""

from __future__ import annotations

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.script import CodeList, Part, Script, ScriptCheck, UnitList, UnitOfMeasure
from skavo.core.questionnaire.variables import suggest_variable
from skavo.core.rehearsal.reading import ReleaseReading
from tests.samples import code_list, part, release_of, script, staff_script


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
    sample.parts[0].must_hold = [ScriptCheck(rule="a < 9", message={"en": "{a} of {b}"})]
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


def units(*entries: tuple[str, str, str], name: str = "u") -> UnitList:
    return UnitList(name=name, units=[UnitOfMeasure(unit=u, dimension=d, factor=f) for u, d, f in entries])


def with_lists(*parts: Part, codes: tuple[CodeList, ...] = (), unit_lists: tuple[UnitList, ...] = ()) -> Script:
    made = script(*parts, lists=codes)
    made.unit_lists = list(unit_lists)
    return made


KILO = ("kg", "mass", "1")


@pytest.mark.parametrize(
    ("sample", "code", "message", "mend"),
    [
        (with_lists(part(1, "text", "a"), codes=(code_list("l", "x"), code_list("l", "y"))), "double_list", "Two code lists are called “l”.", "Rename one."),
        (with_lists(part(1, "text", "a"), codes=(code_list("My List", "x"),)), "wrong_list_name", "“My List” is no list name.", "Small letters, digits and _ only: my_list"),
        (with_lists(part(1, "text", "a"), codes=(code_list("l", "a b"),)), "wrong_code", "“a b” is no code.", "No spaces, commas, quotes, / or braces."),
        (with_lists(part(1, "text", "a"), unit_lists=(units(KILO, KILO),)), "double_unit", "u has the unit “kg” twice.", "Remove one."),
        (with_lists(part(1, "text", "a"), unit_lists=(units(KILO, ("m", "length", "1")),)), "mixed_dimensions", "The unit list u mixes mass and length.", "One list measures one dimension."),
        (with_lists(part(1, "text", "a"), unit_lists=(units(KILO, ("day", "mass", "3")),)), "wrong_unit", "“day” is no name for a unit.", "Letters, digits and _, and no unit of time."),
        (with_lists(part(1, "text", "a"), unit_lists=(units(KILO, ("sack", "mass", "0")),)), "wrong_factor", "The factor of sack has to be a number above 0, or a rule.", "Say how many base units it is."),
        (with_lists(part(1, "quantity", "a", unit="u"), unit_lists=(units(KILO, ("sack", "mass", "40 +")),)), "unfinished", "How much a sack is: The rule stops too early: a value is missing.", "Finish the sentence."),
        (with_lists(part(1, "quantity", "a", unit="u"), unit_lists=(units(KILO, ("sack", "mass", "bag * 2"), ("bag", "mass", "10")),)), "unknown_name", "How much a sack is: There is no variable “bag”.", "bag is a unit: write a number before it, as in 1 bag."),
        (with_lists(part(1, "quantity", "a", unit="u"), unit_lists=(units(KILO, ("sack", "mass", "2 bags"), ("bag", "mass", "0.1 sacks")),)), "unit_ring", "How much a sack is: Nothing says it: a sack is told in bag, a bag is told in sack.", "Tell one of them in base units."),
        (with_lists(part(1, "quantity", "a", unit="u"), unit_lists=(units(KILO, ("sack", "mass", "2 m")),)), "dimension_clash", "How much a sack is: This is a quantity (length); a sack measures mass.", ""),
        (with_lists(part(1, "quantity", "a", unit="u"), unit_lists=(units(KILO, ("sack", "mass", '"two"')),)), "wrong_type", "How much a sack is: This is a text; a number is needed here.", ""),
        (with_lists(part(1, "instrument", "a", unit="u"), unit_lists=(units(KILO, ("g", "mass", "0.001")),)), "many_units", "An instrument shows one unit; u has 2.", "Name one of them: kg."),
        (with_lists(part(1, "whole number", "a", least=5, most=3)), "least_above_most", "The least number is above the most.", "Swap them."),
        (with_lists(part(1, "read-back", "a")), "no_reads_back", "It does not say what is read back.", "Name an earlier question."),
        (with_lists(part(1, "section", "s"), part(2, "text", "t"), part(1, "read-back", "a", reads_back="s")), "wrong_reads_back", "“s” has no answer to read back.", "Name an earlier question."),
        (with_lists(part(1, "grid", "g", code_list="l"), part(2, "single answer", "a", code_list="k"), codes=(code_list("l", "x"), code_list("k", "y"))), "other_list", "The grid offers l, this question k.", "Leave it empty: it takes the grid’s."),
        (with_lists(part(1, "unit", "a")), "no_register", "It does not say which register.", "Name the register."),
        (with_lists(part(1, "time", "a", must=["a > 25:00"])), "no_such_time", "There is no time 25:00.", "Write 00:00 to 23:59."),
        (with_lists(part(1, "whole number", "a", must=["a > 3 )"])), "unexpected", "“)” cannot stand here.", "Check the words before it."),
        (with_lists(part(1, "whole number", "a", must=["a > 3 \\ 4"])), "wrong_character", "“\\” has no meaning in a rule.", "Remove it."),
        (with_lists(part(1, "single answer", "a", code_list="l", code_filter="l.isle is \"x\""), codes=(code_list("l", "x"),)), "unknown_attribute", "The list l has no attribute “isle”.", "Attributes: none yet."),
        (with_lists(part(1, "section", "s", order="random"), part(2, "text", "a"), part(2, "text", "b", asked_when="a is answered")), "random_order", "“a” stands in the same section of random order, so it may come later.", "Give the section a fixed order, or move one of them out."),
        (with_lists(part(1, "date", "a", mask="99")), "unused", "“Mask” says nothing for a date.", "Remove it, or change the kind."),
    ],
)  # fmt: skip
def test_each_fault_says_what_is_wrong_and_what_to_do(sample: Script, code: str, message: str, mend: str) -> None:
    finding = next(f for f in compile_script(sample).findings if f.code == code)
    assert (finding.message, finding.mend) == (message, mend)


def test_a_cycle_names_the_whole_ring() -> None:
    sample = script(
        part(1, "derived value", "total", derived="share * 2"),
        part(1, "derived value", "share", derived="half + 1"),
        part(1, "derived value", "half", derived="total / 2"),
    )
    found = [(f.line, f.code, f.message) for f in compile_script(sample).errors]
    ring = "This goes round in a circle: total needs share, share needs half, half needs total."
    assert found[0] == (0, "cycle", ring)


def test_a_section_that_waits_for_what_stands_in_it_is_a_cycle() -> None:
    sample = script(part(1, "section", "s", asked_when="a is yes"), part(2, "yes/no", "a"))
    assert [f.message for f in compile_script(sample).errors] == [
        "This goes round in a circle: s needs a, a stands in s."
    ]


def test_what_is_wrong_with_a_unit_is_told_once_and_not_where_it_is_used() -> None:
    uses = [part(1, "quantity", f"q{n}", unit="u", must=[f"q{n} <= 3 sacks"]) for n in range(3)]
    found = compile_script(with_lists(*uses, unit_lists=(units(KILO, ("sack", "mass", "bagg * 2")),))).errors
    assert [(f.code, f.unit_list, f.item, f.field, f.start, f.length) for f in found] == [
        ("unknown_name", "u", "sack", "factor", 0, 4)
    ]


def test_a_unit_whose_factor_is_not_known_yet_is_told_where_it_is_used() -> None:
    sample = with_lists(
        part(1, "quantity", "a", unit="u"),
        part(1, "whole number", "ward"),
        part(1, "quantity", "b", unit="u", must=["b <= 3 sacks"]),
        unit_lists=(units(KILO, ("sack", "mass", "if ward is 1 then 40 else 50")),),
    )
    found = [(f.line, f.field, f.code, f.message) for f in compile_script(sample).errors]
    later = "How much a sack is: “ward” is asked later, so there is no answer to it here."
    assert found == [(0, "unit", "wrong_factor", later)]


@pytest.mark.parametrize("code", ["variable", "row", "aggregate", "status", "outside", "literal", "earlier"])
def test_a_code_may_have_any_name(code: str) -> None:
    sample = script(
        part(1, "multiple answer", "m", code_list="k", default=code),
        part(1, "single answer", "c", code_list="k"),
        part(1, "roster", "r", repeated="for each code in m"),
        part(2, "text", "t", asked_when=f"m includes only ({code}, x) and r is {code}"),
        part(1, "text", "u", asked_when=f"m includes any of ({code}, x) and c is one of ({code}, x)"),
        lists=(code_list("k", code, "x"),),
    )
    release = release_of(sample)
    engine = Engine(release, answers={"c": code})
    assert engine.asked[release.by_name["t"]] == {(code,): True}
    assert engine.asked[release.by_name["u"]] == {(): True}
    assert {release.parts[index].variable for index in ReleaseReading(release).constants} >= {"m", "c"}


def test_a_variable_that_is_also_a_column_of_another_question_is_doubted() -> None:
    sample = script(part(1, "photo", "door"), part(1, "text", "door_name"), part(1, "text", "door_size"))
    found = [(f.code, f.line, f.severity) for f in compile_script(sample).findings]
    assert found == [("double_column", 1, "doubt")]
