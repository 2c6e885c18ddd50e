"""Proof: what can never be reached, checks that can never fail or be met, and interviews through every branch.

A claim is held against what is found without the solver: no made-up interview may reach what is called out of reach.
"""

from __future__ import annotations

import random
from dataclasses import asdict
from datetime import UTC, datetime
from itertools import product
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.help import example_script
from skavo.core.questionnaire.script import Script
from skavo.core.rehearsal.make_up import make_up
from skavo.core.rehearsal.proof.branches import CANNOT, branches_of
from skavo.core.rehearsal.proof.changed import judge_change
from skavo.core.rehearsal.proof.prove import prove
from skavo.core.rehearsal.proof.results import Proof
from skavo.core.rehearsal.proof.witness import broken_checks
from skavo.core.rehearsal.reading import ReleaseReading
from skavo.core.rehearsal.replay import replay
from tests.samples import code_list, part, release_of, script, staff_script
from tests.workshop import workshop_script

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)


def proof_of(sample: Script) -> Proof:
    return prove(release_of(sample), NOW)


def number(name: str, *must: str, **more: Any) -> Any:
    return part(1, "whole number", name, must=list(must), **more)


@pytest.mark.parametrize(
    ("parts", "unreachable"),
    [
        ([number("a", "a between 0 and 10"), part(1, "text", "t", asked_when="a > 10")], ["t"]),
        ([number("a", "a between 0 and 10"), part(1, "text", "t", asked_when="a >= 10")], []),
        ([number("a"), number("b", "b < a"), part(1, "text", "t", asked_when="b > a")], ["t"]),
        ([number("a"), part(1, "text", "t", asked_when="a > 3 and a < 4")], ["t"]),
        ([part(1, "decimal", "a"), part(1, "text", "t", asked_when="a > 3 and a < 4")], []),
        ([part(1, "yes/no", "y"), part(1, "text", "t", asked_when="y and not y")], ["t"]),
        ([part(1, "yes/no", "y"), part(1, "text", "t", asked_when="y is missing")], []),
        ([number("a"), part(1, "text", "t", asked_when="a is not known")], ["t"]),
        ([number("a", special_answers=["dont_know"]), part(1, "text", "t", asked_when="a is not known")], []),
        ([part(1, "date", "d"), part(1, "text", "t", asked_when="years(d, today) >= 18 and d > 2015-01-01")], ["t"]),
        ([part(1, "date", "d"), part(1, "text", "t", asked_when="years(d, today) between 17 and 18")], []),
        ([part(1, "date", "d"), part(1, "text", "t", asked_when="weekday(d) = 8")], ["t"]),
        ([part(1, "date", "d"), part(1, "text", "t", asked_when="year(d) = 2020 and d < 2019-06-01")], ["t"]),
        ([part(1, "date", "d"), part(1, "text", "t", asked_when="d + 3 days > 2027-01-01 and d < 2027-01-01")], []),
        ([number("a"), part(1, "text", "t", asked_when="remainder(a, 2) = 1 and remainder(a, 4) = 0")], ["t"]),
        ([number("a"), part(1, "text", "t", asked_when="round(a / 2, 0) = 3 and a < 5")], ["t"]),
        ([part(1, "text", "a"), part(1, "text", "t", asked_when='a is "x" and a is "y"')], ["t"]),
        ([part(1, "text", "a"), part(1, "text", "t", asked_when='a is "xx" and a matches "99"')], ["t"]),
        ([part(1, "text", "a"), part(1, "text", "t", asked_when='a matches "99" and a is not "12"')], []),
        ([number("n", "n between 0 and 3"), part(1, "roster", "r", repeated="n times"), part(2, "whole number", "v", must=["v between 0 and 5"]),
          part(1, "text", "t", asked_when="sum(r.v) > 15"), part(1, "text", "u", asked_when="count(r where v > 4) = 3")], ["t"]),
        ([number("n"), part(1, "roster", "r", repeated="n times"), part(2, "text", "v", asked_when="row > n")], ["v"]),
        ([part(1, "roster", "r", repeated="while more is yes"), part(2, "yes/no", "more"), part(1, "text", "t", asked_when="count(r) > 1")], []),
        ([part(1, "section", "s", asked_when="1 > 2"), part(2, "text", "t")], ["t"]),
    ],
)  # fmt: skip
def test_what_can_never_be_asked_is_found_and_nothing_else(parts: list[Any], unreachable: list[str]) -> None:
    proof = proof_of(script(*parts))
    assert ([u.variable for u in proof.unreachable], proof.undecided) == (unreachable, [])


def coded(name: str, codes: str, **more: Any) -> Any:
    return part(1, "single answer" if codes == "one" else "multiple answer", name, code_list="l", **more)


@pytest.mark.parametrize(
    ("parts", "unreachable"),
    [
        ([coded("a", "one"), coded("b", "one", must=["b is not a"]), part(1, "text", "t", asked_when="a is x and b is x")], ["t"]),
        ([coded("m", "many", most=2), part(1, "text", "t", asked_when="count(m) > 2")], ["t"]),
        ([coded("m", "many"), part(1, "text", "t", asked_when="m includes only (x) and m includes y")], ["t"]),
        ([coded("m", "many"), part(1, "text", "t", asked_when="m includes all of (x, none)")], ["t"]),
        ([coded("m", "many"), coded("a", "one"), part(1, "text", "t", asked_when="m includes a and a is y")], []),
        ([coded("m", "many"), part(1, "roster", "r", repeated="for each code in m"), part(2, "text", "v"),
          part(1, "text", "t", asked_when="count(r) > 3")], ["t"]),
        ([coded("a", "one", code_filter='l.code is "x"'), part(1, "text", "t", asked_when="a is y")], ["t"]),
    ],
)  # fmt: skip
def test_codes_are_followed_exactly(parts: list[Any], unreachable: list[str]) -> None:
    proof = proof_of(script(*parts, lists=(code_list("l", "x", "y", "z", "none", exclusive="none"),)))
    assert ([u.variable for u in proof.unreachable], proof.undecided) == (unreachable, [])


def test_a_witness_is_as_short_as_can_be_and_leads_there() -> None:
    sample = staff_script()
    release = release_of(sample)
    reached = {r.variable: r for r in prove(release, NOW).reached}
    assert reached["consent"].answers == {}
    assert reached["remarks"].answers == {"consent": True, "tools": ["saw"]}
    assert set(reached["hours"].answers) == {"consent", "workers"} | {
        p for p in reached["hours"].answers if p.endswith("age")
    }
    for found in reached.values():
        engine = Engine(release, {"now": NOW}, found.answers)
        index = release.by_name[found.variable]
        assert any(engine.asked[index].values()) and not broken_checks(engine)
        assert found.fewest


def test_checks_that_can_never_fail_or_be_met_and_contradictions_are_told_with_the_reason() -> None:
    proof = proof_of(script(
        number("a", "a between 0 and 10"),
        number("b", "b >= a", "b >= a - 1"),
        number("c", "c > a", "c < a"),
        number("d", "d > 20", asked_when="a > 5"),
    ))  # fmt: skip
    verdicts = {(c.variable, c.rule): (c.verdict, c.why) for c in proof.checks}
    assert verdicts[("a", "a between 0 and 10")] == ("sound", "")
    assert verdicts[("b", "b >= a - 1")] == ("never fails", "it follows from b: b >= a")
    assert verdicts[("c", "c > a")] == ("never met", "it contradicts c: c < a")
    assert verdicts[("d", "d > 20")] == ("sound", "")
    assert [(c.first_rule, c.second_rule) for c in proof.contradictions] == [("c > a", "c < a")]
    assert proof.is_faulty


def needed(name: str, *must: str, **more: Any) -> Any:
    return number(name, *must, answer_needed="yes", **more)


@pytest.mark.parametrize(
    ("stuck", "dead_end"),
    [
        ([needed("y", "y > 10", "y < 5")], ("y", "none keeps all of these checks: y: y > 10; y: y < 5")),
        ([needed("y", "y > y + 1")], ("y", "none keeps this check: y: y > y + 1")),
        ([coded("y", "one", code_filter='l.code is "q"', answer_needed="yes")], ("y", "let nothing through")),
        # Neither of the two alone stops anybody: the second one does, once the first is answered.
        ([needed("x", "x > 3"), needed("y", "y > x", "y <= 4", "y is not 4")],
         ("y", "x: x > 3; y: y > x; y: y <= 4")),
    ],
)  # fmt: skip
def test_a_dead_end_is_told_once_and_hides_nothing_else(stuck: list[Any], dead_end: tuple[str, str]) -> None:
    proof = proof_of(script(
        number("a", "a between 0 and 10"),
        part(1, "text", "never", asked_when="a > 10"),
        part(1, "text", "reached", asked_when="a > 9"),
        *stuck,
        part(1, "text", "after"),
        lists=(code_list("l", "p", "r"),),
    ))  # fmt: skip
    ((variable, why),) = [(d.variable, d.why) for d in proof.dead_ends]
    assert variable == dead_end[0] and dead_end[1] in why
    assert [u.variable for u in proof.unreachable] == ["never"]
    assert {"reached", "after"} <= {r.variable for r in proof.reached}
    assert [c.verdict for c in proof.checks if c.variable == "a"] == ["sound"]
    assert [(u.branch, u.why) for u in proof.unvisited] == [("never is asked", CANNOT)]
    assert proof.tests and all("y" not in t.answers for t in proof.tests)
    assert proof.is_faulty


def test_a_dead_end_on_one_way_only_does_not_close_the_others() -> None:
    proof = proof_of(script(
        part(1, "yes/no", "x", answer_needed="yes"),
        part(1, "section", "s", asked_when="x is yes"),
        part(2, "text", "first", answer_needed="yes"),
        needed("y", "y > 10", "y < 5", asked_when="x is yes"),
        part(1, "text", "other", asked_when="x is no"),
    ))  # fmt: skip
    assert [d.variable for d in proof.dead_ends] == ["y"]
    assert (proof.unreachable, proof.undecided) == ([], [])


def test_an_answer_that_is_needed_is_no_dead_end_where_one_can_be_given() -> None:
    proof = proof_of(script(
        part(1, "yes/no", "x", answer_needed="yes"),
        part(1, "text", "t", asked_when="x is missing"),
    ))  # fmt: skip
    assert ([u.variable for u in proof.unreachable], proof.dead_ends) == (["t"], [])


def test_codes_of_rows_are_followed() -> None:
    proof = proof_of(script(
        coded("m", "many"),
        part(1, "roster", "r", repeated="for each code in m", asked_when="not m includes z"),
        part(2, "text", "v", asked_when="r is z"),
        part(2, "text", "w", asked_when="r is x"),
        lists=(code_list("l", "x", "y", "z"),),
    ))  # fmt: skip
    assert ([u.variable for u in proof.unreachable], proof.undecided) == (["v"], [])


def test_why_a_question_is_out_of_reach_is_said() -> None:
    proof = proof_of(script(
        number("a", "a < 5"),
        part(1, "whole number", "b", asked_when="a > 7"),
        part(1, "text", "c", asked_when="b > 1"),
        part(1, "text", "d", asked_when="a > 3 and a < 4"),
        part(1, "text", "e", asked_when="a > 1"),
        part(1, "text", "f", asked_when="e is answered and a < 1"),
    ))  # fmt: skip
    assert {u.variable: u.why for u in proof.unreachable} == {
        "b": "the hard checks keep it from being asked: a: a < 5",
        "c": "the hard checks keep it from being asked: a: a < 5",
        "d": "no answers make this come out yes: a > 3 and a < 4",
        "f": "no answers make this come out yes: e is answered and a < 1 (e is asked when a > 1)",
    }


def test_what_the_solver_cannot_follow_is_called_undecided_and_never_guessed() -> None:
    proof = proof_of(script(
        part(1, "point", "p"), part(1, "point", "q"),
        part(1, "text", "far", asked_when="distance(p, q) > 40000000"),
        part(1, "text", "code", must=['code matches "99"']),
        part(1, "text", "odd", asked_when='code matches pattern "[A-Z]+"'),
    ))  # fmt: skip
    told = {u.variable: u.why for u in proof.undecided}
    assert set(told) == {"far", "odd"} and proof.unreachable == []
    assert "“distance” is not worked out" in told["far"]
    assert "[A-Z]+" in told["odd"]


def test_more_rows_than_are_looked_at_are_not_forgotten() -> None:
    sample = script(
        number("n", "n between 0 and 60"),
        part(1, "roster", "r", repeated="n times"),
        part(2, "whole number", "v", must=["v between 0 and 5"]),
        part(1, "text", "five", asked_when="count(r where v is answered) >= 5"),
        part(1, "text", "fifty", asked_when="sum(r.v) > 240"),
        part(1, "text", "never", asked_when="sum(r.v) > 300"),
    )
    proof = proof_of(sample)
    assert [u.variable for u in proof.unreachable] == ["never"]
    assert [(u.variable, "more than 7 rows" in u.why) for u in proof.undecided] == [("fifty", True)]
    assert "five" in [r.variable for r in proof.reached]


@pytest.mark.parametrize(
    ("most", "rule", "unreachable"),
    [(5, "row = 3", []), (5, "row = 6", ["v"]), (20, "row = 12", []), (20, "row > 20", ["v"]), (20, "row = count(r) and row > 9", []),
     (20, "row > count(r)", ["v"]), (9, "row > 8 and w > 3 and w < 3", ["v"])],
)  # fmt: skip
def test_rows_told_apart_by_their_number_are_followed_to_the_last(most: int, rule: str, unreachable: list[str]) -> None:
    proof = proof_of(script(
        number("n", f"n between 0 and {most}"),
        part(1, "roster", "r", repeated="n times"),
        part(2, "whole number", "w", must=["w > 3 or row < 3"]),
        part(2, "text", "v", asked_when=rule),
    ))  # fmt: skip
    assert ([u.variable for u in proof.unreachable], proof.undecided) == (unreachable, [])
    assert {c.verdict for c in proof.checks} == {"sound"}


def test_a_check_that_the_solver_cannot_follow_is_still_seen_to_fail_where_an_answer_breaks_it() -> None:
    proof = proof_of(script(
        part(1, "text", "phone", must=["length(phone) between 9 and 12", 'check_digit_ok(phone, "luhn")']),
        part(1, "date", "born", must=["years(born, today) < 120"], should=["months(born, today) > 240"]),
    ))  # fmt: skip
    assert [c.verdict for c in proof.checks] == ["sound", "sound", "sound"]
    assert proof.unvisited == []


@pytest.mark.parametrize("sample", [workshop_script(), staff_script()], ids=["demo", "staff"])
def test_test_interviews_are_few_valid_and_visit_every_branch(sample: Script) -> None:
    release = release_of(sample)
    proof = prove(release, NOW)
    assert len(proof.tests) <= 6
    branches = {b.words: b for b in branches_of(release)}
    visited: set[str] = set()
    for test in proof.tests:
        engine = Engine(release, {"now": NOW}, test.answers)
        assert not [b for found in engine.broken.values() for b in found if b.strength == "must"]
        assert all(branches[words].visited(engine) for words in test.visits)
        visited |= set(test.visits)
    unvisited = [u.branch for u in proof.unvisited]
    assert visited | set(unvisited) == set(branches)
    rng = random.Random(1)
    reading = ReleaseReading(release)
    for _ in range(40):
        made = make_up(reading, rng, {"now": NOW}).engine
        assert [words for words in unvisited if branches[words].visited(made)] == []


def test_test_interviews_are_replayed_and_say_what_changed() -> None:
    sample = staff_script()
    tests = [asdict(t) for t in prove(release_of(sample), NOW).tests]
    assert all(r.is_unchanged for r in replay(release_of(sample), tests))
    changed = staff_script()
    changed.parts[5].must_hold[0].rule = "workers between 1 and 1"
    changed.parts[-1].asked_when = "tools includes vice"
    changed.parts[10].derived = "sum(staff.hours)"
    del changed.parts[1]
    changed.parts[1].asked_when = ""
    found = replay(release_of(changed), tests)
    assert any("consent" in r.lost for r in found)
    assert any(r.newly_asked for r in found)
    assert any("workers between 1 and 1" in text for r in found for text in r.findings)


@pytest.mark.parametrize(
    ("before", "after", "direction"),
    [
        ("age >= 14", "age >= 12", "wider"),
        ("age >= 14", "age >= 16", "narrower"),
        ("age >= 14", "not age < 14", "same"),
        ("age >= 14", "age <= 20", "different"),
        ("age >= 14 and age < 30", "age between 14 and 29", "same"),
        ("age >= 14", "age >= 14 or name is missing", "wider"),
        ('name matches "99"', 'name matches "999"', "undecided"),
        ("gone > 3", "age > 3", "undecided"),
    ],
)
def test_which_way_a_rule_has_changed(before: str, after: str, direction: str) -> None:
    sample = staff_script()
    hours = [p.variable for p in sample.parts].index("hours")
    assert judge_change(sample, hours, before, after) == direction


_RULES = [
    "{a} > {n}",
    "{a} <= {b}",
    "{a} is missing",
    "{y}",
    "not {y}",
    "{a} + {b} = {n}",
    "{c} is k{k}",
    "{c} is none of (k0, k1)",
    "{a} between {n} and 6",
]


@st.composite
def _random_scripts(draw: st.DrawFn) -> Script:
    def rule() -> str:
        names = {
            "a": draw(st.sampled_from(["a", "b"])),
            "b": draw(st.sampled_from(["a", "b"])),
            "y": draw(st.sampled_from(["y", "z"])),
            "c": "c",
            "n": draw(st.integers(0, 5)),
            "k": draw(st.integers(0, 2)),
        }
        one, two = (draw(st.sampled_from(_RULES)).format(**names) for _ in range(2))
        return draw(st.sampled_from([one, f"({one}) and ({two})", f"({one}) or ({two})"]))

    base = [
        number("a", "a between 0 and 4"), number("b", "b between 0 and 4"), part(1, "yes/no", "y"), part(1, "yes/no", "z"),
        part(1, "single answer", "c", code_list="k"),
    ]  # fmt: skip
    more = [part(1, "whole number", f"q{i}", asked_when=rule(), must=[f"q{i} <= 9"]) for i in range(4)]
    more.append(part(1, "statement", "end", must=[rule(), rule()]))
    return script(*base, *more, lists=(code_list("k", "k0", "k1", "k2"),))


@settings(max_examples=25, deadline=None)
@given(_random_scripts())
def test_no_claim_is_contradicted_by_trying_everything(sample: Script) -> None:
    compiled = compile_script(sample)
    assert compiled.release is not None
    release = Release(compiled.release)
    proof = prove(release, NOW)
    asked: set[str] = set()
    failed: set[str] = set()
    for a in (None, *range(5)):
        for b in (None, *range(5)):
            for y in (None, True, False):
                for z in (None, True, False):
                    for c in (None, "k0", "k1", "k2"):
                        answers = {k: v for k, v in (("a", a), ("b", b), ("y", y), ("z", z), ("c", c)) if v is not None}
                        engine = Engine(release, {"now": NOW}, answers)
                        broken = broken_checks(engine)
                        if not broken:
                            asked |= {p.variable for p in release.parts if engine.asked[p.index].get(())}
                        if len(broken) == 1:
                            ((index, check),) = broken
                            failed.add(release.parts[index].checks[check].text)
    assert {u.variable for u in proof.unreachable} & asked == set()
    assert proof.undecided == []
    assert {r.variable for r in proof.reached} == {p.variable for p in release.parts} & asked
    assert {c.rule for c in proof.checks if c.verdict == "never fails"} & failed == set()


_ROW_RULES = [
    "row = {k}", "v > {k}", "v = highest(r.v)", "row = count(r)", "first(r.v) = {k}", "count(r where v = {k}) > 1",
    "sum(r.v) > {k} + 2", "any(r where row = 3 and v = {k})", "v is missing and row > {k}",
]  # fmt: skip
_OUTER_RULES = [rule for rule in _ROW_RULES if not rule.startswith(("row", "v"))]


@st.composite
def _random_rosters(draw: st.DrawFn) -> Script:
    def rule(choices: list[str]) -> str:
        one, two = (draw(st.sampled_from(choices)).format(k=draw(st.integers(0, 3))) for _ in range(2))
        return draw(st.sampled_from([one, f"({one}) and ({two})", f"not ({one})"]))

    return script(
        number("n", "n between 0 and 3"),
        part(1, "roster", "r", repeated="n times"),
        part(2, "whole number", "v", must=["v between 0 and 2"]),
        part(2, "text", "q", asked_when=rule(_ROW_RULES)),
        part(2, "statement", "p", must=[rule(_ROW_RULES)]),
        part(1, "text", "t", asked_when=rule(_OUTER_RULES)),
    )


@settings(max_examples=12, deadline=None)
@given(_random_rosters())
def test_no_claim_about_rows_is_contradicted_by_trying_everything(sample: Script) -> None:
    release = release_of(sample)
    proof = prove(release, NOW)
    asked: set[str] = set()
    verdicts: dict[str, set[bool]] = {check.rule: set() for check in proof.checks}
    for n in range(4):
        for values in product((None, 0, 1, 2), repeat=n):
            answers = {f"r/{i}/v": v for i, v in enumerate(values, start=1) if v is not None}
            engine = Engine(release, {"now": NOW}, {"n": n, **answers})
            broken = broken_checks(engine)
            if not broken:
                asked |= {p.variable for p in release.parts if any(engine.asked[p.index].values())}
            if len(broken) < 2:
                for index, check in broken:
                    verdicts[release.parts[index].checks[check].text].add(False)
    undecided = {u.variable for u in proof.undecided}
    screens = {p.variable for p in release.parts if p.kind.name != "roster"}
    assert {u.variable for u in proof.unreachable} & asked == set()
    assert {r.variable for r in proof.reached} | (undecided & asked) == screens & asked
    assert {c.rule for c in proof.checks if c.verdict == "never fails" and False in verdicts[c.rule]} == set()


FIELDWORK = "d between 2027-05-10 and today"


def test_fieldwork_that_begins_later_is_no_dead_end() -> None:
    visited = part(1, "date", "d", must=[FIELDWORK], answer_needed="yes")
    proof = proof_of(script(visited, part(1, "text", "t", asked_when="d is answered")))
    assert not proof.is_faulty
    assert proof.undecided == []
    assert proof.day == "2027-05-10"
    assert {r.variable for r in proof.reached} == {"d", "t"}
    assert all(test.now.startswith("2027-05-10") for test in proof.tests)
    assert proof.tests
    assert [u.branch for u in proof.unvisited] == ["t is not asked"]


def test_what_happens_only_later_is_reached_on_that_day() -> None:
    proof = proof_of(
        script(
            number("a"),
            part(1, "text", "t", asked_when="today >= 2027-06-01 and a > 3"),
            part(1, "text", "u", asked_when="today < 2027-01-01"),
            part(1, "text", "v", asked_when="interview.started < now and weekday(today) = 2"),
        )
    )
    assert [u.variable for u in proof.unreachable] == ["u"]
    assert proof.day == "2027-03-14"
    reached = {r.variable: r.answers for r in proof.reached}
    assert reached["t"].keys() == {"today", "a"}
    assert reached["t"]["today"] >= "2027-06-01"
    assert "t is asked" in {visit for test in proof.tests for visit in test.visits}
    assert {u.branch for u in proof.unvisited} == {"u is asked"}


def test_a_test_interview_is_replayed_at_its_own_moment() -> None:
    sample = script(
        part(1, "date", "born"), part(1, "text", "t", asked_when="years(born, today) >= 15 and today < 2027-06-01")
    )
    tests = [asdict(t) for t in proof_of(sample).tests]
    assert all(r.is_unchanged for r in replay(release_of(sample), tests))


@pytest.mark.parametrize(
    ("before", "after", "direction"),
    [
        ("years(born, today) >= 15", "years(born, today) >= 16", "narrower"),
        ("born < today", "born <= today", "wider"),
        ("today >= 2026-01-01", "today >= 2001-01-01", "wider"),
        ("born < 2020-01-01", "born < 2020-01-01 and today > 1999-01-01", "same"),
    ],
)
def test_a_change_is_judged_for_every_day(before: str, after: str, direction: str) -> None:
    sample = script(part(1, "date", "born"), part(1, "text", "t"))
    assert judge_change(sample, 1, before, after) == direction


@pytest.mark.parametrize(
    ("rule", "unreachable"),
    [
        ("months(d, today) > 240", []),
        ("years(d, today) > 131", []),
        ("months(d, today) > 230 and d > 2010-03-14", ["t"]),
        ("months(d, today) > 230 and d > 2009-03-14", []),
        ("years(2020-02-29, d) is 1 and d < 2021-02-28", ["t"]),
        ("years(2020-02-29, d) is 1 and d is 2021-02-28", []),
        ("months(d, 2026-02-28) is 24 and d is 2024-02-29", []),
        ("m + 2 days < now and m > now", ["t"]),
        ("m - 90 minutes > now and m < now + 2 hours", []),
    ],
)
def test_spans_of_time_are_followed(rule: str, unreachable: list[str]) -> None:
    proof = proof_of(script(part(1, "date", "d"), part(1, "date-time", "m"), part(1, "text", "t", asked_when=rule)))
    assert [u.variable for u in proof.unreachable] == unreachable
    assert proof.undecided == []


def test_a_code_that_another_answer_holds_is_followed() -> None:
    lists = (code_list("k", "a", "b", "c"),)
    chosen, best = part(1, "multiple answer", "m", code_list="k"), part(1, "single answer", "best", code_list="k")
    rules = {
        "t": "m includes only (a, best) and m includes b",
        "u": "m includes only (a, best) and m includes all of (b, c)",
        "v": "m includes best and not (m includes any of (a, best))",
    }
    proof = proof_of(
        script(chosen, best, *[part(1, "text", name, asked_when=r) for name, r in rules.items()], lists=lists)
    )
    assert [told.variable for told in proof.unreachable] == ["u", "v"]
    assert proof.undecided == []


def test_a_quantity_whose_factor_is_not_known_is_missing_to_the_solver_too() -> None:
    sample = example_script()
    sample.parts = [p for p in sample.parts if p.variable in ("ward", "scrap")]
    sample.parts.append(
        part(1, "text", "t", asked_when="scrap is answered and not (scrap > 3 kg or scrap <= 3 kg or scrap is missing)")
    )
    sample.parts.append(part(1, "text", "u", asked_when="scrap is missing and scrap > 3 kg"))
    proof = proof_of(sample)
    assert [u.variable for u in proof.unreachable] == ["t", "u"]
