"""What people write by habit is understood well enough to say how a rule says it."""

from __future__ import annotations

import pytest

from skavo.core.questionnaire.help import HELP, example_script
from skavo.core.questionnaire.outline import base_scope, build_outline, symbols_of
from skavo.core.rules.check import check_rule
from skavo.core.rules.faults import Fault
from skavo.core.rules.phrasings import CALLS, PHRASINGS, WORDS, phrasing_fault
from skavo.core.rules.types import YES_NO, Scope


def scope() -> Scope:
    script = example_script()
    entries = build_outline(script)
    return base_scope(script, entries, symbols_of(script, entries))


def faults(rule: str) -> list[Fault]:
    return check_rule(rule, scope(), YES_NO)[1]


# rule, the piece at fault, the mend
UNREADABLE = [
    ("workers == 3", "==", "Write: is"),
    ("workers > 1 && paid > 1", "&&", "Write: and"),
    ("workers > 1 || paid > 1", "||", "Write: or"),
    ("workers <> 3", "<>", "Write: is not"),
    ("workers =< 3", "=<", "Write: <="),
    ("workers => 3", "=>", "Write: >="),
    ("!(workers > 3)", "!", "Write: not"),
    ("workers % 2 = 0", "%", "For what is left of a division write remainder(a, b); for a share divide by 100."),
    ("workers ≥ 3", "≥", "Write: <=, >= or is not."),
    ("workers × 2 > 3", "×", "Write: *"),
    ("workers ^ 2 > 3", "^", "Multiply instead: a * a."),
    ("workers ** 2 > 3", "**", "Multiply instead: a * a."),
    ("workers > 1 AND paid > 1", "AND", "Write: and"),
    ("if workers > 1 then paid > 1", "if workers > 1 then paid > 1", "Add: else yes, or else no."),
    ("paid is not answered", "paid is not answered", "Write: paid is missing"),
    ("paid is not missing and workers > 2", "paid is not missing", "Write: paid is answered"),
    ("paid is not refused", "paid is not refused", "Write: not paid is refused"),
    ("paid is not asked", "paid is not asked", "Write: paid was asked, or: not paid was asked"),
    ("paid is known", "paid is known", "Write: paid is answered"),
    ("workers is not between 1 and 3", "workers is not between", "Write: not workers between … and …"),
    ("workers not between 1 and 3", "workers not between", "Write: not workers between … and …"),
    ("workers is between 1 and 3", "workers is between", "Write: workers between … and …"),
    ("workers between 1 to 3", "between 1 to", "Write: between 1 and …"),
    ("workers is at least 3", "is at least", "Write: >="),
    ("workers is at most 3", "is at most", "Write: <="),
    ("workers is more than 3", "is more than", "Write: >"),
    ("workers less than 3", "less than", "Write: <"),
    ("workers equals 3", "equals", "Write: is"),
    ("trade not in (phone, bicycle)", "not in", "Write: is none of (…)"),
    ("trade in (phone, bicycle)", "in", "Write: is one of (…)"),
    ("workers is one of 1, 2", "is one of 1, 2", "Write: is one of (a, b), or is none of (a, b)"),
    ("tools includes none of (saw)", "includes none of", "Write: not tools includes any of (…), with your variable for tools"),
    ("tools contains saw", "contains", "Write: includes"),
    ('unit_code like "99"', "like", 'Write: matches "…" with a mask'),
    ("workers >= 0 and <= 7", "and <=", "Say again what is compared, as in: a >= 0 and a <= 7"),
    ("1 < workers < 7", "< workers <", "Write: a between 1 and 7, or two comparisons joined by “and”."),
    ("days_open > 3,5", "3,5", "Write: 3.5"),
    ("days_open > .5", ".5", "Write: 0.5"),
    ("smallest(workers; paid) > 1", ";", "Separate values by a comma."),
    ("trade is one of [phone, bicycle]", "[", "Write: ( and )"),
    ("trade is one of {phone, bicycle}", "{", "Write: ( and )"),
]  # fmt: skip


@pytest.mark.parametrize(("rule", "piece", "mend"), UNREADABLE)
def test_a_phrase_from_elsewhere_is_told_with_skavos_own(rule: str, piece: str, mend: str) -> None:
    (fault,) = faults(rule)
    assert (rule[fault.span.start : fault.span.end], fault.mend) == (piece, mend)
    assert fault.code in ("other_phrasing", "wrong_character")


def test_every_phrase_of_the_table_is_tried_here() -> None:
    mends = {phrasing_fault(rule, rule.index(piece)) for rule, piece, _ in UNREADABLE}
    told = {fault.message for fault in mends if fault is not None}
    assert len(UNREADABLE) >= len(PHRASINGS) and told
    untried = [p.pattern.pattern for p in PHRASINGS if not any(p.pattern.search(rule) for rule, _, _ in UNREADABLE)]
    assert untried == []


@pytest.mark.parametrize(
    ("rule", "piece", "mend"),
    [
        ("trade is bicycle or phone", "phone", "Write: trade is one of (bicycle, phone)"),
        ("tools includes saw or vice", "vice", "Write: tools includes any of (saw, vice)"),
        ("tools includes saw and vice", "vice", "Write: tools includes all of (saw, vice)"),
        ("workers > 1 or paid", "paid", "Compare it with something, as in: age >= 15"),
        ("count(staff where age) > 2", "age", "Compare it with something, as in: age >= 15"),
        ("workers is empty", "empty", "Write: … is missing"),
        ("has_apprentices is true", "true", "Write: yes"),
        ("exists(workers)", "exists", "Write: … is answered"),
        ("MAX(workers, paid) > 2", "MAX", "Write: largest(a, b), or over a roster highest(roster.variable)"),
        ("sum(staff) > 3", "staff", "Say of what: sum(staff.age)"),
        ("first(staff) is yes", "staff", "Say of what: first(staff.name)"),
        ("count(staff.age) > 2", "staff.age", "Write: count(staff where age …)"),
        ("years(opened) > 3", "years(opened)", "Give a date, a date. It says: completed years from a to b."),
        ('opened > "2020-01-01"', '"2020-01-01"', "Write it without quotes: 2020-01-01"),
        ('workers > "3"', '"3"', "Write it without quotes: 3"),
        ("opened > 01/02/2020", "01/02/2020", "A day is written year-month-day, as in 2027-03-14."),
        ('opened is "2020-01-01"', '"2020-01-01"', "A day is written year-month-day and without quotes, as in 2027-03-14."),
        ("workshop is w7", "w7", 'A unit is named in quotes: "w7"'),
    ],
)  # fmt: skip
def test_what_can_be_read_but_not_meant_is_told_too(rule: str, piece: str, mend: str) -> None:
    (fault,) = faults(rule)
    assert (rule[fault.span.start : fault.span.end], fault.mend) == (piece, mend)


def test_phrases_inside_texts_and_comments_are_left_alone() -> None:
    (fault,) = faults('unit_code is "a && b" and )  # <> and %')
    assert (fault.code, fault.mend) == ("unexpected", "Expected a value here.")


def test_no_word_of_the_tables_hides_a_form_of_the_language() -> None:
    for example in (e for topic in HELP for e in topic.examples):
        assert check_rule(example.rule, scope(), None)[1] == []
    assert not {*WORDS} & {*scope().symbols}
    assert all(mend for mend in (*WORDS.values(), *CALLS.values()))
