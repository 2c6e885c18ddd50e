"""Sizes, shares, draws: exact where exactness is promised, likely where chance rules, refused in words where it cannot be."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.errors import DataError
from skavo.core.sampling.allocation import allocate
from skavo.core.sampling.draw import (
    Sample,
    draw_by_size,
    draw_simple,
    draw_stratified,
    draw_systematic,
    draw_two_stages,
)
from skavo.core.sampling.rates import Outcomes, outcome_rates
from skavo.core.sampling.sizes import (
    Setting,
    margin_of_share,
    size_for_difference,
    size_for_mean,
    size_for_share,
)

MEASURES = [float(x) for x in (3, 8, 1, 20, 7, 7, 2, 90, 12, 5, 5, 4, 30, 6, 9, 1, 2, 40, 11, 10)]
WARDS = ["harbour"] * 9 + ["hill"] * 4 + ["green"] * 7
CLUSTERS = ["a"] * 3 + ["b"] * 7 + ["c"] * 2 + ["d"] * 5 + ["e"] * 3

WAYS: dict[str, Callable[[int], Sample]] = {
    "simple": lambda seed: draw_simple(20, 6, seed),
    "systematic": lambda seed: draw_systematic(20, 6, seed),
    "stratified": lambda seed: draw_stratified(WARDS, 8, seed),
    "equal": lambda seed: draw_stratified(WARDS, 9, seed, "equal"),
    "neyman": lambda seed: draw_stratified(WARDS, 8, seed, "neyman", MEASURES),
    "by size": lambda seed: draw_by_size(MEASURES, 6, seed),
    "two stages": lambda seed: draw_two_stages(CLUSTERS, 3, 2, seed),
    "two stages by measure": lambda seed: draw_two_stages(CLUSTERS, 2, 2, seed, MEASURES),
}


@pytest.mark.parametrize("way", list(WAYS))
def test_each_unit_is_drawn_as_often_as_its_probability_says(way: str) -> None:
    times = 4000
    drawn: Counter[int] = Counter()
    told: dict[int, set[float]] = {}
    for seed in range(times):
        for one in WAYS[way](seed).drawn:
            drawn[one.place] += 1
            told.setdefault(one.place, set()).add(round(one.probability, 12))
    for place, probabilities in told.items():
        (probability,) = probabilities
        spread = math.sqrt(times * probability * (1 - probability))
        assert abs(drawn[place] - times * probability) <= 5 * spread + 1e-9, (place, drawn[place] / times, probability)
    # Nobody is left out for good, and the probabilities add up to how many are drawn.
    sizes = {len(WAYS[way](seed).drawn) for seed in range(50)}
    assert len(told) == 20
    expected = sum(next(iter(one)) for one in told.values())
    assert min(sizes) - 1e-9 <= expected <= max(sizes) + 1e-9


@pytest.mark.parametrize("way", list(WAYS))
def test_the_same_seed_draws_the_same_and_another_one_others(way: str) -> None:
    assert WAYS[way](11) == WAYS[way](11)
    assert len({tuple(one.place for one in WAYS[way](seed).drawn) for seed in range(40)}) > 1
    for seed in range(40):
        places = [one.place for one in WAYS[way](seed).drawn]
        assert len(places) == len(set(places))


def test_what_a_seed_draws_never_changes() -> None:
    """Written down once: a sample that was drawn is drawn again by every later version."""
    assert [one.place for one in draw_simple(1000, 5, 3).drawn] == SEED_3["simple"]
    assert [one.place for one in draw_systematic(1000, 5, 3).drawn] == SEED_3["systematic"]
    assert [one.place for one in draw_by_size(MEASURES, 5, 3).drawn] == SEED_3["by size"]
    assert [one.place for one in draw_two_stages(CLUSTERS, 2, 2, 3).drawn] == SEED_3["two stages"]


SEED_3 = {
    "simple": [243, 530, 592, 639, 184], "systematic": [47, 247, 447, 647, 847], "by size": [1, 7, 8, 12, 17],
    "two stages": [2, 1, 15, 13],
}  # fmt: skip


def test_reserves_follow_in_their_order_and_nobody_is_both() -> None:
    with_reserves = draw_simple(50, 10, 4, reserves=5)
    assert with_reserves.drawn == draw_simple(50, 10, 4).drawn
    assert [one.order for one in with_reserves.reserves] == [11, 12, 13, 14, 15]
    stratified = draw_stratified(WARDS, 8, 4, reserves=2)
    both = [one.place for one in (*stratified.drawn, *stratified.reserves)]
    assert len(both) == len(set(both))
    assert Counter(one.stratum for one in stratified.reserves) == {"harbour": 2, "hill": 2, "green": 2}


def test_what_is_too_large_is_taken_for_certain_and_the_rest_drawn_among_the_others() -> None:
    sample = draw_by_size(MEASURES, 6, 1)
    # 90 of 273 is more than a sixth; once it is taken, 40 of 183 is more than a fifth.
    assert sample.certain == [7, 17]
    assert [one.probability for one in sample.drawn if one.place in (7, 17)] == [1.0, 1.0]
    rest = sum(MEASURES) - 130
    assert all(
        one.probability == pytest.approx(4 * MEASURES[one.place] / rest)
        for one in sample.drawn
        if one.place not in (7, 17)
    )
    everybody = draw_by_size(MEASURES, 20, 1)
    assert [one.probability for one in everybody.drawn] == [1.0] * 20


def test_a_stratum_says_how_many_of_how_many_and_how_they_spread() -> None:
    sample = draw_stratified(WARDS, 8, 2, "neyman", MEASURES)
    assert sum(stratum.drawn for stratum in sample.strata) == 8 == len(sample.drawn)
    for stratum in sample.strata:
        values = [value for value, ward in zip(MEASURES, WARDS, strict=True) if ward == stratum.name]
        assert (stratum.count, stratum.spread) == (len(values), pytest.approx(np.std(values, ddof=1)))
    weights = sum(one.weight for one in sample.drawn)
    assert weights == pytest.approx(20)


_STRATA = st.lists(st.tuples(st.integers(0, 500), st.floats(0, 1e6)), min_size=1, max_size=12)


@given(_STRATA, st.data(), st.sampled_from(["proportional", "equal", "neyman"]), st.integers(0, 3))
def test_shares_always_add_up_and_never_ask_for_more_than_there_is(
    strata: list[tuple[int, float]], data: st.DataObject, way: str, least: int
) -> None:
    counts, spreads = [count for count, _ in strata], [spread for _, spread in strata]
    if sum(counts) == 0 or (way == "neyman" and not any(c * s for c, s in strata)):
        return
    size = data.draw(st.integers(1, sum(counts)))
    shares = allocate(size, counts, way, spreads, least)  # type: ignore[arg-type]
    assert sum(shares) == size
    assert all(0 <= share <= count for share, count in zip(shares, counts, strict=True))
    if sum(min(least, count) for count in counts) <= size:
        assert all(share >= min(least, count) for share, count in zip(shares, counts, strict=True))


def test_what_would_get_more_than_it_has_is_taken_whole_and_the_rest_shared_anew() -> None:
    assert allocate(100, [10, 1000, 1000], "neyman", [500.0, 5.0, 5.0]) == [10, 45, 45]
    assert allocate(90, [10, 100, 100], "equal") == [10, 40, 40]
    assert allocate(10, [1000, 1, 1], "proportional") == [8, 1, 1]
    assert allocate(3, [5, 5, 5], "neyman", [0.0, 0.0, 1.0], least=0) == [0, 0, 3]


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        (lambda: draw_simple(5, 6, 1), "6 cannot be drawn from 5"),
        (lambda: draw_simple(0, 1, 1), "1 cannot be drawn from 0"),
        (lambda: draw_systematic(5, 0, 1), "0 cannot be drawn"),
        (lambda: draw_by_size([1, 0, 2], 2, 1), "Unit 2 has the measure 0"),
        (lambda: draw_by_size([1, math.nan, 2], 2, 1), "Unit 2 has the measure nan"),
        (lambda: draw_two_stages(CLUSTERS, 9, 2, 1), "9 cannot be drawn from 5"),
        (lambda: draw_two_stages(CLUSTERS, 2, 0, 1), "1 unit or more"),
        (lambda: draw_stratified(WARDS, 4, 1, "neyman"), "needs a standard deviation"),
        (lambda: allocate(2, [5, 5], "neyman", [0, 0]), "Nothing differs"),
        (lambda: size_for_share(0), "margin is 0"),
        (lambda: size_for_share(0.05, 1.2), "share is 1.2"),
        (lambda: size_for_difference(0.4, 0.4), "no difference"),
        (lambda: size_for_mean(1, -2), "deviation is -2"),
        (lambda: Setting(confidence=95), "confidence is 95"),
        (lambda: Setting(population=0), "population of 0"),
        (lambda: Setting(response=0), "response is 0"),
        (lambda: Outcomes(refusal=-1), "-1 of “refusal”"),
        (lambda: outcome_rates(Outcomes(interview=1), 1.5), "share of eligible is 1.5"),
    ],
)
def test_what_cannot_be_is_refused_in_words(asked: Callable[[], object], said: str) -> None:
    with pytest.raises(DataError, match=said):
        asked()


@given(st.floats(0.01, 0.4), st.floats(0.05, 0.95), st.integers(10, 10**6), st.floats(1, 4))
def test_a_size_reaches_its_margin_and_one_less_does_not(
    margin: float, share: float, population: int, effect: float
) -> None:
    setting = Setting(population=population, design_effect=effect)
    size = size_for_share(margin, share, setting)
    assert 1 <= size.answers <= population
    if 2 < size.answers < population and effect == 1:
        assert margin_of_share(size.answers, share, setting) <= margin * (1 + 1e-9)
        assert margin_of_share(size.answers - 1, share, setting) >= margin * (1 - 0.02)


def test_a_lower_response_draws_more_and_nothing_draws_more_than_there_are() -> None:
    assert size_for_share(0.05, setting=Setting(response=0.8)).drawn == math.ceil(385 / 0.8)
    assert size_for_share(0.01, setting=Setting(population=640, response=0.5)).drawn == 640
    assert size_for_share(0.05, setting=Setting(design_effect=2)).answers == 769


def test_rates_of_nobody_are_unknown_and_those_of_everybody_are_one() -> None:
    nobody = outcome_rates(Outcomes())
    assert all(rate != rate for rate in (*nobody.response, *nobody.contact, nobody.eligible_share))
    everybody = outcome_rates(Outcomes(interview=7))
    assert set(everybody.response) == {1.0} == set(everybody.cooperation) and set(everybody.refusal) == {0.0}
