"""The same unit interviewed twice: found by likeness, decided into the plan, undone with it."""

from __future__ import annotations

from typing import Any

import pytest

from skavo.core.cleaning import near_copies as finding
from skavo.core.cleaning.near_copies import CopiesSearch
from skavo.core.cleaning.steps import Duplicates
from skavo.core.errors import DataError
from skavo.core.questionnaire.script import Code, CodeList
from skavo.services import near_copies, plans
from skavo.services.desk import Desk
from skavo.services.near_copies import CopyDecision, SearchIn
from skavo.services.refusals import Refused
from skavo.store.database import Store
from tests.samples import part, script
from tests.services.conftest import desk_of
from tests.store.study import SmallStudy, small_study

SHOPS = [
    ("Tern Cycles", "k", 1998), ("Two Lamps Joinery", "k", 1971), ("Old Forge Pumps", "l", 2003), ("Red Door Sails", "m", 1985),
    ("Kettle Wireless", "l", 2011), ("Anchor Shoes", "n", 1999), ("Marram Phones", "m", 2007), ("Pebble Pumps", "n", 1968),
]  # fmt: skip
TWICE = ("Tern Cycle", "k", 1998)
SEARCH = CopiesSearch(compare={"called": "text", "ward": "exact", "opened": "whole"}, blocks=[["ward"]])


@pytest.fixture
def shops(store: Store) -> SmallStudy:
    wards = CodeList(name="ward", codes=[Code(code=code, label={"en": code.upper()}) for code in "klmn"])
    lines = [
        part(1, "text", "called", sensitive=False), part(1, "single answer", "ward", code_list="ward"),
        part(1, "whole number", "opened"), part(1, "text", "phone", sensitive=True),
    ]  # fmt: skip
    study = small_study(store, script(*lines, lists=(wards,)))
    for number, (called, ward, opened) in enumerate([*SHOPS, TWICE]):
        study.arrive(
            study.document(answers={"called": called, "ward": ward, "opened": opened, "phone": f"555 {number}"})
        )
    return study


def keys(desk: Desk, study: SmallStudy) -> list[str]:
    with desk.store.reading() as session:
        return desk.data(session, study.questionnaire_id).data["interviews"].frame["interview.key"].to_list()


def test_what_is_nearly_the_same_is_found_and_read_part_by_part(desk: Desk, shops: SmallStudy) -> None:
    found = near_copies.search_copies(desk, shops.questionnaire_id, SearchIn(search=SEARCH))
    first = found.pairs[0]
    assert (first.one, first.other, first.called) == ("0001", "0009", ["Tern Cycles", "Tern Cycle"])
    assert [part.found for part in first.parts] == ["nearly the same", "same", "same"]
    assert first.bits == pytest.approx(found.prior + sum(part.bits for part in first.parts))
    assert found.looked_at == 6


def test_what_is_compared_is_proposed_and_nothing_hidden(desk: Desk, shops: SmallStudy) -> None:
    mine = near_copies.search_copies(desk, shops.questionnaire_id, SearchIn())
    theirs = near_copies.search_copies(desk_of(desk.store, "analyst"), shops.questionnaire_id, SearchIn())
    assert mine.search is not None and theirs.search is not None
    assert {"called", "phone", "opened"} <= set(mine.search.compare)
    assert "phone" not in theirs.search.compare
    with pytest.raises(DataError, match="“phone” is no variable"):
        near_copies.search_copies(
            desk_of(desk.store, "analyst"), shops.questionnaire_id,
            SearchIn(search=CopiesSearch(compare={"phone": "exact"}, blocks=[["phone"]])),
        )  # fmt: skip


def test_a_decision_is_a_step_of_the_plan(desk: Desk, shops: SmallStudy) -> None:
    q = shops.questionnaire_id
    plan = near_copies.decide_copy(desk, q, CopyDecision(one="0001", other="0009", decided="same"))
    assert keys(desk, shops) == [f"000{n}" for n in range(1, 9)]
    plan = near_copies.decide_copy(desk, q, CopyDecision(one="0001", other="0002", decided="apart"))
    (step,) = plan.steps
    assert isinstance(step.body, Duplicates)
    assert (step.body.by_hand, step.body.apart) == ({"0009": "0001"}, [["0001", "0002"]])
    found = near_copies.search_copies(desk, q, SearchIn(search=SEARCH.model_copy(update={"above": -50})))
    assert found.decided == 2 and ("0001", "0002") not in [(p.one, p.other) for p in found.pairs]
    state = plans.show_plan(desk, q).state
    plans.undo(desk, q, state)
    plans.undo(desk, q, plans.show_plan(desk, q).state)
    assert len(keys(desk, shops)) == 9


def test_the_later_one_may_be_kept_and_a_pair_of_one_is_none(desk: Desk, shops: SmallStudy) -> None:
    q = shops.questionnaire_id
    near_copies.decide_copy(desk, q, CopyDecision(one="0001", other="0009", decided="same", kept="other"))
    assert "0001" not in keys(desk, shops) and "0009" in keys(desk, shops)
    with pytest.raises(Refused, match="no copy of itself"):
        near_copies.decide_copy(desk, q, CopyDecision(one="0001", other="0001", decided="same"))


def test_what_somebody_else_says_meanwhile_is_not_lost(
    desk: Desk, shops: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    q, written = shops.questionnaire_id, near_copies.change_step
    near_copies.decide_copy(desk, q, CopyDecision(one="0001", other="0009", decided="same"))

    def quicker(desk: Desk, q: int, step: int, body: Any) -> Any:
        monkeypatch.setattr(near_copies, "change_step", written)
        near_copies.decide_copy(desk, q, CopyDecision(one="0003", other="0004", decided="apart"))
        return written(desk, q, step, body)

    monkeypatch.setattr(near_copies, "change_step", quicker)
    (step,) = near_copies.decide_copy(desk, q, CopyDecision(one="0005", other="0006", decided="apart")).steps
    assert isinstance(step.body, Duplicates)
    assert (step.body.by_hand, step.body.apart) == ({"0009": "0001"}, [["0003", "0004"], ["0005", "0006"]])


def test_a_search_that_brings_too_many_together_says_what_to_do(
    desk: Desk, shops: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(finding, "_MOST_PAIRS", 3)
    found = near_copies.search_copies(desk, shops.questionnaire_id, SearchIn(search=SEARCH))
    assert "More than 3 pairs agree in ward" in found.problem and found.pairs == []
    assert found.search == SEARCH


def test_without_interviews_there_is_nothing_to_search(desk: Desk, study: SmallStudy) -> None:
    found = near_copies.search_copies(desk, study.questionnaire_id, SearchIn())
    assert (found.search, found.pairs) == (None, [])
