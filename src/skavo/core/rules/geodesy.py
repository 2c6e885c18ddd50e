"""Distances and areas on the WGS 84 ellipsoid. Standard library only: the phone loads this.

Results are decimals rounded to the millimetre and to the square centimetre, so that the last bit of a sine, which
differs between machines, never shows.
"""

from __future__ import annotations

from decimal import Decimal
from math import asin, atan, atan2, atanh, cos, radians, remainder, sin, sqrt, tan

from skavo.core.rules.values import Area, Number, Path, Point, tidy, total

EQUATORIAL_M = 6378137.0
FLATTENING = 1 / 298.257223563
POLAR_M = EQUATORIAL_M * (1 - FLATTENING)
_ECCENTRICITY = sqrt(FLATTENING * (2 - FLATTENING))
_MOST_ROUNDS = 200


def distance_m(a: Point, b: Point) -> Number | None:
    """Metres along the ellipsoid between two points; missing for points almost opposite each other on the globe.

    T. Vincenty, Direct and Inverse Solutions of Geodesics on the Ellipsoid, Survey Review 23 (1975), inverse formula.
    """
    if (a.latitude, a.longitude) == (b.latitude, b.longitude):
        return 0
    metres = _inverse(a, b)
    return None if metres is None else _exact(metres, "0.001")


def _inverse(a: Point, b: Point) -> float | None:
    u1 = atan((1 - FLATTENING) * tan(radians(a.latitude)))
    u2 = atan((1 - FLATTENING) * tan(radians(b.latitude)))
    apart = radians(b.longitude - a.longitude)
    sin1, cos1, sin2, cos2 = sin(u1), cos(u1), sin(u2), cos(u2)
    on_sphere = apart
    for _ in range(_MOST_ROUNDS):
        sin_l, cos_l = sin(on_sphere), cos(on_sphere)
        sin_sigma = sqrt((cos2 * sin_l) ** 2 + (cos1 * sin2 - sin1 * cos2 * cos_l) ** 2)
        if sin_sigma == 0:
            return 0.0
        cos_sigma = sin1 * sin2 + cos1 * cos2 * cos_l
        sigma = atan2(sin_sigma, cos_sigma)
        sin_alpha = cos1 * cos2 * sin_l / sin_sigma
        cos2_alpha = 1 - sin_alpha**2
        cos_mid = cos_sigma - 2 * sin1 * sin2 / cos2_alpha if cos2_alpha else 0.0
        c = FLATTENING / 16 * cos2_alpha * (4 + FLATTENING * (4 - 3 * cos2_alpha))
        before = on_sphere
        bend = sigma + c * sin_sigma * (cos_mid + c * cos_sigma * (2 * cos_mid**2 - 1))
        on_sphere = apart + (1 - c) * FLATTENING * sin_alpha * bend
        if abs(on_sphere - before) < 1e-12:
            return _arc(cos2_alpha, sin_sigma, cos_sigma, sigma, cos_mid)
    return None


def _arc(cos2_alpha: float, sin_sigma: float, cos_sigma: float, sigma: float, cos_mid: float) -> float:
    u = cos2_alpha * (EQUATORIAL_M**2 - POLAR_M**2) / POLAR_M**2
    big_a = 1 + u / 16384 * (4096 + u * (-768 + u * (320 - 175 * u)))
    big_b = u / 1024 * (256 + u * (-128 + u * (74 - 47 * u)))
    inner = cos_sigma * (2 * cos_mid**2 - 1) - big_b / 6 * cos_mid * (4 * sin_sigma**2 - 3) * (4 * cos_mid**2 - 3)
    return POLAR_M * big_a * (sigma - big_b * sin_sigma * (cos_mid + big_b / 4 * inner))


def length_m(path: Path) -> Number | None:
    """Metres from the first point of a path to the last, along it."""
    steps = [distance_m(a, b) for a, b in zip(path.points, path.points[1:], strict=False)]
    return None if None in steps else total([s for s in steps if s is not None])


def size_m2(area: Area) -> Number | None:
    """Square metres inside an area; missing with fewer than three corners.

    The area of the polygon on the authalic sphere (J. P. Snyder, Map Projections, USGS Professional Paper 1395, 1987,
    p. 16), whose areas are those of the ellipsoid. Its edges are great circles there: right for whatever can be
    walked around, not for a continent, and not for an area that holds a pole.
    """
    if len(area.points) < 3:
        return None
    corners = [(_authalic(radians(p.latitude)), p.longitude) for p in area.points]
    excess = 0.0
    for (lat1, lon1), (lat2, lon2) in zip(corners, [*corners[1:], corners[0]], strict=True):
        # Taken in degrees: near ones subtract without rounding, and a small plot keeps its square centimetres.
        step = radians(remainder(lon2 - lon1, 360))
        t1, t2 = tan(lat1 / 2), tan(lat2 / 2)
        excess += 2 * atan2(tan(step / 2) * (t1 + t2), 1 + t1 * t2)
    return _exact(abs(excess) * _AUTHALIC_M**2, "0.01")


def _q(sin_lat: float) -> float:
    e = _ECCENTRICITY
    return (1 - e * e) * (sin_lat / (1 - (e * sin_lat) ** 2) + atanh(e * sin_lat) / e)


_Q_POLE = _q(1.0)
_AUTHALIC_M = EQUATORIAL_M * sqrt(_Q_POLE / 2)


def _authalic(latitude: float) -> float:
    return asin(max(-1.0, min(1.0, _q(sin(latitude)) / _Q_POLE)))


def is_inside(point: Point, area: Area) -> bool | None:
    """Whether a point lies in an area or on its edge; edges run straight in degrees. Missing below three corners."""
    if len(area.points) < 3:
        return None
    corners: list[tuple[float, float]] = []
    east = remainder(area.points[0].longitude - point.longitude, 360)
    for before, here in zip((area.points[0], *area.points), area.points, strict=False):
        # From corner to corner the short way round, also where that crosses the date line.
        east += remainder(here.longitude - before.longitude, 360)
        corners.append((east, here.latitude - point.latitude))
    inside = False
    for (x1, y1), (x2, y2) in zip(corners, [*corners[1:], corners[0]], strict=True):
        cross = x1 * y2 - x2 * y1
        if cross == 0 and x1 * x2 <= 0 and y1 * y2 <= 0:
            return True
        if (y1 > 0) != (y2 > 0) and (cross > 0) == (y2 > y1):
            inside = not inside
    return inside


def _exact(x: float, step: str) -> Number:
    return tidy(Decimal(repr(x)).quantize(Decimal(step)))
