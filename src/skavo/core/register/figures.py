"""Answers of units as numbers, to be compared and carried upward."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

import numpy as np

from skavo.core.interview.release import PartSpec, Release
from skavo.core.register.tree import Figures

NONE = math.nan


def figure_of(release: Release, part: PartSpec, value: Any) -> float:
    """A number as it is, a quantity in base units, a date as its day, a code as its place in the list; NaN for nothing.

    A quantity in a unit whose factor follows from other answers has no figure here.
    """
    kind = part.raw["type"]
    if kind in ("date", "date-time"):
        return _day(value)
    if kind == "code":
        order = release.orders[part.raw["code_list"]]
        return float(order.index(value)) if value in order else NONE
    if isinstance(value, dict):
        return _number(value.get("amount")) * _factor(part, value.get("unit"))
    return _number(value)


def figures_of(release: Release, part: PartSpec, values: Iterable[Any]) -> Figures:
    """The figures of many answers; shape (n,)."""
    return np.array([NONE if value is None else figure_of(release, part, value) for value in values], dtype=np.float64)


def said(release: Release, part: PartSpec, figure: float) -> Any:
    """A figure as the answer that it came from: a day, a code, or a number."""
    kind = part.raw["type"]
    if kind in ("date", "date-time"):
        return date.fromordinal(int(figure)).isoformat()
    if kind == "code":
        return release.orders[part.raw["code_list"]][int(figure)]
    # What decimals add up to is a decimal, and not the last bit of a binary number.
    rounded = round(figure, 6)
    return int(rounded) if rounded == int(rounded) else rounded


def can_be_carried(part: PartSpec, how: str) -> bool:
    """Whether a field can be carried upward in a way: numbers in any, days and codes as least and most."""
    kind = part.raw["type"]
    if part.raw["base_unit"] == "" and kind == "quantity":
        return False
    return kind in ("number", "quantity") or (kind in ("date", "date-time", "code") and how != "sum")


def _number(value: Any) -> float:
    if type(value) is int:
        return float(value)
    if isinstance(value, bool) or not isinstance(value, float | str):
        return NONE
    try:
        return float(Decimal(str(value)))
    except InvalidOperation:
        return NONE


def _day(value: Any) -> float:
    try:
        return float(date.fromisoformat(value[:10]).toordinal()) if isinstance(value, str) else NONE
    except ValueError:
        return NONE


def _factor(part: PartSpec, unit: Any) -> float:
    if unit is None:
        return 1.0
    factor = next((one["factor"] for one in part.raw["units"] if one["unit"] == unit), None)
    return _number(factor[2] if factor is not None and factor[0] == "literal" else None)
