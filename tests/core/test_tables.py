"""Tables: bases, shares, means, special answers, and the interviews behind each figure."""

from __future__ import annotations

from typing import Any

import pytest
from scipy import stats
from statsmodels.stats.proportion import proportion_confint

from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import EstimationError
from skavo.core.estimation.intervals import proportion
from skavo.core.estimation.tables import TableRequest, interviews_behind, make_table
from skavo.core.questionnaire.script import Code, CodeList
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
    ("request_", "code", "message"),
    [
        ({"variable": ""}, "unknown_variable", "Choose the variable that the table is about."),
        ({"variable": "trad"}, "unknown_variable", "There is no variable “trad”. Did you mean trade?"),
        ({"variable": "xxxxxxxx"}, "unknown_variable", "There is no variable “xxxxxxxx”."),
        ({"variable": "trade", "across": "iland"}, "unknown_variable", "There is no variable “iland”. Did you mean island?"),
        (
            {"show": "mean", "variable": "trade"},
            "not_a_number",
            "A mean needs numbers; “trade” holds single answer. Show its shares instead.",
        ),
        (
            {"variable": "hours", "across": "cost"},
            "different_rosters",
            "“cost” and the other variables are asked in different rosters.",
        ),
        (
            {"variable": "cost"},
            "too_many_categories",
            "“cost” has 61 different values: too many for the rows of a table. Take its mean, or choose a variable with "
            "codes.",
        ),
        (
            {"variable": "trade", "where": "workers = 1 and islnd is kesk"},
            "unknown_name",
            "There is no variable “islnd”. Did you mean island?",
        ),
    ],
)  # fmt: skip
def test_a_sentence_that_makes_no_sense_is_refused_with_a_mend(
    rosters: DataSet, request_: dict[str, Any], code: str, message: str
) -> None:
    with pytest.raises(EstimationError) as caught:
        make_table(rosters, TableRequest(**request_))
    assert (caught.value.code, caught.value.message) == (code, message)
    if "where" in request_:
        assert caught.value.details == {"field": "where", "start": 16, "length": 5}


@pytest.fixture(scope="module")
def rosters() -> DataSet:
    """The sample with a second roster, whose numbers are more than a table has rows for."""
    sample = SAMPLE.model_copy(deep=True)
    sample.parts += [
        part(1, "whole number", "orders"),
        part(1, "roster", "order", repeated="orders times"),
        part(2, "whole number", "cost"),
    ]
    rows = [{**ROWS[0], "orders": 61, **{f"order/{n}/cost": n for n in range(1, 62)}}, *ROWS[1:]]
    return data_of(release_of(sample), rows)


def test_a_category_that_is_not_there_is_refused(data: DataSet) -> None:
    with pytest.raises(EstimationError) as caught:
        interviews_behind(data, TableRequest(variable="trade"), "sails", "*")
    assert (caught.value.code, caught.value.message) == ("no_such_category", "“trade” has no category “sails”.")


def test_rows_and_columns_are_told_by_their_labels_in_the_language_asked_for() -> None:
    island = CodeList(
        name="island",
        codes=[Code(code="k", label={"en": "North", "fr": "Nord"}), Code(code="l", label={"en": "South"})],
    )
    sample = script(
        part(1, "single answer", "island", code_list="island", wording={"en": "Which island?", "fr": "Quelle île ?"}),
        part(1, "yes/no", "paid", special_answers=["dont_know", "refused"]),
        lists=(island,),
        languages=("en", "fr"),
    )
    data = data_of(release_of(sample), [{"island": "k", "paid": {"special": "refused"}}])
    table = make_table(data, TableRequest(variable="island", across="paid", special_in_base=True, language="fr"))
    assert table.title == "Quelle île ?"
    assert [(c.value, c.label) for c in table.rows] == [("k", "Nord"), ("l", "South")]
    assert [(c.value, c.label, c.special) for c in table.columns] == [
        ("yes", "Yes", False), ("no", "No", False), ("refused", "Refused", True), ("*", "All", False),
    ]  # fmt: skip
    means = make_table(data_of(release_of(SAMPLE), ROWS), TableRequest(show="mean", variable="workers", language="de"))
    assert (means.title, [(r.value, r.label) for r in means.rows]) == ("Wording of workers", [("*", "All")])


def test_numbers_are_their_own_categories_in_their_order(data: DataSet) -> None:
    table = make_table(data, TableRequest(variable="workers"))
    assert [(r.value, r.label, table.cells[i][0].count) for i, r in enumerate(table.rows)] == [
        ("1", "1", 2), ("2", "2", 1),
    ]  # fmt: skip
    decimals = make_table(data, TableRequest(variable="hours"))
    assert [(r.value, row[0].count) for r, row in zip(decimals.rows, decimals.cells, strict=True)] == [
        ("20", 1), ("30", 1), ("40", 1),
    ]  # fmt: skip
    assert interviews_behind(data, TableRequest(variable="workers"), "1", "*") == ["0002", "0003"]
    many = script(part(1, "whole number", "n"))
    full = data_of(release_of(many), [{"n": n} for n in range(60)])
    assert len(make_table(full, TableRequest(variable="n")).rows) == 60


def test_texts_and_yes_and_no_are_counted_by_what_they_say() -> None:
    sample = script(part(1, "text", "said"), part(1, "yes/no", "paid"))
    data = data_of(release_of(sample), [{"said": "b", "paid": True}, {"said": "a", "paid": False}, {"said": "b"}])
    assert counts(data, variable="said") == [[(1, 3)], [(2, 3)]]
    assert counts(data, variable="paid") == [[(1, 2)], [(1, 2)]]
    assert counts(data, variable="said", across="paid") == [[(0, 1), (1, 1), (1, 2)], [(1, 1), (0, 1), (1, 2)]]


def test_nothing_has_no_figure_and_one_value_no_margins(data: DataSet) -> None:
    empty = make_table(data, TableRequest(variable="trade", where="island is kesk and island is luma"))
    assert [cell.model_dump() for cell in empty.cells[0]] == [
        {"count": 0, "base": 0, "value": None, "low": None, "high": None, "standard_error": None}
    ]
    means = make_table(data, TableRequest(show="mean", variable="hours", across="trade", where="hours is not 40"))
    bicycle, _, everybody = means.cells[0]
    assert (bicycle.value, bicycle.base, bicycle.low, bicycle.high, bicycle.standard_error) == (20, 1, None, None, None)
    assert (everybody.value, everybody.base) == (25, 2)
    none = make_table(data, TableRequest(show="mean", variable="hours", where="hours > 99")).cells[0][0]
    assert none.model_dump() == {
        "count": 0,
        "base": 0,
        "value": None,
        "low": None,
        "high": None,
        "standard_error": None,
    }


def test_all_and_none_have_the_whole_of_the_interval_that_wilson_gives() -> None:
    for count, low, high in ((0, 0.0, None), (20, None, 1.0)):
        found = proportion(count, 20)
        expected = proportion_confint(count, 20, method="wilson")
        assert found.low == (low if low is not None else pytest.approx(expected[0]))
        assert found.high == (high if high is not None else pytest.approx(expected[1]))


def test_means_go_by_row_and_across_with_special_answers_outside() -> None:
    sample = script(
        part(1, "single answer", "trade", code_list="trade", special_answers=["refused"]),
        part(1, "yes/no", "paid", special_answers=["refused"]),
        part(1, "whole number", "hours", special_answers=["dont_know"]),
        lists=(code_list("trade", "bicycle", "phone"),),
    )
    rows: list[dict[str, Any]] = [
        {"trade": "bicycle", "paid": True, "hours": 10},
        {"trade": "bicycle", "paid": False, "hours": 20},
        {"trade": "phone", "paid": True, "hours": 30},
        {"trade": {"special": "refused"}, "paid": True, "hours": 50},
        {"trade": "phone", "paid": {"special": "refused"}, "hours": 70},
        {"trade": "phone", "paid": False, "hours": {"special": "dont_know"}},
    ]
    data = data_of(release_of(sample), rows)

    def means(**more: Any) -> list[list[tuple[int, float | None]]]:
        table = make_table(data, TableRequest(show="mean", variable="hours", by="trade", across="paid", **more))
        return [[(cell.base, cell.value) for cell in row] for row in table.cells]

    assert means() == [
        [(1, 10), (1, 20), (2, 15)],
        [(1, 30), (0, None), (1, 30)],
        [(2, 20), (1, 20), (3, 20)],
    ]
    assert means(special_in_base=True) == [
        [(1, 10), (1, 20), (0, None), (2, 15)],
        [(1, 30), (0, None), (1, 70), (2, 50)],
        [(1, 50), (0, None), (0, None), (1, 50)],
        [(3, 30), (1, 20), (1, 70), (5, 36)],
    ]
    table = make_table(data, TableRequest(show="mean", variable="hours", special_in_base=True))
    assert (table.outside_base, table.interviews, table.test) == ({"dont_know": 1}, 6, None)
    behind = TableRequest(show="mean", variable="hours", by="trade", across="paid")
    assert interviews_behind(data, behind, "*", "*") == ["0001", "0002", "0003"]
    assert interviews_behind(data, behind, "bicycle", "*") == ["0001", "0002"]
    assert interviews_behind(data, behind, "*", "yes") == ["0001", "0003"]
    with_special = TableRequest(show="mean", variable="hours", by="trade", across="paid", special_in_base=True)
    assert interviews_behind(data, with_special, "*", "*") == ["0001", "0002", "0003", "0004", "0005"]
    assert interviews_behind(data, with_special, "refused", "*") == ["0004"]


def test_what_is_outside_the_base_is_told_by_its_kind(data: DataSet) -> None:
    sample = script(
        part(1, "yes/no", "met"),
        part(1, "yes/no", "paid", asked_when="met is yes", special_answers=["dont_know", "refused"]),
    )
    rows: list[dict[str, Any]] = [
        {"met": False}, {"met": True}, {"met": True, "paid": {"special": "refused"}}, {"met": True, "paid": True},
        {"met": True, "paid": {"special": "dont_know"}}, {"met": True, "paid": {"special": "dont_know"}},
    ]  # fmt: skip
    made = data_of(release_of(sample), rows)
    without = make_table(made, TableRequest(variable="paid"))
    assert without.outside_base == {"not_asked": 1, "unanswered": 1, "refused": 1, "dont_know": 2}
    within = make_table(made, TableRequest(variable="paid", special_in_base=True))
    assert within.outside_base == {"not_asked": 1, "unanswered": 1}
    assert [(r.value, within.cells[i][0].count, within.cells[i][0].base) for i, r in enumerate(within.rows)] == [
        ("yes", 1, 4), ("no", 0, 4), ("dont_know", 2, 4), ("refused", 1, 4),
    ]  # fmt: skip


def test_a_test_of_independence_is_for_single_answers_across_another(data: DataSet) -> None:
    assert make_table(data, TableRequest(variable="trade")).test is None
    rows = [*ROWS, {"island": "luma", "tools": ["vice"]}, {"island": "luma", "tools": ["saw", "vice"]}]
    several = make_table(data_of(release_of(SAMPLE), rows), TableRequest(variable="tools", across="island"))
    assert [[cell.count for cell in row] for row in several.cells] == [[2, 1, 3], [1, 2, 3]]
    assert several.test is None
    assert make_table(data, TableRequest(variable="trade", across="island")).test is not None
    assert make_table(data, TableRequest(variable="workers", across="island", where="workers > 9")).test is None


def test_what_is_asked_outside_a_roster_is_brought_to_its_rows(data: DataSet) -> None:
    assert counts(data, variable="paid", across="island") == [[(1, 2), (1, 1), (2, 3)], [(1, 2), (0, 1), (1, 3)]]
    assert counts(data, variable="island", across="paid") == [[(1, 2), (1, 1), (2, 3)], [(1, 2), (0, 1), (1, 3)]]
    assert make_table(data, TableRequest(variable="island", across="paid")).unit == "staff"


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
