"""What a unit counts as after its attempts, what is to be tried next, and what rates are made of."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest

from skavo.core.errors import DataError
from skavo.core.sampling.rates import outcome_rates
from skavo.core.visits.attempts import Attempt, next_attempt, part_of_day
from skavo.core.visits.outcomes import (
    FIRST_OUTCOMES,
    AttemptRules,
    check_outcomes,
    counts_as,
    label_in,
    tallied,
    ways_of,
)

KNOWN = {outcome.code: outcome for outcome in FIRST_OUTCOMES}
WAYS = ways_of(FIRST_OUTCOMES)
MONDAY = datetime(2027, 3, 15, 9, 30)


def attempts(*codes: str, hour: int = 9, days: int = 1) -> list[Attempt]:
    return [Attempt(code, MONDAY.replace(hour=hour) + timedelta(days=days * at)) for at, code in enumerate(codes)]


FINAL = [
    ((), None), (("locked",), "locked"), (("locked", "nobody"), "nobody"), (("refused", "locked"), "refused"),
    (("locked", "refused", "completed"), "completed"), (("completed", "locked"), "completed"),
    (("appointment", "locked"), "appointment"), (("not_found", "locked"), "locked"), (("gone", "not_found"), "gone"),
    (("partly", "refused"), "partly"), (("abolished", "locked"), "locked"), (("abolished",), None),
]  # fmt: skip


@pytest.mark.parametrize(("codes", "final"), FINAL)
def test_what_was_learnt_once_is_not_undone_by_a_later_attempt(codes: tuple[str, ...], final: str | None) -> None:
    assert counts_as(attempts(*codes), KNOWN) == final
    assert counts_as(reversed(attempts(*codes)), KNOWN) == final


def test_every_unit_of_a_sample_is_in_the_counts_and_the_unseen_are_not_known_to_be_eligible() -> None:
    final = ["completed"] * 60 + ["partly"] * 4 + ["refused"] * 9 + ["locked"] * 7 + ["moved"] * 2 + ["not_found"] * 3 + ["gone"] * 5 + [None] * 10  # fmt: skip
    found = tallied(final, KNOWN)
    assert (found.interview, found.partial, found.refusal, found.non_contact, found.other) == (60, 4, 9, 7, 2)
    assert (found.unknown_place, found.unknown_other, found.not_eligible) == (3, 10, 5)
    assert found.known + found.unknown + found.not_eligible == len(final)
    assert outcome_rates(found).response[0] == pytest.approx(60 / 95)


def test_after_two_mornings_the_afternoon_is_tried() -> None:
    once, twice = attempts("locked"), attempts("locked", "locked")
    rules, now = AttemptRules(), MONDAY + timedelta(days=3)
    assert next_attempt(once, WAYS, rules, now).part is None
    assert next_attempt(twice, WAYS, rules, now).part == "afternoon"
    assert next_attempt(attempts("locked", "nobody", hour=14), WAYS, rules, now).part == "morning"
    assert next_attempt(twice, WAYS, AttemptRules(other_parts_of_day=False), now).part is None


def test_the_next_attempt_waits_as_long_as_the_rules_say_and_ends_where_they_end() -> None:
    rules, now = AttemptRules(most=3, hours_apart=24), MONDAY
    assert next_attempt([], WAYS, rules, now).before is None
    assert next_attempt(attempts("locked"), WAYS, rules, now).before == MONDAY.replace(hour=9) + timedelta(days=1)
    assert next_attempt(attempts("locked", "locked", "locked"), WAYS, rules, now).standing == "tried enough"
    assert next_attempt(attempts("completed"), WAYS, rules, now).standing == "ended"
    assert next_attempt(attempts("locked", "gone", "locked"), WAYS, rules, now).standing == "ended"


def test_after_a_refusal_somebody_else_goes() -> None:
    rules, refused = AttemptRules(), attempts("locked", "refused")
    assert next_attempt(refused, WAYS, rules, MONDAY).standing == "to pass on"
    # Once it is given to somebody else, it is open again.
    passed_on = [replace(one, own=False) for one in refused]
    assert next_attempt(passed_on, WAYS, rules, MONDAY).standing == "open"


def test_an_appointment_goes_before_the_rules_and_where_it_was_missed_one_more_attempt_is_made() -> None:
    when = MONDAY + timedelta(days=2, hours=5)
    tried = [*attempts("locked", "locked"), Attempt("appointment", MONDAY + timedelta(days=1, hours=1), when)]
    rules = AttemptRules(most=3)
    assert next_attempt(tried, WAYS, rules, MONDAY + timedelta(days=1)).appointment == when
    missed = next_attempt(tried, WAYS, rules, when + timedelta(hours=1))
    assert (missed.standing, missed.before, missed.appointment) == ("open", when, None)
    tried.append(Attempt("locked", when + timedelta(hours=1)))
    assert next_attempt(tried, WAYS, rules, when + timedelta(hours=2)).standing == "tried enough"


def test_the_parts_of_a_day() -> None:
    hours = {0: "morning", 11: "morning", 12: "afternoon", 16: "afternoon", 17: "evening", 23: "evening"}
    assert {hour: part_of_day(MONDAY.replace(hour=hour)) for hour in hours} == hours


def test_a_list_without_an_interview_or_with_a_code_twice_is_refused() -> None:
    check_outcomes(FIRST_OUTCOMES)
    with pytest.raises(DataError, match="stands twice"):
        check_outcomes([*FIRST_OUTCOMES, FIRST_OUTCOMES[2]])
    with pytest.raises(DataError, match="counts as an interview"):
        check_outcomes(FIRST_OUTCOMES[1:])


def test_outcomes_are_said_in_three_languages_and_in_english_elsewhere() -> None:
    for language in ("en", "fr", "ar"):
        assert len({label_in(outcome, language) for outcome in FIRST_OUTCOMES}) == len(FIRST_OUTCOMES)
    assert [label_in(one, "sw") for one in FIRST_OUTCOMES] == [label_in(one, "en") for one in FIRST_OUTCOMES]
