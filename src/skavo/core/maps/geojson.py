"""Shapes from outside, as GeoJSON (RFC 7946): read whole, each fault told with its place."""

from __future__ import annotations

import json
import math
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from skavo.core.errors import DataError

Position = tuple[float, float]
MOST_POSITIONS = 2_000_000
_MOST_DEEP = 4
# How many lists lie around a position, and how many positions the innermost list needs (RFC 7946, 3.1).
_DEPTHS = {"Point": 0, "MultiPoint": 1, "LineString": 1, "MultiLineString": 2, "Polygon": 2, "MultiPolygon": 3}
_LEAST = {"LineString": 2, "MultiLineString": 2, "Polygon": 4, "MultiPolygon": 4}
_WGS_84 = ("CRS84", "4326")


@dataclass(frozen=True)
class Shapes:
    """`features` as a FeatureCollection holds them; `bounds` is west, south, east, north in degrees (WGS 84).

    `counts` is how many geometries of each type there are, those in collections included; those without any do not count.
    """

    features: list[dict[str, Any]]
    bounds: tuple[float, float, float, float]
    counts: dict[str, int]


def read_shapes(raw: bytes) -> Shapes:
    """The shapes of a file; raise DataError, with the place in the file, where it is no GeoJSON in degrees of WGS 84."""
    try:
        found = json.loads(raw.decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise _wrong(f"byte {error.start}", "is not UTF-8", "Save the file as UTF-8.") from None
    except (ValueError, RecursionError) as error:
        where = f"line {error.lineno}" if isinstance(error, json.JSONDecodeError) else "the file"
        raise _wrong(where, "is not JSON", "Choose a .geojson file.") from None
    if not isinstance(found, dict):
        raise _wrong("the file", "is no GeoJSON object", "Choose a .geojson file.")
    _check_reference(found)
    features = _features(found)
    west, south, east, north = math.inf, math.inf, -math.inf, -math.inf
    counts: Counter[str] = Counter()
    positions = 0
    for number, feature in enumerate(features):
        place = f"features[{number}].geometry"
        for geometry, where in _geometries(feature["geometry"], place, 0):
            counts[geometry["type"]] += 1
            for x, y in _positions(geometry, where):
                west, south, east, north = min(west, x), min(south, y), max(east, x), max(north, y)
                positions += 1
                if positions > MOST_POSITIONS:
                    most = f"More than {MOST_POSITIONS:,} positions are more than a phone can draw."
                    raise DataError("map_too_large", f"{most} Simplify the shapes, or bring the map in as tiles.")
    if positions == 0:
        raise _wrong("the file", "holds no shapes", "Choose a file with points, lines or areas.")
    return Shapes(features, (west, south, east, north), dict(counts))


def _wrong(where: str, what: str, mend: str) -> DataError:
    return DataError("not_geojson", f"{where} {what}. {mend}".strip(), {"place": where})


def _check_reference(found: dict[str, Any]) -> None:
    """RFC 7946 knows WGS 84 only; files of before name another system in `crs`."""
    crs = found.get("crs")
    told = crs.get("properties") if isinstance(crs, dict) else None
    name = str(told.get("name", "")) if isinstance(told, dict) else ""
    if name and not name.endswith(_WGS_84):
        raise _wrong("crs", f"is {name}", "Save the file in WGS 84 (EPSG:4326) and bring it in again.")


def _features(found: dict[str, Any]) -> list[dict[str, Any]]:
    kind = _kind_of(found)
    if kind == "FeatureCollection":
        features = found.get("features")
        if not isinstance(features, list):
            raise _wrong("features", "is no list", "A FeatureCollection has a list of features.")
    elif kind == "Feature":
        features = [found]
    elif kind in _DEPTHS or kind == "GeometryCollection":
        features = [{"type": "Feature", "properties": {}, "geometry": found}]
    else:
        raise _wrong("type", f"is {kind!r}", "A GeoJSON file is a FeatureCollection, a Feature or a geometry.")
    for number, feature in enumerate(features):
        if not isinstance(feature, dict) or feature.get("type") != "Feature" or "geometry" not in feature:
            raise _wrong(f"features[{number}]", "is no Feature", "Each has type, properties and geometry.")
        if not isinstance(feature.get("properties"), dict | None):
            raise _wrong(f"features[{number}].properties", "is no object", "Write {} where there are none.")
    return features


def _kind_of(found: dict[str, Any]) -> str:
    kind = found.get("type")
    return kind if isinstance(kind, str) else str(kind)


def _geometries(geometry: Any, where: str, deep: int) -> Iterator[tuple[dict[str, Any], str]]:
    if geometry is None:
        return
    if not isinstance(geometry, dict):
        raise _wrong(where, "is no geometry", "Write null where there is none.")
    kind = _kind_of(geometry)
    if kind == "GeometryCollection" and isinstance(geometry.get("geometries"), list) and deep < _MOST_DEEP:
        for number, inner in enumerate(geometry["geometries"]):
            yield from _geometries(inner, f"{where}.geometries[{number}]", deep + 1)
    elif kind in _DEPTHS:
        yield geometry, where
    else:
        raise _wrong(f"{where}.type", f"is {kind!r}", f"Known are {', '.join(_DEPTHS)}.")


def _positions(geometry: dict[str, Any], where: str) -> Iterator[Position]:
    kind = geometry["type"]
    return _within(geometry.get("coordinates"), _DEPTHS[kind], kind, f"{where}.coordinates")


def _within(coordinates: Any, depth: int, kind: str, where: str) -> Iterator[Position]:
    if depth == 0:
        yield _position(coordinates, where)
        return
    if not isinstance(coordinates, list):
        raise _wrong(where, "is no list", f"A {kind} has lists of positions.")
    if depth == 1 and len(coordinates) < _LEAST.get(kind, 0):
        raise _wrong(where, f"has {len(coordinates)} positions", f"A {kind} needs {_LEAST[kind]} or more.")
    for number, inner in enumerate(coordinates):
        yield from _within(inner, depth - 1, kind, f"{where}[{number}]")
    if depth == 1 and "Polygon" in kind and coordinates[0] != coordinates[-1]:
        raise _wrong(where, "is not closed", "The last position of a ring is its first one again.")


def _position(found: Any, where: str) -> Position:
    is_position = isinstance(found, list) and len(found) >= 2 and all(type(one) in (int, float) for one in found)
    if not is_position:
        raise _wrong(where, "is no position", "A position is [longitude, latitude].")
    x, y = float(found[0]), float(found[1])
    if not (-180 <= x <= 180 and -90 <= y <= 90):
        far = max(abs(x), abs(y)) > 360
        mend = "Save the file in degrees (WGS 84)." if far else "Longitude comes first, then latitude."
        raise _wrong(where, f"is {found[:2]}, which is no longitude and latitude in degrees", mend)
    return x, y
