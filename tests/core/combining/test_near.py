"""Near matches: decided pairs, what likeness finds, and what is left for somebody to decide."""

from __future__ import annotations

import random

import pytest

from skavo.core.combining.near import Decision, NearFound, learn_near, mark_of, near_pairs
from skavo.core.combining.parts import parts_of
from skavo.core.combining.spec import Compared, Near
from skavo.core.errors import DataError

COMPARED = [
    Compared(ours="name", theirs="holder", how="text"),
    Compared(ours="ward", theirs="ward", how="exact"),
    Compared(ours="opened", theirs="year", how="whole"),
]
FIRST = [
    "Tern",
    "Two Lamps",
    "Old Forge",
    "Bright Rivet",
    "Harbour",
    "Red Door",
    "Anchor",
    "Kettle",
    "Marram",
    "Pebble",
]
LAST = ["Cycles", "Joinery", "Wireless", "Sails", "Pumps"]


def tables() -> tuple[list[dict[str, str]], list[dict[str, str]]]:
    """Fifty shops, and the same as another office writes them, in the same order."""
    rng = random.Random(3)
    ours = [
        {"name": f"{first} {last}", "ward": rng.choice("abcd"), "opened": str(rng.randrange(1960, 2020))}
        for first in FIRST
        for last in LAST
    ]
    theirs = [
        {
            "holder": row["name"].replace("ing", "in") + (" Ltd" if rng.random() < 0.3 else ""),
            "ward": row["ward"],
            "year": str(int(row["opened"]) + rng.choice([0, 0, 1])),
        }
        for row in ours
    ]
    return ours, theirs


OURS, THEIRS = tables()
PLACES = [f"{n:04d}" for n in range(1, len(OURS) + 1)]
NEAR = Near(compare=COMPARED, blocks=[["ward"], ["name"]])
LEARNT = NEAR.model_copy(update={"learnt": learn_near(OURS, THEIRS, NEAR)})


def found(near: Near = LEARNT, decisions: list[Decision] | None = None, open_: list[int] | None = None) -> NearFound:
    mine = open_ if open_ is not None else list(range(len(OURS)))
    return near_pairs(OURS, THEIRS, PLACES, near, decisions or [], open_=mine)


def said(ours: int, theirs: int, decided: str, number: int = 1) -> Decision:
    marks = mark_of(OURS[ours], ["name", "ward", "opened"]), mark_of(THEIRS[theirs], ["holder", "ward", "year"])
    return Decision(PLACES[ours], *marks, "same" if decided == "same" else "apart", number)


def test_each_shop_finds_itself() -> None:
    partners = found().partners
    assert len(partners) >= 45
    assert all(ours == theirs for ours, theirs in partners.items())


def test_nothing_is_found_before_anything_is_learnt() -> None:
    assert found(NEAR).pairs == []
    with pytest.raises(DataError, match="Learn their weights"):
        parts_of(OURS[0], THEIRS[0], NEAR)
    with pytest.raises(DataError, match="no rows yet"):
        learn_near([], THEIRS, NEAR)


def test_known_pairs_teach_what_same_rows_show() -> None:
    same = [(at, at) for at in range(len(OURS))]
    near = NEAR.model_copy(update={"learnt": learn_near(OURS, THEIRS, NEAR, same, frozenset({"name"}))})
    assert near.learnt is not None and LEARNT.learnt is not None
    agreed = near.learnt.weights[1].same
    # With the half that is seen anyway of either level.
    assert agreed == pytest.approx([0.5 / 51, 50.5 / 51])
    assert near.learnt.weights[0].same != pytest.approx(near.learnt.weights[1].same[:1] * 4)


def test_a_decision_counts_whatever_the_score() -> None:
    apart = found(decisions=[said(0, 0, "apart")])
    assert 0 not in apart.partners or apart.partners[0] != 0
    assert [(p.ours, p.theirs, p.decision) for p in apart.pairs if p.state == "not the same"] == [(0, 0, 1)]
    forced = found(decisions=[said(0, 7, "same", 9)])
    assert forced.partners[0] == 7
    assert [(p.theirs, p.decision) for p in forced.pairs if p.ours == 0] == [(7, 9)]


def test_a_decision_holds_only_while_both_rows_say_the_same() -> None:
    old = said(0, 0, "apart")
    changed = Decision(old.place, "another", old.theirs, old.decided)
    (pair,) = [p for p in found(decisions=[changed]).pairs if (p.ours, p.theirs) == (0, 0)]
    assert (pair.state, pair.before) == ("doubtful", "apart")
    elsewhere = Decision("0999", old.ours, old.theirs, old.decided)
    assert found(decisions=[elsewhere]).partners == found().partners


def test_two_that_are_as_likely_are_left_to_somebody() -> None:
    twice = [*THEIRS, THEIRS[0]]
    pairs = near_pairs(OURS, twice, PLACES, LEARNT, [], open_=[0]).pairs
    assert [(p.theirs, p.state) for p in pairs] == [(0, "doubtful"), (len(THEIRS), "doubtful")]


def test_a_row_of_theirs_may_belong_to_one_only() -> None:
    mine, places = [OURS[0], OURS[0]], ["0001", "0002"]
    several = near_pairs(mine, THEIRS, places, LEARNT, [], open_=[0, 1])
    assert several.partners == {0: 0, 1: 0}
    once = near_pairs(mine, THEIRS, places, LEARNT.model_copy(update={"once": True}), [], open_=[0, 1])
    assert list(once.partners.values()).count(0) == 1


def test_limits_say_what_is_in_doubt() -> None:
    strict = found(LEARNT.model_copy(update={"match": 1000.0}))
    assert strict.partners == {} and strict.count("doubtful") >= len(OURS)
    assert all(p.bits > LEARNT.apart for p in strict.pairs)
    with pytest.raises(ValueError, match="apart from more on"):
        Near(compare=COMPARED, blocks=[["ward"]], match=-1, apart=1)


def test_the_parts_of_a_pair_add_up_to_its_score() -> None:
    pair = found().pairs[0]
    read = parts_of(OURS[pair.ours], THEIRS[pair.theirs], LEARNT)
    assert read.total == pytest.approx(pair.bits)
    assert read.total == pytest.approx(read.prior + sum(part.bits for part in read.parts))
    assert [part.found for part in read.parts][1] == "same" and "ward" in read.blocks
    empty = parts_of({**OURS[0], "opened": ""}, THEIRS[0], LEARNT)
    assert (empty.parts[2].found, empty.parts[2].bits) == ("says nothing", 0.0)
