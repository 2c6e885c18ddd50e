"""Rows of two tables that may be the same unit: found, weighed, judged."""

from __future__ import annotations

import numpy as np
import pytest

from skavo.core.errors import DataError
from skavo.core.linking.compare import MISSING, Cells, Comparison, How, levels_of, read_comparison
from skavo.core.linking.link import Linked, link
from skavo.core.linking.weights import learn, shares_of
from tests.core.linking.people import two_lists

COMPARED = [read_comparison(one) for one in ("name=full_name:text", "born=born:date", "ward=ward:exact")]


def level(how: How, a: str, b: str) -> int:
    return int(levels_of(Cells(how, [a]), Cells(how, [b]), np.array([0]), np.array([0]))[0])


@pytest.mark.parametrize(
    ("how", "a", "b", "expected"),
    [
        ("text", "Élan Dukstra", "elan  dukstra", 3),
        ("text", "Dukstra Elan", "Elan Dukstra", 3),
        ("text", "Elan Dukstra", "Elan Dukstr", 2),
        ("text", "Elan Dukstra", "Wim Ostlu", 0),
        ("text", "", "x", MISSING),
        ("text", "  ", "x", MISSING),
        ("date", "1971-04-03", "1971-04-03", 3),
        ("date", "1971-04-03T09:00", "1971-04-03", 3),
        ("date", "1971-04-03", "1971-03-04", 2),
        ("date", "1971-04-03", "1971-04-02", 2),
        ("date", "1971-04-03", "1981-04-03", 2),
        ("date", "1971-04-03", "1971-11-25", 1),
        ("date", "1971-04-03", "1950-11-25", 0),
        ("date", "about 1971", "about 1971", 3),
        ("date", "about 1971", "1950-01-01", 0),
        ("number", "3,5", "3.50", 2),
        ("number", "100", "100.9", 1),
        ("number", "100", "120", 0),
        ("number", "a few", "A few", 2),
        ("exact", "W1", "w1", 1),
        ("exact", "W1", "W2", 0),
    ],
)
def test_cells_are_compared_in_levels(how: How, a: str, b: str, expected: int) -> None:
    assert level(how, a, b) == level(how, b, a) == expected


@pytest.mark.parametrize("written", ["name", "name=full:rough", "=full:text", "name=:text", ":text", ""])
def test_what_is_no_comparison_is_told(written: str) -> None:
    with pytest.raises(DataError, match="left=right:how"):
        read_comparison(written)


@pytest.mark.parametrize("slips", [0.1, 0.3, 0.5])
def test_people_who_are_spelt_otherwise_are_found(slips: float) -> None:
    left, right, truth = two_lists(1000, 500, slips)
    linked = link(left, right, COMPARED, ["ward", "born"])
    looked = {(pair.left, pair.right) for pair in linked.pairs}
    found = {(pair.left, pair.right) for pair in linked.pairs if pair.verdict == "match"}
    doubtful = {(pair.left, pair.right) for pair in linked.pairs if pair.verdict == "doubtful"}
    assert len(found & truth) >= 0.99 * len(found)
    assert len(found & truth) >= 0.93 * len(looked & truth)
    assert len((found | doubtful) & truth) >= 0.97 * len(looked & truth)
    assert linked.expected == pytest.approx(len(looked & truth), rel=0.05)


def test_no_row_matches_twice_and_the_likeliest_come_first() -> None:
    left, right, _ = two_lists(400, 200, 0.3)
    linked = link(left, [*right, *right], COMPARED, ["ward", "born"])
    matches = [pair for pair in linked.pairs if pair.verdict == "match"]
    assert len({pair.left for pair in matches}) == len({pair.right for pair in matches}) == len(matches) > 150
    scores = [pair.score for pair in linked.pairs]
    assert scores == sorted(scores, reverse=True)


def test_the_same_tables_give_the_same_pairs_and_blocks_are_united() -> None:
    left, right, _ = two_lists(300, 150, 0.3)
    first, again = (link(left, right, COMPARED, ["ward", "born"]) for _ in range(2))
    assert first == again
    alone = [{(p.left, p.right) for p in link(left, right, COMPARED, [block]).pairs} for block in ("ward", "born")]
    assert {(p.left, p.right) for p in first.pairs} == alone[0] | alone[1]
    finer = {(p.left, p.right) for p in link(left, right, COMPARED, ["ward+born"]).pairs}
    assert finer == alone[0] & alone[1]


def test_a_weight_is_read_part_by_part() -> None:
    left, right, _ = two_lists(600, 300, 0.3)
    linked: Linked = link(left, right, COMPARED, ["ward", "born"])
    for weight in linked.weights:
        assert sum(weight.same) == pytest.approx(1) and sum(weight.others) == pytest.approx(1)
        assert weight.bits == pytest.approx(list(np.log2(np.array(weight.same) / np.array(weight.others))))
        assert weight.bits[0] < 0 < weight.bits[-1]


def test_empty_tables_give_no_pair() -> None:
    left, right, _ = two_lists(10, 5, 0)
    for one, other in (([], right), (left, []), ([], [])):
        assert link(one, other, COMPARED, ["ward"]).pairs == []


def test_what_is_empty_is_in_no_block() -> None:
    rows = [{"name": "A", "full_name": "A", "born": "", "ward": ""}] * 3
    assert link(rows, rows, COMPARED, ["ward", "born"]).pairs == []


@pytest.mark.parametrize(
    ("comparisons", "blocks", "code", "said"),
    [
        ([], ["ward"], "no_comparison", "column"),
        (COMPARED, [], "no_block", "too many"),
        (COMPARED, ["wards"], "unknown_block", "ward"),
        ([Comparison("nam", "full_name", "text")], ["nam"], "unknown_column", "name"),
        ([Comparison("name", "fullname", "text")], ["name"], "unknown_column", "full_name"),
    ],
)
def test_what_cannot_be_linked_is_told_with_a_mend(
    comparisons: list[Comparison], blocks: list[str], code: str, said: str
) -> None:
    left, right, _ = two_lists(4, 2, 0)
    with pytest.raises(DataError, match=said) as refused:
        link(left, right, comparisons, blocks)
    assert refused.value.code == code


def test_what_same_pairs_show_is_found_again_from_pairs_that_were_made_by_it() -> None:
    """The model of Fellegi and Sunter (1969) with known shares: EM finds them, and how many pairs are the same."""
    chance = np.random.default_rng(7)
    same = [[0.02, 0.08, 0.9], [0.1, 0.9], [0.05, 0.05, 0.1, 0.8]]
    others = [[0.9, 0.08, 0.02], [0.7, 0.3], [0.85, 0.1, 0.04, 0.01]]
    n, share = 40_000, 0.05
    is_same = chance.random(n) < share
    levels = [
        np.where(is_same, chance.choice(len(s), n, p=s), chance.choice(len(o), n, p=o)).astype(np.int8)
        for s, o in zip(same, others, strict=True)
    ]
    seen = [shares_of(chance.choice(len(o), 200_000, p=o).astype(np.int8), len(o)) for o in others]
    learnt = learn(levels, seen, [True, True, True])
    assert learnt.pairs == pytest.approx(is_same.sum(), rel=0.03)
    for found, known in zip(learnt.same, same, strict=True):
        assert found is not None
        assert found == pytest.approx(np.array(known), abs=0.02)
