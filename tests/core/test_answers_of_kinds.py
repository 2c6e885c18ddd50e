"""Every kind of question: what it takes, what it refuses, how it goes into the data set, what keeps its place."""

from __future__ import annotations

import json
import random
from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skavo.core.dataset.flatten import build_data_set, lay_out
from skavo.core.dataset.layout import layout_of
from skavo.core.errors import InterviewError
from skavo.core.interview.answers import WrongAnswer, write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.kinds import KINDS
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import Release
from skavo.core.interview.view import all_findings, overview, show_step, steps
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Script
from tests.samples import code_list, part, release_of, script

HASH = "a" * 64
POINT = {"latitude": 1.5, "longitude": -2.25, "accuracy": 8.0}
GOOD: dict[str, Any] = {
    "text": "x", "whole number": 3, "decimal": "2.5", "quantity": {"amount": "2.5", "unit": "kg"},
    "date": "2027-03-14", "time": "09:30", "date-time": "2027-03-14T09:30+02:00", "yes/no": True,
    "single answer": "a", "multiple answer": ["a", "b"], "ranking": ["b", "a"], "point": POINT,
    "path": {"points": [POINT, POINT]}, "area": {"points": [POINT, POINT, POINT]},
    "photo": {"file": HASH, "name": "p.jpg", "type": "image/jpeg", "bytes": 9},
    "audio": {"file": HASH, "name": "", "type": "", "bytes": 0}, "video": {"file": HASH, "name": "", "type": "", "bytes": 0},
    "file": {"file": HASH, "name": "", "type": "", "bytes": 0}, "signature": {"file": HASH, "name": "", "type": "", "bytes": 0},
    "scanned code": "4006381333931", "instrument": {"amount": 3, "instrument": "scale 2", "time": ""}, "unit": "u1",
}  # fmt: skip
BAD: list[tuple[str, Any, str]] = [
    ("date", "20270314", "not_a_date"), ("date", "2027-02-30", "not_a_date"), ("date", "2027-W11-7", "not_a_date"),
    ("time", "24:00", "not_a_time"), ("time", "9:30", "not_a_time"), ("time", "09:30+02:00", "not_a_time"),
    ("date-time", "2027-03-14T24:00+00:00", "not_a_date_time"), ("date-time", "2027-03-14T09:30", "no_offset"),
    ("quantity", 3, "not_a_quantity"), ("quantity", {"amount": 3}, "no_unit"),
    ("quantity", {"amount": "x", "unit": "kg"}, "not_a_number"), ("date-time", "2027-03-14", "not_a_date_time"),
    ("date-time", "soon", "not_a_date_time"), ("point", {"latitude": 91, "longitude": 0}, "not_a_point"),
    ("point", {"latitude": True, "longitude": 0}, "not_a_point"), ("point", "here", "not_a_point"),
    ("point", {**POINT, "accuracy": -1}, "not_a_point"), ("path", {"points": [POINT]}, "not_a_path"),
    ("area", {"points": [POINT, POINT]}, "not_an_area"), ("photo", {"file": "x"}, "not_a_file"),
    ("photo", "p.jpg", "not_a_file"), ("ranking", ["a", "z"], "no_such_code"), ("ranking", "a", "not_codes"),
    ("instrument", 3, "not_a_number"), ("unit", 3, "not_a_text"),
]  # fmt: skip
MORE: dict[str, dict[str, Any]] = {
    "quantity": {"unit": "kg"}, "single answer": {"code_list": "l"}, "multiple answer": {"code_list": "l"},
    "ranking": {"code_list": "l"}, "unit": {"register_name": "shops"},
}  # fmt: skip
LISTS = (code_list("l", "a", "b", "c"),)


def engine_for(kind: str, answer: Any, **more: Any) -> Engine:
    sample = script(part(1, kind, "q", **MORE.get(kind, {}), **more), lists=LISTS)
    return Engine(release_of(sample), answers={"q": answer})


def test_every_kind_that_takes_an_answer_is_tried_here() -> None:
    assert {k.name for k in KINDS.values() if k.takes_answer} == {*GOOD, "read-back"}


@pytest.mark.parametrize("kind", list(GOOD))
def test_a_good_answer_is_kept_and_handed_in_as_it_was_given(kind: str) -> None:
    engine = engine_for(kind, GOOD[kind])
    assert all_findings(engine) == []
    assert engine.packed_answers() == {"q": GOOD[kind]}
    line = overview(engine)[0]
    assert (line["state"], line["answer"] != "") == ("answered", True)
    json.dumps(show_step(engine, "q"))
    again = Engine(engine.release, answers=json.loads(json.dumps(engine.packed_answers())))
    assert again.snapshot() == engine.snapshot()


@pytest.mark.parametrize(("kind", "answer", "code"), BAD)
def test_a_bad_answer_is_kept_as_given_and_found(kind: str, answer: Any, code: str) -> None:
    engine = engine_for(kind, answer)
    assert [f["code"] for f in all_findings(engine)] == [code]
    assert engine.packed_answers() == {"q": answer}


def test_a_reader_refuses_rather_than_guesses() -> None:
    for kind, answer, code in BAD:
        read = KINDS[kind].read
        if code == "no_such_code":
            continue
        assert read is not None
        with pytest.raises(WrongAnswer) as caught:
            read(answer)
        assert caught.value.code == code


@pytest.mark.parametrize(
    ("kind", "answer", "more", "code"),
    [
        ("whole number", 3, {"least": 4}, "below_least"),
        ("decimal", "4.1", {"most": 4}, "above_most"),
        ("quantity", {"amount": 5, "unit": "kg"}, {"most": 4.5}, "above_most"),
        ("quantity", {"amount": 5, "unit": "sack"}, {}, "no_such_unit_of_measure"),
        ("text", "ab", {"least": 3}, "too_short"),
        ("text", "abcd", {"most": 3}, "too_long"),
        ("text", "A1", {"mask": "AA"}, "no_match"),
        ("scanned code", "12", {"mask": "999"}, "no_match"),
        ("ranking", ["a"], {"least": 2}, "too_few"),
        ("ranking", ["a", "b", "c"], {"most": 2}, "too_many"),
    ],
)
def test_limits_and_masks_are_held(kind: str, answer: Any, more: dict[str, Any], code: str) -> None:
    found = all_findings(engine_for(kind, answer, **more))
    assert [(f["code"], f["strength"]) for f in found] == [(code, "must")]
    assert "{" not in found[0]["message"]


def test_a_read_back_holds_for_the_value_it_confirmed_and_no_other() -> None:
    sample = script(part(1, "whole number", "n"), part(1, "read-back", "ok", reads_back="n", answer_needed="yes"))
    engine = Engine(release_of(sample), answers={"n": 4, "ok": {"confirmed": 4}})
    assert all_findings(engine) == []
    engine.answer("n", 5)
    assert [f["code"] for f in all_findings(engine)] == ["needed"]
    engine.answer("ok", {"wrong": 5})
    assert [f["code"] for f in all_findings(engine)] == ["read_back_wrong"]
    engine.answer("n", 4)
    engine.answer("ok", {"confirmed": 4})
    assert engine.packed_answers() == {"n": 4, "ok": {"confirmed": 4}}


def staff(repeated: str = "workers times", **more: Any) -> Script:
    return script(
        part(1, "whole number", "workers"),
        part(1, "roster", "staff", repeated=repeated, **more),
        part(2, "text", "name", wording={"en": "Name of {row}"}),
        part(2, "yes/no", "another"),
    )


def names(engine: Engine) -> list[str]:
    return [path_of(engine.release, i, r) for i, r in steps(engine) if engine.release.parts[i].variable == "name"]


def test_a_removed_row_does_not_shift_the_answers_of_the_others() -> None:
    engine = Engine(release_of(staff()), answers={"workers": 3})
    for row, name in ((1, "Bo"), (2, "Edda"), (3, "Fenn")):
        engine.answer(f"staff/{row}/name", name)
    assert show_step(engine, "staff/2/name")["removable_row"] == "staff/2"
    engine.remove_row("staff/2")
    assert (engine.answers["workers"], names(engine)) == (2, ["staff/1/name", "staff/3/name"])
    assert show_step(engine, "staff/3/name")["wording"][1]["text"] == "2"
    engine.answer("workers", 3)
    assert names(engine) == ["staff/1/name", "staff/3/name", "staff/4/name"]
    packed = engine.packed_answers()
    assert packed["staff"] == {"removed": [2]}
    assert "staff/2/name" not in packed and engine.answers["staff/2/name"] == "Edda"
    assert Engine(engine.release, answers=packed).packed_answers() == packed
    engine.answer("staff", None)
    assert names(engine) == ["staff/1/name", "staff/2/name", "staff/3/name"]


def test_a_row_in_the_middle_of_a_while_roster_goes_and_the_rest_stays() -> None:
    engine = Engine(release_of(staff("while another is yes")))
    for row in (1, 2):
        engine.answer(f"staff/{row}/another", True)
    engine.remove_row("staff/2")
    assert names(engine) == ["staff/1/name", "staff/3/name"]


def test_rows_that_come_from_codes_are_not_removed_by_themselves() -> None:
    sample = script(
        part(1, "multiple answer", "tools", code_list="l"),
        part(1, "roster", "each", repeated="for each code in tools"),
        part(2, "whole number", "price"),
        lists=LISTS,
    )
    engine = Engine(release_of(sample), answers={"tools": ["a"]})
    with pytest.raises(InterviewError, match="come from another answer"):
        engine.remove_row("each/a")
    engine.answer("each", {"removed": [1]})
    assert "takes_no_answer" in engine.wrong.values()


def shuffled_script() -> Script:
    return script(
        part(1, "section", "s", order="random"),
        *[part(2, "single answer", f"q{i}", code_list="t", order="random") for i in range(6)],
        lists=(code_list("t", "a", "b", "c", "d", "none", "other", specify="other", exclusive="none"),),
    )


def order_of(seed: str, answers: dict[str, Any] | None = None) -> tuple[list[str], list[str]]:
    engine = Engine(release_of(shuffled_script()), {"interview.seed": seed}, answers)
    way = [path_of(engine.release, i, r) for i, r in steps(engine)]
    return way, [c["code"] for c in show_step(engine, "q0")["codes"]]


def test_a_random_order_stays_that_of_its_interview() -> None:
    assert order_of("one") == order_of("one")
    ways = {tuple(order_of(str(seed))[0]) for seed in range(20)}
    codes = {tuple(order_of(str(seed))[1]) for seed in range(20)}
    assert len(ways) > 10 and len(codes) > 5
    assert all(sorted(way) == [f"q{i}" for i in range(6)] for way in ways)


def test_codes_that_stand_apart_stay_at_the_end() -> None:
    assert all(order_of(str(seed))[1][-2:] == ["none", "other"] for seed in range(10))


def test_which_other_it_is_stays_behind_its_question() -> None:
    for seed in range(10):
        way, _ = order_of(str(seed), {"q3": "other"})
        assert way[way.index("q3") + 1] == "q3_other"


def test_a_rule_may_not_rest_on_what_may_come_later_in_a_random_order() -> None:
    sample = shuffled_script()
    sample.parts[3].asked_when = "q0 is a"
    sample.parts[4].must_hold = [c.model_copy(update={"rule": "q4 is not q0"}) for c in []]
    assert [(f.field, f.code) for f in compile_script(sample).errors] == [("asked_when", "random_order")]


def test_a_grid_asks_its_questions_over_its_own_codes() -> None:
    sample = script(
        part(1, "grid", "views", code_list="l"),
        part(2, "single answer", "v1"),
        part(2, "multiple answer", "v2"),
        lists=LISTS,
    )
    engine = Engine(release_of(sample), answers={"v1": "a", "v2": ["b"]})
    assert [c["code"] for c in show_step(engine, "v1")["codes"]] == ["a", "b", "c"]
    assert engine.packed_answers() == {"v1": "a", "v2": ["b"]}
    sample.parts[1].kind = "text"
    assert [f.code for f in compile_script(sample).errors] == ["not_in_grid"]


def test_every_kind_goes_into_the_data_set_and_nothing_is_lost() -> None:
    parts = [part(1, kind, f"q{i}", **MORE.get(kind, {})) for i, kind in enumerate(GOOD)]
    release = release_of(script(*parts, lists=LISTS))
    answers = {f"q{i}": answer for i, answer in enumerate(GOOD.values())}
    engine = Engine(release, answers=answers)
    document = {"facts": {"interview.key": "0001"}, "tables": json.loads(json.dumps(lay_out(engine)))}
    empty = {"facts": {"interview.key": "0002"}, "tables": lay_out(Engine(release))}
    frame = build_data_set(layout_of([release]), [document, empty])["interviews"].frame
    row = frame.row(0, named=True)
    number = {kind: f"q{i}" for i, kind in enumerate(GOOD)}
    expected = {
        number["quantity"]: 2.5, f"{number['quantity']}_amount": 2.5, f"{number['quantity']}_unit": "kg",
        f"{number['point']}_latitude": 1.5, f"{number['point']}_longitude": -2.25, f"{number['point']}_accuracy": 8.0,
        number["photo"]: HASH, f"{number['photo']}_name": "p.jpg", number["ranking"]: ["b", "a"],
        number["date-time"]: datetime(2027, 3, 14, 7, 30), number["instrument"]: 3.0,
        f"{number['instrument']}_instrument": "scale 2", number["unit"]: "u1",
    }  # fmt: skip
    assert {name: row[name] for name in expected} == expected
    assert json.loads(row[number["area"]])["type"] == "Polygon"
    second = frame.row(1, named=True)
    assert {second[f"{name}?"] for name in expected} == {"unanswered"}


@pytest.mark.parametrize(
    ("before", "after", "answer", "cell"),
    [
        ("whole number", "decimal", 3, 3.0),
        ("decimal", "whole number", "2.5", None),
        ("single answer", "multiple answer", "a", ["a"]),
        ("multiple answer", "single answer", ["a"], "a"),
        ("multiple answer", "single answer", ["a", "b"], None),
        ("ranking", "multiple answer", ["b", "a"], ["b", "a"]),
        ("whole number", "text", 3, "3"),
        ("yes/no", "text", True, "yes"),
        ("text", "date", "x", None),
        ("date-time", "date", "2027-03-14T09:30+02:00", datetime(2027, 3, 14).date()),
        ("text", "quantity", "x", None),
    ],
)
def test_an_answer_of_another_kind_is_brought_over_or_counts_as_unanswered(
    before: str, after: str, answer: Any, cell: Any
) -> None:
    old, new = (
        release_of(script(part(1, kind, "q", id="q", **MORE.get(kind, {})), lists=LISTS)) for kind in (before, after)
    )
    document = {"facts": {"interview.key": "0001"}, "tables": lay_out(Engine(old, answers={"q": answer}))}
    frame = build_data_set(layout_of([old, new]), [document])["interviews"].frame
    row = frame.row(0, named=True)
    assert (row["q"], row["q?"]) == (cell, None if cell is not None else "unanswered")


_JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5) | st.sampled_from(list(GOOD.values())),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from(["amount", "unit", "points", "latitude", "longitude", "file", "special", "confirmed", "removed"]), inner, max_size=3),
    max_leaves=6,
)  # fmt: skip


@st.composite
def _scripts(draw: st.DrawFn) -> Script:
    """Questionnaires of random kinds at random levels, rules over whatever stands before."""
    lines, level, counts, numbers, roster_at = [], 1, ["n"], ["n"], 99
    lines += [part(1, "whole number", "n"), part(1, "multiple answer", "m", code_list="l")]
    for i in range(draw(st.integers(1, 9))):
        kind = draw(st.sampled_from([*GOOD, "section", "roster", "statement", "read-back", "derived value"]))
        level = draw(st.integers(1, level))
        roster_at = 99 if level <= roster_at else roster_at
        more: dict[str, Any] = dict(MORE.get(kind, {}))
        visible = numbers if roster_at == 99 else [*numbers, "row"]
        if draw(st.booleans()):
            more["asked_when"] = f"{draw(st.sampled_from(visible))} > {draw(st.integers(0, 3))}"
        if kind == "roster":
            forms = [
                f"{draw(st.sampled_from(counts))} times",
                "for each code in m",
                f"while {draw(st.sampled_from(visible))} > 2",
            ]
            more["repeated"] = draw(st.sampled_from(forms))
        elif kind == "read-back":
            more["reads_back"] = "n"
        elif kind == "derived value":
            more["derived"] = f"{draw(st.sampled_from(visible))} * 2"
        elif kind in ("multiple answer", "single answer", "ranking"):
            more["order"] = draw(st.sampled_from(["", "random"]))
        name = f"v{i}"
        lines.append(part(level, kind, name, **more))
        if kind in ("whole number", "derived value") and roster_at == 99 and level == 1:
            numbers.append(name)
        if kind in ("section", "roster"):
            roster_at = level if kind == "roster" and roster_at == 99 else roster_at
            level += 1
    return script(*lines, lists=LISTS)


@settings(max_examples=150, deadline=None)
@given(
    _scripts(),
    st.lists(st.tuples(st.integers(0, 12), st.integers(1, 3), _JSON), max_size=20),
    st.randoms(use_true_random=False),
)
def test_no_script_and_no_answer_ever_raises_and_the_order_leaves_no_trace(
    sample: Script, given_answers: list[tuple[int, int, Any]], rng: random.Random
) -> None:
    compiled = compile_script(sample)
    assert compiled.release is not None, compiled.errors
    release = Release(compiled.release)
    outside = {"now": datetime(2027, 3, 14, tzinfo=UTC), "interview.seed": "s"}
    engine = Engine(release, outside)
    for number, row, answer in given_answers:
        target = release.parts[number % len(release.parts)]
        names = ["abc"[row - 1] if _by_codes(release, r) else row for r in target.rosters]
        path = path_of(release, target.index, tuple(names))
        for step in (GOOD.get(target.kind.name), answer):
            engine.answer(path, step)
    way = [path_of(release, i, r) for i, r in steps(engine)]
    for path in way:
        json.dumps(show_step(engine, path))
    overview(engine, with_derived=True)
    json.dumps([all_findings(engine), lay_out(engine)])
    shuffled = list(engine.answers.items())
    rng.shuffle(shuffled)
    other = Engine(release, outside)
    for path, answer in shuffled:
        other.answer(path, answer)
    loaded = Engine(release, outside, engine.answers)
    assert json.dumps(engine.snapshot()) == json.dumps(other.snapshot()) == json.dumps(loaded.snapshot())


def _by_codes(release: Release, roster: int) -> bool:
    repeat = release.parts[roster].repeat
    return repeat is not None and repeat[0] == "codes"


def test_writing_and_reading_are_inverse() -> None:
    for kind, answer in GOOD.items():
        read = KINDS[kind].read
        assert read is not None
        assert read(write_answer(read(answer))) == read(answer)
