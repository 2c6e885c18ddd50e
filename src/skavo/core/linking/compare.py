"""How two cells are compared: in levels from *differs* upward, by what the column holds.

Text is compared without case, accents and order of words, by the similarity of Jaro (1989) and Winkler (1990); dates by what
a slip of the pen makes of them; numbers by how far they are apart, whole ones (years, counts) by how many.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from rapidfuzz.distance import JaroWinkler
from rapidfuzz.process import cpdist

from skavo.core.errors import DataError
from skavo.core.interview.code_search import folded

How = Literal["text", "date", "number", "whole", "exact"]
Levels = NDArray[np.int8]
Places = NDArray[np.int64]
Mask = NDArray[np.bool_]
MISSING = -1
# How many levels each way of comparing has, *differs* included.
LEVELS: dict[How, int] = {"text": 4, "date": 4, "number": 3, "whole": 4, "exact": 2}
# From so much on two texts are nearly the same, or alike.
_NEARLY, _ALIKE = 0.92, 0.82
# Numbers within a hundredth of the larger are nearly the same.
_NEAR_SHARE = 0.01
# Whole numbers up to so much apart are a few apart.
_FEW = 3
_DATE_SIGNS = 10


@dataclass(frozen=True)
class Comparison:
    """A column of the left table held against one of the right."""

    left: str
    right: str
    how: How


def read_comparison(written: str) -> Comparison:
    """`left=right:how`; a column that is called the same in both may be written once. Raise DataError where it is none.

    >>> read_comparison("name=full_name:text")
    Comparison(left='name', right='full_name', how='text')
    >>> read_comparison("ward:exact")
    Comparison(left='ward', right='ward', how='exact')
    """
    columns, colon, how = written.strip().rpartition(":")
    left, equals, right = columns.partition("=")
    left, right = left.strip(), right.strip() if equals else left.strip()
    if not colon or how not in get_args(How) or not left or not right:
        raise DataError(
            "wrong_comparison",
            f"“{written}” is no comparison. Write left=right:how, where how is {', '.join(get_args(How))}.",
        )
    return Comparison(left, right, how)  # type: ignore[arg-type]


class Cells:
    """The different cells of a column, made ready to be compared in one way; `missing` are those that are empty."""

    def __init__(self, how: How, cells: Sequence[str]) -> None:
        self.how = how
        self.missing = np.fromiter((not cell.strip() for cell in cells), np.bool_, len(cells))
        self.plain = [folded(cell) for cell in cells]
        if how == "text":
            self.sorted = [" ".join(sorted(cell.split())) for cell in self.plain]
        elif how in ("number", "whole"):
            self.numbers = np.array([_as_number(cell) for cell in cells], dtype=np.float64)
        elif how == "date":
            dates = [_as_date(cell.strip()) for cell in cells]
            self.known = np.fromiter((found is not None for found in dates), np.bool_, len(cells))
            self.parts = np.array([[d.year, d.month, d.day] if d else [0, 0, 0] for d in dates]).reshape(-1, 3)
            self.days = np.array([d.toordinal() if d else 0 for d in dates], dtype=np.int64)
            written = [
                (d.isoformat() if d else cell.strip())[:_DATE_SIGNS].ljust(_DATE_SIGNS)
                for d, cell in zip(dates, cells, strict=True)
            ]
            self.signs = np.array([[ord(sign) for sign in text] for text in written]).reshape(-1, _DATE_SIGNS)


def levels_of(left: Cells, right: Cells, a: Places, b: Places) -> Levels:
    """The levels of pairs of cells: those at places `a` of one side against those at `b` of the other; shape (n,). MISSING
    where one of the two is empty."""
    found = _COMPARED[left.how](left, right, a, b)
    found[left.missing[a] | right.missing[b]] = MISSING
    return found


def _text(left: Cells, right: Cells, a: Places, b: Places) -> Levels:
    likeness = np.maximum(_likeness(left.plain, right.plain, a, b), _likeness(left.sorted, right.sorted, a, b))
    return _graded(likeness >= 1, likeness >= _NEARLY, likeness >= _ALIKE)


def _likeness(left: list[str], right: list[str], a: Places, b: Places) -> NDArray[np.float64]:
    if not len(a):
        return np.zeros(0)
    ours, theirs = [left[at] for at in a.tolist()], [right[at] for at in b.tolist()]
    found: NDArray[np.float64] = cpdist(ours, theirs, scorer=JaroWinkler.similarity, dtype=np.float64)
    return found


def _exact(left: Cells, right: Cells, a: Places, b: Places) -> Levels:
    return _graded(_same(left, right, a, b))


def _same(left: Cells, right: Cells, a: Places, b: Places) -> Mask:
    numbers: dict[str, int] = {}
    ours, theirs = ([numbers.setdefault(cell, len(numbers)) for cell in side.plain] for side in (left, right))
    found: Mask = np.array(ours, dtype=np.int64)[a] == np.array(theirs, dtype=np.int64)[b]
    return found


def _number(left: Cells, right: Cells, a: Places, b: Places) -> Levels:
    x, y = left.numbers[a], right.numbers[b]
    near = np.abs(x - y) <= _NEAR_SHARE * np.maximum(np.abs(x), np.abs(y))
    return _graded((x == y) | _same(left, right, a, b), near)


def _whole(left: Cells, right: Cells, a: Places, b: Places) -> Levels:
    """3: the same; 2: one apart; 1: a few apart; for years and counts."""
    apart = np.abs(left.numbers[a] - right.numbers[b])
    return _graded((apart == 0) | _same(left, right, a, b), apart <= 1, apart <= _FEW)


def _date(left: Cells, right: Cells, a: Places, b: Places) -> Levels:
    """3: the same; 2: a slip of the pen, a day or two, day and month turned round, one digit; 1: the same year."""
    x, y, known = left.parts[a], right.parts[b], left.known[a] & right.known[b]
    apart = np.abs(left.days[a] - right.days[b])
    turned = (x[:, 0] == y[:, 0]) & (x[:, 1] == y[:, 2]) & (x[:, 2] == y[:, 1])
    one_digit = (left.signs[a] != right.signs[b]).sum(axis=1) == 1
    same = (known & (apart == 0)) | _same(left, right, a, b)
    return _graded(same, (known & (turned | (apart <= 2))) | one_digit, known & (x[:, 0] == y[:, 0]))


def _graded(*steps: Mask) -> Levels:
    """The highest level whose step is taken, of which the first is the highest; 0 for none."""
    found: Levels = np.select(steps, range(len(steps), 0, -1), 0).astype(np.int8)
    return found


def _as_number(cell: str) -> float:
    try:
        return float(cell.strip().replace(",", "."))
    except ValueError:
        return float("nan")


def _as_date(cell: str) -> date | None:
    try:
        return date.fromisoformat(cell[:_DATE_SIGNS])
    except ValueError:
        return None


_COMPARED: dict[How, Callable[[Cells, Cells, Places, Places], Levels]] = {
    "text": _text, "date": _date, "number": _number, "whole": _whole, "exact": _exact,
}  # fmt: skip
