"""Rows that find each other by likeness: weighed by what was learnt, with what somebody has decided replayed on top.

A decision is about one row of ours, by its place, and what the other side holds in the compared columns. Where either
says something else since, the pair is asked about again.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from hashlib import blake2b
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skavo.core.combining.spec import Learnt, Near, learnt_of
from skavo.core.errors import DataError
from skavo.core.linking.link import Model, Rows, Weighed, learn_model, weigh

Decided = Literal["same", "apart"]
State = Literal["match", "doubtful", "apart", "same", "not the same"]
# So many pairs are weighed whenever interviews arrive: a second or two.
MOST_PAIRS = 2_000_000
# As `weigh`, or as somebody does who remembers what it found.
Weighing = Callable[[Rows, Rows, Model, Sequence[str], int], Weighed]
_AS_LIKELY = 1e-9
# Of one row, so many pairs are asked about at once.
_MOST_ASKED = 5


@dataclass(frozen=True)
class Decision:
    """What somebody said of two rows: the place of ours, and marks of what both sides held then."""

    place: str
    ours: str
    theirs: str
    decided: Decided
    number: int = 0


@dataclass(frozen=True)
class NearPair:
    """`ours` and `theirs` are places in the tables; `bits` the score; `before` what was decided of other cells once."""

    ours: int
    theirs: int
    bits: float
    state: State
    decision: int = 0
    before: Decided | None = None


@dataclass(frozen=True)
class NearFound:
    """`pairs` without those that are apart by their score, the likeliest first; `bits` of all that were looked at."""

    pairs: list[NearPair] = field(default_factory=list)
    bits: NDArray[np.float64] = field(default_factory=lambda: np.zeros(0))

    @property
    def partners(self) -> dict[int, int]:
        """Which of theirs each of ours has found."""
        return {pair.ours: pair.theirs for pair in self.pairs if pair.state in ("match", "same")}

    def count(self, state: State) -> int:
        return sum(pair.state == state for pair in self.pairs)


def mark_of(row: dict[str, str], columns: Sequence[str]) -> str:
    """A mark of what a row holds in some columns."""
    told = "\x1f".join(row[name] for name in columns)
    return blake2b(told.encode(), digest_size=12).hexdigest()


def learn_near(
    ours: Rows, theirs: Rows, near: Near, same: Sequence[tuple[int, int]] = (), known_by: frozenset[str] = frozenset()
) -> Learnt:
    """What the tables tell of the worth of each comparison. `same` are the places of rows that a key of the variables
    `known_by` has joined: they are the same unit. Raise DataError where the tables cannot be compared."""
    if not ours or not theirs:
        raise DataError("nothing_there", "One of the two tables has no rows yet. Learn the weights when it has.")
    model = learn_model(
        ours, theirs, near.comparisons, blocks_of(near), same_pairs=same, known_by=known_by, most=MOST_PAIRS
    )
    return learnt_of(model)


def blocks_of(near: Near) -> list[str]:
    return ["+".join(block) for block in near.blocks]


def near_pairs(
    ours: Rows,
    theirs: Rows,
    places: Sequence[str],
    near: Near,
    decisions: Sequence[Decision],
    *,
    open_: Sequence[int],
    weighing: Weighing = weigh,
) -> NearFound:
    """Pairs of our rows at `open_` and theirs. `places` name our rows."""
    model = near.model()
    if model is None or not len(open_) or not theirs:
        return NearFound()
    weighed = weighing([ours[at] for at in open_], theirs, model, blocks_of(near), MOST_PAIRS)
    back = np.array(open_, dtype=np.int64)
    pairs = np.column_stack([back[weighed.pairs[:, 0]], weighed.pairs[:, 1]])
    said = _Said(ours, theirs, places, near, decisions)
    likely = weighed.bits > near.apart
    looked = {(int(a), int(b)): float(bits) for (a, b), bits in zip(pairs[likely], weighed.bits[likely], strict=True)}
    mine = set(open_)
    # What was decided of a pair that no block puts together any more, or that has become unlikely, still holds.
    looked |= {pair: near.apart for pair in said.by_pair if pair not in looked and pair[0] in mine}
    return NearFound(_judged(looked, said, near), weighed.bits)


class _Said:
    """What was decided, by places in the tables as they are now."""

    def __init__(
        self, ours: Rows, theirs: Rows, places: Sequence[str], near: Near, decisions: Sequence[Decision]
    ) -> None:
        our_columns = [one.ours for one in near.compare]
        their_columns = [one.theirs for one in near.compare]
        at = {place: i for i, place in enumerate(places)}
        wanted = {decision.theirs for decision in decisions}
        marked: dict[str, list[int]] = {}
        for i, row in enumerate(theirs):
            if wanted and (mark := mark_of(row, their_columns)) in wanted:
                marked.setdefault(mark, []).append(i)
        self.by_pair: dict[tuple[int, int], Decision] = {}
        self.before: dict[tuple[int, int], Decided] = {}
        for decision in decisions:
            if (mine := at.get(decision.place)) is None:
                continue
            still = mark_of(ours[mine], our_columns) == decision.ours
            for other in marked.get(decision.theirs, ()):
                if still:
                    self.by_pair[mine, other] = decision
                    self.before.pop((mine, other), None)
                else:
                    self.before[mine, other] = decision.decided
        self.same = [pair for pair, decision in self.by_pair.items() if decision.decided == "same"]


def _judged(looked: dict[tuple[int, int], float], said: _Said, near: Near) -> list[NearPair]:
    """Decisions first, then the likeliest: whoever has a partner is asked about no more."""
    taken: tuple[set[int], set[int]] = (set(), set())
    found: list[NearPair] = []
    for pair in said.same:
        if pair in looked:
            taken[0].add(pair[0])
            taken[1].add(pair[1])
            found.append(NearPair(*pair, looked[pair], "same", said.by_pair[pair].number))
    order = sorted(looked, key=lambda pair: (-looked[pair], pair))
    tied, asked = _tied(order, looked), Counter[int]()
    for pair in order:
        decision = said.by_pair.get(pair)
        bits = looked[pair]
        if decision is not None:
            if decision.decided == "apart":
                found.append(NearPair(*pair, bits, "not the same", decision.number))
        elif pair[0] in taken[0] or (near.once and pair[1] in taken[1]):
            continue
        elif bits >= near.match and pair not in said.before and pair[0] not in tied:
            taken[0].add(pair[0])
            taken[1].add(pair[1])
            found.append(NearPair(*pair, bits, "match"))
        elif asked[pair[0]] < _MOST_ASKED and bits >= tied.get(pair[0], bits):
            asked[pair[0]] += 1
            found.append(NearPair(*pair, bits, "doubtful", before=said.before.get(pair)))
    return sorted(
        (one for one in found if one.state != "doubtful" or one.ours not in taken[0]),
        key=lambda one: (-one.bits, one.ours, one.theirs),
    )


def _tied(order: Sequence[tuple[int, int]], looked: dict[tuple[int, int], float]) -> dict[int, float]:
    """Which of ours have two likeliest partners that are as likely, and how likely: nothing but an eye tells them apart."""
    best: dict[int, float] = {}
    tied = {}
    for ours, theirs in order:
        bits = looked[ours, theirs]
        if ours in best and best[ours] - bits < _AS_LIKELY:
            tied[ours] = bits
        best.setdefault(ours, bits)
    return tied
