"""Tables that are linked, and the pairs that come of it, as .csv."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from pathlib import Path

from skavo.core.errors import DataError
from skavo.core.linking.link import Linked
from skavo.formats.read_table import read_numbered_table


@dataclass(frozen=True)
class TableRows:
    """The cells of each row by column, "" for nothing, and its number: 1 for the first row below the heading."""

    cells: list[dict[str, str]]
    numbers: list[int]


def rows_of(path: Path) -> TableRows:
    """The rows of a .csv or .xlsx file; raise DataError where it cannot be read."""
    try:
        frame, lines = read_numbered_table(path.name, path.read_bytes())
    except OSError as error:
        raise DataError("not_read", f"{path} cannot be read: {error.strerror}.") from None
    cells = [{name: "" if cell is None else str(cell) for name, cell in row.items()} for row in frame.to_dicts()]
    return TableRows(cells, [line - 1 for line in lines])


def pairs_file(linked: Linked, left: list[int], right: list[int]) -> bytes:
    """left_row, right_row, score (how likely they are the same unit) and verdict of every pair, the likeliest first."""
    rows = ([left[pair.left], right[pair.right], f"{pair.score:.6f}", pair.verdict] for pair in linked.pairs)
    return _csv(["left_row", "right_row", "score", "verdict"], rows)


def weights_file(linked: Linked) -> bytes:
    """What each level of each comparison is worth, from *differs* upward."""
    rows = (
        [f"{w.comparison.left}={w.comparison.right}:{w.comparison.how}", level, *(f"{x:.6f}" for x in told)]
        for w in linked.weights
        for level, told in enumerate(zip(w.same, w.others, w.bits, strict=True))
    )
    return _csv(["comparison", "level", "in_same", "in_others", "bits"], rows)


def _csv(headings: list[str], rows: object) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(headings)
    writer.writerows(rows)  # type: ignore[arg-type]
    return out.getvalue().encode()
