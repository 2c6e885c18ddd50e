"""Figures and draws that come out the same on any machine. Standard library only."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Sequence
from math import fsum
from statistics import median
from typing import Any


def draw(seed: int, place: str, of: int) -> int:
    """A number from 0 to `of` - 1 that a seed and the name of a row give."""
    digest = hashlib.sha256(f"{seed}/{place}".encode()).digest()
    return int.from_bytes(digest[:8], "big") % of


def figure(way: str, values: Sequence[Any], *, whole: bool) -> Any:
    """The mean, median or commonest of some values, None of none; of several equally common ones the first in order.

    Sums are exact before they are rounded (math.fsum), so that the order of the rows makes no difference.
    """
    if not values:
        return None
    if way == "commonest":
        counts = Counter(values)
        most = max(counts.values())
        return min(value for value, count in counts.items() if count == most)
    found = fsum(values) / len(values) if way == "mean" else float(median(values))
    return round(found) if whole else found
