"""Values of rules that the standard library has no type for: spans of time, quantities, places, media.

Standard library only: the phone loads this.
"""

from __future__ import annotations

import operator
from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from functools import partial, reduce
from typing import Any

# Whole, or with an end behind the point, or what no decimal can hold: a third.
Number = int | Decimal | Fraction


@dataclass(frozen=True)
class Duration:
    """A span of time: whole `months` and `seconds` are kept apart, since months differ in length."""

    months: int = 0
    seconds: int = 0

    def __lt__(self, other: Duration) -> bool:
        return (self.months, self.seconds) < (other.months, other.seconds)

    def __le__(self, other: Duration) -> bool:
        return (self.months, self.seconds) <= (other.months, other.seconds)

    def __str__(self) -> str:
        minutes, seconds = divmod(self.seconds, 60)
        pieces = ((self.months, "months"), (minutes, "minutes"), (seconds, "seconds"))
        return " ".join(f"{n} {word}" for n, word in pieces if n) or "0 minutes"


@dataclass(frozen=True)
class Quantity:
    """`amount` in `unit` as it was answered; `size` is the same in the dimension's base unit.

    `size` is None while the answer that the unit's factor depends on is missing.
    """

    amount: Number
    unit: str
    size: Number | None = None


@dataclass(frozen=True)
class Reading:
    """What an instrument showed: an amount in the question's unit, which instrument, and when (ISO 8601)."""

    amount: Number
    size: Number | None = None
    instrument: str = ""
    time: str = ""


@dataclass(frozen=True)
class Point:
    """Degrees north and east on WGS 84; `accuracy` in metres, None where it is not known."""

    latitude: float
    longitude: float
    accuracy: float | None = None


@dataclass(frozen=True)
class Path:
    """Points in the order they were walked."""

    points: tuple[Point, ...]


@dataclass(frozen=True)
class Area:
    """The corners of an area in turn; the first is not repeated at the end."""

    points: tuple[Point, ...]


@dataclass(frozen=True)
class Media:
    """A picture, a recording or another file, known by the hash of its content."""

    file: str
    name: str
    type: str
    bytes: int


def tidy(x: Number) -> Number:
    """A number in its plainest form, so that equal numbers look equal: int, else Decimal where it can hold the number."""
    if isinstance(x, Decimal):
        return int(x) if x == x.to_integral_value() else x
    if isinstance(x, Fraction):
        if x.denominator == 1:
            return x.numerator
        found = as_decimal(x)
        return found if found == x else x
    return x


def as_decimal(x: Any) -> Any:
    """A Fraction to 28 digits, as it is shown and written; anything else as it is."""
    return Decimal(x.numerator) / Decimal(x.denominator) if isinstance(x, Fraction) else x


# No count of anything has more digits, and no text more characters; a rule that makes one gives nothing instead, so that
# no rule can fill the memory.
MOST_DIGITS, MOST_CHARACTERS = 1_000, 20_000
_MOST_BITS = int(MOST_DIGITS * 3.33)


def exactly(operation: Callable[[Any, Any], Any], a: Any, b: Any) -> Any:
    """`operation` on two numbers, whatever their forms; missing where it has more than MOST_DIGITS digits."""
    try:
        return bounded(operation(a, b))
    except TypeError:
        return bounded(operation(Fraction(a), Fraction(b)))
    except ArithmeticError:
        return None


def bounded(x: Any) -> Any:
    """A number in its plainest form, or None where it is too long to be one."""
    if isinstance(x, int):
        return None if x.bit_length() > _MOST_BITS else x
    if isinstance(x, Fraction):
        too_long = x.numerator.bit_length() > _MOST_BITS or x.denominator.bit_length() > _MOST_BITS
        return None if too_long else tidy(x)
    if isinstance(x, Decimal) and x.is_finite() and abs(x.adjusted()) > MOST_DIGITS:
        return None
    return tidy(x)


def total(values: list[Number]) -> Number:
    """All of them added up; 0 of none."""
    return reduce(partial(exactly, operator.add), values, 0)


def size_of(value: Any) -> Number | None:
    """The size of a quantity or a reading in base units; a derived quantity is its size already."""
    return value.size if isinstance(value, Quantity | Reading) else value
