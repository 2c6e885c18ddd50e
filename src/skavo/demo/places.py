"""Where the Ostrel Isles lie: an empty stretch of the southern ocean. No such place exists."""

from __future__ import annotations

import random

# Latitude and longitude of each island's middle, in degrees (WGS 84).
MIDDLES = {"kesk": (-47.02, -122.31), "luma": (-47.11, -122.05), "tarrow": (-47.30, -122.22), "vint": (-46.90, -122.00)}
# How far the wards of an island lie apart, in degrees.
APART = 0.012


def place_in(island: str, ward_number: int, rng: random.Random, spread: float = 0.003) -> tuple[float, float]:
    """Latitude and longitude of a door in one of an island's wards, `spread` degrees around its middle."""
    latitude, longitude = MIDDLES[island]
    return (
        round(latitude + APART * (ward_number % 2) + rng.uniform(-spread, spread), 6),
        round(longitude + APART * (ward_number // 2) + rng.uniform(-spread, spread), 6),
    )


def ward_at(island: str, place: tuple[float, float]) -> int:
    """The number of the ward of an island that a place lies in."""
    north, east = ((place[at] - MIDDLES[island][at]) / APART for at in (0, 1))
    return round(north) % 2 + 2 * round(east)
