"""A register as a sampling frame: a row for each unit, what it lies under by kind, and its fields, as texts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import polars as pl

from skavo.core.interview.release import PartSpec
from skavo.core.register.bring_in import Kind
from skavo.core.register.cells import columns_of, writer_of
from skavo.formats.frame import OWN

KEY, UNIT = "key", "unit"


@dataclass(frozen=True)
class FrameUnit:
    """`above` are the keys of what it lies under, by kind; `values` what its fields hold; `identity` is its own for ever."""

    identity: str
    key: str
    above: dict[int, str]
    values: dict[str, Any]


def frame_of_units(
    kind: Kind, kinds: Sequence[Kind], hidden: frozenset[str], units: Sequence[FrameUnit]
) -> pl.DataFrame:
    """The frame of units of one kind, without `hidden` fields; columns that are empty in every row are left
    out, and a field that is called as another column or as one of the sample's is told as `…_field`."""
    fields = [part for part in kind.form.fields if part.raw["id"] not in hidden and part.raw["type"] not in _NOT_TOLD]
    lie_under = {kind_id for unit in units for kind_id in unit.above}
    above = [one for one in kinds if one.id in lie_under]
    columns: dict[str, list[str | None]] = {
        UNIT: [unit.identity for unit in units],
        KEY: [unit.key for unit in units],
        **{one.name: [unit.above.get(one.id) for unit in units] for one in above},
    }
    for part in fields:
        for name, cells in _cells(part, units).items():
            columns[f"{name}_field" if name in columns or name in OWN else name] = cells
    filled = {name: cells for name, cells in columns.items() if name in (UNIT, KEY) or any(cells)}
    return pl.DataFrame(filled, schema=dict.fromkeys(filled, pl.String))


_NOT_TOLD = ("media", "path", "area")


def _cells(part: PartSpec, units: Sequence[FrameUnit]) -> dict[str, list[str | None]]:
    """The columns of a field; a quantity is told in its base unit nowhere: its amount and unit stand beside each other."""
    write, part_id = writer_of(part), part.raw["id"]
    rows = [write(unit.values.get(part_id)) for unit in units]
    return {name: [row[at] or None for row in rows] for at, name in enumerate(columns_of(part))}
