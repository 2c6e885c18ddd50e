"""Units from a file: .csv, .xlsx or GeoJSON, as rows of texts by heading."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from skavo.core.errors import DataError
from skavo.core.maps.geojson import read_shapes
from skavo.core.rules.functions import as_text
from skavo.formats.csv_files import as_was
from skavo.formats.read_table import MOST_BYTES, read_numbered_table

GEOMETRY = "geometry"
MOST_UNITS = 500_000


@dataclass(frozen=True)
class UnitsFile:
    """`rows` are (number, cells by heading): of a table as they stand in the file, where the heading is row 1; of GeoJSON
    counted from 1. The geometry of a feature is text under the heading `geometry`."""

    headings: list[str]
    rows: list[tuple[int, dict[str, str]]]


def read_units(name: str, content: bytes) -> UnitsFile:
    """The rows of a file; raise DataError, with the place, where it cannot be read."""
    file = _features(name, content) if _is_geojson(content) else _table(name, content)
    if not file.rows:
        raise DataError("empty_file", f"{name} has a heading and no rows below it.")
    if len(file.rows) > MOST_UNITS:
        raise DataError("file_too_large", f"{name} has {len(file.rows):,} rows; {MOST_UNITS:,} is the most at once.")
    return file


def _is_geojson(content: bytes) -> bool:
    return content.lstrip()[:1] == b"{" or content[:4] == b"\xef\xbb\xbf{"


def _table(name: str, content: bytes) -> UnitsFile:
    frame, numbers = read_numbered_table(name, content)
    headings = frame.columns
    rows = [
        (number, {heading: as_was(cell) for heading, cell in zip(headings, row, strict=True) if cell is not None})
        for number, row in zip(numbers, frame.iter_rows(), strict=True)
    ]
    return UnitsFile(headings, rows)


def _features(name: str, content: bytes) -> UnitsFile:
    if len(content) > MOST_BYTES:
        raise DataError("file_too_large", f"{name} has {len(content) >> 20} MB; {MOST_BYTES >> 20} MB is the most.")
    headings: dict[str, None] = {}
    rows = []
    for number, feature in enumerate(read_shapes(content).features, start=1):
        properties: dict[str, Any] = feature.get("properties") or {}
        cells = {str(key): _cell(value) for key, value in properties.items() if value is not None}
        if feature.get("id") is not None:
            cells.setdefault("id", str(feature["id"]))
        cells[GEOMETRY] = json.dumps(feature["geometry"])
        headings.update(dict.fromkeys(cells))
        rows.append((number, cells))
    return UnitsFile(list(headings), rows)


def _cell(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else as_text(value)
