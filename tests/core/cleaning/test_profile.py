"""The profile: shapes, kinds of nothing, and what stands out, each with a step that mends it."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

import polars as pl
import pytest

from skavo.core.cleaning.plan import apply_plan
from skavo.core.cleaning.profile.alike import spellings
from skavo.core.cleaning.profile.decided import Decided, decided_by
from skavo.core.cleaning.profile.findings import Finding
from skavo.core.cleaning.profile.robust import fence_of, modified_z
from skavo.core.cleaning.profile.variables import profile_of
from skavo.core.cleaning.steps import Dictionary, Duplicates, Recode, SetValue
from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import INTERVIEWS, Column
from tests.core.made_tables import DONT_KNOW, NOT_ASKED, column, interviews

MONEY = [round(100 + 7.3 * n % 211, 2) for n in range(60)]


def _found(data: DataSet, variable: str) -> dict[str, Finding]:
    profile = next(p for p in profile_of(data) if p.variable == variable)
    return {finding.kind: finding for finding in profile.findings}


def _one(made: Column, cells: list[Any]) -> DataSet:
    return interviews(**{made.variable: (made, cells)})


def test_a_profile_counts_values_and_kinds_of_nothing() -> None:
    data = _one(column("hours", "number"), [40.0, 41.5, DONT_KNOW, NOT_ASKED, None])
    (profile,) = profile_of(data)
    assert (profile.rows, profile.distinct, profile.figures.base) == (5, 2, 2)
    assert profile.figures.missing == {"dont_know": 1, "not_asked": 1, "unanswered": 1}
    assert (profile.figures.mean, profile.figures.median, profile.figures.lowest) == (40.75, 40.75, 40.0)
    assert [(bar.label, bar.count) for bar in profile.bars] == [("40", 1), ("41.5", 1)]


def test_a_lost_decimal_point_is_found_and_mended() -> None:
    data = _one(column("earnings", "number"), [*MONEY, 15_636.0, 17_420.0])
    found = _found(data, "earnings")["hundredfold"]
    assert (found.count, [row.interview for row in found.rows]) == (2, ["0061", "0062"])
    assert isinstance(found.step, SetValue) and found.step.formula == "earnings / 100"
    cleaned = apply_plan(data, [(1, found.step)])
    assert cleaned.data[INTERVIEWS].frame["earnings"].to_list()[-2:] == [156.36, 174.2]
    assert _found(cleaned.data, "earnings") == {}


@pytest.mark.parametrize(("value", "kind"), [(900.0, "far_above"), (-300.0, "far_below")])
def test_what_lies_far_off_is_found_by_a_rule_that_finds_it_alone(value: float, kind: str) -> None:
    data = _one(column("earnings", "number"), [*MONEY, value])
    found = _found(data, "earnings")[kind]
    assert found.count == 1 and found.step is not None
    assert apply_plan(data, [(1, found.step)]).changes.height == 1


def test_a_long_tail_is_no_slip_and_few_numbers_tell_nothing() -> None:
    assert _found(_one(column("x", "number"), [*MONEY, *[900.0] * 8]), "x") == {}
    assert _found(_one(column("x", "number"), [1.0, 2.0, 900.0]), "x") == {}


def test_digits_that_are_heaped_are_found_and_even_ones_are_not() -> None:
    even = list(range(10, 110))
    assert "heaped" not in _found(_one(column("age", "whole"), even), "age")
    heaped = [5 * round(n / 5) if n % 2 else n for n in range(10, 110)]
    assert _found(_one(column("age", "whole"), heaped), "age")["heaped"].count > 50


def test_codes_that_the_list_does_not_have_are_led_to_the_nearest() -> None:
    data = _one(column("trade", "code", codes=["bicycle", "phone"]), ["bicycle", "bycicle", "phone", "zzz"])
    found = _found(data, "trade")["unknown_codes"]
    assert (found.count, found.step) == (2, Recode(variable="trade", mapping={"bycicle": "bicycle"}))


def test_a_code_that_hardly_anybody_chose_is_told() -> None:
    data = _one(column("trade", "code", codes=["a", "b"]), [*["a"] * 120, "b"])
    assert _found(data, "trade")["rare_codes"].count == 1


def test_untidy_texts_and_different_spellings_are_led_together() -> None:
    texts = ["Tern Cycles", "Tern Cycles", "tern  cycles", "Tern Cycels", "Gull Radios", "Gull"]
    found = _found(_one(column("name", "text"), texts), "name")
    assert found["untidy"].count == 1
    step = found["nearly_alike"].step
    assert isinstance(step, Recode)
    assert step.mapping == {"Tern Cycels": "Tern Cycles", "tern cycles": "Tern Cycles"}


def test_what_was_specified_is_offered_as_codes_until_it_is_in_them() -> None:
    data = interviews(
        trade=(column("trade", "code", codes=["clocks", "other"]), ["other", "other", "other", "clocks"]),
        trade_other=(column("trade_other", "text"), ["Clock", "kites", "Kites", NOT_ASKED]),
    )
    step = _found(data, "trade_other")["specified"].step
    assert isinstance(step, Dictionary)
    assert step.words == {"Clock": "clocks", "Kites": "kites", "kites": "kites"}
    assert step.codes == {"kites": "Kites"}
    assert "specified" not in _found(apply_plan(data, [(1, step)]).data, "trade_other")


def test_what_was_specified_only_once_stays_other_until_somebody_gives_it_a_code() -> None:
    trades = interviews(
        trade=(column("trade", "code", codes=["clocks", "other"]), ["other", "other", "clocks"]),
        trade_other=(column("trade_other", "text"), ["kites", "a quarrel", NOT_ASKED]),
    )
    step = _found(trades, "trade_other")["specified"].step
    assert isinstance(step, Dictionary)
    assert (step.words, step.codes) == ({"kites": "other", "a quarrel": "other"}, {})
    cleaned = apply_plan(trades, [(1, step)])
    assert (cleaned.problems, cleaned.changes.height) == ({}, 0)
    assert profile_of(cleaned.data, decided_by([step]))[1].findings == []


def test_a_name_of_its_own_that_two_share_is_found() -> None:
    data = _one(column("code", "text"), [*(f"K{n:03d}" for n in range(40)), "K001"])
    found = _found(data, "code")["twice"]
    assert (found.count, found.step) == (2, Duplicates(variables=["code"]))


def test_dates_after_the_interview_and_long_ago_are_found() -> None:
    days = [date(2020, 1, 1 + n) for n in range(28)]
    data = _one(column("bought", "date"), [*days, date(2031, 1, 1), date(1820, 1, 1)])
    started = [datetime(2027, 3, 1)] * 30
    frame = data[INTERVIEWS].frame.with_columns(pl.Series("interview.started", started, pl.Datetime("ms")))
    found = _found({INTERVIEWS: data[INTERVIEWS].with_frame(frame)}, "bought")
    assert [found[kind].rows[0].interview for kind in ("after_interview", "long_ago")] == ["0029", "0030"]


def test_a_part_that_is_more_than_its_whole_is_found_and_unlike_things_are_not_compared() -> None:
    workers = [1 + n % 6 for n in range(80)]
    paid = [max(1, w - n % 2) for n, w in enumerate(workers)]
    paid[7] = workers[7] + 3
    year = [1990 + n % 20 for n in range(80)]
    data = interviews(
        workers=(column("workers", "whole"), workers), paid=(column("paid", "whole"), paid),
        opened=(column("opened", "whole"), year),
    )  # fmt: skip
    assert [(r.interview, r.value) for r in _found(data, "paid")["more_than workers"].rows] == [("0008", "5 > 2")]
    assert not any(kind.startswith("more_than") for kind in [*_found(data, "workers"), *_found(data, "opened")])


def test_what_somebody_found_in_order_stays_away_until_there_is_more_of_it() -> None:
    data = _one(column("earnings", "number"), [*MONEY, 900.0])
    assert [f.kind for f in profile_of(data)[0].findings] == ["far_above"]
    assert profile_of(data, Decided({("earnings", "far_above"): 1}))[0].findings == []
    more = _one(column("earnings", "number"), [*MONEY, 900.0, 901.0])
    assert [f.kind for f in profile_of(more, Decided({("earnings", "far_above"): 1}))[0].findings] == ["far_above"]


@pytest.mark.parametrize("measure", ["number", "whole", "text", "code", "codes", "date", "yes/no", "date-time", "time"])
def test_a_variable_without_any_answer_has_a_profile(measure: str) -> None:
    (profile,) = profile_of(_one(column("x", measure), [None, None]))
    assert (profile.figures.base, profile.findings) == (0, [])


def test_short_texts_have_to_be_the_same_and_many_are_not_compared_one_by_one() -> None:
    assert spellings({"ab": 3, "ac": 1, "AB": 1}) == {"ab": ["AB"]}
    many = {f"workshop number {n}": 1 for n in range(3000)}
    assert spellings({**many, "WORKSHOP  number 7": 1}) == {"WORKSHOP  number 7": ["workshop number 7"]}


@pytest.mark.parametrize(("texts", "groups"), [
    # One word is not the other's but for a slip, however much of the whole agrees.
    ({"Tern Cycles": 3, "Lantern Cycles": 2}, {}),
    ({"Second Life Radios": 2, "Secnd Life Radios": 1}, {"Second Life Radios": ["Secnd Life Radios"]}),
    ({"Harbour Cycles": 2, "Harbuor Cycels": 1}, {"Harbour Cycles": ["Harbuor Cycels"]}),
    ({"Copper Cycles": 2, "Corner Cycles": 1}, {}),
    ({"Pachwork Sails": 1, "Patchwork Sails": 1, "Patchwork Shoes": 1}, {"Patchwork Sails": ["Pachwork Sails"]}),
    ({"Workshop of ward 7": 2, "Workshop of ward 8": 1}, {}),
    ({"Fishhook Joinery": 1, "Fish hook Joinery": 1}, {"Fish hook Joinery": ["Fishhook Joinery"]}),
    # Of spellings that are as common, the one that is written as the others are.
    ({"CORMORANT JOINERY": 1, "Cormorant Joinery": 1}, {"Cormorant Joinery": ["CORMORANT JOINERY"]}),
    ({"Shoes Heron": 1, "Heron Shoes": 1, "Gull Shoes": 1}, {"Heron Shoes": ["Shoes Heron"]}),
])  # fmt: skip
def test_spellings_are_of_the_same_but_for_slips(texts: dict[str, int], groups: dict[str, list[str]]) -> None:
    assert spellings(texts) == groups


def test_what_the_plan_has_decided_does_not_stand_out_again() -> None:
    codes = [f"U{n}" for n in range(30)]
    data = _one(column("unit", "text"), [*codes, "U1", "U2"])
    pairs = [("0002", "0031"), ("0003", "0032")]
    for said, left in ([], 4), (pairs[:1], 2), (pairs, 0):
        decided = decided_by([Duplicates(apart=said)])
        found = {f.kind: f.count for f in profile_of(data, decided)[0].findings}
        assert found.get("twice", 0) == left

    # Of three that share one, all have to be told apart.
    three = _one(column("unit", "text"), [*codes, "U1", "U1"])
    decided = decided_by([Duplicates(apart=[("0002", "0031")])])
    assert [f.count for f in profile_of(three, decided)[0].findings if f.kind == "twice"] == [3]

    trades = interviews(
        trade=(column("trade", "code", codes=["clocks", "other"]), ["other", "other", "other"]),
        trade_other=(column("trade_other", "text"), ["kites", "Kites", "a quarrel"]),
    )
    words = Dictionary(variable="trade_other", into="trade", words={"a quarrel": "other", "KITES": "other"})
    assert [f.count for f in profile_of(trades, Decided())[1].findings if f.kind == "specified"] == [3]
    assert [f.kind for f in profile_of(trades, decided_by([words]))[1].findings] == []


def test_the_fence_stands_where_the_far_ones_cannot_move_it() -> None:
    fence = fence_of(pl.Series([*[10.0, 11.0, 12.0, 9.0, 8.0] * 6, 1e9, 1e9]))
    assert fence is not None and 12 < fence.high < 40
    assert fence_of(pl.Series([5.0] * 30 + [9.0])) is None
    assert modified_z(pl.Series([3.0, 3.0])).to_list() == [0.0, 0.0]
