"""Pairs of rows of two tables that may be the same unit, each with a score and a verdict."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skavo.core.errors import DataError
from skavo.core.interview.code_search import folded
from skavo.core.linking.compare import LEVELS, MISSING, Cells, Comparison, Levels, Places, levels_of
from skavo.core.linking.weights import Learnt, Shares, at_first, learn, odds_to_belief, shares_of, total, weights
from skavo.core.rules.types import nearest

Rows = Sequence[dict[str, str]]
_Side = tuple[Cells, Cells, Places, Places]
Verdict = Literal["match", "doubtful", "apart"]
# From so much on a pair is a match, up to so much it is apart; between them somebody decides.
MATCH, APART = 0.9, 0.1
MOST_PAIRS = 20_000_000
_AT_RANDOM = 200_000
_ROUNDS = 20
# Fewer pairs that are known to be the same tell less than an estimate (common practice: thirty cases).
_ENOUGH_KNOWN = 30


@dataclass(frozen=True)
class Pair:
    """Two rows, by place from 0; `score` is how likely they are the same unit."""

    left: int
    right: int
    score: float
    verdict: Verdict


@dataclass(frozen=True)
class Weight:
    """What the levels of a comparison are worth in bits, from *differs* upward, and how often each is seen."""

    comparison: Comparison
    same: list[float]
    others: list[float]
    bits: list[float]


@dataclass(frozen=True)
class Linked:
    """All pairs of the blocks, the likeliest first, and what they were weighed with. `expected` is how many are thought
    to be the same unit."""

    pairs: list[Pair]
    weights: list[Weight]
    expected: float


@dataclass(frozen=True)
class Model:
    """What was learnt of two tables: weights by comparison, and in bits how likely any pair is before it is looked at.

    `pairs` are so many that it was learnt from.
    """

    weights: list[Weight]
    prior: float
    pairs: int


@dataclass(frozen=True)
class Weighed:
    """The pairs that agree in a block, as places in both tables, shape (n, 2), ordered by place; `levels` by comparison,
    and `bits` that they come to with the prior, shape (n,)."""

    pairs: Places
    levels: list[Levels]
    bits: NDArray[np.float64]


def link(left: Rows, right: Rows, comparisons: Sequence[Comparison], blocks: Sequence[str], *, seed: int = 1) -> Linked:
    """Link two tables. `blocks` are left columns of comparisons, or several joined by +: rows that agree in one of them are
    looked at. The same tables give the same pairs.

    Raise DataError where a column is not there, or the blocks leave too many pairs.
    """
    model = learn_model(left, right, comparisons, blocks, seed=seed)
    weighed = weigh(left, right, model, blocks)
    belief = odds_to_belief(weighed.bits)
    order = np.lexsort((weighed.pairs[:, 1], weighed.pairs[:, 0], -belief))
    verdicts = verdicts_of(weighed.pairs[order], belief[order])
    pairs = [
        Pair(int(a), int(b), float(score), verdict)
        for (a, b), score, verdict in zip(weighed.pairs[order], belief[order], verdicts, strict=True)
    ]
    return Linked(pairs, model.weights, float(belief.sum()))


def learn_model(
    left: Rows, right: Rows, comparisons: Sequence[Comparison], blocks: Sequence[str], *, seed: int = 1,
    same_pairs: Sequence[tuple[int, int]] = (), known_by: frozenset[str] = frozenset(), within: bool = False,
    most: int = MOST_PAIRS,
) -> Model:  # fmt: skip
    """What two tables tell of the worth of each comparison. `same_pairs` are places of rows that are known to be the same
    unit, by the left columns `known_by`, of which they tell nothing. `within` says that both tables are the same one, in
    which the same unit may stand twice. Raise DataError as `link` does."""
    check_columns(left, right, comparisons, blocks)
    count = [LEVELS[one.how] for one in comparisons]
    sides = _sides(left, right, comparisons)
    others = _others(left, right, comparisons, sides, seed, within=within)
    looked = [_pairs_of(left, right, comparisons, block, most, within=within) for block in blocks]
    known = _known(sides, comparisons, same_pairs, known_by)
    learnt = [
        learn(_levels(sides, pairs), others, [one.left not in block.split("+") for one in comparisons], known)
        for block, pairs in zip(blocks, looked, strict=True)
    ]
    same = [
        sure if (sure := known[at]) is not None else _put_together(learnt, at, count[at]) for at in range(len(count))
    ]
    every = _united(looked)
    bits = total(_levels(sides, every), same, others)
    whole = len(left) * (len(left) - 1) // 2 if within else len(left) * len(right)
    prior = _prior(bits, max((one.pairs for one in learnt), default=0.0), whole)
    told = [
        Weight(one, same[at].tolist(), others[at].tolist(), weights(same[at], others[at]).tolist())
        for at, one in enumerate(comparisons)
    ]
    return Model(told, prior, len(every))


def weigh(
    left: Rows, right: Rows, model: Model, blocks: Sequence[str], most: int = MOST_PAIRS, *, within: bool = False
) -> Weighed:
    """Every pair that agrees in a block, with what a model says of it; raise DataError as `link` does."""
    comparisons = [one.comparison for one in model.weights]
    check_columns(left, right, comparisons, blocks)
    sides = _sides(left, right, comparisons)
    pairs = _united([_pairs_of(left, right, comparisons, block, most, within=within) for block in blocks])
    levels = _levels(sides, pairs)
    bits = total(levels, [np.array(w.same) for w in model.weights], [np.array(w.others) for w in model.weights])
    return Weighed(pairs, levels, bits + model.prior)


def weigh_pair(left: dict[str, str], right: dict[str, str], model: Model) -> tuple[list[int], list[float]]:
    """The level that each comparison finds in a pair of rows, MISSING for none, and what it is worth in bits."""
    comparisons = [one.comparison for one in model.weights]
    pair = np.zeros((1, 2), dtype=np.int64)
    levels = [int(found[0]) for found in _levels(_sides([left], [right], comparisons), pair)]
    bits = [0.0 if at == MISSING else one.bits[at] for one, at in zip(model.weights, levels, strict=True)]
    return levels, bits


def _united(looked: Sequence[Places]) -> Places:
    found: Places = np.unique(np.concatenate(looked), axis=0) if looked else np.empty((0, 2), dtype=np.int64)
    return found


def check_columns(left: Rows, right: Rows, comparisons: Sequence[Comparison], blocks: Sequence[str]) -> None:
    """Raise DataError where something is named that is not there, or nothing is compared or looked at."""
    if not comparisons:
        raise DataError("no_comparison", "Nothing is compared. Name at least one column of both tables.")
    for rows, side, names in (
        (left, "left", [one.left for one in comparisons]), (right, "right", [one.right for one in comparisons]),
    ):  # fmt: skip
        columns = list(rows[0]) if rows else names
        for name in names:
            if name not in columns:
                hint = nearest(name, columns)
                mend = f"Did you mean {hint}?" if hint else f"There are: {', '.join(columns)}."
                raise DataError("unknown_column", f"The {side} table has no column “{name}”. {mend}")
    known = {one.left for one in comparisons}
    for block in blocks:
        for name in block.split("+"):
            if name not in known:
                raise DataError("unknown_block", f"“{name}” is not among what is compared: {', '.join(sorted(known))}.")
    if not blocks:
        raise DataError("no_block", "Say by which column rows are looked at together: all against all are too many.")


def _others(
    left: Rows, right: Rows, comparisons: Sequence[Comparison], sides: Sequence[_Side], seed: int, *, within: bool
) -> list[Shares]:
    """What pairs taken at random show: nearly all of them are of different units."""
    if not left or not right:
        return [at_first(LEVELS[one.how])[::-1] for one in comparisons]
    chance = np.random.default_rng(seed)
    if len(left) * len(right) <= _AT_RANDOM:
        grid = np.indices((len(left), len(right))).reshape(2, -1).T
    else:
        grid = np.column_stack([chance.integers(0, len(rows), _AT_RANDOM) for rows in (left, right)])
    grid = grid[grid[:, 0] != grid[:, 1]] if within else grid
    return [shares_of(found, LEVELS[one.how]) for found, one in zip(_levels(sides, grid), comparisons, strict=True)]


def _known(
    sides: Sequence[_Side], comparisons: Sequence[Comparison], same: Sequence[tuple[int, int]], known_by: frozenset[str]
) -> list[Shares | None]:
    """What pairs that are known to be the same show of each comparison; None where they are too few, or made by it."""
    if len(same) < _ENOUGH_KNOWN:
        return [None for _ in comparisons]
    levels = _levels(sides, np.array(same, dtype=np.int64))
    return [
        None if one.left in known_by else shares_of(found, LEVELS[one.how])
        for one, found in zip(comparisons, levels, strict=True)
    ]


def _levels(sides: Sequence[_Side], pairs: Places) -> list[Levels]:
    """The levels of some pairs, by comparison; two cells that stand often are compared once."""
    found = []
    for ours, theirs, left, right in sides:
        width = max(len(theirs.missing), 1)
        different, back = np.unique(left[pairs[:, 0]] * width + right[pairs[:, 1]], return_inverse=True)
        found.append(levels_of(ours, theirs, different // width, different % width)[back])
    return found


def _sides(left: Rows, right: Rows, comparisons: Sequence[Comparison]) -> list[_Side]:
    """For each comparison the different cells of both columns, and which of them each row holds."""
    found = []
    for one in comparisons:
        ours, our_places = _distinct(left, one.left)
        theirs, their_places = _distinct(right, one.right)
        found.append((Cells(one.how, ours), Cells(one.how, theirs), our_places, their_places))
    return found


def _distinct(rows: Rows, column: str) -> tuple[list[str], Places]:
    places: dict[str, int] = {}
    numbered = [places.setdefault(row[column], len(places)) for row in rows]
    return list(places), np.array(numbered, dtype=np.int64)


def _pairs_of(
    left: Rows,
    right: Rows,
    comparisons: Sequence[Comparison],
    block: str,
    most: int = MOST_PAIRS,
    *,
    within: bool = False,
) -> Places:
    """The pairs that agree in a block; what is empty agrees with nothing. Within one table each pair stands once, and no row
    is its own pair. Shape (n, 2)."""
    named = {one.left: one.right for one in comparisons}
    columns = block.split("+")
    here: dict[tuple[str, ...], list[int]] = defaultdict(list)
    # Most columns that rows are looked at by hold the same few texts.
    plain = cache(folded)
    for at, row in enumerate(right):
        key = tuple(plain(row[named[name]]) for name in columns)
        if all(key):
            here[key].append(at)
    found: list[tuple[int, int]] = []
    for at, row in enumerate(left):
        key = tuple(plain(row[name]) for name in columns)
        found += [(at, other) for other in here.get(key, ()) if all(key) and (not within or at < other)]
        if len(found) > most:
            raise DataError(
                "too_many_pairs",
                f"More than {most:,} pairs agree in {block}. Take a finer block: {block}+another.",
            )
    return np.array(found, dtype=np.int64).reshape(-1, 2)


def _put_together(learnt: Iterable[Learnt], at: int, count: int) -> Shares:
    """What same pairs show of a comparison, over all blocks that it did not make; each by how many same pairs it has."""
    told = [(one.same[at], one.pairs) for one in learnt]
    taught = [(shares, pairs) for shares, pairs in told if shares is not None and pairs > 0]
    if not taught:
        return at_first(count)
    whole = sum(pairs for _, pairs in taught)
    found: Shares = np.sum([shares * (pairs / whole) for shares, pairs in taught], axis=0)
    return found


def _prior(bits: NDArray[np.float64], expected: float, whole: int) -> float:
    """How likely any pair is, in bits, with as many same ones among all as the pairs themselves tell."""
    prior = 0.0
    for _ in range(_ROUNDS):
        share = float(np.clip(expected / max(whole, 1), 1e-12, 0.5))
        prior = float(np.log2(share / (1 - share)))
        found = float(odds_to_belief(prior + bits).sum())
        if abs(found - expected) < 1e-6:
            break
        expected = found
    return prior


def verdicts_of(pairs: Places, belief: NDArray[np.float64]) -> list[Verdict]:
    """A row is one unit: where it would match several, the likeliest is its match, and the others are doubtful."""
    taken: tuple[set[int], set[int]] = (set(), set())
    found: list[Verdict] = []
    for (a, b), score in zip(pairs.tolist(), belief.tolist(), strict=True):
        if score >= MATCH and a not in taken[0] and b not in taken[1]:
            taken[0].add(a)
            taken[1].add(b)
            found.append("match")
        else:
            found.append("doubtful" if score > APART else "apart")
    return found
