"""Rules over quantities, places, moments, register units and earlier rounds: what they give and what is refused."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import Release
from skavo.core.interview.view import all_findings, show_step
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.help import EXAMPLE_ANSWERS, EXAMPLE_OUTSIDE, example_script
from skavo.core.questionnaire.known import Known, of_any_register
from skavo.core.questionnaire.script import Part, Script, UnitList, UnitOfMeasure
from skavo.core.rules.check_names import ANY_REGISTER
from tests.samples import code_list, part, release_of, script

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)


def with_rule(rule: str) -> Script:
    sample = example_script()
    sample.parts.append(Part(id="r", kind="derived value", variable="result", derived=rule))
    return sample


def value(rule: str, answers: dict[str, Any] | None = None, outside: dict[str, Any] | None = None) -> Any:
    compiled = compile_script(with_rule(rule))
    assert compiled.release is not None, compiled.errors
    known = {"now": NOW, **EXAMPLE_OUTSIDE, **(outside or {})}
    engine = Engine(Release(compiled.release), known, EXAMPLE_ANSWERS if answers is None else answers)
    return write_answer(engine.values[-1].get(()))


def asked(engine: Engine) -> list[str]:
    return [path_of(engine.release, index, row) for index, row in engine.places()]


def said(pieces: list[dict[str, Any]]) -> str:
    return "".join(piece["text"] for piece in pieces)


@pytest.mark.parametrize(
    ("rule", "expected"),
    [
        ("scrap <= 120 kg", True),
        ("scrap < 0.12 t", False),
        ("scrap is 3 sacks", True),
        ("scrap - 1 sack", 80),
        ("scrap * 2 + 10 kg", 250),
        ("-scrap", -120),
        ("round(scrap / 7, 1)", "17.1"),
        ("smallest(scrap, 1 t)", 120),
        ("if workers > 2 then scrap else 1 kg", 120),
        ("scrap between 100 kg and 0.2 t", True),
        ("scrap is answered", True),
        ("visited >= today", True),
        ("visited + 1 month", "2027-04-14T09:30+00:00"),
        ("days(opened, visited)", 2964),
        ("now - visited >= 30 minutes", True),
        ("weekday(visited)", 7),
        ("door is answered", True),
        ("distance(door, gate) <= 0.2 km", True),
        ("inside(gate, yard)", True),
        ("tools includes drill or count(tools) = 2", True),
        ("workshop.label", "Workshop 7"),
        ("workshop.benches + 1", 5),
        ("workshop.benches is missing", False),
        ("abs(if yes then workshop.benches else workshop.benches)", 4),
        ("(if no then 1 else workshop.benches) - 1", 3),
        ("if workshop.benches > 3 then workshop.kind else workshop.label", "workshop"),
        ("workshop.benches < workshop.benches", False),
        ("workshop is answered", True),
        ("label(workshop)", "Workshop 7"),
        ("earlier.workers is answered", True),
        ("earlier.paid is missing", True),
        ("earlier.workers < workers", True),
    ],
)
def test_rules_over_every_kind_give_what_they_say(rule: str, expected: Any) -> None:
    assert value(rule) == expected


def test_a_local_unit_is_as_much_as_the_answer_it_depends_on_says() -> None:
    answers = {**EXAMPLE_ANSWERS, "ward": "l1"}
    assert value("scrap", answers) == 150
    del answers["ward"]
    assert value("scrap <= 400 kg", answers) is None
    assert value("scrap is answered", answers) is True


def test_a_quantity_follows_the_answer_that_its_unit_depends_on() -> None:
    engine = Engine(release_of(with_rule("scrap")), answers=EXAMPLE_ANSWERS)
    engine.answer("ward", "l1")
    assert engine.derived_values()["result"] == 150
    assert engine.packed_answers()["scrap"] == {"amount": 3, "unit": "sack"}


@pytest.mark.parametrize(
    ("rule", "code", "place", "message", "mend"),
    [
        ("scrap <= 400", "dimension_clash", "400", "A quantity (mass) is compared with a number.", "Write a unit behind the number, as in 400 kg."),
        ("scrap <= 4 km", "dimension_clash", "4 km", "These measure different things: mass and length.", ""),
        ("scrap + workers > 1 kg", "dimension_clash", "workers", "A quantity (mass) meets a number.", "Write a unit behind the number, as in 400 kg."),
        ("scrap * scrap > 1 kg", "dimension_clash", "scrap * scrap", "Two quantities cannot be multiplied.", ""),
        ("workers / scrap > 1", "dimension_clash", "workers", "A quantity (mass) meets a number.", "Write a unit behind the number, as in 400 kg."),
        ("scrap < 3 sakcs", "unknown_unit", "sakcs", "There is no unit “sakcs”.", "Did you mean sack?"),
        ("door is gate", "wrong_type", "door", "A point cannot be compared.", "Ask whether it is answered or is missing."),
        ("distance(door, yard) < 3", "wrong_type", "yard", "This is an area; a point is needed here.", ""),
        ("opened + 3 hours < today", "wrong_type", "3 hours", "A date has no hours and minutes to move by.", "Use whole days."),
        ("opened - visited < 3 days", "wrong_type", "opened - visited", "Two dates are not subtracted with a minus sign.", "Write: days(the earlier one, the later one)"),
        ("now - visited < 1 month", "wrong_type", "1 month", "A month has no fixed length, so it cannot be compared.", "Compare days instead, or use months(a, b)."),
        ("opened + 3 < today", "wrong_type", "3", "This is a number; a span of time is needed here.", "Write a unit: 3 days, 2 months."),
        ("earlier.wrokers > 2", "unknown_name", "wrokers", "There is no variable “wrokers”.", "Did you mean workers?"),
        ("earlier.age > 2", "needs_aggregate", "age", "“age” has an answer for every row; only in the same row can it be read from the earlier round.", "Move the rule into the roster."),
        ("interview.strated < now", "unknown_name", "interview.strated", "There is nothing called “interview.strated”.", "Did you mean interview.started?"),
        ("workers.age > 2", "unknown_name", "age", "“workers” is not a roster, so nothing can follow the dot.", "Write age."),
        ("staff is answered", "not_a_variable", "staff", "A roster has rows; it is not answered itself.", "Write: count(staff) > 0"),
        ("staff > 2", "wrong_type", "staff", "The rows of a roster has no larger or smaller.", "Write: count(…)"),
        ('check_digit_ok(unit_code, "lunh")', "unknown_algorithm", '"lunh"', "There is no check digit called “lunh”.", "Did you mean “luhn”?"),
        ("round(workers, 1 where paid > 2) > 1", "wrong_where", "paid > 2", "“round” does not go over rows, so it takes no “where”.", "Use if … then … else …"),
        ("unit_code + 1 > 2", "wrong_type", "unit_code", "A text cannot be added or subtracted.", "Write: join(a, b)"),
        ("lowest(staff.name) is 3", "wrong_type", "staff.name", "“lowest” needs something with larger and smaller; name is a text.", ""),
        ('unit_code matches pattern "[a-z"', "wrong_pattern", '"[a-z"', "The pattern cannot be read: unterminated character set.", "Write \\ before a character meant as itself."),
        ('unit_code matches pattern "(.)x\\1"', "no_such_pattern", '"(.)x\\1"', "The pattern refers back to one of its groups, which is not to be had here.", "Write the text out, or two rules with and between them."),
        ('unit_code matches pattern "a(?=b).*"', "no_such_pattern", '"a(?=b).*"', "The pattern looks ahead or behind, which is not to be had here.", "Write the text out, or two rules with and between them."),
        ('unit_code matches pattern "(a{900}){900}"', "no_such_pattern", '"(a{900}){900}"', "The pattern repeats too much, which is not to be had here.", "Write the text out, or two rules with and between them."),
    ],
)  # fmt: skip
def test_what_cannot_be_meant_is_told_at_its_place(rule: str, code: str, place: str, message: str, mend: str) -> None:
    finding = next(f for f in compile_script(with_rule(rule)).findings if f.field == "derived")
    found = rule[finding.start : finding.start + finding.length]
    assert (finding.code, found, finding.message, finding.mend) == (code, place, message, mend)


@pytest.mark.parametrize(
    "pattern",
    [
        "[A-Z]{2}[0-9]+",
        "(ab|cd)*",
        "a+b+c?",
        "([0-9]{3} ?){3}",
        "[^@]+@[^@]+[.][a-z]+",
        "[A-Z]+[A-Z0-9]+",
        "[^-]*-[^/]*/.*",
    ],
)
def test_harmless_patterns_are_let_through(pattern: str) -> None:
    assert not compile_script(with_rule(f'unit_code matches pattern "{pattern}"')).errors


@pytest.mark.parametrize(
    ("rule", "code"),
    [
        ("hours_a_day <= 30", "always_true"),
        ("hours_a_day > 24", "always_false"),
        ("hours_a_day < 0", "always_false"),
        ("hours_a_day between 0 and 24", "always_true"),
        ("hours_a_day * 2 > 48", "always_false"),
        ("hours_a_day + people > -1", "always_true"),
        ("count(tools) >= 0", "always_true"),
        ("people is hours_a_day - 30", "always_false"),
        ("weekday(today) <= 7", "always_true"),
        ("hours_a_day >= hours_a_day", "same_sides"),
        ("hours_a_day <= 23", None),
        ("people > 3", None),
    ],
)
def test_a_comparison_that_never_or_always_holds_is_doubted(rule: str, code: str | None) -> None:
    sample = script(
        part(1, "whole number", "hours_a_day", must=["hours_a_day between 0 and 24"]),
        part(1, "whole number", "people", least=0),
        part(1, "multiple answer", "tools", code_list="tool"),
        part(1, "text", "more", asked_when=rule),
        lists=(example_script().code_lists[2],),
    )
    sample.parts[2].code_list = sample.code_lists[0].name
    found = [f.code for f in compile_script(sample).findings if f.severity == "doubt"]
    assert found == ([code] if code else [])


def test_a_hard_check_is_not_held_against_the_limits_it_declares() -> None:
    sample = script(part(1, "whole number", "days", must=["days between 0 and 7"]))
    assert compile_script(sample).findings == []
    sample.parts[0].most = 6
    assert [f.code for f in compile_script(sample).findings] == []


def test_fields_of_a_known_register_are_checked() -> None:
    known = Known(registers={"workshops": {"benches": "number"}})
    compiled = compile_script(with_rule("workshop.bences > 3"), known)
    assert [(f.message, f.mend) for f in compiled.errors] == [
        ("The register workshops has no field “bences”.", "Did you mean benches?")
    ]
    assert not compile_script(with_rule("workshop.benches > 3"), known).errors
    assert [f.code for f in compile_script(with_rule('workshop.benches is "x"'), known).errors] == ["wrong_type"]


CONDITION = [
    {"code": code, "label": {"en": label}, "exclusive": False, "specify": False, "media": [], "attributes": {}}
    for code, label in (("good", "Good"), ("poor", "In a poor state"))
]
TWO = {"workshops": {"condition": "code", "name": "text"}, "benches": {"condition": "code", "name": "number"}}
LISTS = {"workshops.condition": CONDITION, "benches.condition": CONDITION[:1]}


def known_of_two() -> Known:
    fields, lists = of_any_register(TWO, LISTS)  # type: ignore[arg-type]
    return Known(registers={**TWO, ANY_REGISTER: fields}, codes={**LISTS, **lists})  # type: ignore[dict-item]


def test_codes_of_a_registers_field_are_bare_and_checked_and_have_labels() -> None:
    known = known_of_two()
    assert not compile_script(with_rule("workshop.condition is poor"), known).errors
    (fault,) = compile_script(with_rule("workshop.condition is pooor"), known).errors
    assert (fault.code, fault.mend) == ("impossible_code", "Did you mean poor?")
    sample = script(
        part(1, "unit", "shop", register_name="workshops"),
        part(1, "text", "why", asked_when="shop.condition is poor", wording={"en": "It is {shop.condition}?"}),
    )
    compiled = compile_script(sample, known).release
    assert compiled is not None
    assert list(compiled["code_lists"]) == ["workshops.condition"]
    engine = Engine(Release(compiled), {"now": NOW, "units": {"s1": {"label": "One", "condition": "poor"}}})
    engine.answer("shop", "s1")
    assert said(show_step(engine, "why")["wording"]) == "It is In a poor state?"


def test_a_unit_of_whichever_register_has_the_fields_of_all() -> None:
    known = known_of_two()
    assert not compile_script(with_rule("unit.condition is poor"), known).errors
    # A text here and a number there: it may be compared with either.
    assert not compile_script(with_rule('unit.name is "x"'), known).errors
    assert not compile_script(with_rule("unit.name > 3"), known).errors
    (fault,) = compile_script(with_rule("unit.contition is poor"), known).errors
    assert (fault.message, fault.mend) == (
        "No kind of unit of this study has a field “contition”.", "Did you mean condition?",
    )  # fmt: skip
    (fault,) = compile_script(with_rule("unit.condition is pooor"), known).errors
    assert fault.code == "impossible_code"


def test_a_unit_of_two_lists_has_to_be_told_apart() -> None:
    sample = with_rule("scrap < 3 sacks")
    other = UnitOfMeasure(unit="sack", dimension="mass", factor="25")
    sample.unit_lists.append(UnitList(name="grain_unit", units=[other]))
    assert [f.code for f in compile_script(sample).errors] == ["ambiguous_unit"]


def test_a_factor_that_cannot_be_known_yet_is_told_where_the_unit_is_used() -> None:
    sample = example_script()
    ward, scrap = (next(n for n, p in enumerate(sample.parts) if p.variable == v) for v in ("ward", "scrap"))
    sample.parts[ward], sample.parts[scrap] = sample.parts[scrap], sample.parts[ward]
    found = [(f.field, f.message) for f in compile_script(sample).errors]
    assert found == [("unit", "How much a sack is: “ward” is asked later, so there is no answer to it here.")]


def test_rows_come_from_the_units_below_the_picked_one() -> None:
    sample = script(
        part(1, "unit", "shop", register_name="shops"),
        part(1, "roster", "bench", repeated="for each unit under shop", wording={"en": "Bench {unit.label}"}),
        part(2, "whole number", "vices", must=["vices <= unit.places"], wording={"en": "Vices at {bench}?"}),
        part(2, "text", "why_many", asked_when="vices > 1 and bench.places > 3"),
        part(1, "derived value", "all_vices", derived="sum(bench.vices)"),
    )
    units = {
        "s1": {"register": "shops", "label": "Shop one"},
        "b1": {"register": "benches", "label": "Left", "under": "s1", "places": 2},
        "b2": {"register": "benches", "label": "Right", "under": "s1", "places": 4},
        "b3": {"register": "benches", "label": "Elsewhere", "under": "s2"},
    }
    engine = Engine(release_of(sample), {"now": NOW, "units": units})
    assert [c["label"] for c in show_step(engine, "shop")["codes"]] == ["Shop one"]
    engine.answer("shop", "s1")
    engine.answer("bench/b1/vices", 3)
    engine.answer("bench/b2/vices", 3)
    assert engine.derived_values() == {"all_vices": 6}
    assert [f["path"] for f in all_findings(engine)] == ["bench/b1/vices"]
    step = show_step(engine, "bench/b2/vices")
    assert (step["around"][0]["title"], said(step["wording"])) == ("Bench Right", "Vices at Right?")
    assert [p for p in asked(engine) if p.endswith("why_many")] == ["bench/b2/why_many"]
    engine.answer("shop", "s9")
    assert [f["code"] for f in all_findings(engine)] == ["no_such_unit"]


def test_a_roster_for_each_code_speaks_of_the_code_of_its_row_by_its_own_name() -> None:
    sample = script(
        part(1, "multiple answer", "sources", code_list="source"),
        part(1, "roster", "income", repeated="for each code in sources", wording={"en": "Income: {income}"}),
        part(
            2,
            "whole number",
            "amount",
            must=["amount < 100 or income is wage"],
            wording={"en": "How much from {income}?"},
        ),
        part(2, "text", "whose", asked_when="income is one of (gift, rent)"),
        part(2, "whole number", "others", asked_when="count(income where income is not gift) > 1"),
        part(1, "derived value", "earned", derived="sum(income.amount where income is wage)"),
        lists=(code_list("source", "wage", "gift", "rent"),),
    )
    engine = Engine(release_of(sample), {"now": NOW}, {"sources": ["wage", "gift"], "income/gift/amount": 100})
    engine.answer("income/wage/amount", 100)
    step = show_step(engine, "income/gift/amount")
    assert (step["around"][0]["title"], said(step["wording"])) == ("Income: Gift", "How much from Gift?")
    assert [f["path"] for f in all_findings(engine)] == ["income/gift/amount"]
    assert [p for p in asked(engine) if "/" in p] == ["income/wage/amount", "income/gift/amount", "income/gift/whose"]
    engine.answer("sources", ["wage", "gift", "rent"])
    assert "income/wage/others" in asked(engine)
    assert engine.derived_values() == {"earned": 100}


def test_the_code_of_a_row_is_checked_as_a_code() -> None:
    sample = script(
        part(1, "multiple answer", "sources", code_list="source"),
        part(1, "roster", "income", repeated="for each code in sources"),
        part(2, "text", "whose", asked_when="income is gifts"),
        part(1, "text", "after", asked_when="income is gift"),
        part(1, "roster", "again", repeated="2 times"),
        part(2, "text", "what", asked_when="again is gift"),
        part(1, "text", "last", wording={"en": "Is that all, {income}?"}),
        lists=(code_list("source", "wage", "gift"),),
    )
    assert [(f.line, f.code, f.mend) for f in compile_script(sample).errors] == [
        (2, "impossible_code", "Did you mean gift?"),
        (3, "wrong_type", "Say of which rows: any(income where …), count(income where …)."),
        (5, "wrong_type", "Say of which rows: any(again where …), count(again where …)."),
        (6, "wrong_type", "Put one value there: {count(income)}."),
    ]


def test_a_quantity_of_the_earlier_round_has_the_size_its_unit_had_then() -> None:
    sacks = {"scrap": {"amount": 3, "unit": "sack"}}
    assert value("earlier.scrap", outside={"earlier": {**sacks, "ward": "l1"}}) == 150
    assert value("earlier.scrap", outside={"earlier": sacks}) is None
    assert value("earlier.scrap is answered", outside={"earlier": sacks}) is True
    assert value("scrap - earlier.scrap > 0 kg", outside={"earlier": {"scrap": {"amount": 100, "unit": "kg"}}}) is True


def test_a_carried_value_comes_from_the_earlier_round_and_is_read_back() -> None:
    sample = script(
        part(1, "whole number", "workers"),
        part(1, "carried value", "before", derived="earlier.workers"),
        part(1, "read-back", "same", reads_back="before"),
        part(1, "text", "why", asked_when="same is no"),
    )
    engine = Engine(release_of(sample), {"now": NOW, "earlier": {"workers": 4}})
    assert show_step(engine, "same")["reads_back"] == {"path": "before", "shown": "4", "value": 4}
    engine.answer("same", {"wrong": 4})
    assert engine.asked[3][()] is True
    assert Engine(release_of(sample), {"now": NOW}, {"same": {"wrong": 4}}).asked[3][()] is False
