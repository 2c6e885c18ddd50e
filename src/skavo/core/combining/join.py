"""Join an outside table to the interviews by a key; nothing is guessed, everything is reported."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace
from typing import Any

import polars as pl

from skavo.core.dataset.flatten import WHY, DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column
from skavo.core.errors import DataError
from skavo.core.rules.types import nearest


@dataclass(frozen=True)
class JoinReport:
    """Counts of rows on both sides; lists are (interview key or row number, key value).

    `ambiguous` are keys that stand more than once in the outside table: they are not joined.
    """

    interviews: int
    outside_rows: int
    matched: int
    without_key: int
    unmatched_interviews: list[tuple[str, str]]
    unmatched_rows: list[tuple[int, str]]
    ambiguous: list[tuple[str, int]]
    repeated_interviews: list[tuple[str, int]]


def normalise_key(value: Any) -> str | None:
    """A key as text without surrounding space and without regard to case; empty is no key."""
    if value is None:
        return None
    if isinstance(value, float) and value == int(value):
        value = int(value)
    text = str(value).strip().casefold()
    return text or None


def join_outside(
    data: DataSet, outside: pl.DataFrame, *, source: str, variable: str, key: str, take: list[str]
) -> tuple[DataSet, JoinReport]:
    """Add the columns `take` of `outside` to the interviews as `<source>_<column>`; the outside rows are all text.

    `variable` is the interviews' side of the key, `key` the outside table's. An interview that finds no row, or an
    ambiguous one, is *not asked* in the new columns.
    """
    table = data[INTERVIEWS]
    _known(variable, [c.variable for c in table.layout.columns], "variable")
    for column in [key, *take]:
        _known(column, outside.columns, "column")
    ours = [normalise_key(v) for v in table.frame[variable].to_list()]
    theirs = [normalise_key(v) for v in outside[key].to_list()]
    counts = Counter(t for t in theirs if t is not None)
    place = {t: i for i, t in enumerate(theirs) if t is not None and counts[t] == 1}
    found = [place.get(o) if o is not None else None for o in ours]
    report = _report(table, ours, theirs, counts, found)
    return {**data, INTERVIEWS: _with_columns(table, outside, source, take, found)}, report


def _known(name: str, known: list[str], what: str) -> None:
    if name not in known:
        hint = nearest(name, known)
        mend = f"Did you mean {hint}?" if hint else f"There are: {', '.join(known[:12])}."
        raise DataError(f"unknown_{what}", f"There is no {what} “{name}”. {mend}", {what: name})


def _report(
    table: Table, ours: list[str | None], theirs: list[str | None], counts: Counter[str], found: list[int | None]
) -> JoinReport:
    keys = table.frame[KEY].to_list()
    own_counts = Counter(o for o in ours if o is not None)
    return JoinReport(
        interviews=len(ours),
        outside_rows=len(theirs),
        matched=sum(1 for f in found if f is not None),
        without_key=sum(1 for o in ours if o is None),
        unmatched_interviews=[(k, o) for k, o in zip(keys, ours, strict=True) if o is not None and o not in counts],
        unmatched_rows=[(i + 1, t or "") for i, t in enumerate(theirs) if t is None or t not in own_counts],
        ambiguous=sorted((t, n) for t, n in counts.items() if n > 1),
        repeated_interviews=sorted((o, n) for o, n in own_counts.items() if n > 1),
    )


def joined_name(source: str, column: str) -> str:
    """The variable that a column of an outside table becomes."""
    plain = "".join(c if c.isascii() and c.isalnum() else "_" for c in f"{source}_{column}".lower())
    return plain.strip("_")[:32]


def _with_columns(table: Table, outside: pl.DataFrame, source: str, take: list[str], found: list[int | None]) -> Table:
    frame, columns = table.frame, list(table.layout.columns)
    for name in take:
        raw = outside[name].cast(pl.String).to_list()
        values = [None if f is None or raw[f] is None or not raw[f].strip() else raw[f].strip() for f in found]
        variable = joined_name(source, name)
        column = _column(variable, source, name, values)
        typed = [float(v) if v is not None else None for v in values] if column.measure == "number" else values
        reasons = [
            None if v is not None else "not_asked" if f is None else "unanswered"
            for v, f in zip(values, found, strict=True)
        ]
        frame = frame.with_columns(pl.Series(variable, typed), pl.Series(why(variable), reasons, dtype=WHY))
        columns = [c for c in columns if c.variable != variable] + [column]
    return Table(replace(table.layout, columns=tuple(columns)), frame)


def _column(variable: str, source: str, name: str, values: list[str | None]) -> Column:
    present = [v for v in values if v is not None]
    numeric = bool(present) and all(_is_figure(v) for v in present)
    few = sorted(set(present)) if not numeric and len(set(present)) <= 40 else []
    measure = "number" if numeric else "code" if few else "text"
    return Column(
        variable,
        f"outside.{variable}",
        kind={"number": "decimal", "code": "single answer", "text": "text"}[measure],
        measure=measure,
        label={"en": f"{name} ({source})"},
        codes={v: {"en": v} for v in few},
        origin=source,
    )


def _is_figure(text: str) -> bool:
    """A number that is not an identifier: "007" stays a text."""
    digits = text.lstrip("-")
    if not digits.replace(".", "", 1).isdecimal():
        return False
    return digits == "0" or digits.startswith("0.") or not digits.startswith("0")
