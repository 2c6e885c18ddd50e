"""Exact numbers over columns: a whole numerator over a whole denominator, with limits that keep both from running over.

A rule counts in exact decimals and fractions (rules.values); binary floating point does not. A column of up to fifteen
digits is therefore taken as whole numbers over a power of ten, and every operation stays within whole numbers of 64 or
128 bits, by the largest values that the columns hold. What may not fit is refused with RowByRow and left to the engine.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from functools import reduce
from math import lcm
from typing import Any

import numpy as np
import polars as pl

from skavo.core.rules.values import tidy

# Below these a whole number fits into 64 and 128 bits, with a bit to spare.
_IN_64, _IN_128 = 2**62, 2**126
# Every whole number up to here is a floating-point number of its own.
MOST_EXACT = 2**53
# As many digits as a floating-point number keeps apart.
_MOST_DIGITS, _MOST_PLACES = 15, 9
# So many rows are looked at together: what comes up on the way takes little room.
_AT_ONCE = 100_000


class RowByRow(Exception):
    """A form that has no exact counterpart over columns: the engine goes through the rows."""


@dataclass(frozen=True)
class Ratio:
    """`num` over `den`, both whole, `den` above 0; `most` and `most_den` are the largest that they may be."""

    num: pl.Expr
    den: pl.Expr | int
    most: int
    most_den: int


@dataclass(frozen=True)
class Number:
    """A number over the rows of a table. `plain` is the same as it stands in its column, where it does;
    `constant` the number itself, where it is the same in every row."""

    ratio: Callable[[], Ratio]
    plain: pl.Expr | None = None
    constant: Fraction | None = None


def of_ratio(ratio: Ratio) -> Number:
    return Number(lambda: ratio)


def literal(value: int | Decimal | Fraction) -> Number:
    """A number that stands in the rule."""
    exact = Fraction(value)
    plain: int | float | None = None
    if exact.denominator == 1 and abs(exact) < MOST_EXACT:
        plain = int(exact)
    elif isinstance(value, Decimal) and len(value.as_tuple().digits) <= _MOST_DIGITS:
        plain = float(value)

    def ratio() -> Ratio:
        most = abs(exact.numerator)
        return Ratio(_lit(exact.numerator), exact.denominator, _fits(most), _fits(exact.denominator))

    return Number(ratio, None if plain is None else pl.lit(plain), exact)


@dataclass(frozen=True)
class Digits:
    """How the numbers of a column are taken as whole ones: `places` behind the point, none above `most` then."""

    places: int
    most: int


def digits_of(values: pl.Series) -> Digits | None:
    """The digits of a column; None where they are more than a floating-point number keeps apart."""
    if not values.dtype.is_float():
        return Digits(0, _most(values))
    present = values.drop_nulls().to_numpy()
    if not np.isfinite(present).all():
        return None
    places = 0
    for start in range(0, len(present), _AT_ONCE):
        while not _has_places(present[start : start + _AT_ONCE], places):
            places += 1
            if places > _MOST_PLACES:
                return None
    largest = max(present.max(initial=0), -present.min(initial=0))
    most = float(np.rint(largest * 10.0**places))
    return Digits(places, int(most)) if most < 10**_MOST_DIGITS else None


def _has_places(values: np.ndarray[Any, Any], places: int) -> bool:
    scale = 10.0**places
    return bool((np.rint(values * scale) / scale == values).all())


def whole_numbers(values: pl.Series, digits: Digits) -> pl.Series:
    """The numbers of a column as whole ones."""
    return (values * 10.0**digits.places).round().cast(pl.Int64) if values.dtype.is_float() else values.cast(pl.Int64)


def of_column(column: pl.Expr, digits: Callable[[], Digits | None], whole: Callable[[], pl.Expr]) -> Number:
    """A column of numbers; `digits` and `whole` give how it is taken as whole numbers, where that is needed."""

    def ratio() -> Ratio:
        found = digits()
        if found is None:
            raise RowByRow
        scale = 10**found.places
        return Ratio(whole(), scale, found.most, scale)

    return Number(ratio, column)


def of_whole(column: pl.Expr, most: int) -> Number:
    """A column of whole numbers that are worked out here: none above `most`."""
    return of_column(column, lambda: Digits(0, most), lambda: column)


def _most(values: pl.Series) -> int:
    low, high = values.min(), values.max()
    return max(abs(int(low)), abs(int(high))) if low is not None and high is not None else 0  # type: ignore[arg-type]


def add(a: Number, b: Number) -> Number:
    return of_ratio(_add(a.ratio(), b.ratio(), 1))


def subtract(a: Number, b: Number) -> Number:
    return of_ratio(_add(a.ratio(), b.ratio(), -1))


def multiply(a: Number, b: Number) -> Number:
    x, y = a.ratio(), b.ratio()
    return of_ratio(
        Ratio(
            _times(x.num, x.most, y.num, y.most), _times_den(x, y),
            _fits(x.most * y.most), _fits(x.most_den * y.most_den),
        )
    )  # fmt: skip


def divide(a: Number, b: Number) -> Number:
    """a / b; missing where b is 0."""
    if b.constant:
        return multiply(a, literal(1 / b.constant))
    y = b.ratio()
    sign = y.num.sign()
    upside_down = Ratio(_sized(sign, y.most_den) * y.den, y.num.abs(), y.most_den, max(y.most, 1))
    found = multiply(a, of_ratio(upside_down)).ratio()
    return of_ratio(Ratio(pl.when(y.num != 0).then(found.num), found.den, found.most, found.most_den))


def negative(a: Number) -> Number:
    x = a.ratio()
    return of_ratio(Ratio(-x.num, x.den, x.most, x.most_den))


def absolute(a: Number) -> Number:
    x = a.ratio()
    return of_ratio(Ratio(x.num.abs(), x.den, x.most, x.most_den))


def floor(a: Number) -> Number:
    x = a.ratio()
    return of_ratio(Ratio(_floor(x), 1, x.most + 1, 1))


def ceiling(a: Number) -> Number:
    return negative(floor(negative(a)))


def rounded(a: Number, places: Number) -> Number:
    """To so many places, halves away from zero."""
    if places.constant is None or places.constant.denominator != 1 or abs(places.constant) > 12:
        raise RowByRow
    ten = literal(Fraction(10) ** int(places.constant))
    half = literal(Fraction(1, 2))
    away = floor(add(multiply(absolute(a), ten), half))
    found = divide(away, ten).ratio()
    return of_ratio(Ratio(_sized(a.ratio().num.sign(), found.most) * found.num, found.den, found.most, found.most_den))


def remainder(a: Number, b: Number) -> Number:
    """What is left of a after dividing by b, with the sign of b; missing where b is 0."""
    return subtract(a, multiply(b, floor(divide(a, b))))


def compare(op: str, a: Number, b: Number) -> pl.Expr:
    """One of is, is_not, lt, le, gt, ge."""
    if a.plain is not None and b.plain is not None:
        left, right = a.plain, b.plain
    else:
        left, right, _, _ = _alike(a.ratio(), b.ratio())
    return COMPARED[op](left, right)


COMPARED: dict[str, Callable[[pl.Expr, pl.Expr], pl.Expr]] = {
    "is": lambda a, b: a == b,
    "is_not": lambda a, b: a != b,
    "lt": lambda a, b: a < b,
    "le": lambda a, b: a <= b,
    "gt": lambda a, b: a > b,
    "ge": lambda a, b: a >= b,
}


def choose(condition: pl.Expr, a: Number, b: Number) -> Number:
    """a where the condition is a definite yes, b everywhere else."""

    def ratio() -> Ratio:
        x, y = a.ratio(), b.ratio()
        if isinstance(x.den, int) and isinstance(y.den, int):
            left, right, most, den = _alike(x, y)
            return Ratio(pl.when(condition).then(left).otherwise(right), den, most, den)
        most, most_den = max(x.most, y.most), max(x.most_den, y.most_den)
        return Ratio(
            pl.when(condition).then(_sized(x.num, most)).otherwise(_sized(y.num, most)),
            pl.when(condition).then(_whole(x.den, most_den)).otherwise(_whole(y.den, most_den)), most, most_den,
        )  # fmt: skip

    plain = None
    if a.plain is not None and b.plain is not None:
        plain = pl.when(condition).then(a.plain).otherwise(b.plain)
    return Number(ratio, plain)


def only_where(condition: pl.Expr, a: Number) -> Number:
    """a where the condition is a definite yes, missing everywhere else."""

    def ratio() -> Ratio:
        x = a.ratio()
        return Ratio(pl.when(condition).then(x.num), x.den, x.most, x.most_den)

    return Number(ratio, None if a.plain is None else pl.when(condition).then(a.plain))


def extreme(op: str, numbers: list[Number]) -> Number:
    """The smallest (`lt`) or largest (`gt`) of those that are there."""
    return reduce(lambda a, b: _either(op, a, b), numbers)


def _either(op: str, a: Number, b: Number) -> Number:
    first_missing = a.plain.is_null() if a.plain is not None else a.ratio().num.is_null()
    takes_second = first_missing | compare(op, b, a).fill_null(False)
    return choose(takes_second, b, a)


def as_float(a: Number) -> tuple[pl.Expr, pl.Expr]:
    """As floating-point numbers, each the nearest there is; and where that is not certain."""
    if a.plain is not None:
        return a.plain.cast(pl.Float64), pl.lit(False)
    x = a.ratio()
    # By a literal polars would multiply with its inverse, which is not the nearest number.
    den = (x.num * 0 + _lit(x.den) if isinstance(x.den, int) else x.den).cast(pl.Float64)
    surely = pl.lit(x.most_den < MOST_EXACT) if isinstance(x.den, int) else x.den < MOST_EXACT
    return x.num.cast(pl.Float64) / den, ~(surely & (x.num.abs() < MOST_EXACT))


def _add(x: Ratio, y: Ratio, sign: int) -> Ratio:
    left, right, most, den = _alike(x, y)
    total = _fits(2 * most)
    num = _sized(left, total) + sign * _sized(right, total)
    return Ratio(num, den if isinstance(x.den, int) and isinstance(y.den, int) else _times_den(x, y), total, den)


def _alike(x: Ratio, y: Ratio) -> tuple[pl.Expr, pl.Expr, int, int]:
    """Both numerators over one denominator: they, the largest they may be, and (the largest of) the denominator."""
    if isinstance(x.den, int) and isinstance(y.den, int):
        den = _fits(lcm(x.den, y.den))
        most = _fits(max(x.most * (den // x.den), y.most * (den // y.den)))
        return _sized(x.num, most) * _lit(den // x.den), _sized(y.num, most) * _lit(den // y.den), most, den
    most = _fits(max(x.most * y.most_den, y.most * x.most_den))
    left, right = _sized(x.num, most) * _whole(y.den, most), _sized(y.num, most) * _whole(x.den, most)
    return left, right, most, _fits(x.most_den * y.most_den)


def _times(a: pl.Expr, most_a: int, b: pl.Expr, most_b: int) -> pl.Expr:
    most = _fits(most_a * most_b)
    return _sized(a, most) * _sized(b, most)


def _times_den(x: Ratio, y: Ratio) -> pl.Expr | int:
    if isinstance(x.den, int) and isinstance(y.den, int):
        return _fits(x.den * y.den)
    most = _fits(x.most_den * y.most_den)
    return _whole(x.den, most) * _whole(y.den, most)


def _floor(x: Ratio) -> pl.Expr:
    most = max(x.most, x.most_den)
    return x.num if isinstance(x.den, int) and x.den == 1 else _sized(x.num, most) // _whole(x.den, most)


def _whole(den: pl.Expr | int, most: int) -> pl.Expr:
    return _sized(_lit(den) if isinstance(den, int) else den, most)


def _lit(value: int) -> pl.Expr:
    return pl.lit(value, dtype=pl.Int64 if abs(value) < _IN_64 else pl.Int128)


def _sized(expr: pl.Expr, most: int) -> pl.Expr:
    return expr.cast(pl.Int64 if most < _IN_64 else pl.Int128)


def _fits(most: int) -> int:
    if most >= _IN_128:
        raise RowByRow
    return most


def sum_of(a: Number, rows: int) -> tuple[pl.Expr, Callable[[pl.Expr], Number]]:
    """The sum within a group of at most `rows` rows: the aggregation, and how its column is read as a number."""
    x = a.ratio()
    den = _constant(x)
    most = _fits(x.most * max(rows, 1))
    there = pl.when(x.num.count() > 0).then(_sized(x.num, most).sum())
    return there, lambda column: of_ratio(Ratio(column, den, most, den))


def mean_of(a: Number, rows: int) -> tuple[pl.Expr, Callable[[pl.Expr], Number]]:
    """The mean of what is there within a group of at most `rows` rows."""
    x = a.ratio()
    den = _constant(x)
    most, most_den = _fits(x.most * max(rows, 1)), _fits(den * max(rows, 1))
    total = pl.when(x.num.count() > 0).then(_sized(x.num, most).sum())
    both = pl.struct(total.alias("num"), x.num.count().cast(pl.Int64).alias("rows"))

    def read(column: pl.Expr) -> Number:
        rows_there = pl.max_horizontal(column.struct.field("rows"), pl.lit(1, dtype=pl.Int64))
        return of_ratio(
            Ratio(column.struct.field("num"), _sized(rows_there, most_den) * _whole(den, most_den), most, most_den)
        )

    return both, read


def as_aggregated(a: Number) -> tuple[pl.Expr, Callable[[pl.Expr], Number]]:
    """A column to take one row's value from (lowest, highest, first), and how that is read as a number."""
    if a.plain is not None:
        # One of the values of the column has its digits and its limits.
        return a.plain, lambda column: Number(lambda: _moved(a, column), column)
    x = a.ratio()
    den = _constant(x)
    return x.num, lambda column: of_ratio(Ratio(column, den, x.most, den))


def _moved(a: Number, column: pl.Expr) -> Ratio:
    x = a.ratio()
    den = _constant(x)
    return Ratio(column if den == 1 else (column * float(den)).round().cast(pl.Int64), den, x.most, den)


def _constant(x: Ratio) -> int:
    if not isinstance(x.den, int):
        raise RowByRow
    return x.den


def exact(value: Any) -> Any:
    """A cell as rules read it: a floating-point number as the shortest decimal that stands for it."""

    return tidy(Decimal(repr(value))) if isinstance(value, float) else value
