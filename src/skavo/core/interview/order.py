"""Random order that stays: the same interview shows the same order on every screen and every day."""

from __future__ import annotations

from collections.abc import Sequence
from hashlib import sha256
from typing import Any, TypeVar

from skavo.core.rules.state import Row

Item = TypeVar("Item")


def shuffled(items: Sequence[Item], seed: str, part_id: str, row: Row) -> list[Item]:
    """`items` in an order that follows from the interview's seed, the part and the row.

    Sorted by a hash rather than shuffled: what random.shuffle makes of a seed may differ between Python versions.
    """
    place = f"{seed}/{part_id}/{'/'.join(map(str, row))}"
    return sorted(items, key=lambda item: sha256(f"{place}/{_name(item)}".encode()).digest())


def shuffled_codes(codes: Sequence[dict[str, Any]], seed: str, part_id: str, row: Row) -> list[dict[str, Any]]:
    """Codes in the interview's order; those that exclude the others or ask which other stay at the end."""
    ends = [c for c in codes if c["specify"] or c["exclusive"]]
    free = [c for c in codes if c not in ends]
    return [*shuffled(free, seed, part_id, row), *ends]


def _name(item: Any) -> str:
    return str(item["code"] if isinstance(item, dict) else item)
