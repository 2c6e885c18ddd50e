"""Data sets made by their recipes: narrowed, put under one another, derived, left out, turned."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from typing import Any

import polars as pl
import pytest

from skavo.core.cleaning.steps import Derive
from skavo.core.dataset.flatten import FACTS, DataSet, Table
from skavo.core.dataset.layout import INTERVIEWS, KEY
from skavo.core.documents import FormatError
from skavo.core.errors import DataError
from skavo.core.recipes.make import Made, make
from skavo.core.recipes.propose import propose
from skavo.core.recipes.recipe import LeavesOut, Long, Recipe, Source, Wide, read_recipe, recipe_of, write_recipe
from tests.core.made_tables import DONT_KNOW, cells, column, table


def round_of(numbers: list[int], columns: list[tuple[Any, list[Any]]], **facts: list[Any]) -> DataSet:
    """Interviews with their facts; those not given are empty."""
    made = table(INTERVIEWS, [(f"{n:04d}",) for n in numbers], columns)
    given = {name.replace("_", "."): values for name, values in facts.items()}
    known = [pl.Series(n, given.get(n, [None] * len(numbers)), dtype=d) for n, d in FACTS.items() if n != KEY]
    return {INTERVIEWS: made.with_frame(made.frame.with_columns(known))}


def with_roster(data: DataSet, name: str, rows: list[tuple[str, str]], columns: list[tuple[Any, list[Any]]]) -> DataSet:
    return {**data, name: table(name, rows, columns)}


def called(data: DataSet, name: str) -> Any:
    found = next(t.layout.column(name) for t in data.values() if t.layout.column(name) is not None)
    assert found is not None
    return found


def made(data: DataSet | dict[int, DataSet], **said: Any) -> Made:
    by_number = data if 1 in data else {1: data}
    sources = said.pop("sources", [Source(questionnaire=n) for n in by_number])
    titles = [source.called or f"Q{source.questionnaire}" for source in sources]
    return make(Recipe(sources=sources, **said), by_number, titles)  # type: ignore[arg-type]


ROUND = round_of(
    [1, 2, 3, 4],
    [(column("hours", "number"), [7.5, None, 2, DONT_KNOW])],
    interview_state=["accepted", "arrived", "accepted", "accepted"],
    interview_release=[1, 2, 2, 2],
    interview_started=[datetime(2026, 3, 1, 23, 59), datetime(2026, 3, 2), datetime(2026, 3, 3), None],
)


class TestNarrowing:
    def test_a_recipe_to_begin_with_changes_nothing(self) -> None:
        found = make(recipe_of(1), {1: ROUND}, ["Hours"])
        assert found.data[INTERVIEWS].frame.equals(ROUND[INTERVIEWS].frame)
        assert found.narrowed[0].kept == found.narrowed[0].interviews == 4

    def test_releases_and_days_are_counted_out_each_once(self) -> None:
        source = Source(questionnaire=1, releases=[2], since=date(2026, 3, 2), until=date(2026, 3, 2))
        found = made(ROUND, sources=[source], accepted_only=True)
        told = found.narrowed[0]
        assert (told.not_accepted, told.other_release, told.other_day, told.kept) == (1, 1, 2, 0)
        assert made(ROUND, sources=[source]).data[INTERVIEWS].frame[KEY].to_list() == ["0002"]

    def test_rows_below_go_with_their_interview(self) -> None:
        data = with_roster(ROUND, "child", [("0001", "1"), ("0003", "1")], [(column("age", "whole"), [4, 9])])
        found = made(data, sources=[Source(questionnaire=1, releases=[2])])
        assert cells(found.data, "age") == [9]

    def test_nothing_is_left_of_no_interviews(self) -> None:
        empty = {INTERVIEWS: ROUND[INTERVIEWS].with_frame(ROUND[INTERVIEWS].frame.clear())}
        assert made(empty, accepted_only=True).narrowed[0].interviews == 0


class TestLeftOut:
    def test_only_a_definite_yes_stays_out(self) -> None:
        found = made(ROUND, left_out=[LeavesOut(rule="hours < 5", reason="too short")])
        assert found.left_out == [1]
        assert found.data[INTERVIEWS].frame[KEY].to_list() == ["0001", "0002", "0004"]

    def test_a_line_that_cannot_be_read_is_named(self) -> None:
        with pytest.raises(DataError) as refused:
            made(ROUND, left_out=[LeavesOut(rule="hours > 1"), LeavesOut(rule="hour > 1")])
        assert (refused.value.details["part"], refused.value.details["line"]) == ("left_out", 1)

    def test_a_table_that_is_not_there_is_named(self) -> None:
        with pytest.raises(DataError, match="no table"):
            made(ROUND, left_out=[LeavesOut(rule="hours > 1", table="child")])


class TestDerived:
    def test_a_variable_of_sensitive_ones_is_sensitive(self) -> None:
        held = replace(column("hours", "number"), sensitive=True)
        data = round_of([1], [(held, [3]), (column("open", "yes/no"), [True])])
        found = made(data, derived=[Derive(into="twice", formula="hours * 2"), Derive(into="shut", formula="not open")])
        assert (called(found.data, "twice").sensitive, called(found.data, "shut").sensitive) == (True, False)
        assert cells(found.data, "twice") == [6]

    def test_one_of_a_sensitive_derived_one_is_sensitive_too(self) -> None:
        held = replace(column("hours", "number"), sensitive=True)
        lines = [Derive(into="twice", formula="hours * 2"), Derive(into="many", formula="twice > 5")]
        assert called(made(round_of([1], [(held, [3])]), derived=lines).data, "many").sensitive


ANSWERS = ["yes", "no"]


def trade(codes: dict[str, str], variable: str = "trade") -> Any:
    labelled = {code: {"en": label} for code, label in codes.items()}
    return replace(column(variable, "code"), codes=labelled)


class TestStacking:
    def test_what_a_round_did_not_ask_is_not_asked(self) -> None:
        first = round_of([1, 2], [(column("hours", "number"), [1, DONT_KNOW])])
        second = round_of([3], [(column("hours", "whole"), [4]), (column("open", "yes/no"), [False])])
        found = made({1: first, 2: second})
        assert cells(found.data, "hours") == [1, "[dont_know]", 4]
        assert cells(found.data, "open") == ["[not_asked]", "[not_asked]", False]
        assert cells(found.data, "source") == ["1", "1", "2"]
        assert called(found.data, "source").codes == {"1": {"en": "Q1"}, "2": {"en": "Q2"}}

    def test_a_roster_is_found_under_its_other_name(self) -> None:
        first = with_roster(round_of([1], []), "child", [("0001", "1")], [(column("age", "whole"), [4])])
        second = with_roster(round_of([2], []), "kid", [("0002", "1")], [(column("years", "whole"), [6])])
        sources = [Source(questionnaire=1), Source(questionnaire=2, names={"kid": "child", "years": "age"})]
        found = made({1: first, 2: second}, sources=sources).data
        assert found["child"].frame["child.row"].to_list() == ["1", "1"]
        assert cells(found, "age") == [4, 6]

    def test_codes_that_mean_something_else_are_refused_until_said(self) -> None:
        first = round_of([1], [(trade({"1": "Baker", "2": "Cooper"}), ["1"])])
        second = round_of([2, 3], [(trade({"1": "Cooper", "2": "Baker", "3": "Tanner"}), ["1", "3"])])
        refused = made({1: first, 2: second})
        assert [(c.place, c.variable, c.code) for c in refused.clashes] == [(1, "trade", "1"), (1, "trade", "2")]
        assert not refused.data
        mapped = Source(questionnaire=2, codes={"trade": {"1": "2", "2": "1"}})
        found = made({1: first, 2: second}, sources=[Source(questionnaire=1), mapped])
        assert cells(found.data, "trade") == ["1", "2", "3"]
        assert called(found.data, "trade").codes["3"] == {"en": "Tanner"}

    def test_a_code_may_be_said_to_mean_the_same(self) -> None:
        first = round_of([1], [(trade({"1": "Baker"}), ["1"])])
        second = round_of([2], [(trade({"1": "Bakery, bread"}), ["1"])])
        meant = Source(questionnaire=2, codes={"trade": {"1": "1"}})
        assert cells(made({1: first, 2: second}, sources=[Source(questionnaire=1), meant]).data, "trade") == ["1", "1"]

    def test_several_codes_become_others_each_once(self) -> None:
        codes = {"a": {"en": "Bread"}, "b": {"en": "Cake"}}
        first = round_of([1], [(replace(column("sold", "codes"), codes=codes), [["a"]])])
        other = {"1": {"en": "Bread"}, "2": {"en": "Rolls"}, "b": {"en": "Cake"}}
        second = round_of([2], [(replace(column("sold", "codes"), codes=other), [["1", "b", "2"]])])
        mapped = Source(questionnaire=2, codes={"sold": {"1": "a", "2": "a"}})
        assert cells(made({1: first, 2: second}, sources=[Source(questionnaire=1), mapped]).data, "sold") == [
            ["a"], ["a", "b"],
        ]  # fmt: skip

    @pytest.mark.parametrize(
        ("other", "words"),
        [(column("hours", "text"), "texts here"), (replace(column("hours", "number"), unit="min"), "in min here")],
    )
    def test_another_kind_or_unit_is_refused(self, other: Any, words: str) -> None:
        value = "2" if other.measure == "text" else 2
        second = round_of([9], [(other, [value])])
        refused = made({1: ROUND, 2: second})
        assert words in refused.clashes[0].words

    def test_an_interview_in_two_rounds_is_refused(self) -> None:
        twice = [Source(questionnaire=1, called="All"), Source(questionnaire=1, releases=[2], called="Again")]
        with pytest.raises(DataError, match=r"0002 is in two of the sources \(3 are\)|in two sources \(3 are\)"):
            made(ROUND, sources=twice)

    def test_a_name_given_twice_is_refused(self) -> None:
        second = round_of([9], [(column("hours", "number"), [2]), (column("more", "number"), [2])])
        with pytest.raises(DataError, match="called “hours”"):
            made(
                {1: ROUND, 2: second},
                sources=[Source(questionnaire=1), Source(questionnaire=2, names={"more": "hours"})],
            )

    def test_what_is_called_nothing_stays_out_with_what_is_below(self) -> None:
        data = with_roster(ROUND, "child", [("0001", "1")], [(column("age", "whole"), [4])])
        found = made(data, sources=[Source(questionnaire=1, names={"child": "", "hours": ""})]).data
        assert list(found) == [INTERVIEWS]
        assert found[INTERVIEWS].layout.columns == ()

    def test_a_stacked_column_is_as_sensitive_as_the_most_sensitive(self) -> None:
        held = replace(column("hours", "number"), sensitive=True)
        found = made({1: ROUND, 2: round_of([9], [(held, [2])])}).data
        assert called(found, "hours").sensitive


class TestProposing:
    def test_identity_goes_before_name_and_name_before_label(self) -> None:
        renamed = replace(column("hours", "number"), variable="worked")
        other = round_of([9], [(renamed, [2]), (replace(column("hours", "number"), part_id="else", label={}), [3])])
        found = propose(ROUND, other)
        assert found.names == {"worked": "hours", "hours": "hours_2"}
        assert {p.theirs: p.by for p in found.pairings} == {"worked": "identity", "hours": "new"}

    def test_a_label_that_is_the_same_but_for_capitals_is_found(self) -> None:
        other = round_of([9], [(replace(column("h", "number"), label={"en": "  HOURS "}), [2])])
        assert propose(ROUND, other).names == {"h": "hours"}

    def test_codes_are_found_by_their_labels(self) -> None:
        first = round_of([1], [(trade({"1": "Baker", "2": "Cooper"}), ["1"])])
        second = round_of([2], [(trade({"1": "cooper", "2": "Baker", "3": "Tanner"}), ["1"])])
        found = propose(first, second)
        assert found.codes == {"trade": {"1": "2", "2": "1"}}
        sources = [Source(questionnaire=1), Source(questionnaire=2, names=found.names, codes=found.codes)]
        assert not made({1: first, 2: second}, sources=sources).clashes

    def test_what_cannot_be_the_same_stands_apart_and_says_why(self) -> None:
        first = round_of([1], [(trade({"1": "Baker", "2": "Cooper"}), ["1"])])
        second = round_of([2], [(trade({"1": "Tanner"}), ["1"])])
        found = propose(first, second)
        assert found.names == {"trade": "trade_2"}
        assert "Tanner" in found.pairings[0].apart

    def test_what_is_proposed_can_always_be_stacked(self) -> None:
        """Over every pairing of kinds of a variable of one name."""
        kinds = [column("x", m) for m in ("number", "text", "date", "yes/no")] + [
            trade({"1": "A"}, "x"), trade({"1": "B"}, "x"), replace(column("x", "codes"), codes={"1": {"en": "A"}}),
        ]  # fmt: skip
        for one in kinds:
            for other in kinds:
                first = with_roster(
                    round_of([1], [(one, [None])]), "r", [("0001", "1")], [(column("x_2", "text"), [None])]
                )
                second = round_of([2], [(other, [None])])
                found = propose(first, second)
                sources = [Source(questionnaire=1), Source(questionnaire=2, names=found.names, codes=found.codes)]
                assert not made({1: first, 2: second}, sources=sources).clashes


FAMILY = with_roster(
    round_of([1, 2, 3], [(column("island", "text"), ["Ost", "West", "West"])]),
    "child",
    [("0001", "1"), ("0001", "2"), ("0003", "1")],
    [(column("age", "whole"), [4, DONT_KNOW, 9]), (column("girl", "yes/no"), [True, False, None])],
)


class TestTurning:
    def test_rows_beside_each_other_and_back(self) -> None:
        wide = made(FAMILY, turned=[Wide(table="child", variables=["age", "girl"], most=2)])
        assert cells(wide.data, "age_1") == [4, "[not_asked]", 9]
        assert cells(wide.data, "age_2") == ["[dont_know]", "[not_asked]", "[not_asked]"]
        assert cells(wide.data, "girl_1") == [True, "[not_asked]", "[unanswered]"]
        again = Long(into="kid", columns={"years": ["age_1", "age_2"], "daughter": ["girl_1", "girl_2"]})
        back = made(wide.data, turned=[again]).data
        assert cells(back, "years") == cells(FAMILY, "age")
        assert cells(back, "daughter") == cells(FAMILY, "girl")
        keys = back["kid"].frame.select(KEY, "kid.row").rows()
        assert keys == FAMILY["child"].frame.select(KEY, "child.row").rows()

    def test_rows_without_room_are_counted(self) -> None:
        found = made(FAMILY, turned=[Wide(table="child", variables=["age"], most=1)])
        assert found.beyond == [1]

    def test_a_turn_that_would_make_thousands_of_columns_is_refused(self) -> None:
        with pytest.raises(ValueError, match="2,100 columns"):
            Wide(table="child", variables=[f"v{n}" for n in range(21)], most=100)

    def test_interviews_stand_beside_nothing(self) -> None:
        with pytest.raises(DataError, match="stands in no other table"):
            made(FAMILY, turned=[Wide(table=INTERVIEWS, variables=["island"], most=1)])

    def test_kinds_are_not_mixed_under_each_other(self) -> None:
        data = round_of([1], [(column("a", "number"), [1]), (column("b", "text"), ["x"])])
        with pytest.raises(DataError, match="not of one kind"):
            made(data, turned=[Long(into="row", columns={"v": ["a", "b"]})])

    def test_lists_are_as_long_as_each_other(self) -> None:
        with pytest.raises(ValueError, match="as many"):
            Long(into="row", columns={"a": ["x"], "b": ["x", "y"]})


class TestRows:
    def test_a_roster_carries_what_is_above(self) -> None:
        found = made(FAMILY, rows="child").data
        assert list(found) == ["child"]
        assert cells(found, "island") == ["Ost", "Ost", "West"]
        assert [c.variable for c in found["child"].layout.columns] == ["island", "age", "girl"]

    def test_a_name_that_is_none_is_refused(self) -> None:
        with pytest.raises(DataError, match="Did you mean child"):
            made(FAMILY, rows="chlid")


class TestDocument:
    def test_it_is_read_as_it_was_written(self) -> None:
        recipe = Recipe(
            sources=[Source(questionnaire=1, since=date(2026, 3, 1), codes={"trade": {"1": "2"}})],
            derived=[Derive(into="twice", formula="hours * 2")],
            turned=[Wide(table="child", variables=["age"], most=2), Long(into="row", columns={"v": ["a", "b"]})],
            rows="child",
        )
        assert read_recipe(write_recipe(recipe)) == recipe

    def test_another_document_is_none(self) -> None:
        with pytest.raises(FormatError):
            read_recipe({"format": "skavo-join-2"})


def test_tables_are_left_as_they_were() -> None:
    before = {name: Table(t.layout, t.frame.clone()) for name, t in FAMILY.items()}
    made(FAMILY, turned=[Wide(table="child", variables=["age"], most=2)], rows="child")
    assert all(before[name].frame.equals(FAMILY[name].frame) for name in before)
