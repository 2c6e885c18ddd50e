"""Rehearsal: every made-up interview keeps all hard checks, also tight ones, and the report says what came of them."""

from __future__ import annotations

import random
from datetime import UTC, datetime

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.interview.view import all_findings
from skavo.core.questionnaire.script import Script, UnitList, UnitOfMeasure
from skavo.core.rehearsal.patterns import text_of_pattern
from skavo.core.rehearsal.rehearse import Rehearsal, rehearse
from skavo.core.rehearsal.texts import text_of_mask
from skavo.core.rules.automaton import text_fits
from tests.samples import code_list, part, release_of, script, staff_script
from tests.workshop import workshop_script

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)


def rehearsed(sample: Script, wanted: int = 40, seed: int = 7) -> Rehearsal:
    return rehearse(release_of(sample), wanted, seed, now=NOW)


def tight_scripts() -> dict[str, Script]:
    needed = {"answer_needed": "yes"}
    sacks = script(
        part(1, "single answer", "ward", code_list="ward", **needed),
        part(1, "quantity", "scrap", unit="unit", must=["scrap between 90 kg and 110 kg"], **needed),
        part(1, "quantity", "sold", unit="unit", must=["sold <= scrap", "sold >= scrap / 2"], **needed),
        lists=(code_list("ward", "k1", "l1"),),
    )
    factor = UnitOfMeasure(unit="sack", dimension="mass", factor="if ward is k1 then 40 else 50")
    sacks.unit_lists = [UnitList(name="unit", units=[UnitOfMeasure(unit="kg", dimension="mass"), factor])]
    return {
        "shares of rows add up": script(
            part(1, "whole number", "n", must=["n between 1 and 5"], **needed),
            part(1, "roster", "r", repeated="n times"),
            part(2, "whole number", "share", must=["share between 0 and 100"], **needed),
            part(1, "derived value", "total", derived="sum(r.share)"),
            part(1, "statement", "end", must=["total = 100"]),
        ),
        "three that add up": script(
            *[part(1, "whole number", v, **needed) for v in "ab"],
            part(1, "whole number", "c", must=["a + b + c = 100"], **needed),
        ),
        "dates close together": script(
            part(1, "date", "first", must=["first < today", "first > 2026-01-01"], **needed),
            part(1, "date", "second", must=["second >= first", "days(first, second) <= 3"], **needed),
        ),
        "three different answers": script(
            part(1, "single answer", "a", code_list="l", **needed),
            part(1, "single answer", "b", code_list="l", must=["b is not a"], **needed),
            part(1, "single answer", "c", code_list="l", must=["c is none of (a, b)"], **needed),
            lists=(code_list("l", "x", "y", "z"),),
        ),
        "texts by pattern and mask": script(
            part(1, "text", "t", must=['t matches pattern "[A-Z]{2}-[0-9]+"'], **needed),
            part(1, "text", "u", mask="AA9?9", **needed),
            part(1, "text", "same", must=["same is t"], **needed),
        ),
        "check digits in a code written in groups": script(
            part(1, "text", "c", mask="****_999999", must=['check_digit_ok(c, "mod 97-10")'], **needed),
            part(1, "text", "d", mask="9999-9999", must=['check_digit_ok(d, "luhn")'], **needed),
        ),
        "nested rosters": script(
            part(1, "whole number", "benches", must=["benches between 1 and 3"], **needed),
            part(1, "roster", "bench", repeated="benches times"),
            part(2, "whole number", "vices", must=["vices between 0 and 3"], **needed),
            part(2, "roster", "vice", repeated="vices times"),
            part(3, "whole number", "age", must=["age <= 40", "age >= row"], **needed),
        ),
        "local units": sacks,
    }


@pytest.mark.parametrize("name", list(tight_scripts()))
def test_tight_checks_are_met(name: str) -> None:
    sample = tight_scripts()[name]
    rehearsal = rehearsed(sample)
    assert (rehearsal.made, rehearsal.unmet) == (40, [])
    release = release_of(sample)
    for answers in rehearsal.answers:
        engine = Engine(release, {"now": NOW}, answers)
        assert [f for f in all_findings(engine) if f["strength"] == "must"] == []


@pytest.mark.parametrize("sample", [workshop_script(), staff_script()], ids=["demo", "staff"])
def test_made_up_interviews_reach_everything_and_are_valid(sample: Script) -> None:
    rehearsal = rehearsed(sample, 120)
    assert (rehearsal.made, rehearsal.never_asked) == (120, [])
    frame = rehearsal.data["interviews"].frame
    assert set(frame["interview.state"]) == {"made up"} and frame.height == 120


def test_the_code_that_opens_the_questionnaire_is_drawn_oftener_than_those_that_end_it() -> None:
    """Else most interviews made up would end where they begin, and their duration say nothing."""
    visit = script(
        part(1, "single answer", "outcome", code_list="outcome", answer_needed="yes"),
        part(1, "section", "talk", asked_when="outcome is open"),
        part(2, "yes/no", "consent", answer_needed="yes"),
        part(1, "section", "work", asked_when="consent is yes"),
        *[part(2, "text", f"t{n}") for n in range(10)],
        lists=(code_list("outcome", "nobody", "later", "closed", "open"),),
    )
    reach = {told.variable: told.asked for told in rehearsed(visit, 100).reach}
    assert 60 < reach["consent"] < 100 and reach["t9"] > 50
    assert {answers["outcome"] for answers in rehearsed(visit, 100).answers} == {"nobody", "later", "closed", "open"}


def test_the_same_seed_makes_the_same_interviews_up() -> None:
    first, second, other = (rehearsed(staff_script(), 10, seed) for seed in (3, 3, 4))
    assert first.answers == second.answers != other.answers


def test_a_check_that_cannot_be_met_is_named_with_its_tries() -> None:
    impossible = script(
        part(1, "whole number", "a", must=["a > 10", "a < 5"], answer_needed="yes"), part(1, "text", "b")
    )
    rehearsal = rehearsed(impossible, 5)
    assert rehearsal.made == 0
    assert {(u.variable, u.rule, u.interviews) for u in rehearsal.unmet} <= {("a", "a > 10", 5), ("a", "a < 5", 5)}
    assert sum(u.tries for u in rehearsal.unmet) > 50
    impossible.parts[0].answer_needed = ""
    rehearsal = rehearsed(impossible, 5)
    assert rehearsal.made == 5 and rehearsal.unmet != []


def test_a_question_whose_filter_lets_no_code_through_is_told() -> None:
    sample = script(
        part(1, "single answer", "ward", code_list="ward", code_filter='ward.code is "nowhere"', answer_needed="yes"),
        lists=(code_list("ward", "k1"),),
    )
    assert [(u.variable, u.interviews) for u in rehearsed(sample, 3).unmet] == [("ward", 3)]


def test_reach_and_firing_are_counted_over_interviews_and_rows() -> None:
    sample = script(
        part(1, "yes/no", "y", answer_needed="yes"),
        part(1, "text", "t", asked_when="y"),
        part(1, "whole number", "n", must=["n < 9"], should=["n < 5"], answer_needed="yes"),
    )
    rehearsal = rehearsed(sample, 60)
    reach = {r.variable: r.asked for r in rehearsal.reach}
    asked = next(f for f in rehearsal.firing if f.field == "asked when")
    hard = next(f for f in rehearsal.firing if f.field == "must hold")
    soft = next(f for f in rehearsal.firing if f.field == "should hold")
    assert reach["y"] == 60 and reach["t"] == asked.yes and asked.yes + asked.no == 60
    assert 0 < asked.yes < 60
    assert (hard.yes, hard.no) == (60, 0)
    assert soft.yes + soft.no == 60 and soft.no > 0


def test_longer_wordings_take_longer() -> None:
    def minutes(words: int) -> float:
        sample = script(part(1, "yes/no", "y", wording={"en": "word " * words}))
        found = rehearsed(sample, 3).minutes
        assert found is not None
        return found[0]

    assert minutes(5) < minutes(150)
    assert minutes(150) == pytest.approx((150 / 2.5 + 3) / 60, abs=0.06)


@pytest.mark.parametrize("mask", ["****_999999", "AA9?9", "A-9", "?9"])
def test_texts_made_up_fit_their_mask(mask: str) -> None:
    rng = random.Random(1)
    for _ in range(30):
        made = text_of_mask(mask, rng)
        assert text_fits("mask", mask, made), made


@pytest.mark.parametrize(
    "pattern", [r"[A-Z]{2}-[0-9]+", r"(ab|cd)*x?", r"[^@]+@[a-z]+\.[a-z]{2,3}", r"\d{4}(-\d\d)?", r"\w+\s\S"]
)
def test_texts_made_up_fit_their_pattern(pattern: str) -> None:
    rng = random.Random(1)
    assert all(text_of_pattern(pattern, rng) is not None for _ in range(30))


def test_a_pattern_that_looks_around_is_not_made_up() -> None:
    assert text_of_pattern("(?=a)b", random.Random(1)) is None


def test_the_minutes_of_the_blocks_add_up_to_those_of_the_interviews() -> None:
    rehearsal = rehearsed(workshop_script(), 60)
    assert abs(sum(block.share for block in rehearsal.blocks) - 1) < 0.001
    arrival, workshop = rehearsal.blocks[:2]
    assert (arrival.interviews, rehearsal.made) == (60, 60)
    assert 0 < workshop.interviews < 60  # nobody is asked about the workshop who does not consent
    one = rehearsed(
        script(
            part(1, "section", "s", wording={"en": "One"}),
            part(2, "yes/no", "y", wording={"en": "Is it so?"}),
            part(1, "section", "t", asked_when="y is yes and y is no"),
            part(2, "text", "u"),
        ),
        10,
    )
    # One title of one word and three of the wording at 2.5 words a second, then three seconds to answer.
    assert [(b.head, b.interviews, b.minutes) for b in one.blocks] == [("id_s", 10, 0.1), ("id_t", 0, None)]
    assert next(r.seconds for r in one.reach if r.variable == "y") == round(4 / 2.5 + 3, 1)
    assert next(r.seconds for r in one.reach if r.variable == "u") is None
