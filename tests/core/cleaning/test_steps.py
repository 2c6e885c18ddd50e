"""What each kind of step makes of a small data set, and what it says where it does not fit."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

import pytest

from skavo.core.cleaning.plan import Cleaned, apply_plan, apply_step
from skavo.core.cleaning.steps import (
    AnyStep,
    Class,
    Classes,
    Convert,
    Correct,
    Derive,
    Dictionary,
    Duplicates,
    Gather,
    Impute,
    JoinTexts,
    LeaveOut,
    Present,
    ReadAs,
    Recode,
    RowsOut,
    SetValue,
    Shift,
    Split,
    SwapDayMonth,
    Tidy,
)
from skavo.core.cleaning.work import Work
from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.errors import DataError
from tests.core.made_tables import DONT_KNOW, NOT_ASKED, REFUSED, cells, column, interviews, table


def _with(data: DataSet, *steps: AnyStep) -> Cleaned:
    cleaned = apply_plan(data, list(enumerate(steps, 1)))
    assert cleaned.problems == {}
    return cleaned


def _fault(data: DataSet, step: AnyStep) -> DataError:
    with pytest.raises(DataError) as caught:
        apply_step(Work(data), 1, step)
    return caught.value


NUMBERS = interviews(
    earnings=(column("earnings", "number"), [100.0, 44_560.5, DONT_KNOW, 0.3]),
    people=(column("people", "whole"), [2, 3, None, 1]),
)


def test_a_value_is_set_by_a_formula_where_a_rule_is_a_definite_yes() -> None:
    cleaned = _with(NUMBERS, SetValue(variable="earnings", formula="earnings / 100", rule="earnings > 1000"))
    assert cells(cleaned.data, "earnings") == [100.0, 445.605, "[dont_know]", 0.3]
    assert cleaned.changes.select("before", "after").rows() == [("44560.5", "445.605")]


def test_a_value_that_a_formula_does_not_give_is_unanswered() -> None:
    cleaned = _with(NUMBERS, SetValue(variable="earnings", formula="earnings / (people - 3)", rule="people > 2"))
    assert cells(cleaned.data, "earnings") == [100.0, "[unanswered]", "[dont_know]", 0.3]


@pytest.mark.parametrize(
    ("formula", "words"),
    [
        ('"many"', "holds whole"),
        ("people / 2", "decimals"),
        ("peple", "Did you mean people?"),
        ("people +", "stops too early"),
    ],
)
def test_a_formula_that_does_not_fit_says_so(formula: str, words: str) -> None:
    assert words in _fault(NUMBERS, SetValue(variable="people", formula=formula)).message


def test_codes_are_recoded_into_old_and_new_ones() -> None:
    data = interviews(
        trade=(column("trade", "code", codes=["bikes", "cycles", "other"]), ["bikes", "cycles", None]),
        tools=(column("tools", "codes", codes=["saw", "saws", "vice"]), [["saw", "saws"], [], REFUSED]),
    )
    cleaned = _with(
        data,
        Recode(variable="trade", mapping={"cycles": "wheels"}, codes={"wheels": "On wheels"}),
        Recode(variable="tools", mapping={"saws": "saw"}),
    )
    assert cells(cleaned.data, "trade") == ["bikes", "wheels", "[unanswered]"]
    assert cells(cleaned.data, "tools") == [["saw"], [], "[refused]"]
    trade = cleaned.data[INTERVIEWS].layout.column("trade")
    assert trade is not None and trade.codes["wheels"] == {"en": "On wheels"}


def test_texts_are_made_alike() -> None:
    data = interviews(name=(column("name", "text"), ["  tern   cycles ", "ТERN", "   ", NOT_ASKED]))
    cleaned = _with(data, Tidy(variable="name", alike=True, case="title"))
    assert cells(cleaned.data, "name") == ["Tern Cycles", "Tern", "[unanswered]", "[not_asked]"]


def test_amounts_are_converted_by_what_their_unit_holds() -> None:
    data = interviews(
        scrap=(column("scrap", "number"), [None, 20.0, None]), amount=(column("amount", "number"), [3.0, 20.0, 1.0]),
        unit=(column("unit", "code", codes=["sack", "kg", "crate"]), ["sack", "kg", "crate"]),
        sack=(column("sack", "number"), [32.5, None, None]),
    )  # fmt: skip
    step = Convert(variable="scrap", amount="amount", unit="unit", factors={"sack": "sack", "crate": "12"})
    assert cells(_with(data, step).data, "scrap") == [97.5, 20.0, 12.0]


def test_a_clock_that_went_wrong_is_set_right() -> None:
    data = interviews(
        seen=(column("seen", "date-time"), [datetime(2007, 3, 1, 9), datetime(2027, 3, 1, 9)]),
        born=(column("born", "date"), [date(1980, 4, 12), date(1980, 1, 31)]),
    )
    cleaned = _with(
        data,
        Shift(variable="seen", by=20, unit="years", rule="seen < 2020-01-01"),
        Shift(variable="born", by=1, unit="months", rule="day(born) = 31"),
        SwapDayMonth(variable="born", rule="month(born) = 4"),
    )
    assert cells(cleaned.data, "seen") == [datetime(2027, 3, 1, 9), datetime(2027, 3, 1, 9)]
    assert cells(cleaned.data, "born") == [date(1980, 12, 4), date(1980, 2, 29)]
    assert "without a time" in _fault(data, Shift(variable="born", by=1, unit="hours")).message


OTHERS = interviews(
    trade=(column("trade", "code", codes=["phones", "other"]), ["other", "other", "phones", "other"]),
    also=(column("also", "codes", codes=["phones", "other"]), [["other", "phones"], ["other"], [], ["other"]]),
    said=(column("said", "text"), ["Clock", " clocks  and watches", None, "Umbrellas"]),
)
WORDS = {"clock": "clocks", "clocks and watches": "clocks"}


def test_what_was_specified_goes_back_into_codes_and_what_is_not_met_is_told() -> None:
    step = Dictionary(variable="said", into="trade", words=WORDS, codes={"clocks": "Clocks"}, replaces="other")
    cleaned = _with(OTHERS, step)
    assert cells(cleaned.data, "trade") == ["clocks", "clocks", "phones", "other"]
    assert cleaned.told[1].unmet == {"Umbrellas": 1}
    cleaned = _with(OTHERS, step.model_copy(update={"into": "also"}))
    assert cells(cleaned.data, "also") == [["phones", "clocks"], ["clocks"], [], ["other"]]


def test_a_text_that_stays_other_is_met_and_changes_nothing() -> None:
    first = Dictionary(variable="said", into="trade", words=WORDS, codes={"clocks": "Clocks"}, replaces="other")
    stays = Dictionary(variable="said", into="also", words={"umbrellas": "other", "clock": "other"}, replaces="other")
    cleaned = _with(OTHERS, stays, first)
    assert cells(cleaned.data, "also") == [["other", "phones"], ["other"], [], ["other"]]
    assert [cleaned.told[n].unmet for n in (1, 2)] == [{}, {}]
    alone = _with(OTHERS, stays)
    assert alone.told[1].unmet == {" clocks  and watches": 1}
    # What has a code by now, by whatever step, is not asked about any more.
    recoded = _with(
        OTHERS, Recode(variable="trade", mapping={"other": "phones"}), first.model_copy(update={"words": {}})
    )
    assert recoded.told[2].unmet == {}


def test_a_variable_is_derived_with_its_label_and_is_as_sensitive_as_what_it_is_made_of() -> None:
    cleaned = _with(
        NUMBERS,
        Derive(into="each", formula="earnings / people", label="Earnings a head", unit="orins"),
        Derive(into="size", formula='if people > 2 then "big" else "small"', codes={"big": "Big", "small": "Small"}),
        Derive(into="double", formula="each * 2"),
    )
    assert cells(cleaned.data, "each") == [50.0, 14853.5, "[unanswered]", 0.3]
    assert cells(cleaned.data, "size") == ["small", "big", "[unanswered]", "small"]
    made = {c.variable: c for c in cleaned.data[INTERVIEWS].layout.columns}
    assert (made["each"].label, made["each"].unit) == ({"en": "Earnings a head"}, "orins")
    assert made["size"].measure == "code"
    assert made["double"].sources >= {"id.earnings", "id.people"}
    assert cleaned.told[1].made == ["each"]
    assert _fault(NUMBERS, Derive(into="people", formula="1")).code == "name_taken"
    assert _fault(NUMBERS, Derive(into="Bad Name!", formula="1")).message.endswith("Try bad_name.")
    assert _fault(NUMBERS, Present(variable="people", name="x" * 33)).code == "wrong_name"
    wrong = Derive(into="size", formula='if people > 2 then "bag" else "small"', codes={"big": "Big", "small": "Small"})
    assert "Did you mean big?" in _fault(NUMBERS, wrong).message


def test_a_set_value_makes_a_column_as_sensitive_as_what_it_reads() -> None:
    cleaned = _with(NUMBERS, SetValue(variable="people", formula="round(earnings, 0)", rule="earnings < 200"))
    found = cleaned.data[INTERVIEWS].layout.column("people")
    assert found is not None and "id.earnings" in found.sources


def test_numbers_fall_into_classes() -> None:
    step = Classes(variable="people", into="size", classes=[Class(code="small", below=3), Class(code="big")])
    assert cells(_with(NUMBERS, step).data, "size") == ["small", "big", "[unanswered]", "small"]
    falling = Classes(variable="people", into="size", classes=[Class(code="a", below=3), Class(code="b", below=2)])
    assert _fault(NUMBERS, falling).code == "limits_fall"
    closed = Classes(variable="people", into="size", classes=[Class(code="small", below=2)])
    assert cells(_with(NUMBERS, closed).data, "size") == ["[unanswered]", "[unanswered]", "[unanswered]", "small"]


@pytest.mark.parametrize(
    ("measure", "form", "texts", "expected"),
    [
        ("number", "", ["1,234.5", " -7 ", "about 7"], [1234.5, -7.0, "[unanswered]"]),
        ("number", "decimal_comma", ["1.234,5", "0,5", "1 000"], [1234.5, 0.5, 1000.0]),
        (
            "date",
            "day_month_year",
            ["3/4/2027", "31.2.2027", "1-2-27"],
            [date(2027, 4, 3), "[unanswered]", "[unanswered]"],
        ),
        ("date", "", ["2027-04-03", "April", "2027/4/3"], [date(2027, 4, 3), "[unanswered]", date(2027, 4, 3)]),
    ],
)
def test_texts_are_read_as_what_they_say(measure: Any, form: Any, texts: list[Any], expected: list[Any]) -> None:
    data = interviews(said=(column("said", "text"), texts))
    cleaned = _with(data, ReadAs(variable="said", into="read", measure=measure, form=form))
    assert cells(cleaned.data, "read") == expected
    assert len(cleaned.told[1].unmet) == expected.count("[unanswered]")


def test_a_multiple_answer_becomes_one_column_per_code_and_comes_back() -> None:
    data = interviews(tools=(column("tools", "codes", codes=["saw", "big-vice"]), [["saw"], [], NOT_ASKED]))
    cleaned = _with(
        data, Split(variable="tools"),
        Gather(into="again", codes={"saw": "tools_saw", "big-vice": "tools_big_vice"}),
    )  # fmt: skip
    assert cells(cleaned.data, "tools_saw") == [True, False, "[not_asked]"]
    assert cells(cleaned.data, "again") == cells(data, "tools")


def test_texts_are_split_and_joined() -> None:
    data = interviews(place=(column("place", "text"), ["Luma, Mid", "Kesk", None]))
    cleaned = _with(
        data, Split(variable="place", separator=",", into=["island", "ward"]),
        JoinTexts(into="whole", variables=["ward", "island"], separator=" of "),
    )  # fmt: skip
    assert cells(cleaned.data, "ward") == ["Mid", "[unanswered]", "[unanswered]"]
    assert cells(cleaned.data, "whole") == ["Mid of Luma", "Kesk", "[unanswered]"]
    assert _fault(data, Split(variable="place")).code == "no_parts"


TWICE = interviews(
    code=(column("code", "text"), ["A1", "B2", "A1", None, None, "A1"]),
    name=(column("name", "text"), ["Tern", "Gull", "Tern", "x", "x", None]),
    note=(column("note", "text"), [None, None, "new", None, None, "x"]),
)


@pytest.mark.parametrize(
    ("keep", "copies"),
    [
        ("first", {"0003": "0001", "0006": "0001"}),
        ("last", {"0001": "0006", "0003": "0006"}),
        ("fullest", {"0001": "0003", "0006": "0003"}),
    ],
)
def test_the_same_interview_twice_is_kept_once_and_linked(keep: Any, copies: dict[str, str]) -> None:
    cleaned = _with(TWICE, Duplicates(variables=["code"], keep=keep))
    assert dict(cleaned.left_out.select("interview", "copy_of").iter_rows()) == copies
    assert cleaned.data[INTERVIEWS].frame.height == 4


def test_who_is_another_copy_is_decided_by_hand_too() -> None:
    step = Duplicates(variables=["code"], by_hand={"0005": "0004", "0004": "0002"}, apart=[["0001", "0003"]])
    copies = dict(_with(TWICE, step).left_out.select("interview", "copy_of").iter_rows())
    assert copies == {"0004": "0002", "0005": "0002", "0006": "0001"}
    ring = Duplicates(by_hand={"0001": "0002", "0002": "0001"})
    assert _with(TWICE, ring).data[INTERVIEWS].frame.height == 6


def _shop() -> DataSet:
    rows = [("0001", "1"), ("0001", "2"), ("0002", "1")]
    staff = table("staff", rows, [(column("age", "whole"), [7, 30, 50]), (column("name", "text"), ["a", "b", "c"])])
    return {**interviews(people=(column("people", "whole"), [2, 1])), "staff": staff}


def test_rows_of_a_roster_are_left_out_and_brought_back() -> None:
    cleaned = _with(_shop(), RowsOut(table="staff", rule="age < 40", rows=[["0002", "1"]], but=[["0001", "2"]]))
    assert cells(cleaned.data, "name") == ["b"]
    assert cleaned.left_out.select("interview", "row").rows() == [("0001", ["1"]), ("0002", ["1"])]
    assert _fault(_shop(), RowsOut(table="interviews", rule="people > 1")).code == "not_a_roster"
    assert _fault(_shop(), RowsOut(table="staf", rule="age > 1")).code == "unknown_table"


def test_an_interview_left_out_takes_its_rows_along() -> None:
    cleaned = _with(_shop(), LeaveOut(rule="people > 1", reason="made up"))
    assert cells(cleaned.data, "name") == ["c"]
    assert cells(_with(_shop(), LeaveOut(interviews=["0002"], reason="x")).data, "people") == [2]


def test_steps_behind_it_see_only_what_is_left() -> None:
    cleaned = _with(_shop(), LeaveOut(interviews=["0002"], reason="x"), Derive(into="n", formula="count(staff)"))
    assert cells(cleaned.data, "n") == [2.0]


GAPS = interviews(
    island=(column("island", "code", codes=["kesk", "luma"]), ["kesk", "kesk", "luma", "luma", None, "kesk"]),
    hours=(column("hours", "whole"), [40, None, 10, REFUSED, NOT_ASKED, 44]),
)


@pytest.mark.parametrize(
    ("step", "expected"),
    [
        (Impute(variable="hours", way="fixed", value=38), [40, 38, 10, 38, "[not_asked]", 44]),
        (Impute(variable="hours", way="median", by=["island"]), [40, 42, 10, 10, "[not_asked]", 44]),
        (Impute(variable="hours", way="mean"), [40, 31, 10, 31, "[not_asked]", 44]),
        (Impute(variable="hours", way="mean", missing=["not_asked"]), [40, "[unanswered]", 10, "[refused]", 31, 44]),
        (Impute(variable="hours", way="commonest", by=["island"]), [40, 40, 10, 10, "[not_asked]", 44]),
    ],
)
def test_missing_values_are_filled_in_and_flagged(step: Impute, expected: list[Any]) -> None:
    cleaned = _with(GAPS, step)
    assert cells(cleaned.data, "hours") == expected
    filled = [a != b for a, b in zip(cells(GAPS, "hours"), expected, strict=True)]
    assert cells(cleaned.data, "hours_filled") == filled


def test_a_donor_is_of_the_same_group_and_named() -> None:
    cleaned = _with(GAPS, Impute(variable="hours", way="donor", by=["island"], seed=3))
    hours, donors = cells(cleaned.data, "hours"), cells(cleaned.data, "hours_donor")
    assert cells(cleaned.data, "hours_filled") == [False, True, False, True, False, False]
    assert donors[1] in ("0001", "0006") and hours[1] == hours[int(donors[1]) - 1]
    assert (donors[3], hours[3]) == ("0003", 10)
    assert donors[0] == "[not_asked]" and hours[4] == "[not_asked]"
    again = _with(GAPS, Impute(variable="hours", way="donor", by=["island"], seed=3))
    assert cells(again.data, "hours") == hours


def test_what_is_still_missing_is_filled_in_by_another_step_and_flagged_beside_the_first() -> None:
    cleaned = _with(
        GAPS, Impute(variable="hours", way="donor", by=["island"], missing=["unanswered"]),
        Impute(variable="hours", way="fixed", value=38, missing=["refused", "not_asked"]),
    )  # fmt: skip
    assert cells(cleaned.data, "hours")[3:5] == [38, 38]
    assert cells(cleaned.data, "hours_filled") == [False, True, False, True, True, False]


def test_every_donor_is_as_likely_as_another() -> None:
    """Of 4,000 drawn from four donors each gives about a quarter: within five standard errors of 1,000."""
    many = interviews(x=(column("x", "whole"), [1, 2, 3, 4, *[None] * 4000]))
    drawn = cells(_with(many, Impute(variable="x", way="donor")).data, "x")[4:]
    assert all(abs(drawn.count(n) - 1000) < 5 * (4000 * 0.25 * 0.75) ** 0.5 for n in (1, 2, 3, 4))


def test_a_variable_is_handed_over_by_another_name_and_place() -> None:
    cleaned = _with(NUMBERS, Present(variable="people", name="staff_count", label={"en": "Staff"}, before="earnings"))
    columns = cleaned.data[INTERVIEWS].layout.columns
    assert [c.variable for c in columns] == ["staff_count", "earnings"]
    assert columns[0].label == {"en": "Staff"}
    assert cells(cleaned.data, "staff_count") == cells(NUMBERS, "people")
    assert _fault(NUMBERS, Present(variable="people", name="earnings")).code == "name_taken"
    assert "Did you mean earnings?" in _fault(NUMBERS, Present(variable="people", before="earnigs")).message


def test_one_value_is_corrected_to_a_kind_of_missing() -> None:
    step = Correct(variable="people", interview="0001", missing="refused", reason="phoned")
    assert cells(_with(NUMBERS, step).data, "people") == ["[refused]", 3, "[unanswered]", 1]
