"""The tree of a register as columns: who lies below whom, and figures carried upward.

Units stand in the order in which a reader unfolds them, each before what lies below it, so that a branch is a run of
places and any count of a branch a difference of two sums. 100,000 units are put in order in some hundredths of a second.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from skavo.core.register.settings import How

Places = NDArray[np.int64]
Figures = NDArray[np.float64]
Mask = NDArray[np.bool_]
NOWHERE = -1


@dataclass(frozen=True)
class Tree:
    """All columns are in the tree's order. `ids` are the units', `above` the place of the one above, -1 of the
    outermost; `depth` counts from 0; `ends` is the place behind the last unit of each one's branch."""

    ids: Places
    above: Places
    depth: Places
    ends: Places
    # The places in the order in which the units were given.
    given: Places

    def __len__(self) -> int:
        return len(self.ids)

    def place_of(self, unit_id: int) -> int:
        """Where a unit stands; -1 where it is not in the tree."""
        found = self._sorted_ids.searchsorted(unit_id)
        if found == len(self.ids) or self._sorted_ids[found] != unit_id:
            return NOWHERE
        return int(self._by_id[found])

    @cached_property
    def _by_id(self) -> Places:
        return np.argsort(self.ids, kind="stable")

    @cached_property
    def _sorted_ids(self) -> Places:
        return self.ids[self._by_id]

    def below(self, place: int) -> Places:
        """The places directly below one, -1 for the outermost, in order."""
        first, end = (0, len(self)) if place == NOWHERE else (place + 1, int(self.ends[place]))
        level = 0 if place == NOWHERE else int(self.depth[place]) + 1
        return first + np.flatnonzero(self.depth[first:end] == level)

    def way_to(self, place: int) -> list[int]:
        """The places above one, the outermost first."""
        way: list[int] = []
        while (place := int(self.above[place])) != NOWHERE:
            way.insert(0, place)
        return way

    def counts(self, mask: Mask) -> Places:
        """How many of each branch, the unit itself included, are in the mask."""
        sums = np.concatenate([[0], np.cumsum(mask)])
        counted: Places = sums[self.ends] - sums[:-1]
        return counted

    def carried(self, values: Figures, how: How) -> Figures:
        """What the values of each branch, the unit's own included, add up to, or their least or most; NaN for none."""
        if how == "sum":
            known = ~np.isnan(values)
            sums = np.concatenate([[0.0], np.cumsum(np.where(known, values, 0.0))])
            found: Figures = sums[self.ends] - sums[:-1]
            found[self.counts(known) == 0] = np.nan
            return found
        fold = np.fmin if how == "least" else np.fmax
        folded: Figures = values.copy()
        for level in range(int(self.depth.max(initial=0)), 0, -1):
            here = np.flatnonzero(self.depth == level)
            fold.at(folded, self.above[here], folded[here])
        return folded

    def with_above(self, mask: Mask) -> Mask:
        """The mask and everything above it, so that what was found hangs together."""
        return self.counts(mask) > 0


def tree_of(ids: Sequence[int], parents: Sequence[int | None], order: Sequence[tuple[int, str, str]]) -> Tree:
    """The tree of units given in any order; `parents` names the unit above each, None of the outermost.

    Units with the same one above stand by `order`. One whose parent is not among them, or that would hang below itself,
    stands outermost, so that none is lost.
    """
    count = len(ids)
    identities = np.asarray(ids, dtype=np.int64)
    place_of = {unit: place for place, unit in enumerate(ids)}
    above = np.fromiter((place_of.get(p, NOWHERE) if p is not None else NOWHERE for p in parents), np.int64, count)
    depth = _depths(above)
    rank = np.empty(count, dtype=np.int64)
    rank[sorted(range(count), key=order.__getitem__)] = np.arange(count)
    sizes = np.ones(count, dtype=np.int64)
    deepest = int(depth.max(initial=0))
    levels = [np.flatnonzero(depth == level) for level in range(deepest + 1)]
    for here in reversed(levels[1:]):
        np.add.at(sizes, above[here], sizes[here])
    place = np.empty(count, dtype=np.int64)
    for level, here in enumerate(levels):
        here = here[np.lexsort((rank[here], above[here]))]
        before = np.cumsum(sizes[here]) - sizes[here]
        if level == 0:
            place[here] = before
            continue
        groups = np.flatnonzero(np.concatenate([[True], above[here][1:] != above[here][:-1]]))
        lengths = np.diff(np.concatenate([groups, [len(here)]]))
        place[here] = place[above[here]] + 1 + before - np.repeat(before[groups], lengths)
    into = np.empty(count, dtype=np.int64)
    into[place] = np.arange(count)
    moved = np.where(above[into] == NOWHERE, NOWHERE, place[above[into]])
    return Tree(identities[into], moved, depth[into], np.arange(count) + sizes[into], place)


def _depths(above: Places) -> Places:
    """How many lie above each; whoever hangs in a ring is cut out of it, and stands outermost."""
    depth = np.full(len(above), -1, dtype=np.int64)
    here = np.flatnonzero(above == NOWHERE)
    level = 0
    while True:
        depth[here] = level
        waiting = np.flatnonzero(depth < 0)
        if not len(waiting):
            return depth
        here = waiting[depth[above[waiting]] == level]
        level += 1
        if not len(here):
            ring = _ring(above, int(waiting[0]))
            above[ring] = NOWHERE
            here, level = np.array([ring], dtype=np.int64), 0


def _ring(above: Places, start: int) -> int:
    """A member of the ring that leads up from `start`."""
    seen: set[int] = set()
    while start not in seen:
        seen.add(start)
        start = int(above[start])
    return start
