"""Maps and registers as RFC 7946 (GeoJSON, August 2016) says; the section beside each check."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pyproj import Geod

from skavo.core.maps.rings import closed_ring
from skavo.core.register.bring_in import Kind
from skavo.core.register.form import UnitForm
from skavo.core.register.settings import KindSettings
from skavo.formats.units_out import UnitOut, write_units
from tests.samples import part, release_of, script

WGS84 = Geod(ellps="WGS84")
CLOCKWISE = [(10.0, 0.0), (10.0, 1.0), (11.0, 1.0), (11.0, 0.0)]


def feature(kind: str, value: dict[str, Any]) -> dict[str, Any]:
    fields = UnitForm(release_of(script(part(1, "text", "name"), part(1, kind, "place"))))
    kinds = [Kind(id=1, name="plot", title="Plot", settings=KindSettings(), form=fields)]
    unit = UnitOut(kind_id=1, key="P-1", above="", values={"id_name": "Terrace", "id_place": value}, closed=False)
    collection = json.loads(write_units("geojson", kinds, frozenset(), [unit]))
    # 4: the reference system is WGS 84 and is not named; 3.3: a collection of features.
    assert (collection["type"], "crs" in collection) == ("FeatureCollection", False)
    (found,) = collection["features"]
    # 3.2: a feature has a geometry and properties.
    assert (found["type"], found["properties"]["name"]) == ("Feature", "Terrace")
    geometry: dict[str, Any] = found["geometry"]
    return geometry


def places(corners: list[tuple[float, float]]) -> dict[str, Any]:
    return {"points": [{"longitude": east, "latitude": north} for east, north in corners]}


def test_longitude_comes_first() -> None:
    """3.1.1: easting, then northing; 3.1.2: a point is one position."""
    found = feature("point", {"latitude": -47.5, "longitude": -122.25, "accuracy": None})
    assert found == {"type": "Point", "coordinates": [-122.25, -47.5]}


def test_a_line_has_two_positions_or_more() -> None:
    """3.1.4."""
    found = feature("path", places(CLOCKWISE[:2]))
    assert found == {"type": "LineString", "coordinates": [[10.0, 0.0], [10.0, 1.0]]}


@pytest.mark.parametrize("corners", [CLOCKWISE, CLOCKWISE[::-1]])
def test_a_ring_is_closed_and_runs_counterclockwise(corners: list[tuple[float, float]]) -> None:
    """3.1.6: four positions or more, the last the same as the first, exterior rings counterclockwise."""
    found = feature("area", places(corners))
    (ring,) = found["coordinates"]
    assert found["type"] == "Polygon" and len(ring) == 5 and ring[0] == ring[-1]
    area, _ = WGS84.polygon_area_perimeter([east for east, _ in ring], [north for _, north in ring])
    assert area > 0


@given(
    st.floats(-180, 180), st.floats(-60, 60),
    st.lists(st.tuples(st.floats(0.001, 0.5), st.floats(0.001, 0.5)), min_size=3, max_size=3), st.booleans(),
)  # fmt: skip
def test_rings_run_as_pyproj_says_also_across_the_date_line(
    east: float, north: float, sides: list[tuple[float, float]], turned: bool
) -> None:
    """3.1.6, held against the signed area of pyproj, whose positive is counterclockwise."""
    (a, b), (c, d), (e, f) = sides
    corners = [(east, north), (east + a, north - b), (east + a + c, north + d), (east + e / 10, north + d + f)]
    if turned:
        corners = corners[::-1]
    wrapped = [((lon + 540) % 360 - 180, lat) for lon, lat in corners]
    ring = closed_ring(wrapped)
    area, _ = WGS84.polygon_area_perimeter([lon for lon, _ in ring], [lat for _, lat in ring])
    assert area >= -1
    assert sorted(map(tuple, ring[:-1])) == sorted(wrapped)
