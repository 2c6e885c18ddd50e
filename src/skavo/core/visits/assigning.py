"""Who sees which unit: by area, evenly over the ground, whoever is nearest."""

from __future__ import annotations

import math
from collections.abc import Hashable, Mapping, Sequence
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from skavo.core.errors import DataError
from skavo.core.visits.way import EARTH_METRES, Place

Figures = NDArray[np.float64]
Person = TypeVar("Person", bound=Hashable)
Area = TypeVar("Area", bound=Hashable)
# As fine as a few metres on the whole earth.
_HILBERT_ORDER = 22


def metres_between(one: Place, others: Sequence[Place]) -> Figures:
    """Metres from one place to others, (latitude, longitude) in degrees, on a sphere (haversine); shape (n,).

    Good to half a percent, which is enough to put visits in order; what is reported of distances comes from the ellipsoid.
    """
    here, there = np.radians(np.asarray(one)), np.radians(np.asarray(others, dtype=np.float64).reshape(-1, 2))
    north, east = there[:, 0] - here[0], there[:, 1] - here[1]
    chord = np.sin(north / 2) ** 2 + math.cos(here[0]) * np.cos(there[:, 0]) * np.sin(east / 2) ** 2
    found: Figures = 2 * EARTH_METRES * np.arcsin(np.sqrt(np.clip(chord, 0, 1)))
    return found


def by_area(
    areas: Sequence[Area], persons: Sequence[Person], loads: Mapping[Person, int] | None = None
) -> list[Person]:
    """A person for each unit by the area that it lies in: an area is one person's, and the largest go first to whoever
    has least. `loads` is what each has already."""
    _check_persons(persons)
    has = {person: (loads or {}).get(person, 0) for person in persons}
    sizes: dict[Area, int] = {}
    for area in areas:
        sizes[area] = sizes.get(area, 0) + 1
    of: dict[Area, Person] = {}
    for area in sorted(sizes, key=lambda one: (-sizes[one], str(one))):
        least = min(persons, key=lambda person: (has[person], persons.index(person)))
        of[area] = least
        has[least] += sizes[area]
    return [of[area] for area in areas]


def evenly(
    places: Sequence[Place], persons: Sequence[Person], loads: Mapping[Person, int] | None = None
) -> list[Person]:
    """A person for each place so that all have as many in the end, each in a stretch of ground that hangs together.

    The places are put in order along a curve that fills the plane (D. Hilbert 1891), and the order is cut into runs.
    """
    _check_persons(persons)
    has = {person: (loads or {}).get(person, 0) for person in persons}
    shares = _levelled([has[person] for person in persons], len(places))
    order = sorted(range(len(places)), key=lambda at: (_along_curve(places[at]), at))
    found: list[Person] = [persons[0]] * len(places)
    begins = 0
    for person, share in zip(persons, shares, strict=True):
        for at in order[begins : begins + share]:
            found[at] = person
        begins += share
    return found


def nearest(
    places: Sequence[Place], homes: Mapping[Person, Place], room: Mapping[Person, int] | None = None
) -> list[Person | None]:
    """The person whose home is nearest to each place; with `room`, nobody gets more than that, and the nearest pairs go
    first.

    None for a place where everybody nearer has enough.
    """
    persons = list(homes)
    _check_persons(persons)
    metres = np.array([metres_between(homes[person], places) for person in persons]).reshape(len(persons), len(places))
    if room is None:
        return [persons[at] for at in metres.argmin(axis=0)] if len(places) else []
    left = [room[person] for person in persons]
    found: list[Person | None] = [None] * len(places)
    for flat in np.argsort(metres, axis=None, kind="stable"):
        who, where = divmod(int(flat), len(places))
        if found[where] is None and left[who] > 0:
            found[where] = persons[who]
            left[who] -= 1
    return found


def _levelled(has: Sequence[int], more: int) -> list[int]:
    """How many each gets of `more` so that all have as many as can be, whoever has more already getting none."""
    shares = [0] * len(has)
    order = sorted(range(len(has)), key=lambda at: (has[at], at))
    for count in range(len(order), 0, -1):
        level, over = divmod(more + sum(has[at] for at in order[:count]), count)
        if has[order[count - 1]] <= level + (over > 0):
            for place, at in enumerate(order[:count]):
                shares[at] = level + (place < over) - has[at]
            break
    if any(share < 0 for share in shares):
        # One at a time where rounding would take from somebody.
        shares = [0] * len(has)
        for _ in range(more):
            least = min(range(len(has)), key=lambda at: (has[at] + shares[at], at))
            shares[least] += 1
    return shares


def _along_curve(place: Place) -> int:
    """How far along Hilbert's curve over the whole earth a place lies."""
    side = 1 << _HILBERT_ORDER
    x = min(side - 1, int((place[1] + 180) / 360 * side))
    y = min(side - 1, int((place[0] + 90) / 180 * side))
    along, half = 0, side >> 1
    while half:
        right, upper = int(bool(x & half)), int(bool(y & half))
        along += half * half * ((3 * right) ^ upper)
        if not upper:
            if right:
                x, y = side - 1 - x, side - 1 - y
            x, y = y, x
        half >>= 1
    return along


def _check_persons(persons: Sequence[Person]) -> None:
    if not persons:
        raise DataError("nobody", "There is nobody to give visits to. Choose at least one person.")
