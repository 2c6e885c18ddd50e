"""Tables of a raw extract: read from .csv files and written again. A missing cell has its kind in the column beside it."""

from __future__ import annotations

import csv
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, datetime, time
from pathlib import Path
from typing import Any

Row = dict[str, Any]
# How what is a date or a time is read.
MOMENTS: dict[str, Callable[[str], Any]] = {
    "date": date.fromisoformat,
    "time": time.fromisoformat,
    "date-time": datetime.fromisoformat,
}


@dataclass
class Column:
    """A variable; `measure` says what its cells hold, `codes` which codes there are."""

    variable: str
    measure: str
    whole: bool = False
    codes: list[str] = field(default_factory=list)


@dataclass
class Table:
    """Rows with their keys, facts and columns; a column `x` has beside it `x?`, the kind of missing."""

    name: str
    keys: list[str]
    facts: dict[str, str]
    columns: list[Column]
    rows: list[Row]

    def column(self, variable: str) -> Column:
        return next(column for column in self.columns if column.variable == variable)


Tables = dict[str, Table]


def read_tables(folder: Path, layout: list[dict[str, Any]]) -> Tables:
    """The tables that `layout` describes, each from the file of its name."""
    tables = {}
    for about in layout:
        columns = [Column(**column) for column in about["columns"]]
        table = Table(about["name"], about["keys"], about["facts"], columns, [])
        with (folder / f"{table.name}.csv").open(encoding="utf-8", newline="") as file:
            for line in csv.DictReader(file):
                row: Row = {key: line[key] for key in table.keys}
                row |= {fact: _read(line[fact], measure) for fact, measure in table.facts.items()}
                for column in columns:
                    why = line[f"{column.variable}?"] or None
                    row[column.variable] = None if why else _read(line[column.variable], column.measure, column.whole)
                    row[f"{column.variable}?"] = why
                table.rows.append(row)
        tables[table.name] = table
    return tables


def write_tables(folder: Path, tables: Tables) -> None:
    """Each table as a .csv file of its name."""
    folder.mkdir(parents=True, exist_ok=True)
    for table in tables.values():
        names = [name for column in table.columns for name in (column.variable, f"{column.variable}?")]
        with (folder / f"{table.name}.csv").open("w", encoding="utf-8", newline="") as file:
            writer = csv.writer(file, lineterminator="\r\n")
            writer.writerow([*table.keys, *table.facts, *names])
            writer.writerows([written(row[name]) for name in [*table.keys, *table.facts, *names]] for row in table.rows)


def written(value: Any) -> str:
    """A cell as it stands in a file."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return repr(int(value)) if value == int(value) and abs(value) < 2**53 else repr(value)
    if isinstance(value, datetime):
        return value.isoformat(timespec="milliseconds")
    return "|".join(value) if isinstance(value, list) else str(value)


def _read(text: str, measure: str, whole: bool = False) -> Any:
    if measure == "text" or measure == "code":
        return text
    if measure == "codes":
        return text.split("|") if text else []
    if text == "":
        return None
    if measure == "number":
        return int(text) if whole else float(text)
    if measure == "yes/no":
        return text == "yes"
    return MOMENTS[measure](text)
