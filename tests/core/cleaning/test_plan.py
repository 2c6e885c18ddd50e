"""The plan: steps in order, each cell accounted for, raw data untouched; what fails is passed over and told."""

from __future__ import annotations

import pytest

from skavo.core.cleaning import plan
from skavo.core.cleaning.plan import Undone, apply_plan, apply_step, history_of, undone_in
from skavo.core.cleaning.steps import AnyStep, Correct, Heading, LeaveOut, MarkMissing, Recode, read_step, write_step
from skavo.core.cleaning.work import Work
from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import DataError
from tests.core.test_dataset import ANSWERS, data_of
from tests.samples import release_of, staff_script


@pytest.fixture
def data() -> DataSet:
    return data_of(release_of(staff_script()), ANSWERS)


def test_steps_are_replayed_in_order_and_the_raw_data_stays(data: DataSet) -> None:
    steps: list[AnyStep] = [
        Recode(variable="island", mapping={"luma": "kesk"}),
        Correct(variable="workers", interview="0003", value="4", reason="phoned"),
        MarkMissing(variable="workers", rule="workers < 3", missing="refused"),
        MarkMissing(variable="hours", rule="island is kesk and hours > 40"),
        Heading(text="Nothing"),
    ]
    cleaned = apply_plan(data, list(enumerate(steps)))
    assert cleaned.data["interviews"].frame["island"].to_list() == ["kesk", None, "kesk"]
    assert cleaned.data["interviews"].frame["workers"].to_list() == [None, None, 4]
    assert cleaned.data["interviews"].frame["workers?"].to_list() == ["refused", "not_asked", None]
    assert cleaned.data["staff"].frame["hours?"].to_list() == ["unanswered", "not_asked"]
    assert [cleaned.touched(i) for i in range(5)] == [1, 1, 1, 1, 0]
    assert data["interviews"].frame["workers"].to_list() == [2, None, None]


def test_every_changed_cell_can_say_from_what_to_what(data: DataSet) -> None:
    cleaned = apply_plan(data, [(7, Correct(variable="age", interview="0001", row=["2"], value=21, reason="misheard"))])
    place = ["step", "table", "interview", "row", "variable", "before", "after"]
    assert cleaned.changes.select(place).rows() == [(7, "staff", "0001", ["2"], "age", "12", "21")]
    assert history_of(cleaned, "0002").is_empty()
    assert history_of(cleaned, "0001").height == 1


@pytest.mark.parametrize(
    ("step", "code", "words"),
    [
        (Recode(variable="iland", mapping={"a": "b"}), "unknown_variable", "Did you mean island?"),
        (Recode(variable="workers", mapping={"1": "2"}), "wrong_measure", "only codes and texts"),
        (Recode(variable="island", mapping={"luma": "keks"}), "impossible_code", "Did you mean kesk?"),
        (Correct(variable="workers", interview="0001", value=3), "no_reason", "needs a reason"),
        (Correct(variable="workers", interview="0099", value=3, reason="x"), "no_such_row", "0099"),
        (Correct(variable="age", interview="0001", value=3, reason="x"), "wrong_row", "say which row"),
        (Correct(variable="workers", interview="0001", value="many", reason="x"), "not_a_number", "whole number"),
        (MarkMissing(variable="workers", rule="wokers > 3"), "unknown_name", "Did you mean workers?"),
        (MarkMissing(variable="workers", rule="interview.started < today"), "not_in_data", "tomorrow"),
        (LeaveOut(rule="workers > 3"), "no_reason", "needs a reason"),
    ],
)
def test_a_step_that_does_not_fit_is_refused_with_a_mend(data: DataSet, step: AnyStep, code: str, words: str) -> None:
    with pytest.raises(DataError, match=words) as caught:
        apply_step(Work(data), 1, step)
    assert caught.value.code == code


def test_a_step_that_no_longer_fits_is_passed_over_and_the_others_go_on(data: DataSet) -> None:
    steps: list[AnyStep] = [
        MarkMissing(variable="gone", rule="gone > 3"),
        MarkMissing(variable="workers", rule="workers < 3", missing="refused"),
    ]
    cleaned = apply_plan(data, list(enumerate(steps, 1)))
    assert "gone" in cleaned.problems[1]
    assert cleaned.touched(2) == 1


def test_a_step_that_fails_in_a_way_nobody_thought_of_takes_no_other_down(
    data: DataSet, monkeypatch: pytest.MonkeyPatch
) -> None:
    def breaks(work: Work, step: AnyStep) -> None:
        recode = Recode(variable="island", mapping={"luma": "kesk"})
        plan.cells.recode(work, recode)
        raise ZeroDivisionError

    monkeypatch.setitem(plan._APPLIERS, "heading", breaks)
    cleaned = apply_plan(data, [(1, Heading(text="x")), (2, MarkMissing(variable="workers", rule="workers < 3"))])
    assert "ZeroDivisionError" in cleaned.problems[1]
    assert (cleaned.touched(1), cleaned.touched(2)) == (0, 1)
    assert "luma" in cleaned.data["interviews"].frame["island"].to_list()


def test_a_step_that_changes_nothing_touches_nothing(data: DataSet) -> None:
    same = Recode(variable="island", mapping={"kesk": "kesk", "mars": "kesk"})
    assert apply_plan(data, [(1, same)]).changes.is_empty()


def test_what_one_step_puts_back_is_told(data: DataSet) -> None:
    steps: list[AnyStep] = [
        Recode(variable="island", mapping={"luma": "kesk"}),
        Correct(variable="island", interview="0003", value="luma", reason="no"),
    ]
    cleaned = apply_plan(data, list(enumerate(steps, 1)))
    assert undone_in(cleaned.changes) == [Undone(1, 2, 1)]
    assert undone_in(apply_plan(data, [(1, steps[0])]).changes) == []


def test_a_step_is_read_as_it_was_written() -> None:
    step = Recode(variable="island", mapping={"luma": "kesk"}, codes={"new": "New"}, reason="merged")
    assert read_step(write_step(step)) == step
    assert read_step({"kind": "recode", "variable": "island", "mapping": {"a": "b"}}).kind == "recode"
