"""What an outside table holds of our variables, by what its join compares: called as ours, labels of codes as those codes."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

import polars as pl

from skavo.core.combining.keys import Alike, made_alike
from skavo.core.combining.sides import Outside
from skavo.core.combining.spec import Join
from skavo.core.dataset.layout import INTERVIEWS, Column, label_in

# What labels that are compared by likeness are not told apart by.
_IN_WRITING: list[Alike] = ["case", "blanks", "accents"]


def compared(join: Join | None) -> Iterator[tuple[str, str, str, list[Alike]]]:
    """(ours, theirs, language of labels, ways) of what a join of interviews finds rows by, keys first."""
    if join is None or join.into != INTERVIEWS or join.several == "rows":
        return
    for pair in join.keys:
        yield pair.ours, pair.theirs, pair.words, list(pair.alike)
    for one in join.near.compare if join.near is not None else []:
        yield one.ours, one.theirs, one.words, _IN_WRITING


def in_our_codes(outside: Outside, join: Join | None, ours: Mapping[str, Column]) -> Outside:
    """The table with columns that are compared with a variable of codes read as those codes. A cell that is none of them is a
    code of its own, to be looked at."""
    found, seen = outside, set[str]()
    for name, heading, words, ways in compared(join):
        column = ours.get(name)
        if column is None or column.measure != "code" or heading in seen:
            continue
        if outside.column(heading).read_as not in ("text", "code"):
            continue
        seen.add(heading)
        found = _read_as(found, heading, column, _known(column, words, ways), ways)
    return found


def _known(column: Column, words: str, ways: list[Alike]) -> dict[str, str]:
    """The code that each label, or code, made alike, is; the first of several."""
    known: dict[str, str] = {}
    for code, texts in column.codes.items():
        written = (texts.get(words) or label_in(texts, words, code)) if words else code
        known.setdefault(made_alike(written, ways), code)
    return known


def _read_as(outside: Outside, heading: str, column: Column, known: dict[str, str], ways: list[Alike]) -> Outside:
    cells = outside.frame[heading]
    different = cells.drop_nulls().unique().to_list()
    mapping = {cell: known[alike] for cell in different if (alike := made_alike(cell, ways)) in known}
    codes = {code: label_in(texts, "en", code) for code, texts in column.codes.items()}
    described = [
        one.model_copy(update={"read_as": "code", "codes": codes}) if one.name == heading else one
        for one in outside.columns
    ]
    frame = outside.frame.with_columns(pl.col(heading).replace(mapping))
    return replace(outside, frame=frame, columns=described)
