"""The map of the Ostrel Isles, drawn by the demo itself: coasts, wards and lanes, none of which exists."""

from __future__ import annotations

import json
import math
import random
from typing import Any

from skavo.core.questionnaire.script import Code, Script
from skavo.demo.places import APART, MIDDLES

_SEED = 20
_CORNERS = 90
_WAVES = 5
# How far the coast lies beyond the wards, as a share of the way to it.
_BEYOND = 1.25
_LANE_BENDS = 6

Position = tuple[float, float]


def isles_map(script: Script) -> bytes:
    """A GeoJSON file: land, the wards and the lanes of the script's code lists, each with `kind` and `name`."""
    rng = random.Random(_SEED)
    wards = _codes(script, "ward")
    features: list[dict[str, Any]] = []
    for island in _codes(script, "island"):
        own = [ward for ward in wards if ward.attributes["island"] == island.code]
        features.append(_feature("land", island, "Polygon", [_coast(rng, island.code, len(own))]))
        for number, ward in enumerate(own):
            middle = _middle(island.code, number)
            features.append(_feature("area", ward, "Polygon", [_cell(middle)]))
            lanes = [street for street in _codes(script, "street") if street.attributes["ward"] == ward.code]
            for at, lane in enumerate(lanes):
                features.append(_feature("road", lane, "LineString", _lane(rng, middle, at, len(lanes))))
    return json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False).encode()


def _codes(script: Script, name: str) -> list[Code]:
    return next(code_list.codes for code_list in script.code_lists if code_list.name == name)


def _feature(kind: str, code: Code, geometry: str, coordinates: Any) -> dict[str, Any]:
    return {
        "type": "Feature",
        "properties": {"kind": kind, "name": code.label["en"]},
        "geometry": {"type": geometry, "coordinates": coordinates},
    }


def _middle(island: str, ward_number: int) -> Position:
    """Longitude and latitude of a ward's middle."""
    latitude, longitude = MIDDLES[island]
    return longitude + APART * (ward_number // 2), latitude + APART * (ward_number % 2)


def _coast(rng: random.Random, island: str, wards: int) -> list[Position]:
    """A closed ring around all wards of an island, waved as coasts are."""
    middles = [_middle(island, number) for number in range(wards)]
    (west, east), (south, north) = ((min(axis), max(axis)) for axis in zip(*middles, strict=True))
    x, y = (west + east) / 2, (south + north) / 2
    wide, high = ((far - near + APART) / 2 * math.sqrt(2) * _BEYOND for near, far in ((west, east), (south, north)))
    waves = [(rng.uniform(0.01, 0.06), rng.uniform(0, math.tau)) for _ in range(_WAVES)]
    ring = []
    for corner in range(_CORNERS):
        turn = math.tau * corner / _CORNERS
        reach = 1 + sum(size * math.sin((n + 2) * turn + begin) for n, (size, begin) in enumerate(waves))
        ring.append((round(x + wide * reach * math.cos(turn), 6), round(y + high * reach * math.sin(turn), 6)))
    return [*ring, ring[0]]


def _cell(middle: Position) -> list[Position]:
    x, y = middle
    half = APART / 2
    corners = [(x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)]
    return [(round(east, 6), round(north, 6)) for east, north in [*corners, corners[0]]]


def _lane(rng: random.Random, middle: Position, number: int, lanes: int) -> list[Position]:
    """Every other lane runs east, the ones between run north; all of them wind a little."""
    x, y = middle
    half = APART * 0.46
    beside = APART * ((number // 2 + 1) / (lanes // 2 + 2) - 0.5) * 0.9
    line = []
    for bend in range(_LANE_BENDS + 1):
        along = -half + 2 * half * bend / _LANE_BENDS
        aside = beside + rng.uniform(-1, 1) * APART * 0.035
        east, north = (along, aside) if number % 2 == 0 else (aside, along)
        line.append((round(x + east, 6), round(y + north, 6)))
    return line
