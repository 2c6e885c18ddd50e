"""Renaming: whatever means the variable follows, whatever only looks like it stays."""

from __future__ import annotations

import pytest

from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.rename import rename_variables
from skavo.core.questionnaire.script import Script, ScriptCheck, UnitList, UnitOfMeasure
from tests.samples import code_list, part, script


def _sample() -> Script:
    roles = code_list("role", "boss", "age")
    roles.codes[0].attributes["workers"] = "few"
    return script(
        part(1, "section", "start"),
        part(2, "whole number", "workers", must=["workers between 1 and 40"]),
        part(2, "single answer", "trade", code_list="trade"),
        part(2, "multiple answer", "tools", code_list="tools"),
        part(2, "quantity", "sack_size", unit="kg"),
        part(
            2, "whole number", "paid", asked_when='workers > 3 and trade is not tailor and "workers" is "workers"',
            wording={"en": "How many of the {workers} are paid?", "fr": "Combien des {workers + 1} ?"},
            must=[ScriptCheck(rule="paid <= workers", message={"en": "There are only {workers} workers."})],
            instruction={"en": "Of {workers}."},
        ),
        part(1, "roster", "staff", repeated="workers times", wording={"en": "Each of {workers}, {row}"}),
        part(2, "whole number", "age", should=["age >= 14", "earlier.age is missing or age >= earlier.age"]),
        part(2, "single answer", "role", code_list="role", code_filter="role.workers is \"few\" or workers > 2"),
        part(1, "roster", "each_tool", repeated="for each code in tools"),
        part(2, "yes/no", "works"),
        part(1, "derived value", "load", derived="sum(staff.age where role is boss) / workers + count(staff)"),
        part(1, "read-back", "seen", reads_back="workers", wording={"en": "{workers}?"}),
        lists=(
            code_list("trade", "tailor", "workers", "other", specify="other"), code_list("tools", "saw"),
            roles,
        ),
        languages=("en", "fr"),
    )  # fmt: skip


def _named(sample: Script, variable: str) -> str:
    return next(p.id for p in sample.parts if p.variable == variable)


def _renamed(sample: Script, old: str, new: str) -> Script:
    return rename_variables(sample, {_named(sample, old): new}).script


def _line(sample: Script, variable: str) -> dict[str, object]:
    return next(p for p in sample.parts if p.variable == variable).model_dump()


def test_rules_texts_messages_and_rosters_follow() -> None:
    after = _renamed(_sample(), "workers", "people")
    paid = _line(after, "paid")
    assert paid["asked_when"] == 'people > 3 and trade is not tailor and "workers" is "workers"'
    assert paid["wording"] == {"en": "How many of the {people} are paid?", "fr": "Combien des {people + 1} ?"}
    assert paid["instruction"] == {"en": "Of {people}."}
    assert paid["must_hold"] == [{"rule": "paid <= people", "message": {"en": "There are only {people} workers."}}]
    assert _line(after, "people")["must_hold"] == [{"rule": "people between 1 and 40", "message": {}}]
    assert _line(after, "staff")["repeated"] == "people times"
    assert _line(after, "staff")["wording"] == {"en": "Each of {people}, {row}"}
    assert _line(after, "load")["derived"] == "sum(staff.age where role is boss) / people + count(staff)"
    assert _line(after, "seen")["reads_back"] == "people"


def test_codes_and_attributes_of_the_same_name_stay() -> None:
    sample = _sample()
    sample.parts.append(part(1, "text", "why", asked_when="trade is workers or trade is one of (tailor, workers)"))
    after = _renamed(sample, "workers", "people")
    assert _line(after, "why")["asked_when"] == "trade is workers or trade is one of (tailor, workers)"
    assert _line(after, "role")["code_filter"] == 'role.workers is "few" or people > 2'


def test_a_roster_and_what_it_asks_follow() -> None:
    after = _renamed(_sample(), "staff", "crew")
    assert _line(after, "load")["derived"] == "sum(crew.age where role is boss) / workers + count(crew)"
    after = _renamed(_sample(), "age", "years")
    assert [c["rule"] for c in _line(after, "years")["should_hold"]] == [  # type: ignore[attr-defined]
        "years >= 14", "earlier.years is missing or years >= earlier.years",
    ]  # fmt: skip
    assert _line(after, "load")["derived"] == "sum(staff.years where role is boss) / workers + count(staff)"
    assert _line(_renamed(_sample(), "tools", "kit"), "each_tool")["repeated"] == "for each code in kit"


def test_what_other_is_follows_its_question() -> None:
    sample = _sample()
    sample.parts.append(part(1, "text", "more", asked_when='trade_other is answered and trade_other is not "x"'))
    after = _renamed(sample, "trade", "craft")
    assert _line(after, "more")["asked_when"] == 'craft_other is answered and craft_other is not "x"'


def test_two_swap_their_names() -> None:
    sample = _sample()
    names = {_named(sample, "workers"): "paid", _named(sample, "paid"): "workers"}
    after = rename_variables(sample, names).script
    assert _line(after, "workers")["must_hold"][0]["rule"] == "workers <= paid"  # type: ignore[index]
    assert compile_script(after).errors == []


def test_a_unit_told_in_answers_follows() -> None:
    sample = _sample()
    sample.unit_lists.append(
        UnitList(name="sacks", units=[UnitOfMeasure(unit="sack", dimension="mass", factor="sack_size")])
    )
    found = rename_variables(sample, {_named(sample, "sack_size"): "sack_weight"})
    assert found.script.unit_lists[0].units[0].factor == "sack_weight"
    assert [f.field for f in found.followed] == ["factor"]


def test_a_rule_that_is_not_finished_follows_too() -> None:
    sample = _sample()
    sample.parts[5].asked_when = "workers > 3 and"
    assert _line(_renamed(sample, "workers", "people"), "paid")["asked_when"] == "people > 3 and"


def test_of_two_with_one_name_the_first_is_meant() -> None:
    sample = _sample()
    sample.parts.append(part(1, "whole number", "workers", id="second"))
    after = rename_variables(sample, {"second": "others"}).script
    assert _line(after, "paid")["must_hold"][0]["rule"] == "paid <= workers"  # type: ignore[index]
    assert after.parts[-1].variable == "others"


def test_the_given_script_stays_as_it_was() -> None:
    sample = _sample()
    before = sample.model_copy(deep=True)
    rename_variables(sample, {_named(sample, "workers"): "people"})
    assert sample == before


@pytest.mark.parametrize("variable", ["island", "ward", "workers", "staff", "name", "age", "role", "trade", "consent"])
def test_the_demo_compiles_to_the_same_but_for_the_name(variable: str) -> None:
    from tests.workshop import workshop_script

    sample = workshop_script()
    after = _renamed(sample, variable, "renamed_here")
    compiled, before = compile_script(after), compile_script(sample)
    assert compiled.errors == [] and compiled.release is not None and before.release is not None
    trees = [{k: v for k, v in p.items() if k in ("derived", "needed", "repeat", "default", "asked_when")}
             for release in (before.release, compiled.release) for p in release["parts"]]  # fmt: skip
    half = len(trees) // 2
    assert trees[:half] == trees[half:]
