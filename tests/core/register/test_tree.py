"""The tree of a register against the plainest way to walk one."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.register.tree import NOWHERE, tree_of

# Each unit hangs under an earlier one, or under none; then they are mixed.
Parents = st.lists(st.integers(0, 30), max_size=30).flatmap(
    lambda picks: st.permutations([(i + 1, None if pick >= i else pick + 1) for i, pick in enumerate(picks)])
)


def walked(units: list[tuple[int, int | None]], above: int | None = None, depth: int = 0) -> list[tuple[int, int]]:
    """(unit, depth) in the order in which they unfold."""
    found = []
    for unit, parent in sorted(units, key=lambda one: f"{one[0]:03}"):
        if parent == above:
            found += [(unit, depth), *walked(units, unit, depth + 1)]
    return found


@given(Parents)
def test_units_stand_as_they_unfold_and_a_branch_is_a_run(units: list[tuple[int, int | None]]) -> None:
    tree = tree_of([u for u, _ in units], [p for _, p in units], [(0, f"{u:03}", "") for u, _ in units])
    expected = walked(units)
    assert list(zip(tree.ids.tolist(), tree.depth.tolist(), strict=True)) == expected
    parents = dict(units)
    for place, (unit, _) in enumerate(expected):
        above = int(tree.above[place])
        assert (None if above == NOWHERE else int(tree.ids[above])) == parents[unit]
        assert tree.place_of(unit) == place
        branch = {u for u, _ in walked(units, unit)} | {unit}
        assert set(tree.ids[place : tree.ends[place]].tolist()) == branch
        assert tree.ids[tree.below(place)].tolist() == sorted(u for u, p in units if p == unit)


@given(Parents, st.randoms(use_true_random=False))
def test_what_is_carried_upward_is_what_lies_in_the_branch(units: list[tuple[int, int | None]], chance: object) -> None:
    tree = tree_of([u for u, _ in units], [p for _, p in units], [(0, f"{u:03}", "") for u, _ in units])
    known = {u: float(u * 7 % 5) if u % 3 else float("nan") for u, _ in units}
    values = np.array([known[int(u)] for u in tree.ids])
    sums, least, most = (tree.carried(values, how) for how in ("sum", "least", "most"))
    counts = tree.counts(np.array([int(u) % 2 == 0 for u in tree.ids], dtype=np.bool_))
    for place in range(len(tree)):
        inside = values[place : tree.ends[place]]
        held = inside[~np.isnan(inside)]
        for found, fold in ((sums, np.sum), (least, np.min), (most, np.max)):
            assert np.isnan(found[place]) if not len(held) else found[place] == fold(held)
        assert counts[place] == sum(1 for u in tree.ids[place : tree.ends[place]] if u % 2 == 0)


def test_a_unit_whose_parent_is_gone_stands_outermost() -> None:
    tree = tree_of([1, 2], [99, 1], [(0, "a", ""), (0, "b", "")])
    assert tree.depth.tolist() == [0, 1]


def test_units_that_hang_in_a_ring_are_all_there() -> None:
    tree = tree_of([1, 2, 3, 4], [2, 3, 1, None], [(0, str(n), "") for n in range(4)])
    assert sorted(tree.ids.tolist()) == [1, 2, 3, 4] and len(set(tree.depth.tolist())) > 1


def test_what_is_not_in_the_tree_has_no_place() -> None:
    tree = tree_of([5], [None], [(0, "", "")])
    assert tree.place_of(6) == NOWHERE and tree_of([], [], []).place_of(1) == NOWHERE
