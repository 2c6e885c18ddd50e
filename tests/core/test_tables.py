"""Tables: bases, shares, means, special answers, and the interviews behind each figure."""

from __future__ import annotations

from typing import Any

import pytest
from scipy import stats
from statsmodels.stats.proportion import proportion_confint

from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import EstimationError
from skavo.core.estimation.tables import TableRequest, interviews_behind, make_table
from tests.core.test_dataset import data_of
from tests.samples import code_list, part, release_of, script

SAMPLE = script(
    part(1, "single answer", "trade", code_list="trade", special_answers=["refused", "dont_know"]),
    part(1, "single answer", "island", code_list="island"),
    part(1, "multiple answer", "tools", code_list="tool"),
    part(1, "whole number", "workers"),
    part(1, "roster", "staff", repeated="workers times"),
    part(2, "decimal", "hours"),
    part(2, "yes/no", "paid"),
    lists=(
        code_list("trade", "bicycle", "phone"),
        code_list("island", "kesk", "luma"),
        code_list("tool", "saw", "vice"),
    ),
)
ROWS: list[dict[str, Any]] = [
    {"trade": "bicycle", "island": "kesk", "tools": ["saw", "vice"], "workers": 2, "staff/1/hours": "40", "staff/2/hours": "20", "staff/1/paid": True},
    {"trade": "phone", "island": "kesk", "tools": ["saw"], "workers": 1, "staff/1/hours": "30", "staff/1/paid": False},
    {"trade": "phone", "island": "luma", "workers": 1, "staff/1/paid": True},
    {"trade": {"special": "refused"}, "island": "luma"},
    {"trade": "phone"},
]  # fmt: skip


@pytest.fixture(scope="module")
def data() -> DataSet:
    return data_of(release_of(SAMPLE), ROWS)


def counts(data: DataSet, **request: Any) -> list[list[tuple[int, int]]]:
    table = make_table(data, TableRequest(**request))
    return [[(cell.count, cell.base) for cell in row] for row in table.cells]


def test_shares_have_an_unweighted_base_without_special_answers(data: DataSet) -> None:
    assert counts(data, variable="trade") == [[(1, 4)], [(3, 4)]]
    assert make_table(data, TableRequest(variable="trade")).outside_base == {"refused": 1}


def test_the_switch_takes_special_answers_into_the_base(data: DataSet) -> None:
    assert counts(data, variable="trade", special_in_base=True) == [[(1, 5)], [(3, 5)], [(1, 5)]]


def test_a_two_way_table_leaves_out_who_lacks_the_second_answer(data: DataSet) -> None:
    assert counts(data, variable="trade", across="island") == [[(1, 2), (0, 1), (1, 3)], [(1, 2), (1, 1), (2, 3)]]


def test_a_multiple_answer_counts_respondents_not_codes(data: DataSet) -> None:
    assert counts(data, variable="tools") == [[(2, 2)], [(1, 2)]]


def test_means_by_group_go_over_the_rows_that_have_both(data: DataSet) -> None:
    table = make_table(data, TableRequest(show="mean", variable="hours", by="trade"))
    assert [(r.value, table.cells[i][0].base, table.cells[i][0].value) for i, r in enumerate(table.rows)] == [
        ("bicycle", 2, 30.0), ("phone", 1, 30.0), ("*", 3, 30.0),
    ]  # fmt: skip
    assert table.unit == "staff"


def test_a_condition_narrows_the_table(data: DataSet) -> None:
    assert counts(data, variable="trade", where="island is kesk") == [[(1, 2)], [(1, 2)]]
    assert counts(data, variable="paid", where="trade is phone") == [[(1, 2)], [(1, 2)]]


@pytest.mark.parametrize(
    ("request_", "row", "column", "keys"),
    [
        ({"variable": "trade", "across": "island"}, "phone", "kesk", ["0002"]),
        ({"variable": "trade", "across": "island"}, "phone", "*", ["0002", "0003"]),
        ({"variable": "trade"}, "phone", "*", ["0002", "0003", "0005"]),
        ({"show": "mean", "variable": "hours", "by": "trade"}, "*", "*", ["0001", "0002"]),
        ({"variable": "trade", "special_in_base": True}, "refused", "*", ["0004"]),
        ({"variable": "tools"}, "vice", "*", ["0001"]),
    ],
)
def test_each_figure_leads_back_to_its_interviews(
    data: DataSet, request_: dict[str, Any], row: str, column: str, keys: list[str]
) -> None:
    assert interviews_behind(data, TableRequest(**request_), row, column) == keys


@pytest.mark.parametrize(
    ("request_", "code"),
    [
        ({"variable": "trad"}, "unknown_variable"),
        ({"show": "mean", "variable": "trade"}, "not_a_number"),
        ({"variable": "trade", "where": "islnd is kesk"}, "unknown_name"),
    ],
)
def test_a_sentence_that_makes_no_sense_is_refused(data: DataSet, request_: dict[str, Any], code: str) -> None:
    with pytest.raises(EstimationError) as caught:
        make_table(data, TableRequest(**request_))
    assert caught.value.code == code


def test_figures_stand_inside_their_margins_and_the_test_goes_over_the_groups_alone(data: DataSet) -> None:
    """R. A. Fisher's table of twins (Statistical Methods for Research Workers, 1925, § 21.01), 10 of 13 and 2 of 17; the
    counts are from memory. The figures are those of statsmodels (Wilson's interval) and scipy (no continuity correction).
    """
    sample = script(part(1, "yes/no", "convicted"), part(1, "yes/no", "identical"))
    answers = [{"identical": True, "convicted": i < 10} for i in range(13)]
    answers += [{"identical": False, "convicted": i < 2} for i in range(17)]
    table = make_table(data_of(release_of(sample), answers), TableRequest(variable="convicted", across="identical"))
    cell = table.cells[0][0]
    assert (cell.count, cell.base) == (10, 13)
    assert (cell.low, cell.value, cell.high) == (
        pytest.approx(proportion_confint(10, 13, method="wilson")[0]),
        pytest.approx(10 / 13),
        pytest.approx(proportion_confint(10, 13, method="wilson")[1]),
    )
    assert cell.standard_error == pytest.approx((10 / 13 * 3 / 13 / 13) ** 0.5)
    assert table.test is not None
    expected = stats.chi2_contingency([[10, 2], [3, 15]], correction=False)
    assert table.test["statistic"] == pytest.approx(expected.statistic) == pytest.approx(13.03, abs=0.01)
    assert table.test["degrees"] == 1
    assert table.test["smallest_expected"] == pytest.approx(12 * 13 / 30)


def test_means_stand_inside_their_margins(data: DataSet) -> None:
    cell = make_table(data, TableRequest(show="mean", variable="hours")).cells[0][0]
    low, high = stats.t.interval(0.95, 2, loc=30, scale=10 / 3**0.5)
    assert (cell.low, cell.value, cell.high) == (pytest.approx(low), 30.0, pytest.approx(high))
