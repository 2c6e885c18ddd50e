"""The same unit interviewed twice: pairs of interviews that are nearly the same, weighed by what the table itself shows."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import polars as pl
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.cleaning.work import as_texts
from skavo.core.combining.parts import LEVEL_WORDS, NOTHING
from skavo.core.dataset.flatten import Table
from skavo.core.dataset.layout import KEY, Column
from skavo.core.errors import DataError
from skavo.core.linking.compare import MISSING, Comparison, How
from skavo.core.linking.link import Model, learn_model, weigh, weigh_pair

# So many variables are compared where nobody has said which, and rows that agree in one of so many are looked at.
_COMPARED, _BLOCKS = 6, 3
_MOST_PAIRS = 2_000_000
_MOST_FOUND = 2_000
_FEWEST_VALUES = 4
# Kinds whose answers are of the visit rather than of the unit.
_NO_NAMES = frozenset(
    {
        "photo",
        "audio",
        "video",
        "file",
        "signature",
        "path",
        "area",
        "point",
        "instrument",
        "derived value",
        "read-back",
    }
)


class CopiesSearch(BaseModel):
    """Which variables of the interviews are compared, and how; `blocks` are sets of them, of which one has to agree. A pair is
    shown from `above` bits on."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    compare: dict[str, How] = Field(min_length=1, max_length=20)
    blocks: list[list[str]] = Field(min_length=1, max_length=10)
    above: float = 0.0


@dataclass(frozen=True)
class CopyPart:
    """What a comparison found: both cells, in words, and its weight in bits."""

    variable: str
    one: str
    other: str
    found: str
    bits: float


@dataclass(frozen=True)
class NearCopy:
    """Two interviews by their keys, the earlier first; `bits` is the score with the prior."""

    one: str
    other: str
    bits: float
    parts: list[CopyPart]


@dataclass(frozen=True)
class CopiesFound:
    """The likeliest pairs first; `looked_at` pairs agreed in a block, `more` are beyond the most that are told."""

    pairs: list[NearCopy]
    looked_at: int
    more: int
    prior: float


def proposed_search(table: Table) -> CopiesSearch | None:
    """The variables that tell units apart best: names, codes, years and days with the most different values. What is measured or
    worked out may differ from visit to visit, and is left out."""
    rows = max(table.frame.height, 1)
    told: list[tuple[float, Column]] = []
    for column in table.layout.columns:
        how = _how(column)
        values = table.frame[column.variable]
        there = values.len() - values.null_count()
        if how in (None, "number") or column.origin != "questionnaire" or 2 * there < rows:
            continue
        different = values.drop_nulls().n_unique()
        if different >= _FEWEST_VALUES:
            told.append((different / rows, column))
    best = sorted(told, key=lambda pair: (-pair[0], pair[1].variable))[:_COMPARED]
    if not best:
        return None
    compare = {column.variable: _how(column) or "exact" for _, column in best}
    return CopiesSearch(compare=compare, blocks=[[name] for name in list(compare)[:_BLOCKS]])


def _how(column: Column) -> How | None:
    if column.kind in _NO_NAMES:
        return None
    if column.measure == "number":
        return "whole" if column.whole else "number"
    hows: dict[str, How] = {"text": "text", "date": "date", "code": "exact"}
    return hows.get(column.measure)


def find_copies(table: Table, search: CopiesSearch, apart: Iterable[frozenset[str]] = ()) -> CopiesFound:
    """Pairs of interviews that may be the same unit, without those that are said to be `apart`. Raise DataError where a
    variable is not there, or too many pairs agree."""
    known = {column.variable: column for column in table.layout.columns}
    for name in search.compare:
        if name not in known:
            raise DataError("unknown_variable", f"“{name}” is no variable of the interviews.", {"variable": name})
    if table.frame.height < 2:
        return CopiesFound([], 0, 0, 0.0)
    cells = [as_texts(table.frame[name]).cast(pl.String).fill_null("").alias(name) for name in search.compare]
    rows = pl.DataFrame(cells).to_dicts()
    comparisons = [Comparison(name, name, how) for name, how in search.compare.items()]
    blocks = ["+".join(block) for block in search.blocks]
    model = learn_model(rows, rows, comparisons, blocks, within=True, most=_MOST_PAIRS)
    weighed = weigh(rows, rows, model, blocks, _MOST_PAIRS, within=True)
    keys, said = table.frame[KEY].to_list(), set(apart)
    order = np.argsort(-weighed.bits, kind="stable")
    likely = [at for at in order.tolist() if weighed.bits[at] >= search.above]
    open_ = [at for at in likely if frozenset(keys[place] for place in weighed.pairs[at]) not in said]
    pairs = [
        _copy(rows, keys, model, weighed.pairs[at].tolist(), float(weighed.bits[at])) for at in open_[:_MOST_FOUND]
    ]
    return CopiesFound(pairs, len(weighed.bits), max(0, len(open_) - _MOST_FOUND), model.prior)


def _copy(rows: list[dict[str, str]], keys: list[str], model: Model, pair: list[int], bits: float) -> NearCopy:
    one, other = rows[pair[0]], rows[pair[1]]
    levels, worth = weigh_pair(one, other, model)
    parts = [
        CopyPart(
            weight.comparison.left, one[weight.comparison.left], other[weight.comparison.left],
            NOTHING if level == MISSING else LEVEL_WORDS[weight.comparison.how][level], bit,
        )
        for weight, level, bit in zip(model.weights, levels, worth, strict=True)
    ]  # fmt: skip
    return NearCopy(keys[pair[0]], keys[pair[1]], bits, parts)
