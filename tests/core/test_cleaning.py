"""The cleaning plan: each step, its account of changed cells, raw data untouched."""

from __future__ import annotations

import pytest

from skavo.core.cleaning.plan import Correct, MarkMissing, Recode, apply_plan, history_of
from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import DataError
from tests.core.test_dataset import ANSWERS, data_of
from tests.samples import release_of, staff_script


@pytest.fixture
def data() -> DataSet:
    return data_of(release_of(staff_script()), ANSWERS)


def test_steps_are_replayed_in_order_and_the_raw_data_stays(data: DataSet) -> None:
    steps = [
        Recode(variable="island", mapping={"luma": "kesk"}),
        Correct(variable="workers", interview="0003", value="4", reason="phoned"),
        MarkMissing(variable="workers", rule="workers < 3", missing="refused"),
        MarkMissing(variable="hours", rule="island is kesk and hours > 40"),
    ]
    cleaned = apply_plan(data, steps)
    assert cleaned.data["interviews"].frame["island"].to_list() == ["kesk", None, "kesk"]
    assert cleaned.data["interviews"].frame["workers"].to_list() == [None, None, 4]
    assert cleaned.data["interviews"].frame["workers?"].to_list() == ["refused", "not_asked", None]
    assert cleaned.data["staff"].frame["hours?"].to_list() == ["unanswered", "not_asked"]
    assert [cleaned.touched(i) for i in range(4)] == [1, 1, 1, 1]
    assert data["interviews"].frame["workers"].to_list() == [2, None, None]


def test_every_changed_cell_can_say_from_what_to_what(data: DataSet) -> None:
    changes = apply_plan(
        data, [Correct(variable="age", interview="0001", row=["2"], value=21, reason="misheard")]
    ).changes
    assert [(c.table, c.interview, c.row, c.variable, c.before, c.after) for c in changes] == [
        ("staff", "0001", ("2",), "age", 12, 21)
    ]
    assert history_of(changes, "0002") == []


@pytest.mark.parametrize(
    ("step", "code", "words"),
    [
        (Recode(variable="iland", mapping={"a": "b"}), "unknown_variable", "Did you mean island?"),
        (Recode(variable="workers", mapping={"1": "2"}), "not_recodable", "only codes and texts"),
        (Recode(variable="island", mapping={"luma": "keks"}), "impossible_code", "Did you mean kesk?"),
        (Correct(variable="workers", interview="0001", value=3), "no_reason", "needs a reason"),
        (Correct(variable="workers", interview="0099", value=3, reason="x"), "no_such_row", "0099"),
        (Correct(variable="age", interview="0001", value=3, reason="x"), "wrong_row", "say which row"),
        (Correct(variable="workers", interview="0001", value="many", reason="x"), "not_a_number", "whole number"),
        (MarkMissing(variable="workers", rule="wokers > 3"), "unknown_name", "Did you mean workers?"),
    ],
)
def test_a_step_that_does_not_fit_is_refused_with_a_mend(data: DataSet, step: object, code: str, words: str) -> None:
    with pytest.raises(DataError, match=words) as caught:
        apply_plan(data, [step])  # type: ignore[list-item]
    assert caught.value.code == code


def test_a_step_that_changes_nothing_touches_nothing(data: DataSet) -> None:
    assert apply_plan(data, [Recode(variable="island", mapping={"kesk": "kesk", "mars": "kesk"})]).changes == []
