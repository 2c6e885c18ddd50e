"""The order in which somebody visits places: nearest first, without crossings. Standard library only: phones run it."""

from __future__ import annotations

from collections.abc import Sequence
from math import asin, cos, radians, sin, sqrt

EARTH_METRES = 6_371_008.8
Place = tuple[float, float]
# Stretches of the way are turned round in so many passes at most; a day has some dozens of visits.
_MOST_PASSES = 50


def metres(one: Place, other: Place) -> float:
    """Metres between two places, (latitude, longitude) in degrees, on a sphere (haversine); good to half a percent."""
    north, east = radians(other[0] - one[0]), radians(other[1] - one[1])
    chord = sin(north / 2) ** 2 + cos(radians(one[0])) * cos(radians(other[0])) * sin(east / 2) ** 2
    return 2 * EARTH_METRES * asin(sqrt(min(1.0, chord)))


def order_of_day(start: Place, places: Sequence[Place]) -> list[int]:
    """The order in which to visit places from a start, nearest first, with crossings undone (2-opt; G. A. Croes 1958).

    The way ends at the last place: nobody has to be back by way of the list.
    """
    every = [start, *places]
    apart = [[metres(one, other) for other in every] for one in every]
    way, left = [0], set(range(1, len(every)))
    while left:
        from_here = apart[way[-1]]
        way.append(min(left, key=lambda at: (from_here[at], at)))
        left.remove(way[-1])
    for _ in range(_MOST_PASSES):
        if not _uncrossed(way, apart):
            break
    return [at - 1 for at in way[1:]]


def _uncrossed(way: list[int], apart: list[list[float]]) -> bool:
    """Turn every stretch of the way round that is shorter the other way; whether any was."""
    turned = False
    for first in range(1, len(way) - 1):
        for last in range(first + 1, len(way)):
            before, one, other = way[first - 1], way[first], way[last]
            saved = apart[before][one] - apart[before][other]
            if last + 1 < len(way):
                saved += apart[other][way[last + 1]] - apart[one][way[last + 1]]
            if saved > 1e-6:
                way[first : last + 1] = way[first : last + 1][::-1]
                turned = True
    return turned
