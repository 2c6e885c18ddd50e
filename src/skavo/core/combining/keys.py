"""Keys of two tables, made alike in ways that are named, so that what is the same is written the same."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable
from typing import Literal, get_args

import polars as pl

from skavo.core.cleaning.plain_texts import tidied

Alike = Literal["case", "blanks", "accents", "zeros", "signs"]
ALIKE: tuple[Alike, ...] = get_args(Alike)
# Figures and letters that are taken for each other in a hand and on a plate (common practice).
_SIGNS = str.maketrans({"o": "0", "O": "0", "q": "0", "Q": "0", "i": "1", "I": "1", "l": "1", "L": "1", "|": "1"})
_SIGNS |= str.maketrans({"s": "5", "S": "5", "b": "8", "B": "8", "z": "2", "Z": "2"})
BETWEEN = "\x1f"


def _without_accents(text: str) -> str:
    return "".join(s for s in unicodedata.normalize("NFKD", text) if unicodedata.category(s) != "Mn")


def _without_zeros(text: str) -> str:
    return text.lstrip("0") or text[-1:]


_MAKERS: dict[Alike, Callable[[str], str]] = {
    "accents": _without_accents,
    "case": str.casefold,
    "blanks": lambda text: "".join(text.split()),
    "signs": lambda text: tidied(text, trim=True, blanks=True, alike=True, case="").translate(_SIGNS),
    "zeros": _without_zeros,
}


def made_alike(text: str, ways: list[Alike]) -> str:
    """A key without what is told apart only in writing. Space around it never counts.

    >>> made_alike(" Ke1x_0l2 ", ["case", "signs"])
    'ke1x_012'
    >>> made_alike("0042", ["zeros"])
    '42'
    """
    text = text.strip()
    for way, make in _MAKERS.items():
        text = make(text) if way in ways else text
    return text


def keys_of(columns: list[tuple[pl.Series, list[Alike]]]) -> pl.Series:
    """The keys of several columns of texts together, null where one of them is missing or empty."""
    made = [_column(cells, ways) for cells, ways in columns]
    frame = pl.DataFrame([cells.alias(str(at)) for at, cells in enumerate(made)])
    return frame.select(pl.concat_str(pl.all(), separator=BETWEEN, ignore_nulls=False).alias("key"))["key"]


def _column(cells: pl.Series, ways: list[Alike]) -> pl.Series:
    different = cells.drop_nulls().unique()
    alike = {text: made_alike(text, ways) or None for text in different.to_list()}
    return cells.replace_strict(alike, default=None, return_dtype=pl.String)
