"""What all extract formats share: the columns of a table, ready to be written, in questionnaire order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import polars as pl
from pydantic import BaseModel, ConfigDict

from skavo.core.dataset.flatten import FACTS, Table, why
from skavo.core.dataset.layout import INTERVIEWS, MISSING_WORDS, Column, label_in


class ExtractOptions(BaseModel):
    """A script repeats the cleaning without Skavo, over the raw tables that go with it.

    `headings` and `cells` as short names and codes or as labels; `masked` hides sensitive variables."""

    model_config = ConfigDict(extra="forbid")
    format: Literal["xlsx", "csv", "sav", "script"] = "xlsx"
    headings: Literal["names", "labels"] = "names"
    cells: Literal["codes", "labels"] = "codes"
    language: str = "en"
    masked: bool = True


@dataclass(frozen=True)
class Field:
    """A column to be written. `codes` are the value labels; `values` and `reasons` go row by row."""

    name: str
    label: str
    measure: str
    values: list[Any]
    reasons: list[str | None]
    codes: dict[str, str]
    whole: bool = False


_FACT_LABELS = {
    "interview.key": "Interview",
    "interview.state": "State",
    "interview.release": "Release",
    "interview.enumerator": "Enumerator",
    "interview.started": "Started (UTC)",
    "interview.minutes": "Minutes",
    "interview.language": "Language",
}


def fields_of(table: Table, options: ExtractOptions) -> list[Field]:
    """Key columns first, then the variables.

    A multiple answer becomes a yes/no column for each code, a ranking a column with the place of each code.
    """
    frame = table.frame
    keys = list(FACTS) if table.layout.name == INTERVIEWS else list(table.layout.keys)
    fields = [_fact(name, frame[name]) for name in keys]
    taken = {column.variable for column in table.layout.columns}
    for column in table.layout.columns:
        if column.sensitive and options.masked:
            continue
        fields += _fields_of_column(column, frame, options.language, taken)
    return fields


def _fact(name: str, series: pl.Series) -> Field:
    measure = "number" if series.dtype in (pl.Int64, pl.Float64) else "text"
    if series.dtype == pl.Datetime:
        measure = "moment"
    values = series.to_list()
    return Field(
        name, _FACT_LABELS.get(name, name), measure, values, [None] * len(values), {}, series.dtype == pl.Int64
    )


def _code_name(variable: str, code: str, taken: set[str]) -> str:
    """The name of a code’s own column; the question that asks which other it is may have it already."""
    name = f"{variable}_{code}"
    return f"{name}_code" if name in taken else name


def _fields_of_column(column: Column, frame: pl.DataFrame, language: str, taken: set[str]) -> list[Field]:
    name = column.variable
    values, reasons = frame[name].to_list(), frame[why(name)].cast(pl.String).to_list()
    label = label_in(column.label, language, name)
    if column.measure == "date-time":
        # Phones in several zones are laid out in one.
        label = f"{label} (UTC)"
    codes = {code: label_in(texts, language, code) for code, texts in column.codes.items()}
    if column.kind == "ranking":
        return [
            Field(
                _code_name(name, code, taken),
                f"{label}: {text}",
                "number",
                [chosen.index(code) + 1 if chosen and code in chosen else None for chosen in values],
                reasons,
                {},
                whole=True,
            )
            for code, text in codes.items()
        ]
    if column.measure != "codes":
        return [Field(name, label, column.measure, values, reasons, codes, column.whole)]
    return [
        Field(
            _code_name(name, code, taken),
            f"{label}: {text}",
            "yes/no",
            [None if chosen is None else code in chosen for chosen in values],
            reasons,
            {},
        )
        for code, text in codes.items()
    ]


def shown_cell(field: Field, i: int, options: ExtractOptions) -> Any:
    """A cell for people and spreadsheets; a kind of missing stands in square brackets, unanswered is empty."""
    reason = field.reasons[i]
    if reason is not None:
        return None if reason == "unanswered" else f"[{MISSING_WORDS[reason]}]"
    value = field.values[i]
    if isinstance(value, bool):
        return ("yes" if value else "no") if options.cells == "labels" else int(value)
    if field.codes and options.cells == "labels":
        return field.codes.get(value, value)
    return value


def headings(fields: Sequence[Field], options: ExtractOptions) -> list[str]:
    """Headings as asked for; labels that occur twice are told apart by the variable."""
    if options.headings == "names":
        return [field.name for field in fields]
    labels = [field.label for field in fields]
    return [f"{f.label} ({f.name})" if labels.count(f.label) > 1 else f.label for f in fields]
