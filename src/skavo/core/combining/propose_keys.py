"""Which column of an outside table may be which variable: the pairs whose values meet, what tells rows apart best first."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import polars as pl

from skavo.core.combining.keys import keys_of
from skavo.core.combining.sides import Outside, our_texts, table_named, their_texts
from skavo.core.combining.spec import KeyPair
from skavo.core.dataset.flatten import DataSet, Table
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.dataset.nesting import tables_above

# So many different values have to meet, in such a share of those of the side that has fewer (common practice).
_FEWEST_MET, _SHARE_MET = 3, 0.3
# Numbers and dates meet by chance, unless nearly every row has one of its own.
_OWN_SHARE = 0.5
_MOST = 6


@dataclass(frozen=True)
class ProposedKey:
    """`matched` of the `rows` of ours that have the key find a partner by it alone; `met` are the different values that meet."""

    pair: KeyPair
    matched: int
    rows: int
    met: int


def propose_keys(data: DataSet, outside: Outside, into: str) -> list[ProposedKey]:
    """The pairs that may be a key of the table `into`, each column with its best variable; none where nothing meets."""
    table = table_named(data, into)
    theirs = {c.name: _different(their_texts(outside, c.name)) for c in outside.columns}
    names_apart = {c.name for c in outside.columns if c.read_as not in ("text", "code")}
    best: dict[str, ProposedKey] = {}
    for variable, words, is_named in _ours(data, table):
        ours = _made(our_texts(data, table, variable, words))
        counted = ours.drop_nulls().alias("key").value_counts(name="n")
        for name, values in theirs.items():
            own = _is_own(counted.height, ours) and _is_own(values.len(), outside.frame[name])
            if not own and (not is_named or name in names_apart):
                continue
            met = counted.filter(pl.col("key").is_in(values.to_list()))
            if met.height < max(_FEWEST_MET, _SHARE_MET * min(counted.height, values.len())):
                continue
            pair = KeyPair(ours=variable, theirs=name, words=words)
            found = ProposedKey(pair, int(met["n"].sum()), ours.len() - ours.null_count(), met.height)
            if name not in best or _worth(found) > _worth(best[name]):
                best[name] = found
    return sorted(best.values(), key=_worth, reverse=True)[:_MOST]


def _worth(found: ProposedKey) -> tuple[int, int]:
    return found.met, found.matched


def _ours(data: DataSet, table: Table) -> Iterator[tuple[str, str, bool]]:
    """What of a table, and of those that it stands in, may be a key: the variable, the language of its labels, and whether
    it names things rather than counting them."""
    if table.layout.name != INTERVIEWS:
        yield f"{table.layout.name}.row", "", True
    for one in [table, *(data[name] for name in tables_above(data, table))]:
        for column in one.layout.columns:
            if column.measure == "code":
                yield column.variable, "", True
                yield column.variable, "en", True
            elif column.measure in ("text", "date") or column.whole:
                yield column.variable, "", column.measure == "text"


def _made(cells: pl.Series) -> pl.Series:
    return keys_of([(cells, ["case"])])


def _different(cells: pl.Series) -> pl.Series:
    return _made(cells.unique()).drop_nulls().unique()


def _is_own(different: int, cells: pl.Series) -> bool:
    return different >= _OWN_SHARE * max(cells.len() - cells.null_count(), 1)
