"""Drawing a sample: simple, systematic, stratified, proportional to size, in two stages.

Whoever draws again from the same frame with the same seed draws the same units, on another machine and with a later
Python as well: chance is `random.Random(seed).random()`, whose sequence Python promises never to change, and nothing else.
"""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from skavo.core.errors import DataError
from skavo.core.sampling.allocation import Way, allocate

Places = NDArray[np.int64]


@dataclass(frozen=True)
class Drawn:
    """One unit that was drawn; `place` is its place in the frame, from 0.

    `probability` is that with which it came into the sample, over both stages where there are two. `order` counts from 1
    within its stratum or cluster; where a sample is cut short, the first ones are a sample as well (but not of a
    systematic one, which follows the frame).
    """

    place: int
    probability: float
    order: int
    stratum: str = ""
    cluster: str = ""

    @property
    def weight(self) -> float:
        return 1 / self.probability


@dataclass(frozen=True)
class Stratum:
    """How many there are in a stratum and how many were drawn; `spread` is the standard deviation, where one was used."""

    name: str
    count: int
    drawn: int
    spread: float | None = None


@dataclass(frozen=True)
class Sample:
    """What was drawn; `reserves` stand by in their order, should one that was drawn turn out not to be there.

    `certain` are the places of those that were taken for certain, because they are so large.
    """

    drawn: list[Drawn]
    strata: list[Stratum] = field(default_factory=list)
    reserves: list[Drawn] = field(default_factory=list)
    certain: list[int] = field(default_factory=list)


def draw_simple(count: int, size: int, seed: int, reserves: int = 0) -> Sample:
    """`size` of `count` without replacement, each as likely as any other."""
    _check_size(size, count)
    mixed = _mixed(count, random.Random(seed))
    return Sample(
        [Drawn(int(place), size / count, order) for order, place in enumerate(mixed[:size], start=1)],
        reserves=[
            Drawn(int(place), size / count, order)
            for order, place in enumerate(mixed[size : size + reserves], start=size + 1)
        ],
    )


def draw_systematic(count: int, size: int, seed: int) -> Sample:
    """Every (count / size)-th in the order of the frame, from a start by chance; the interval need not be whole."""
    _check_size(size, count)
    interval = count / size
    start = random.Random(seed).random() * interval
    places = [min(count - 1, math.floor(start + step * interval)) for step in range(size)]
    return Sample([Drawn(place, size / count, order) for order, place in enumerate(places, start=1)])


def draw_stratified(
    strata: Sequence[str], size: int, seed: int, way: Way = "proportional", spread: Sequence[float] = (),
    reserves: int = 0,
) -> Sample:  # fmt: skip
    """A simple sample in each stratum; `strata` names that of each unit, `spread` is what differs (for Neyman's way).

    `reserves` are for each stratum. The spread of a stratum is the standard deviation with n - 1, 0 of a single unit.
    """
    names, codes = np.unique(np.asarray(strata, dtype=object).astype(str), return_inverse=True)
    members = [np.flatnonzero(codes == code) for code in range(len(names))]
    values = np.asarray(spread, dtype=np.float64)
    spreads = [float(values[one].std(ddof=1)) if len(one) > 1 else 0.0 for one in members] if len(values) else []
    sizes = allocate(size, [len(one) for one in members], way, spreads)
    chance = random.Random(seed)
    drawn: list[Drawn] = []
    standing_by: list[Drawn] = []
    for name, inside, wanted in zip(names, members, sizes, strict=True):
        mixed = inside[_mixed(len(inside), chance)]
        probability = wanted / len(inside)
        for order, place in enumerate(mixed[: wanted + reserves], start=1):
            if probability:
                into = drawn if order <= wanted else standing_by
                into.append(Drawn(int(place), probability, order, stratum=str(name)))
    told = [
        Stratum(str(name), len(inside), wanted, spreads[at] if spreads else None)
        for at, (name, inside, wanted) in enumerate(zip(names, members, sizes, strict=True))
    ]
    return Sample(drawn, told, standing_by)


def draw_by_size(measures: Sequence[float], size: int, seed: int) -> Sample:
    """Systematically in the order of the frame, each with a probability proportional to its measure of size.

    What is so large that its probability would reach 1 is taken for certain, and the rest drawn anew among the others,
    until none is (W. G. Madow 1949; Cochran 1977, section 9A.10; certainty units as in Särndal, Swensson and Wretman
    1992, section 3.6.2).
    """
    sizes = np.asarray(measures, dtype=np.float64)
    _check_size(size, len(sizes))
    wrong = np.flatnonzero(~(np.isfinite(sizes) & (sizes > 0)))
    if len(wrong):
        place = int(wrong[0])
        raise DataError(
            "wrong_measure", f"Unit {place + 1} has the measure {sizes[place]:g}; each has to be more than 0.",
            {"place": place},
        )  # fmt: skip
    certain = np.zeros(len(sizes), dtype=bool)
    while True:
        left = size - int(certain.sum())
        if left <= 0:
            break
        more = ~certain & (left * sizes >= sizes[~certain].sum() * (1 - 1e-12))
        if not more.any():
            break
        certain |= more
    drawn = [Drawn(int(place), 1.0, 0) for place in np.flatnonzero(certain)]
    left = size - len(drawn)
    if left > 0:
        others = np.flatnonzero(~certain)
        probabilities = left * sizes[others] / sizes[others].sum()
        reached = np.cumsum(probabilities)
        start = random.Random(seed).random()
        # Where rounding lets the sum end a hair before the last step, that is the last unit.
        found = np.minimum(np.searchsorted(reached, start + np.arange(left), side="right"), len(others) - 1)
        drawn += [Drawn(int(others[at]), float(probabilities[at]), 0) for at in found]
    drawn.sort(key=lambda one: one.place)
    ordered = [Drawn(one.place, one.probability, order) for order, one in enumerate(drawn, start=1)]
    return Sample(ordered, certain=[int(place) for place in np.flatnonzero(certain)])


def draw_two_stages(
    clusters: Sequence[str], cluster_count: int, size: int, seed: int, measures: Sequence[float] = (),
    reserves: int = 0,
) -> Sample:  # fmt: skip
    """`cluster_count` clusters proportional to size, and `size` units in each of them as a simple sample.

    A cluster's size is the sum of its units' `measures`, or how many units it has. A cluster with fewer than `size` is
    taken whole.
    """
    names, codes = np.unique(np.asarray(clusters, dtype=object).astype(str), return_inverse=True)
    if size < 1:
        raise DataError("wrong_size", "Each cluster needs 1 unit or more.")
    weights = np.asarray(measures, dtype=np.float64) if len(measures) else np.ones(len(codes))
    totals = np.bincount(codes, weights=weights, minlength=len(names))
    first = draw_by_size([float(total) for total in totals], cluster_count, seed)
    # Another sequence than that of the first stage, which a seed of its own begins.
    chance = random.Random(f"{seed} second stage")
    drawn: list[Drawn] = []
    standing_by: list[Drawn] = []
    for chosen in first.drawn:
        inside = np.flatnonzero(codes == chosen.place)
        wanted = min(size, len(inside))
        mixed = inside[_mixed(len(inside), chance)]
        probability = chosen.probability * wanted / len(inside)
        for order, place in enumerate(mixed[: wanted + reserves], start=1):
            into = drawn if order <= wanted else standing_by
            into.append(Drawn(int(place), probability, order, cluster=str(names[chosen.place])))
    return Sample(drawn, reserves=standing_by, certain=first.certain)


def _mixed(count: int, chance: random.Random) -> Places:
    """Places in an order by chance: each gets a number, and the numbers are put in order."""
    numbers = np.fromiter((chance.random() for _ in range(count)), dtype=np.float64, count=count)
    return np.argsort(numbers, kind="stable").astype(np.int64)


def _check_size(size: int, count: int) -> None:
    if not 1 <= size <= count:
        raise DataError("wrong_size", f"{size:,} cannot be drawn from {count:,}. Ask for 1 to {count:,}.")
