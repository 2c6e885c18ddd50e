"""The engine: what is asked, kept, found; the same answers always give the same state."""

from __future__ import annotations

import random
from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.core.errors import InterviewError
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.view import all_findings, overview, progress, render, show_step, steps
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Script
from skavo.core.rehearsal.proof.prove import prove
from tests.samples import code_list, part, release_of, script, staff_engine, staff_script

STAFF = release_of(staff_script())


def way(engine: Engine) -> list[str]:
    return [path_of(engine.release, i, r) for i, r in steps(engine)]


def codes_found(engine: Engine) -> list[tuple[str, str]]:
    return [(f["path"], f["code"]) for f in all_findings(engine)]


def test_nothing_behind_a_skip_is_asked_until_its_rule_is_a_definite_yes() -> None:
    engine = staff_engine()
    assert way(engine) == ["consent"]
    engine.answer("consent", False)
    assert way(engine) == ["consent"]
    engine.answer("consent", True)
    assert way(engine) == ["consent", "island", "ward", "workers", "tools"]


def test_a_roster_has_as_many_rows_as_the_answer_says_and_gives_them_back() -> None:
    engine = staff_engine({"consent": True, "workers": 2})
    engine.answer("staff/1/name", "Bo")
    engine.answer("staff/2/name", "Edda")
    engine.answer("workers", 1)
    assert "staff/2/name" not in way(engine)
    assert engine.packed_answers() == {"consent": True, "workers": 1, "staff/1/name": "Bo"}
    engine.answer("workers", 2)
    assert engine.packed_answers()["staff/2/name"] == "Edda"


def test_an_answer_that_is_no_longer_asked_is_kept_aside_and_left_out_at_packing() -> None:
    engine = staff_engine({"consent": True, "island": "kesk"})
    engine.answer("consent", False)
    assert engine.packed_answers() == {"consent": False}
    engine.answer("consent", True)
    assert engine.packed_answers() == {"consent": True, "island": "kesk"}


def test_wording_carries_values_and_says_so_where_one_is_missing() -> None:
    engine = staff_engine({"consent": True, "workers": 1})
    age = engine.release.by_name["age"]
    wording = engine.release.parts[age].raw["wording"]
    assert render(engine, wording, (1,)) == "How old is …?"
    engine.answer("staff/1/name", "Bo")
    assert render(engine, wording, (1,)) == "How old is Bo?"
    assert [p["filled"] for p in show_step(engine, "staff/1/age")["wording"]] == [False, True, False]


def test_a_moment_is_told_as_the_clock_of_the_interview_showed_it() -> None:
    sample = script(
        part(1, "date-time", "arrived"),
        part(1, "text", "next", wording={"en": "At {arrived}?"}),
    )
    engine = Engine(release_of(sample), answers={"arrived": "2027-03-14T08:05:30-08:00"})
    assert render(engine, engine.release.parts[1].raw["wording"], ()) == "At 2027-03-14 08:05?"


def test_a_code_filter_offers_only_what_goes_with_the_earlier_answer() -> None:
    engine = staff_engine({"consent": True, "island": "kesk", "ward": "l1"})
    assert [c["code"] for c in show_step(engine, "ward")["codes"]] == ["k1"]
    assert codes_found(engine) == [("ward", "code_not_offered")]
    engine.answer("island", "luma")
    assert codes_found(engine) == []


def test_other_specify_comes_by_itself_and_is_needed() -> None:
    engine = staff_engine({"consent": True, "tools": ["other", "saw"]})
    assert "tools_other" in way(engine)
    assert ("tools_other", "needed") in codes_found(engine)
    engine.answer("tools", ["saw"])
    assert "tools_other" not in way(engine)


def test_an_exclusive_code_goes_with_no_other() -> None:
    engine = staff_engine({"consent": True, "workers": 3, "tools": ["none", "saw"]})
    assert ("tools", "exclusive") in codes_found(engine)


def test_least_and_most_codes_are_held() -> None:
    sample = script(
        part(1, "multiple answer", "tools", code_list="tool", least=2, most=2),
        lists=(code_list("tool", "a", "b", "c"),),
    )
    found = [
        codes_found(Engine(release_of(sample), answers={"tools": chosen}))
        for chosen in (["a"], ["a", "b"], ["a", "b", "c"])
    ]
    assert found == [[("tools", "too_few")], [], [("tools", "too_many")]]


def test_a_soft_check_may_be_kept_with_a_reason() -> None:
    engine = staff_engine({"consent": True, "workers": 1, "staff/1/age": 12})
    finding = next(f for f in all_findings(engine) if f["code"] == "should_hold")
    assert (finding["strength"], finding["paths"], finding["rule"]) == ("should", ["staff/1/age"], "age >= 14")
    engine.keep("staff/1/age", finding["check"], "helps after school")
    assert next(f for f in all_findings(engine) if f["code"] == "should_hold")["kept"] == "helps after school"
    engine.keep("staff/1/age", finding["check"], "")
    assert engine.kept == {}


def test_a_check_over_rows_follows_every_row() -> None:
    engine = staff_engine({"consent": True, "workers": 2, "staff/1/age": 30})
    assert "remarks" not in way(engine)
    engine.answer("staff/2/age", 13)
    assert "remarks" in way(engine)
    engine.answer("workers", 1)
    assert "remarks" not in way(engine)


def test_a_derived_value_is_exact_and_brought_up_to_date() -> None:
    engine = staff_engine({"consent": True, "workers": 2, "staff/1/age": 30, "staff/2/age": 31})
    engine.answer("staff/1/hours", "40.1")
    engine.answer("staff/2/hours", "0,2")
    assert engine.derived_values() == {"posts": "1.01"}
    engine.answer("staff/2/hours", {"special": "dont_know"})
    assert engine.derived_values() == {"posts": 1}


def test_special_answers_are_missing_to_rules_but_kept_apart() -> None:
    engine = staff_engine({"consent": True, "workers": {"special": "refused"}})
    assert way(engine).count("staff/1/name") == 0
    assert show_step(engine, "workers")["special"] == "refused"
    assert codes_found(engine) == []
    engine.answer("consent", {"special": "refused"})
    assert codes_found(engine) == [("consent", "no_special_answer")]


@pytest.mark.parametrize(
    ("path", "value", "code"),
    [
        ("workers", "2.5", "not_whole"),
        ("workers", "many", "not_a_number"),
        ("workers", True, "not_a_number"),
        ("island", "mars", "no_such_code"),
        ("consent", "yes", "not_yes_or_no"),
        ("tools", "saw", "not_codes"),
    ],
)
def test_an_answer_of_the_wrong_kind_is_kept_and_found(path: str, value: Any, code: str) -> None:
    engine = staff_engine({"consent": True, path: value})
    assert (path, code) in codes_found(engine)
    assert engine.answers[path] == value


def test_a_path_that_the_release_does_not_have_is_refused_and_lost_nowhere() -> None:
    engine = staff_engine({"consent": True, "gone": 3})
    assert engine.unknown == {"gone": 3}
    with pytest.raises(InterviewError, match="asks nothing at staff/1/nobody"):
        staff_engine().answer("staff/1/nobody", "Bo")


def test_a_roster_repeated_while_a_question_says_so_grows_and_shrinks() -> None:
    sample = script(
        part(1, "roster", "visit", repeated="while another is yes"),
        part(2, "text", "place"),
        part(2, "yes/no", "another"),
    )
    engine = Engine(release_of(sample))
    assert way(engine) == ["visit/1/place", "visit/1/another"]
    engine.answer("visit/1/another", True)
    engine.answer("visit/2/another", True)
    assert way(engine)[-1] == "visit/3/another"
    engine.answer("visit/1/another", False)
    assert way(engine)[-1] == "visit/1/another"
    assert Engine(engine.release, answers=engine.answers).snapshot() == engine.snapshot()


def test_a_roster_for_each_code_keeps_its_rows_by_code() -> None:
    sample = script(
        part(1, "multiple answer", "tools", code_list="tool"),
        part(1, "roster", "each_tool", repeated="for each code in tools"),
        part(2, "whole number", "price"),
        lists=(code_list("tool", "saw", "vice", "file"),),
    )
    engine = Engine(release_of(sample), answers={"tools": ["saw", "file"]})
    engine.answer("each_tool/file/price", 9)
    engine.answer("tools", ["vice", "file"])
    assert way(engine) == ["tools", "each_tool/vice/price", "each_tool/file/price"]
    assert engine.packed_answers()["each_tool/file/price"] == 9


def test_an_exclusive_code_has_no_row() -> None:
    sample = script(
        part(1, "multiple answer", "tools", code_list="tool"),
        part(1, "roster", "each_tool", repeated="for each code in tools"),
        part(2, "whole number", "price"),
        part(1, "text", "t", asked_when="count(each_tool) = 0 and tools is answered"),
        lists=(code_list("tool", "saw", "vice", "none", exclusive="none"),),
    )
    engine = Engine(release_of(sample), answers={"tools": ["none"]})
    assert way(engine) == ["tools", "t"]
    engine.answer("tools", ["saw"])
    assert way(engine) == ["tools", "each_tool/saw/price"]
    assert {r.variable for r in prove(engine.release, datetime(2027, 3, 14, tzinfo=UTC)).reached} == {
        "tools",
        "price",
        "t",
    }


def test_a_code_filter_offers_only_what_was_chosen_before() -> None:
    sample = script(
        part(1, "multiple answer", "tools", code_list="tool"),
        part(1, "single answer", "best", code_list="tool", code_filter="tools includes tool.code"),
        part(1, "text", "t", asked_when="best is saw and not (tools includes saw)"),
        lists=(code_list("tool", "saw", "vice", "file"),),
    )
    engine = Engine(release_of(sample), answers={"tools": ["saw", "file"]})
    best = engine.release.parts[1]
    assert [code["code"] for code in engine.offered_codes(best, ())] == ["saw", "file"]
    engine.answer("best", "vice")
    assert [b.code for b in engine.broken[1, ()]] == ["code_not_offered"]
    assert [told.variable for told in prove(engine.release, datetime(2027, 3, 14, tzinfo=UTC)).unreachable] == ["t"]


def test_nested_rosters_see_the_rows_around_them() -> None:
    sample = script(
        part(1, "whole number", "benches"),
        part(1, "roster", "bench", repeated="benches times"),
        part(2, "whole number", "vices"),
        part(2, "roster", "vice", repeated="vices times"),
        part(3, "whole number", "value", must=["value <= vices * 100"]),
        part(2, "derived value", "bench_value", derived="sum(vice.value)"),
        part(1, "derived value", "all_values", derived="sum(vice.value where vices > 1)"),
    )
    engine = Engine(release_of(sample), answers={"benches": 2, "bench/1/vices": 2, "bench/2/vices": 1})
    for path, value in (("bench/1/vice/1/value", 50), ("bench/1/vice/2/value", 60), ("bench/2/vice/1/value", 500)):
        engine.answer(path, value)
    assert engine.derived_values() == {"bench/1/bench_value": 110, "bench/2/bench_value": 500, "all_values": 110}
    assert codes_found(engine) == [("bench/2/vice/1/value", "must_hold")]


def test_progress_never_runs_back_when_more_is_asked() -> None:
    engine = staff_engine()
    before = progress(engine, "consent")
    engine.answer("consent", True)
    engine.answer("workers", 3)
    places = [progress(engine, path) for path in way(engine)]
    assert places[0] == before
    assert places == sorted(places)


def test_the_overview_tells_every_question_with_its_answer() -> None:
    lines = overview(
        staff_engine({"consent": True, "island": "luma", "tools": ["saw", "vice"], "workers": {"special": "dont_know"}})
    )
    assert [(x["variable"], x["answer"], x["state"]) for x in lines] == [
        ("consent", "Yes", "answered"),
        ("island", "Luma", "answered"),
        ("ward", "", "open"),
        ("workers", "Don’t know", "special"),
        ("tools", "Saw, Vice", "answered"),
        ("remarks", "", "open"),
    ]


def benches() -> Script:
    """Rules in the rows of a roster over all rows of that roster, at two depths."""
    return script(
        part(1, "whole number", "benches"),
        part(1, "roster", "bench", repeated="benches times"),
        part(2, "whole number", "places", must=["count(bench where places > 3) <= 1"]),
        part(2, "derived value", "share", derived="places / sum(bench.places)"),
        part(2, "text", "why_most", asked_when="places = highest(bench.places) and count(bench) > 1"),
        part(2, "roster", "vice", repeated="places times"),
        part(3, "whole number", "worth", should=["worth < sum(vice.worth) or count(vice) = 1"]),
        part(3, "derived value", "above", derived="worth - lowest(vice.worth)"),
        part(
            3, "derived value", "beside", derived="count(vice where worth > 2) * 100 + count(bench where share > 0.5)"
        ),
        part(1, "derived value", "most", derived="highest(vice.above)"),
    )


BENCHES = release_of(benches())


def test_inside_a_roster_an_aggregate_goes_over_all_rows_of_that_roster() -> None:
    answers = {
        "benches": 2,
        "bench/1/places": 2,
        "bench/2/places": 1,
        "bench/1/vice/1/worth": 5,
        "bench/1/vice/2/worth": 2,
    }
    engine = Engine(BENCHES, answers=answers)
    values = engine.derived_values()
    assert [values[f"bench/{b}/share"] for b in (1, 2)] == [
        "0.6666666666666666666666666667",
        "0.3333333333333333333333333333",
    ]
    assert (values["bench/1/vice/1/above"], values["bench/1/vice/2/above"], values["most"]) == (3, 0, 3)
    assert "bench/1/why_most" in way(engine) and "bench/2/why_most" not in way(engine)
    engine.answer("bench/2/places", 4)
    assert "bench/2/why_most" in way(engine) and "bench/1/why_most" not in way(engine)
    engine.answer("bench/1/places", 4)
    assert codes_found(engine) == [("bench/1/places", "must_hold"), ("bench/2/places", "must_hold")]
    engine.answer("bench/1/places", 2)
    assert codes_found(engine) == []


_BENCH_STEP = st.sampled_from(
    [
        "benches",
        *[f"bench/{b}/places" for b in (1, 2, 3)],
        *[f"bench/{b}/vice/{v}/worth" for b in (1, 2) for v in (1, 2, 3)],
    ]
)


@settings(max_examples=150, deadline=None)
@given(st.lists(st.tuples(_BENCH_STEP, st.none() | st.integers(0, 4)), max_size=25), st.randoms(use_true_random=False))
def test_rules_over_the_rows_beside_them_leave_no_trace_of_the_order(
    given_steps: list[tuple[str, Any]], rng: random.Random
) -> None:
    engine = Engine(BENCHES)
    for path, value in given_steps:
        engine.answer(path, value)
    shuffled = list(engine.answers.items())
    rng.shuffle(shuffled)
    again = Engine(BENCHES)
    for path, value in shuffled:
        again.answer(path, value)
    assert engine.snapshot() == again.snapshot() == Engine(BENCHES, answers=engine.answers).snapshot()


_VALUES: dict[str, Any] = {
    "consent": st.booleans(),
    "island": st.sampled_from(["kesk", "luma"]),
    "ward": st.sampled_from(["k1", "l1"]),
    "workers": st.one_of(st.integers(0, 4), st.just({"special": "dont_know"}), st.just("x")),
    "tools": st.lists(st.sampled_from(["saw", "vice", "other", "none"]), unique=True, min_size=1),
    "tools_other": st.text(max_size=3),
    "remarks": st.text(max_size=3),
    "name": st.text(max_size=3),
    "age": st.integers(0, 90),
    "hours": st.decimals(0, 100, places=1).map(str),
}
_PATHS = [p for p in _VALUES if p not in ("name", "age", "hours")] + [
    f"staff/{r}/{v}" for r in (1, 2, 3) for v in ("name", "age", "hours")
]
_STEP = st.sampled_from(_PATHS).flatmap(lambda p: st.tuples(st.just(p), st.none() | _VALUES[p.split("/")[-1]]))


@settings(max_examples=120, deadline=None)
@given(st.lists(_STEP, max_size=25), st.randoms(use_true_random=False))
def test_any_order_of_the_same_answers_gives_the_same_state(
    given_steps: list[tuple[str, Any]], rng: random.Random
) -> None:
    engine = Engine(STAFF)
    for path, value in given_steps:
        engine.answer(path, value)
    shuffled = list(engine.answers.items())
    rng.shuffle(shuffled)
    again = Engine(STAFF)
    for path, value in shuffled:
        again.answer(path, value)
    loaded = Engine(STAFF, answers=engine.answers)
    assert engine.snapshot() == again.snapshot() == loaded.snapshot()


def test_a_message_without_words_still_says_which_rule_is_broken() -> None:
    engine = staff_engine({"consent": True, "workers": 60})
    assert [f["message"] for f in all_findings(engine)] == ["This cannot be right: workers between 1 and 40"]


def test_messages_come_in_the_language_of_the_interview() -> None:
    sample = script(
        part(1, "text", "name", answer_needed="yes", wording={"en": "Name", "fr": "Nom"}), languages=("en", "fr")
    )
    engine = Engine(release_of(sample), language="fr")
    assert show_step(engine, "name")["wording"][0]["text"] == "Nom"
    assert all_findings(engine)[0]["message"] == "Une réponse est nécessaire ici."


def test_compiling_twice_gives_the_same_bytes() -> None:
    assert compile_script(staff_script()).release == compile_script(staff_script()).release
