"""Shapes from outside: what RFC 7946 allows is read, and each fault is told with its place."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.errors import DataError
from skavo.core.maps.geojson import read_shapes


def raw(geometry: Any, **more: Any) -> bytes:
    feature = {"type": "Feature", "properties": None, "geometry": geometry}
    return json.dumps({"type": "FeatureCollection", "features": [feature], **more}).encode()


SQUARE = [[0, 0], [2, 0], [2, 1], [0, 1], [0, 0]]


def test_bounds_and_counts_are_those_of_all_geometries() -> None:
    both = {
        "type": "GeometryCollection",
        "geometries": [
            {"type": "MultiPolygon", "coordinates": [[SQUARE]]},
            {"type": "LineString", "coordinates": [[-3.5, 4], [1, 1, 17.0]]},
        ],
    }
    shapes = read_shapes(b"\xef\xbb\xbf" + raw(both))
    assert shapes.bounds == (-3.5, 0, 2, 4)
    assert shapes.counts == {"MultiPolygon": 1, "LineString": 1}


def test_a_feature_or_a_geometry_alone_is_read_as_one_feature() -> None:
    point = {"type": "Point", "coordinates": [6.5, 0.5]}
    alone = read_shapes(json.dumps(point).encode())
    assert [feature["geometry"] for feature in alone.features] == [point]
    assert read_shapes(json.dumps({"type": "Feature", "properties": {}, "geometry": point}).encode()).counts == {
        "Point": 1
    }


@pytest.mark.parametrize(
    ("given", "place", "said"),
    [
        (b"\xff\xfe", "byte 0", "UTF-8"),
        (b'{"type": "Point",\n "coordinates"', "line 2", "JSON"),
        (b"[1, 2]", "the file", "GeoJSON"),
        (b'{"type": "Topology"}', "type", "'Topology'"),
        (b'{"type": "FeatureCollection"}', "features", "list"),
        (b'{"type": "FeatureCollection", "features": [3]}', "features[0]", "Feature"),
        (raw({"type": "Circle", "coordinates": [0, 0]}), "features[0].geometry.type", "'Circle'"),
        (raw({"type": "Point", "coordinates": ["1", 2]}), "features[0].geometry.coordinates", "position"),
        (raw({"type": "Point", "coordinates": [True, 2]}), "features[0].geometry.coordinates", "position"),
        (raw({"type": "Point", "coordinates": [47, -122]}), "features[0].geometry.coordinates", "Longitude comes first"),
        (raw({"type": "Point", "coordinates": [512034.2, 1e6]}), "features[0].geometry.coordinates", "degrees"),
        (raw({"type": "LineString", "coordinates": [[0, 0]]}), "features[0].geometry.coordinates", "2 or more"),
        (raw({"type": "Polygon", "coordinates": [SQUARE[:-1]]}), "features[0].geometry.coordinates[0]", "closed"),
        (raw({"type": "Polygon", "coordinates": [SQUARE, SQUARE[:2]]}), "features[0].geometry.coordinates[1]", "4 or more"),
        (raw(None), "the file", "no shapes"),
        (raw({"type": "Point", "coordinates": [0, 0]}, crs={"type": "name", "properties": {"name": "urn:ogc:def:crs:EPSG::3857"}}), "crs", "EPSG:4326"),
    ],
)  # fmt: skip
def test_a_fault_is_told_with_its_place(given: bytes, place: str, said: str) -> None:
    with pytest.raises(DataError) as found:
        read_shapes(given)
    assert found.value.code == "not_geojson"
    assert found.value.details["place"] == place
    assert said in found.value.message


def test_the_former_names_of_wgs_84_are_no_other_system() -> None:
    for name in ("urn:ogc:def:crs:OGC:1.3:CRS84", "EPSG:4326"):
        given = raw({"type": "Point", "coordinates": [1, 2]}, crs={"type": "name", "properties": {"name": name}})
        assert read_shapes(given).bounds == (1, 2, 1, 2)


def test_nesting_without_end_is_refused_and_not_followed() -> None:
    deep: Any = {"type": "Point", "coordinates": [0, 0]}
    for _ in range(10):
        deep = {"type": "GeometryCollection", "geometries": [deep]}
    with pytest.raises(DataError):
        read_shapes(raw(deep))
    with pytest.raises(DataError):
        read_shapes(b"[" * 100_000)


_JSON = st.recursive(
    st.none() | st.booleans() | st.floats() | st.integers() | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=4)
    | st.dictionaries(st.sampled_from(["type", "coordinates", "geometry", "geometries", "features", "properties", "crs"]), inner),
    max_leaves=20,
)  # fmt: skip


@given(_JSON)
def test_whatever_comes_is_read_or_refused_in_words(given: Any) -> None:
    try:
        shapes = read_shapes(json.dumps(given).encode())
    except DataError as error:
        assert error.message.endswith(".")
    else:
        west, south, east, north = shapes.bounds
        assert -180 <= west <= east <= 180 and -90 <= south <= north <= 90
