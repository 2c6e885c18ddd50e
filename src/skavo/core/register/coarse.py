"""Places told roughly, for whoever may not know them exactly."""

from __future__ import annotations

from math import cos, radians

# Of a degree of latitude on the sphere of the Earth's mean radius (6,371.0 km).
_KM_OF_A_DEGREE = 111.195


def coarsened(latitude: float, longitude: float, km: float) -> tuple[float, float]:
    """The middle of the square, about `km` kilometres on a side, that a place in degrees lies in.

    The squares stand still, so that asking often tells no more; towards the poles they take up more degrees of longitude.
    """
    height = km / _KM_OF_A_DEGREE
    north = max(-90.0, min(90.0, (latitude // height + 0.5) * height))
    # As many as go round, so that none is cut by the date line.
    count = max(1, round(360 * cos(radians(north)) / height))
    width = 360 / count
    return north, ((longitude + 180) % 360 // width + 0.5) * width - 180
