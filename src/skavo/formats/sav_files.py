"""Labelled data files (.sav), one per table in a zip: variable labels, value labels, kinds of missing.

Unanswered is system-missing. Not asked, don't know and refused are user-missing values with labels of their own:
in numbers the first free ones of -97 to -99, -997 to -999 …; in texts and word codes `#na`, `#dk`, `#ref`, with more
`#` behind where an answer says just that; in dates the
first days of the format's calendar, which no survey reaches.
"""

from __future__ import annotations

import tempfile
from collections.abc import Sequence
from datetime import date, datetime, time
from math import isfinite
from pathlib import Path
from textwrap import wrap
from typing import IO, Any

import polars as pl
import pyreadstat

from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import MISSING_WORDS
from skavo.formats.extract import ExtractOptions, Field, fields_of
from skavo.formats.limits import LIMITS, check_size, cut, notes_of
from skavo.formats.packing import pack_into

# Where the header says when the file was written, and what it says: a date of nine letters, a time of eight.
_MOMENT_AT, _MOMENT = 92, b"01 Jan 8000:00:00"
_KINDS = ("not_asked", "dont_know", "refused")
_TEXT_MARKS = {"not_asked": "#na", "dont_know": "#dk", "refused": "#ref"}
_FIRST_DAY = date(1582, 10, 14)
_DAY = 86400.0
# As long as every usual reader takes them.
_LABEL_BYTES, _VALUE_LABEL_BYTES = 255, 120
# A line of the notes holds 80 bytes; names of variables and what is said of them are mostly plain letters.
_NOTE_CHARACTERS = 70


def write_sav_zip(out: IO[bytes], data: DataSet, options: ExtractOptions, about: Sequence[str] = ()) -> None:
    """All tables of `data` as a zip of .sav files; `about` is said of them in the notes of each."""
    check_size(data, options)
    notes = [*about, *notes_of(data, options)]
    files = {}
    with tempfile.TemporaryDirectory() as folder:
        for name, table in data.items():
            path = Path(folder) / f"{name}.sav"
            _write_table(path, fields_of(table, options), notes)
            files[f"{name}.sav"] = _without_moment(path.read_bytes())
    pack_into(out, files)


def _without_moment(content: bytes) -> bytes:
    """The file with a fixed moment of writing in its header, so that the same tables give the same bytes."""
    return content[:_MOMENT_AT] + _MOMENT + content[_MOMENT_AT + len(_MOMENT) :]


def _write_table(path: Path, fields: list[Field], notes: list[str]) -> None:
    names = _file_names(fields)
    columns: dict[str, Any] = {}
    labels: dict[str, dict[Any, str]] = {}
    missing: dict[str, list[Any]] = {}
    formats: dict[str, str] = {}
    for name, field in zip(names, fields, strict=True):
        numeric = field.measure in ("number", "yes/no", "date", "moment", "date-time", "time") or _whole_codes(field)
        marks = _marks(field) if numeric else _text_marks(field)
        columns[name] = [_cell(field, i, marks, numeric) for i in range(len(field.values))]
        labels[name] = _value_labels(field, marks, numeric)
        missing[name] = [marks[kind] for kind in _KINDS]
        if field.measure in ("date", "moment", "date-time", "time"):
            formats[name] = {"date": "SDATE10", "moment": "DATETIME20", "date-time": "DATETIME20", "time": "TIME8"}[
                field.measure
            ]
        elif numeric:
            formats[name] = "F8.0" if field.whole or field.measure == "yes/no" or field.codes else "F10.2"
    facts = {
        n for n, f in zip(names, fields, strict=True) if f.name.startswith("interview.") or f.name.endswith(".row")
    }
    frame = pl.DataFrame([pl.Series(n, v, dtype=pl.Float64 if n in formats else pl.String) for n, v in columns.items()])
    pyreadstat.write_sav(
        frame,
        str(path),
        column_labels=[_cut(f.label, _LABEL_BYTES) for f in fields],
        note=[line for note in notes for line in wrap(note, _NOTE_CHARACTERS)] or None,
        variable_value_labels={n: lab for n, lab in labels.items() if lab and n not in facts},
        missing_ranges={n: m for n, m in missing.items() if n not in facts},
        variable_format=formats,
    )


def _file_names(fields: list[Field]) -> list[str]:
    """Names as the format allows them: no dots at the end, unique without regard to case, at most 64 bytes."""
    names: list[str] = []
    for field in fields:
        plain = "".join(c if c.isascii() and (c.isalnum() or c in "_.") else "_" for c in field.name)[:60].rstrip(".")
        taken = {n.lower() for n in names}
        name, number = plain, 2
        while name.lower() in taken:
            name, number = f"{plain}_{number}", number + 1
        names.append(name)
    return names


def _whole_codes(field: Field) -> bool:
    """Whether all codes are whole numbers without leading zeros, so that they can be kept as numbers."""
    return bool(field.codes) and all(c.lstrip("-").isdecimal() and str(int(c)) == c for c in field.codes)


def _text_marks(field: Field) -> dict[str, Any]:
    """Marks that no answer and no code is already."""
    used = {value for value in [*field.codes, *field.values] if isinstance(value, str)}
    marks, tail = dict(_TEXT_MARKS), ""
    while used.intersection(marks.values()):
        tail += "#"
        marks = {kind: mark + tail for kind, mark in _TEXT_MARKS.items()}
    return marks


def _marks(field: Field) -> dict[str, Any]:
    if field.measure in ("date", "moment", "date-time", "time"):
        return {kind: -_DAY * (i + 1) if field.measure == "time" else _DAY * (i + 1) for i, kind in enumerate(_KINDS)}
    used = {int(c) for c in field.codes} if _whole_codes(field) else {v for v in field.values if v is not None}
    for digits in ("9", "99", "999", "9999", "99999", "999999"):
        candidates = [-int(digits + last) for last in "789"]
        if not used.intersection(candidates):
            return dict(zip(_KINDS, (float(c) for c in candidates), strict=True))
    raise AssertionError("a variable that holds all of these values")


def _cell(field: Field, i: int, marks: dict[str, Any], numeric: bool) -> Any:
    reason = field.reasons[i]
    if reason == "unanswered":
        return None if numeric else ""
    if reason is not None:
        return marks[reason]
    value = field.values[i]
    if value is None:
        return None if numeric else ""
    if isinstance(value, datetime):
        return (value - datetime.combine(_FIRST_DAY, time())).total_seconds()
    if isinstance(value, date):
        return (value - _FIRST_DAY).days * _DAY
    if isinstance(value, time):
        return float(value.hour * 3600 + value.minute * 60 + value.second)
    if numeric:
        number = float(value)
        return number if isfinite(number) else None
    return cut(str(value), LIMITS["sav"])


def _cut(text: str, most: int) -> str:
    """A label that ends in … where it is longer than its place."""
    whole = text.encode()
    return text if len(whole) <= most else whole[: most - len("…".encode())].decode("utf-8", "ignore") + "…"


def _value_labels(field: Field, marks: dict[str, Any], numeric: bool) -> dict[Any, str]:
    labels: dict[Any, str] = {marks[kind]: MISSING_WORDS[kind] for kind in _KINDS}
    if field.measure == "yes/no":
        labels |= {0.0: "no", 1.0: "yes"}
    for code, label in field.codes.items():
        labels[float(code) if numeric else code] = _cut(label, _VALUE_LABEL_BYTES)
    return labels
