"""Common practice of the trade, each as a complete little questionnaire: *common practice* throughout (QUALITY.md)."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.view import all_findings, show_step, steps
from skavo.core.questionnaire.script import Code, CodeList, Script
from skavo.core.rehearsal.proof.prove import prove
from skavo.core.rehearsal.rehearse import rehearse
from tests.samples import code_list, part, release_of, script

NOW = datetime(2027, 3, 14, 10, tzinfo=UTC)
SOURCES = code_list("source", "wages", "trade", "rent", "none", exclusive="none")


def days_of_a_week() -> Script:
    return script(part(1, "whole number", "days", must=["days between 0 and 7"]))


def identifier() -> Script:
    return script(part(1, "text", "plate", must=['plate matches "****_999999"']))


def household() -> Script:
    return script(
        part(1, "whole number", "members", must=["members between 1 and 30"]),
        part(1, "whole number", "active", must=["active <= members"]),
    )


def incomes() -> Script:
    return script(
        part(1, "multiple answer", "sources", code_list="source"),
        part(1, "roster", "income", repeated="for each code in sources", asked_when="not sources includes none"),
        part(2, "decimal", "amount", wording={"en": "How much from this source?"}, must=["amount >= 0"]),
        part(1, "derived value", "total", derived="sum(income.amount)"),
        lists=(SOURCES,),
    )


def three_problems() -> Script:
    return script(
        part(1, "single answer", "worst", code_list="problem"),
        part(1, "single answer", "second", code_list="problem", must=["second is not worst"]),
        part(1, "single answer", "third", code_list="problem", must=["third is none of (worst, second)"]),
        lists=(code_list("problem", "water", "road", "power", "school"),),
    )


def trips() -> Script:
    return script(part(1, "whole number", "trips", must=["trips < 367"]))


def repeated_by_a_count() -> Script:
    return script(
        part(1, "whole number", "children", must=["children between 0 and 15"]),
        part(1, "roster", "child", repeated="children times"),
        part(2, "text", "name", wording={"en": "Name of child {row}?"}),
    )


def cascade() -> Script:
    places = [("p1", "north"), ("p2", "north"), ("p3", "south")]
    return script(
        part(1, "single answer", "district", code_list="district"),
        part(1, "single answer", "place", code_list="place", code_filter="place.district is district"),
        lists=(
            code_list("district", "north", "south"),
            CodeList(
                name="place", codes=[Code(code=c, label={"en": c}, attributes={"district": d}) for c, d in places]
            ),
        ),
    )


def position() -> Script:
    return script(part(1, "point", "here", should=["accuracy(here) <= 12"]))


ALL = [days_of_a_week, identifier, household, incomes, three_problems, trips, repeated_by_a_count, cascade, position]


def broken(sample: Script, answers: dict[str, Any]) -> list[str]:
    return [f["path"] for f in all_findings(Engine(release_of(sample), answers=answers))]


@pytest.mark.parametrize(
    ("make", "answers", "paths"),
    [
        (days_of_a_week, {"days": 0}, []),
        (days_of_a_week, {"days": 7}, []),
        (days_of_a_week, {"days": 8}, ["days"]),
        (days_of_a_week, {"days": -1}, ["days"]),
        (identifier, {"plate": "KE4X_123456"}, []),
        (identifier, {"plate": "KE4_123456"}, ["plate"]),
        (identifier, {"plate": "KE4X_12345"}, ["plate"]),
        (identifier, {"plate": "KE4X-123456"}, ["plate"]),
        (household, {"members": 4, "active": 4}, []),
        (household, {"members": 4, "active": 5}, ["active"]),
        (household, {"active": 5}, []),
        (three_problems, {"worst": "water", "second": "road", "third": "power"}, []),
        (three_problems, {"worst": "water", "second": "water"}, ["second"]),
        (three_problems, {"worst": "water", "second": "road", "third": "water"}, ["third"]),
        (three_problems, {"worst": "water", "second": "road", "third": "road"}, ["third"]),
        (trips, {"trips": 366}, []),
        (trips, {"trips": 367}, ["trips"]),
        (cascade, {"district": "north", "place": "p2"}, []),
        (cascade, {"district": "south", "place": "p2"}, ["place"]),
        (position, {"here": {"latitude": 1.0, "longitude": 1.0, "accuracy": 12.0}}, []),
        (position, {"here": {"latitude": 1.0, "longitude": 1.0, "accuracy": 13.0}}, ["here"]),
    ],
)
def test_what_is_good_enough_and_what_is_not(make: Any, answers: dict[str, Any], paths: list[str]) -> None:
    assert broken(make(), answers) == paths


def test_income_is_asked_in_turn_for_the_sources_that_were_named_only() -> None:
    engine = Engine(release_of(incomes()), answers={"sources": ["rent", "wages"]})
    way = [path_of(engine.release, i, r) for i, r in steps(engine)]
    assert way == ["sources", "income/wages/amount", "income/rent/amount"]
    engine.answer("income/wages/amount", "120.50")
    engine.answer("income/rent/amount", "30.25")
    assert engine.derived_values() == {"total": "150.75"}
    engine.answer("sources", ["none"])
    assert [path_of(engine.release, i, r) for i, r in steps(engine)] == ["sources"]


def test_rows_say_their_number_in_the_wording() -> None:
    engine = Engine(release_of(repeated_by_a_count()), answers={"children": 3})
    titles = ["".join(p["text"] for p in show_step(engine, f"child/{n}/name")["wording"]) for n in (1, 2, 3)]
    assert titles == ["Name of child 1?", "Name of child 2?", "Name of child 3?"]


def test_a_district_offers_its_places_only() -> None:
    engine = Engine(release_of(cascade()), answers={"district": "north"})
    assert [c["code"] for c in show_step(engine, "place")["codes"]] == ["p1", "p2"]


@pytest.mark.parametrize("make", ALL)
def test_each_of_them_can_be_rehearsed_and_proved(make: Any) -> None:
    release = release_of(make())
    assert rehearse(release, 15, 1, now=NOW).made == 15
    proof = prove(release, NOW)
    assert (proof.unreachable, proof.contradictions) == ([], [])
