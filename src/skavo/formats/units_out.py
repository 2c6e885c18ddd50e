"""Units into a file: .csv, .xlsx or GeoJSON, with what they lie under, so that they come in again as they were."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import xlsxwriter

from skavo.core.errors import DataError
from skavo.core.interview.release import PartSpec
from skavo.core.register.bring_in import Kind
from skavo.core.register.cells import cells_of, columns_of, writer_of
from skavo.formats.csv_files import safe_text

OWN = ("kind", "key", "above", "closed")
_NUMBER = re.compile(r"-?\d+(\.\d+)?", re.ASCII)
_PLACES = ("point", "path", "area")
_MOST_SHEET_ROWS = 1_048_575


@dataclass(frozen=True)
class UnitOut:
    """A unit as it goes out: `values` are answers and derived values by field, `above` the key of what it lies under."""

    kind_id: int
    key: str
    above: str
    closed: bool
    values: dict[str, Any]


Fields = dict[int, list[PartSpec]]


def write_units(form: str, kinds: Sequence[Kind], hidden: frozenset[str], units: Sequence[UnitOut]) -> bytes:
    """The units as a file of `form` csv, xlsx or geojson, without the fields that are `hidden`."""
    fields = {kind.id: [part for part in kind.form.fields if part.raw["id"] not in hidden] for kind in kinds}
    return WRITERS[form](kinds, fields, units)


def _headings(fields: Fields) -> list[str]:
    """Ours, then the columns of all fields; kinds that share a variable share its columns."""
    return [
        *OWN,
        *dict.fromkeys(c for parts in fields.values() for part in parts for c in columns_of(part) if c not in OWN),
    ]


def _rows(kinds: Sequence[Kind], fields: Fields, units: Iterable[UnitOut]) -> Iterable[dict[str, str]]:
    names = {kind.id: kind.name for kind in kinds}
    writers = {
        kind_id: [(part.raw["id"], columns_of(part), writer_of(part)) for part in parts]
        for kind_id, parts in fields.items()
    }
    for unit in units:
        row = {
            "kind": names[unit.kind_id],
            "key": unit.key,
            "above": unit.above,
            "closed": "yes" if unit.closed else "",
        }
        for part_id, columns, write in writers[unit.kind_id]:
            row.update(zip(columns, write(unit.values.get(part_id)), strict=True))
        yield row


def _csv(kinds: Sequence[Kind], fields: Fields, units: Sequence[UnitOut]) -> bytes:
    out = io.StringIO()
    writer = csv.DictWriter(out, _headings(fields), restval="", extrasaction="ignore")
    writer.writeheader()
    for row in _rows(kinds, fields, units):
        writer.writerow({name: cell if _NUMBER.fullmatch(cell) else safe_text(cell) for name, cell in row.items()})
    return ("\ufeff" + out.getvalue()).encode()


def _xlsx(kinds: Sequence[Kind], fields: Fields, units: Sequence[UnitOut]) -> bytes:
    if len(units) > _MOST_SHEET_ROWS:
        raise DataError("too_many_rows", f"A sheet has {_MOST_SHEET_ROWS:,} rows; these are {len(units):,}. Take .csv.")
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"constant_memory": True, "strings_to_formulas": False, "strings_to_urls": False})
    sheet = book.add_worksheet("units")
    headings = _headings(fields)
    sheet.write_row(0, 0, headings, book.add_format({"bold": True}))
    sheet.freeze_panes(1, 2)
    for number, row in enumerate(_rows(kinds, fields, units), start=1):
        for column, name in enumerate(headings):
            if row.get(name):
                sheet.write_string(number, column, row[name])
    book.close()
    return out.getvalue()


def _geojson(kinds: Sequence[Kind], fields: Fields, units: Sequence[UnitOut]) -> bytes:
    """A FeatureCollection (RFC 7946): the geometry is that of the first field with one, the rest are properties."""
    features = []
    for unit, row in zip(units, _rows(kinds, fields, units), strict=True):
        geometry = None
        for part in fields[unit.kind_id]:
            value = unit.values.get(part.raw["id"])
            if geometry is None and part.raw["type"] in _PLACES and isinstance(value, dict) and "special" not in value:
                geometry = _geometry_of(part, value)
                for column in columns_of(part)[:2]:
                    row.pop(column)
        properties = {name: cell for name, cell in row.items() if cell}
        features.append({"type": "Feature", "properties": properties, "geometry": geometry})
    return json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False).encode()


def _geometry_of(part: PartSpec, value: dict[str, Any]) -> Any:
    if part.raw["type"] == "point":
        return {"type": "Point", "coordinates": [value["longitude"], value["latitude"]]}
    return json.loads(cells_of(part, value)[0])


WRITERS: dict[str, Callable[[Sequence[Kind], Fields, Sequence[UnitOut]], bytes]] = {
    "csv": _csv, "xlsx": _xlsx, "geojson": _geojson,
}  # fmt: skip
