"""What agreement is worth, estimated from the tables themselves: the model of Fellegi and Sunter (1969), by EM.

A pair is of the same unit, or not. For each comparison, `same` is how often such pairs show each level, `others` how often all
other pairs do; comparisons are taken as independent within either. What other pairs show is seen in pairs taken at random;
what same pairs show is estimated in each block from the comparisons that did not make it (Winkler 1988), and put together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skavo.core.linking.compare import MISSING, Levels

Shares = NDArray[np.float64]
_MOST_ROUNDS, _ENOUGH = 500, 1e-7
# Nothing is never seen: as if each level had been seen so many times more.
_SEEN_ANYWAY = 0.5
# What same pairs show at first, before anything is learnt: agreement, mostly.
_AGREE_AT_FIRST = 0.85


@dataclass(frozen=True)
class Learnt:
    """What a block has taught: `same` by comparison (None of those that made the block), and how many same pairs."""

    same: list[Shares | None]
    pairs: float


def shares_of(levels: Levels, count: int) -> Shares:
    """How often each of `count` levels is seen where nothing is missing; shape (count,)."""
    seen = np.bincount(levels[levels != MISSING], minlength=count) + _SEEN_ANYWAY
    found: Shares = seen / seen.sum()
    return found


def at_first(count: int) -> Shares:
    """What same pairs show of a comparison that nothing has taught."""
    rest = (1 - _AGREE_AT_FIRST) / max(count - 1, 1)
    return np.array([*[rest] * (count - 1), _AGREE_AT_FIRST])


def learn(
    levels: Sequence[Levels], others: Sequence[Shares], used: Sequence[bool], known: Sequence[Shares | None] = ()
) -> Learnt:
    """Estimate what same pairs show, from the pairs of a block; only comparisons that are `used` teach anything. What is
    `known` of a comparison already is not estimated again."""
    sure = known or [None for _ in others]
    same = [at_first(len(shares)) if told is None else told for shares, told in zip(others, sure, strict=True)]
    share = 0.1
    taught = [at for at, is_used in enumerate(used) if is_used]
    size = len(levels[0]) if levels else 0
    if not taught or not size:
        return Learnt([None for _ in others], 0.0)
    belief = np.zeros(size)
    for _ in range(_MOST_ROUNDS):
        belief = believed(
            [levels[at] for at in taught], [same[at] for at in taught], [others[at] for at in taught], share
        )
        learning = [at for at in taught if sure[at] is None]
        after = [
            _told(levels[at], belief, len(others[at])) if at in learning else same[at] for at in range(len(others))
        ]
        before, share = share, float(np.clip(belief.mean(), 1e-9, 1 - 1e-9))
        moved = max([abs(share - before), *(float(np.abs(after[at] - same[at]).max()) for at in learning)])
        same = after
        if moved < _ENOUGH:
            break
    return Learnt([same[at] if at in taught else None for at in range(len(others))], float(belief.sum()))


def _told(levels: Levels, belief: NDArray[np.float64], count: int) -> Shares:
    known = levels != MISSING
    seen = np.bincount(levels[known], weights=belief[known], minlength=count) + _SEEN_ANYWAY / count
    found: Shares = seen / seen.sum()
    return found


def weights(same: Shares, others: Shares) -> NDArray[np.float64]:
    """What each level is worth, in bits: log2 of how much likelier it is in same pairs; shape (levels,)."""
    return np.log2(same) - np.log2(others)


def believed(
    levels: Sequence[Levels], same: Sequence[Shares], others: Sequence[Shares], share: float
) -> NDArray[np.float64]:
    """How likely each pair is of the same unit, where a `share` of all is; shape (n,). What is missing tells nothing."""
    return odds_to_belief(np.log2(share / (1 - share)) + total(levels, same, others))


def total(levels: Sequence[Levels], same: Sequence[Shares], others: Sequence[Shares]) -> NDArray[np.float64]:
    """The weights of each pair added up, in bits; shape (n,)."""
    found = np.zeros(len(levels[0]) if levels else 0)
    for at, seen in enumerate(levels):
        worth = weights(same[at], others[at])
        found += np.where(seen == MISSING, 0.0, worth[np.maximum(seen, 0)])
    return found


def odds_to_belief(bits: NDArray[np.float64]) -> NDArray[np.float64]:
    return 1 / (1 + np.exp2(-np.clip(bits, -1000, 1000)))
