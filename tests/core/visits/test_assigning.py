"""Visits given out: evenly, by area, to the nearest, in an order that does not cross itself."""

from __future__ import annotations

import itertools
from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pyproj import Geod

from skavo.core.errors import DataError
from skavo.core.visits.assigning import by_area, evenly, metres_between, nearest
from skavo.core.visits.way import Place, metres, order_of_day

Places = st.lists(st.tuples(st.floats(-60, 60), st.floats(-170, 170)), max_size=40)
Loads = st.dictionaries(st.sampled_from("abcd"), st.integers(0, 30))


@given(Places, Loads)
def test_evenly_means_as_level_as_it_can_be_and_nobody_loses_what_they_had(
    places: list[Place], loads: dict[str, int]
) -> None:
    found = evenly(places, list("abcd"), loads)
    had = {person: loads.get(person, 0) for person in "abcd"}
    has = {person: had[person] + Counter(found)[person] for person in "abcd"}
    assert len(found) == len(places) and sum(has.values()) == sum(had.values()) + len(places)
    # Whoever got anything has at most one more than anybody else.
    for person in set(found):
        assert has[person] <= min(has.values()) + 1


def test_what_is_given_evenly_lies_together() -> None:
    towns = [(10.0, 10.0), (10.0, -40.0), (-30.0, 100.0)]
    places = [(lat + n / 1000, lon + n / 1000) for n in range(5) for lat, lon in towns]
    found = evenly(places, ["a", "b", "c"])
    assert [len({found[n] for n in range(town, 15, 3)}) for town in range(3)] == [1, 1, 1]


def test_an_area_is_one_persons_and_the_largest_go_to_whoever_has_least() -> None:
    areas = ["hill"] * 5 + ["quay"] * 4 + ["green"] * 3 + ["mill"] * 2
    found = by_area(areas, ["ilse", "mira"])
    assert {area: {p for a, p in zip(areas, found, strict=True) if a == area} for area in set(areas)} == {
        "hill": {"ilse"}, "quay": {"mira"}, "green": {"mira"}, "mill": {"ilse"},
    }  # fmt: skip
    assert set(by_area(areas[:5], ["ilse", "mira"], {"ilse": 9})) == {"mira"}


def test_the_nearest_gets_it_until_enough_is_enough() -> None:
    homes = {"west": (0.0, 0.0), "east": (0.0, 10.0)}
    places = [(0.0, 1.0), (0.0, 2.0), (0.0, 3.0), (0.0, 9.0)]
    assert nearest(places, homes) == ["west", "west", "west", "east"]
    assert nearest(places, homes, {"west": 2, "east": 2}) == ["west", "west", "east", "east"]
    assert nearest(places, homes, {"west": 1, "east": 1}) == ["west", None, None, "east"]
    assert nearest([], homes) == [] and nearest([], homes, {"west": 1, "east": 0}) == []


def metres_along(stops: list[Place]) -> float:
    return sum(metres(one, other) for one, other in itertools.pairwise(stops))


@given(st.lists(st.tuples(st.floats(0, 0.05), st.floats(0, 0.05)), min_size=2, max_size=7, unique=True))
def test_no_stretch_of_the_order_of_a_day_is_shorter_the_other_way_round(places: list[Place]) -> None:
    stops = [(0.0, 0.0), *(places[at] for at in order_of_day((0.0, 0.0), places))]
    length = metres_along(stops)
    for first, last in itertools.combinations(range(1, len(stops)), 2):
        turned = [*stops[:first], *stops[first : last + 1][::-1], *stops[last + 1 :]]
        assert length <= metres_along(turned) + 0.01


def test_a_street_is_walked_from_house_to_house() -> None:
    houses = [(0.0, n / 1000) for n in (5, 1, 4, 2, 3)]
    assert order_of_day((0.0, 0.0), houses) == [1, 3, 4, 2, 0]


@given(Places)
def test_an_order_names_every_place_once(places: list[Place]) -> None:
    assert sorted(order_of_day((0.0, 0.0), places)) == list(range(len(places)))


def test_distances_are_those_of_the_ellipsoid_to_half_a_percent() -> None:
    geod = Geod(ellps="WGS84")
    here, there = (-47.11, -122.05), [(-47.30, -122.22), (51.5, -0.1), (-46.9, -122.0)]
    for place, found in zip(there, metres_between(here, there), strict=True):
        true = geod.inv(here[1], here[0], place[1], place[0])[2]
        assert found == pytest.approx(true, rel=0.0056)
        assert metres(here, place) == pytest.approx(found, rel=1e-9)


def test_without_anybody_nothing_is_given_out() -> None:
    for give in (lambda: evenly([(0.0, 0.0)], []), lambda: by_area(["a"], []), lambda: nearest([(0.0, 0.0)], {})):
        with pytest.raises(DataError, match="nobody to give visits to"):
            give()
