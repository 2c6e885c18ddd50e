"""The rule language: what is understood, what is refused and in which words, what it gives."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any

import pytest

from skavo.core.rules.check import check_rule
from skavo.core.rules.evaluate import bind
from skavo.core.rules.types import DATE, NUMBER, ROWS, TEXT, YES_NO, Scope, Symbol, Type

NAMES = ["workers", "paid", "trade", "second", "tools", "staff", "age", "hours", "opened", "plate", "open_now"]
TYPES: dict[str, Type] = {
    "workers": NUMBER, "paid": NUMBER, "trade": Type("code", "trade"), "second": Type("code", "trade"),
    "tools": Type("codes", "tool"), "staff": ROWS, "age": NUMBER, "hours": NUMBER, "opened": DATE, "plate": TEXT,
    "open_now": YES_NO,
}  # fmt: skip
CODES = {"trade": ["bicycle", "phone", "none", "3"], "tool": ["saw", "vice", "other"]}
STAFF = NAMES.index("staff")


def scope(**more: Any) -> Scope:
    inside = {"age", "hours"}
    symbols = {n: Symbol(n, i, TYPES[n], (STAFF,) if n in inside else ()) for i, n in enumerate(NAMES)}
    return Scope(symbols, lambda name: CODES[name], roster_names={STAFF: "staff"}, **more)


class Answers:
    """A state made by hand: plain values by name, rows of staff as a list of {age, hours}."""

    def __init__(
        self, staff: list[dict[str, Any]] | None = None, special: dict[str, str] | None = None, **values: Any
    ) -> None:
        size = range(len(NAMES))
        self.values: list[dict[Any, Any]] = [{} for _ in size]
        self.special: list[dict[Any, str]] = [{} for _ in size]
        self.asked: list[dict[Any, bool]] = [{(): True} for _ in size]
        self.rows: list[dict[Any, list[Any]]] = [{} for _ in size]
        self.outside = {"now": None}
        for name, value in values.items():
            self.values[NAMES.index(name)][()] = value
        for name, kind in (special or {}).items():
            self.special[NAMES.index(name)][()] = kind
        self.rows[STAFF][()] = list(range(1, len(staff or []) + 1))
        for row, person in enumerate(staff or [], start=1):
            for name, value in person.items():
                self.values[NAMES.index(name)][(row,)] = value

    def label(self, code_list: str, code: str) -> str:
        return f"{code_list}:{code}"


def value(text: str, state: Answers | None = None, **values: Any) -> Any:
    tree, faults = check_rule(text, scope(), None)
    assert tree is not None, faults
    return bind(tree)(state or Answers(**values), ())


@pytest.mark.parametrize(
    ("text", "values", "expected"),
    [
        ("workers between 1 and 40", {"workers": 7}, True),
        ("workers between 1 and 40", {"workers": 41}, False),
        ("paid <= workers", {"paid": 3, "workers": 2}, False),
        ("trade is bicycle", {"trade": "bicycle"}, True),
        ("trade is 3", {"trade": "3"}, True),
        ("trade is none", {"trade": "phone"}, False),
        ("trade is one of (bicycle, phone)", {"trade": "phone"}, True),
        ("trade is none of (bicycle, phone)", {"trade": "phone"}, False),
        ("second is not trade", {"second": "phone", "trade": "phone"}, False),
        ("tools includes saw", {"tools": ("saw", "vice")}, True),
        ("tools includes all of (saw, other)", {"tools": ("saw", "vice")}, False),
        ("tools includes only (saw, vice)", {"tools": ("saw", "vice")}, True),
        ("count(tools) = 2", {"tools": ("saw", "vice")}, True),
        ('plate matches "****_999999"', {"plate": "KE4X_123456"}, True),
        ('plate matches "****_999999"', {"plate": "KE4_123456"}, False),
        ('plate matches "99A?"', {"plate": "12"}, True),
        ('plate matches pattern "[A-Z]+[0-9]"', {"plate": "ABC1"}, True),
        ("open_now", {"open_now": True}, True),
        ("not open_now or workers > 3", {"open_now": True, "workers": 2}, False),
        ("if open_now then workers else 0", {"open_now": True, "workers": 5}, 5),
        ("0.1 + 0.2 = 0.3", {}, True),
        ("1 / 4", {}, Decimal("0.25")),
        ("7 / 0", {}, None),
        ("2 + 3 * 4", {}, 14),
        ("-workers + 1", {"workers": 3}, -2),
        ("round(2.345, 2)", {}, Decimal("2.35")),
        ("floor(-2.5)", {}, -3),
        ("ceiling(2.1)", {}, 3),
        ("remainder(-7, 3)", {}, 2),
        ("smallest(workers, 4)", {}, 4),
        ("largest(workers, 4)", {"workers": 9}, 9),
        ("length(trim(plate))", {"plate": "  ab "}, 2),
        ('join(upper(plate), "-", workers)', {"plate": "ab", "workers": 3}, "AB-3"),
        ("opened + 1 month", {"opened": date(2027, 1, 31)}, date(2027, 2, 28)),
        ("opened - 2 days", {"opened": date(2027, 3, 1)}, date(2027, 2, 27)),
        ("years(opened, 2027-03-13)", {"opened": date(2000, 3, 14)}, 26),
        ("months(opened, 2027-03-31)", {"opened": date(2027, 1, 31)}, 2),
        ("days(opened, 2027-03-01)", {"opened": date(2027, 2, 27)}, 2),
        ("weekday(opened)", {"opened": date(2027, 3, 15)}, 1),
        ("year(opened) = 2027", {"opened": date(2027, 3, 15)}, True),
        ("label(trade)", {"trade": "phone"}, "trade:phone"),
    ],
)
def test_rules_give_what_the_sentence_says(text: str, values: dict[str, Any], expected: Any) -> None:
    assert value(text, **values) == expected


PEOPLE = [{"age": 30, "hours": Decimal("40.5")}, {"age": 12}, {"hours": 10}]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("count(staff)", 3),
        ("count(staff where age >= 15)", 1),
        ("sum(staff.hours)", Decimal("50.5")),
        ("sum(staff.hours where age >= 15)", Decimal("40.5")),
        ("mean(staff.hours)", Decimal("25.25")),
        ("lowest(staff.age)", 12),
        ("highest(staff.age)", 30),
        ("first(staff.hours where age is missing)", 10),
        ("any(staff where age < 14)", True),
        ("any(staff where age > 50)", None),
        ("every(staff where age < 20)", False),
        ("every(staff where age < 60)", None),
        ("sum(staff.hours where age > 90)", None),
    ],
)
def test_aggregates_pass_over_missing_rows(text: str, expected: Any) -> None:
    assert value(text, Answers(staff=PEOPLE)) == expected


def test_answered_or_not_is_always_yes_or_no() -> None:
    state = Answers(special={"workers": "dont_know", "paid": "refused"}, plate="x")
    told = [
        f"{v} {t}"
        for v in ("workers", "paid", "plate", "trade")
        for t in ("is answered", "is missing", "is not known", "is refused")
    ]
    assert [value(t, state) for t in told] == [
        False, True, True, False, False, True, False, True, True, False, False, False, False, True, False, False,
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "code", "place", "message", "mend"),
    [
        ("wrokers > 3", "unknown_name", "wrokers", "There is no variable “wrokers”.", "Did you mean workers?"),
        ("trade is bycicle", "impossible_code", "bycicle", "The list trade has no code “bycicle”.", "Did you mean bicycle?"),
        ("workers", "wrong_type", "workers", "This gives a number; yes or no is needed here.", "Compare it with something, as in: age >= 15"),
        ("workers < opened", "wrong_type", "opened", "A number is compared with a date.", ""),
        ("plate > 3", "wrong_type", "plate", "A text has no larger or smaller.", ""),
        ("tools is saw", "wrong_type", "tools", "Several codes are compared with “includes”.", "Write: tools includes …"),
        ("trade includes phone", "wrong_type", "trade", "“includes” needs a multiple answer on its left.", "Write: trade is …"),
        ("age > 3", "needs_aggregate", "age", "“age” is asked in every row of staff; here it has many answers.", "Say which: sum(staff.age), any(staff where age …), count(staff where …)."),
        ("sum(hours) > 3", "needs_roster", "hours", "“sum” goes over a roster.", "Write: sum(staff.hours)"),
        ("sum(staff.hous) > 3", "unknown_name", "hous", "“staff” asks nothing called “hous”.", "Did you mean staff.hours?"),
        ("any(staff) ", "needs_where", "any(staff)", "“any” needs a condition.", "staff where …"),
        ("lenght(plate) > 3", "unknown_function", "lenght", "There is no function “lenght”.", "Did you mean length?"),
        ("length(plate, plate) > 3", "wrong_count", "length(plate, plate)", "“length” takes 1 value, here are 2.", "Give a text. It says: how many characters."),
        ("opened < 2027-02-30", "no_such_date", "2027-02-30", "There is no day 2027-02-30.", "Write year-month-day."),
        ("opened + 3 mnths < today", "unknown_unit", "mnths", "There is no unit “mnths”.", "Did you mean months?"),
        ("workers between 7 and 2", "empty_range", "7", "The first limit is above the second.", "Write the smaller one first."),
        ("workers == 3", "other_phrasing", "==", "Equality is written with one sign.", "Write: is"),
        ("workers > ", "unfinished", ">", "The rule stops too early: a value is missing.", "Finish the sentence."),
        ("(workers > 3", "unfinished", "3", "The rule stops too early: a closing bracket is missing.", "Finish the sentence."),
        ('plate matches "99', "open_text", '"99', "This text has no closing quote.", 'Close it with ".'),
        ("plate is 'x'", "wrong_quote", "'", "Texts stand in straight double quotes.", 'Use " on both sides.'),
        ("row > 1", "row_outside", "row", "“row” has a meaning only inside a roster.", ""),
        ("  ", "empty_rule", "  ", "The rule is empty.", "Write a rule or remove it."),
    ],
)  # fmt: skip
def test_faults_have_a_place_plain_words_and_a_mend(text: str, code: str, place: str, message: str, mend: str) -> None:
    tree, faults = check_rule(text, scope(), YES_NO)
    assert tree is None
    fault = faults[0]
    assert (fault.code, text[fault.span.start : fault.span.end], fault.message, fault.mend) == (
        code,
        place,
        message,
        mend,
    )


def test_a_reference_to_something_asked_later_is_refused() -> None:
    _, faults = check_rule("workers > 3 and plate is answered", scope(latest=NAMES.index("tools")), YES_NO)
    assert [f.code for f in faults] == ["asked_later"]


def test_several_faults_of_one_rule_are_all_told() -> None:
    _, faults = check_rule("wrokers > 3 and trade is bycicle and plate > 2", scope(), YES_NO)
    assert [f.code for f in faults] == ["unknown_name", "impossible_code", "wrong_type"]


def test_one_fault_is_told_once() -> None:
    assert len(check_rule("wrokers between 1 and 9", scope(), YES_NO)[1]) == 1


def test_comments_and_line_breaks_are_no_part_of_a_rule() -> None:
    assert value("workers > 3 # more than a family\n  and paid > 0", workers=4, paid=1) is True


@pytest.mark.parametrize(
    ("rule", "mend"),
    [
        ("trade is refused", 'For the code write: trade is "refused"'),
        ("tools is refused", 'For the code write: tools includes "refused"'),
        ("trade is answered", None),
    ],
)
def test_a_code_called_like_a_way_of_answering_is_doubted(rule: str, mend: str | None) -> None:
    codes = {"trade": ["refused"], "tool": ["refused"]}
    around = replace(scope(), codes=lambda name: codes[name])
    tree, faults = check_rule(rule, around, YES_NO)
    assert tree is not None and tree[0] == "status"
    assert [f.mend for f in faults] == ([] if mend is None else [mend])
    assert check_rule('trade is "refused"', around, YES_NO) == (
        ["is", ["variable", 2, 0], ["literal", "code", "refused"]],
        [],
    )
