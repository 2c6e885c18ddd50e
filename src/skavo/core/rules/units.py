"""Units of measure: the standard ones, and those that a questionnaire brings itself."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Unit:
    """`factor` says how many base units of the dimension one of this is: a number, or a rule over earlier answers."""

    name: str
    dimension: str
    factor: str
    unit_list: str = ""

    @property
    def is_base(self) -> bool:
        return self.factor.strip() == "1"


# Factors by definition: the SI brochure (9th edition, 2019) and its table of units accepted beside the SI.
_STANDARD: dict[str, dict[str, str]] = {
    "mass": {"kg": "1", "g": "0.001", "t": "1000"},
    "volume": {"l": "1", "ml": "0.001", "m3": "1000"},
    "length": {"m": "1", "mm": "0.001", "cm": "0.01", "km": "1000"},
    "area": {"m2": "1", "ha": "10000", "km2": "1000000"},
}
STANDARD: dict[str, Unit] = {
    name: Unit(name, dimension, factor) for dimension, units in _STANDARD.items() for name, factor in units.items()
}


def unit_book(own: Iterable[Unit]) -> dict[str, tuple[Unit, ...]]:
    """Units by name, the questionnaire's own before the standard ones of that name."""
    book: dict[str, tuple[Unit, ...]] = {}
    for unit in [*own, *STANDARD.values()]:
        known = book.get(unit.name, ())
        if not any((u.dimension, u.factor) == (unit.dimension, unit.factor) for u in known):
            book[unit.name] = (*known, unit)
    return book


def find_units(book: Mapping[str, tuple[Unit, ...]], word: str) -> tuple[Unit, ...]:
    """The units that `word` names, in the singular or with an s; empty where there is none."""
    return book.get(word) or book.get(word.removesuffix("s")) or book.get(word.removesuffix("es")) or ()


def base_unit(book: Mapping[str, tuple[Unit, ...]], dimension: str) -> str:
    """The unit that sizes of a dimension are counted in; empty where none has the factor 1."""
    for units in book.values():
        for unit in units:
            if unit.dimension == dimension and unit.is_base:
                return unit.name
    return ""
