"""Rings of areas as GeoJSON wants them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

Position = Sequence[float]


def closed_ring(corners: Sequence[Position]) -> list[list[float]]:
    """Corners (degrees east, degrees north) as a ring: closed, and counterclockwise as seen from above (RFC 7946, 3.1.6).

    Which way they run is told by the signed area on the map; the date line may lie between them.
    """
    first = corners[0][0]
    east = [(corner[0] - first + 540) % 360 - 180 for corner in corners]
    north = [corner[1] for corner in corners]
    after = range(1, len(corners) + 1)
    twice = sum(east[at - 1] * north[at % len(north)] - east[at % len(east)] * north[at - 1] for at in after)
    ring = [list(corner) for corner in (corners if twice >= 0 else [corners[0], *reversed(corners[1:])])]
    return [*ring, ring[0]]


def is_same_area(before: Any, brought: Any) -> bool:
    """Whether two answers (JSON form) are the same area, whichever way round its corners stand."""
    rings = [_ring_of(value) for value in (before, brought)]
    return rings[0] is not None and rings[0] == rings[1]


def _ring_of(value: Any) -> list[list[float]] | None:
    points = value.get("points") if isinstance(value, dict) else None
    if not points or len(points) < 3:
        return None
    corners = [(point["longitude"], point["latitude"]) for point in points]
    return closed_ring(corners[:-1] if corners[0] == corners[-1] else corners)
