"""Labelled data files (.sav, .dta): labels of columns and values, and kinds of missing, as the file says."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import polars as pl
import pyreadstat

from skavo.core.combining.outside import OutsideColumn, shown
from skavo.core.dataset.layout import MissingKind
from skavo.formats.tables_in.told import FileReading, TableIn, tidy_frame

# Words in the label of a missing value, by what they say; the first that is found counts (common practice).
_SAID: tuple[tuple[str, MissingKind], ...] = (
    ("don’t know", "dont_know"), ("don't know", "dont_know"), ("dont know", "dont_know"), ("not know", "dont_know"),
    ("refus", "refused"), ("not asked", "not_asked"), ("not applicable", "not_asked"), ("skip", "not_asked"),
)  # fmt: skip
_MOST_RANGE = 1000


def read_sav(name: str, path: Path, _: FileReading) -> TableIn:
    return _read("sav", pyreadstat.read_sav, path)


def read_dta(name: str, path: Path, _: FileReading) -> TableIn:
    return _read("dta", pyreadstat.read_dta, path)


def _read(kind: str, read: Callable[..., Any], path: Path) -> TableIn:
    columns, about = read(str(path), user_missing=True, output_format="dict")
    known: dict[str, OutsideColumn] = {}
    cells: dict[str, pl.Series] = {}
    for name in about.column_names:
        texts = [None if _is_nothing(value) else shown(value) for value in columns[name]]
        labels = {shown(value): str(label) for value, label in about.variable_value_labels.get(name, {}).items()}
        missing = _missing(about, name, labels, set(texts))
        codes = {code: label for code, label in labels.items() if code not in missing}
        cells[name] = pl.Series(name, texts, dtype=pl.String)
        known[name] = OutsideColumn(
            name=name, label=str(about.column_names_to_labels.get(name) or ""), codes=codes, missing=missing,
            read_as="code" if codes else _READ_AS.get(about.readstat_variable_types.get(name, ""), "number"),
        )  # fmt: skip
        if not codes and known[name].read_as == "number":
            known[name] = _by_cells(known[name], columns[name])
    told = [f"{len(known)} columns with the labels of the file."]
    return TableIn(kind, tidy_frame(pl.DataFrame(cells)), FileReading(), known, told=told)


_READ_AS: dict[str, Any] = {"string": "text"}


def _by_cells(column: OutsideColumn, values: list[Any]) -> OutsideColumn:
    """Dates and times are kept as numbers; the reader gives them back as what they are."""
    found = {type(value).__name__ for value in values if not _is_nothing(value)}
    kind = {frozenset({"date"}): "date", frozenset({"datetime"}): "date-time"}.get(frozenset(found))
    if kind is None and found - {"int", "float"}:
        kind = "text"
    return column.model_copy(update={"read_as": kind}) if kind else column


def _is_nothing(value: Any) -> bool:
    return value is None or value == "" or (isinstance(value, float) and value != value)


def _missing(about: Any, name: str, labels: dict[str, str], there: set[str | None]) -> dict[str, MissingKind]:
    """The cells that mean nothing: those that the file calls missing, by what their labels say."""
    marks: set[str] = set()
    for span in about.missing_ranges.get(name, []):
        low, high = span["lo"], span["hi"]
        if isinstance(low, str):
            marks.add(low)
            continue
        among = [*labels, *(text for text in there if text is not None)]
        marks |= {text for text in among if _within(text, low, high)}
    marks |= {shown(value) for value in about.missing_user_values.get(name, [])}
    return {mark: _kind_of(labels.get(mark, "")) for mark in sorted(marks)[:_MOST_RANGE]}


def _within(text: str, low: float, high: float) -> bool:
    try:
        return low <= float(text) <= high
    except ValueError:
        return False


def _kind_of(label: str) -> MissingKind:
    return next((kind for words, kind in _SAID if words in label.lower()), "unanswered")
