"""An outside table brought in again: what is new, gone and changed, row by row by a key."""

from __future__ import annotations

import polars as pl
from pydantic import BaseModel

from skavo.core.combining.keys import keys_of
from skavo.core.errors import DataError

MOST_SHOWN = 200
_CELLS = {"key": pl.String, "column": pl.String, "before": pl.String, "after": pl.String}


class Differing(BaseModel):
    """A cell that is not what it was."""

    key: str
    column: str
    before: str | None
    after: str | None


class Differences(BaseModel):
    """Counts of rows by what became of them; `cells` are the first that changed, of `changed_cells`.

    `columns_new` and `columns_gone` are told apart by name. `repeated` keys stand more than once on one side, or are missing:
    their rows are not compared.
    """

    new: int
    gone: int
    changed: int
    same: int
    repeated: int
    changed_cells: int
    by_column: dict[str, int]
    columns_new: list[str]
    columns_gone: list[str]
    cells: list[Differing]
    new_keys: list[str]
    gone_keys: list[str]


def differences(before: pl.DataFrame, after: pl.DataFrame, key: list[str]) -> Differences:
    """Both frames hold texts. Raise DataError where the key is no column of both."""
    for name in key:
        for side, frame in (("as it stands", before), ("that comes in", after)):
            if name not in frame.columns:
                raise DataError(
                    "unknown_column", f"The table {side} has no column “{name}”. Choose a key that both have."
                )
    if not key:
        raise DataError("no_key", "Say by which columns a row is known.")
    shared = [name for name in after.columns if name in before.columns and name not in key]
    old, old_twice = _by_key(before, key, shared)
    new, new_twice = _by_key(after, key, shared)
    both = old.join(new, on="@key", how="inner", suffix="@new", maintain_order="right")
    differs = {name: both[name].ne_missing(both[f"{name}@new"]) for name in shared}
    cells = [
        both.filter(mask).select(
            pl.col("@key").str.replace_all("\x1f", " · ").alias("key"), pl.lit(name).alias("column"),
            pl.col(name).alias("before"), pl.col(f"{name}@new").alias("after"),
        ).head(MOST_SHOWN)
        for name, mask in differs.items() if mask.any()
    ]  # fmt: skip
    told = pl.concat([pl.DataFrame(schema=_CELLS), *cells]).head(MOST_SHOWN)
    by_column = {name: int(mask.sum()) for name, mask in differs.items() if mask.any()}
    rows = pl.DataFrame([mask.alias(name) for name, mask in differs.items()])
    changed = int(rows.select(pl.any_horizontal(pl.all()).alias("any"))["any"].sum()) if shared else 0
    added = new.join(old, on="@key", how="anti", maintain_order="left")["@key"]
    gone = old.join(new, on="@key", how="anti", maintain_order="left")["@key"]
    return Differences(
        new=added.len(), gone=gone.len(), changed=changed, same=both.height - changed, repeated=old_twice + new_twice,
        changed_cells=sum(by_column.values()), by_column=by_column,
        columns_new=[name for name in after.columns if name not in before.columns],
        columns_gone=[name for name in before.columns if name not in after.columns],
        cells=[Differing.model_validate(row) for row in told.iter_rows(named=True)],
        new_keys=_shown(added), gone_keys=_shown(gone),
    )  # fmt: skip


def _by_key(frame: pl.DataFrame, key: list[str], columns: list[str]) -> tuple[pl.DataFrame, int]:
    """The rows whose key stands once, and how many keys stand more than once or are missing."""
    keyed = frame.select(keys_of([(frame[name], []) for name in key]).alias("@key"), *columns)
    counts = keyed.group_by("@key").agg(pl.len().alias("@count"))
    once = counts.filter((pl.col("@count") == 1) & pl.col("@key").is_not_null())
    return keyed.join(once, on="@key", how="semi", maintain_order="left"), counts.height - once.height


def _shown(keys: pl.Series) -> list[str]:
    return keys.head(MOST_SHOWN).str.replace_all("\x1f", " · ").to_list()
