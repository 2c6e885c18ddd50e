"""Taking modules and bringing them up to date: names and identities stay, own lines and codes too."""

from __future__ import annotations

from skavo.core.modules.household import PEOPLE
from skavo.core.modules.money import INCOME
from skavo.core.modules.take import bring_up_to_date, modules_in, take
from skavo.core.questionnaire.compare import compare_scripts
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, ScriptCheck
from tests.samples import code_list, part, script


def test_lines_remember_where_they_come_from_and_taken_names_get_a_prefix() -> None:
    sample = script(part(1, "whole number", "age"), languages=("en", "fr", "ar"))
    found = take(sample, PEOPLE, 1, 1)
    assert found.renamed == {"age": "people_age"}
    assert [p.origin for p in found.script.parts[:4]] == ["", "people/household", "people/people", "people/person"]
    both = take(found.script, INCOME, len(found.script.parts), 1).script
    assert modules_in(both) == ["people", "income"]
    assert [f for f in compile_script(both).findings if f.severity == "error"] == []


def test_up_to_date_already_changes_nothing() -> None:
    sample = take(script(part(1, "whole number", "age")), PEOPLE, 1, 1).script
    after = bring_up_to_date(sample, PEOPLE)
    assert after.parts == sample.parts and after.code_lists == sample.code_lists
    assert bring_up_to_date(sample, INCOME) is sample


def test_what_the_module_changed_comes_over_under_the_names_here() -> None:
    sample = take(script(part(1, "whole number", "age"), languages=("en", "fr", "ar")), PEOPLE, 1, 1).script
    sample.code_lists[0].codes.append(Code(code="lodger", label={"en": "Lodger"}))
    sample.parts.append(part(1, "text", "mine"))
    newer = PEOPLE.model_copy(deep=True)
    parts = newer.fragment.parts
    ages = next(p for p in parts if p.variable == "age")
    ages.must_hold = [ScriptCheck(rule="age < 121 and first_name is answered")]
    ages.wording["en"] = "What is the age of {first_name}?"
    gone = next(p for p in parts if p.variable == "works")
    parts.remove(gone)
    parts.remove(next(p for p in parts if p.variable == "workers_known"))
    place = parts.index(next(p for p in parts if p.variable == "school"))
    parts.insert(place + 1, part(3, "text", "teacher", asked_when="school is yes and age > 6"))
    newer.fragment.code_lists[0].codes[0].label["en"] = "Head of household"
    after = bring_up_to_date(sample, newer)
    named = {p.variable: p for p in after.parts}
    assert named["people_age"].must_hold[0].rule == "people_age < 121 and first_name is answered"
    assert named["people_age"].wording["en"] == "What is the age of {first_name}?"
    assert named["people_age"].id == next(p.id for p in sample.parts if p.variable == "people_age")
    assert "works" not in named and "mine" in named
    assert named["teacher"].asked_when == "school is yes and people_age > 6"
    assert (named["teacher"].level, named["teacher"].origin) == (3, "people/teacher")
    names = [p.variable for p in after.parts]
    assert names.index("teacher") == names.index("school") + 1
    relation = next(entry for entry in after.code_lists if entry.name == "relation")
    assert (relation.codes[0].label["en"], relation.codes[-1].code) == ("Head of household", "lodger")
    assert [f for f in compile_script(after).findings if f.severity == "error"] == []
    changes = {(c.what, c.variable) for c in compare_scripts(sample, after).changes}
    assert {("removed", "works"), ("added", "teacher"), ("re-worded", "people_age")} <= changes


def test_a_list_that_had_to_be_called_otherwise_is_the_one_that_follows() -> None:
    own = code_list("sex", "f", "m")
    sample = script(part(1, "single answer", "asked", code_list="sex"), lists=(own,), languages=("en", "fr", "ar"))
    sample = take(sample, PEOPLE, 1, 1).script
    newer = PEOPLE.model_copy(deep=True)
    newer.fragment.code_lists[1].codes[0].label["en"] = "Man or boy"
    after = bring_up_to_date(sample, newer)
    lists = {entry.name: entry for entry in after.code_lists}
    assert lists["sex"] == own and lists["sex_2"].codes[0].label["en"] == "Man or boy"
    assert next(p for p in after.parts if p.variable == "sex").code_list == "sex_2"
    assert len(after.code_lists) == len(sample.code_lists)
