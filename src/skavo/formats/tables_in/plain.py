"""Parquet files and JSON lines as tables from elsewhere: what they type is written as text, and typed again the same."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import polars as pl

from skavo.core.combining.outside import OutsideColumn, ReadAs
from skavo.core.errors import DataError
from skavo.formats.tables_in.told import FileReading, TableIn, headings_of, tidy_frame

_MOST_ROWS = 20_000_000


def read_parquet(name: str, path: Path, _: FileReading) -> TableIn:
    # A small file may say the same cell a thousand million times.
    rows = int(pl.scan_parquet(path).select(pl.len()).collect().item())
    if rows > _MOST_ROWS:
        raise DataError("file_too_large", f"{name} has {rows:,} rows; {_MOST_ROWS:,} is the most.")
    return _typed("parquet", pl.read_parquet(path))


def read_json_lines(name: str, path: Path, _: FileReading) -> TableIn:
    try:
        frame = pl.read_ndjson(path, infer_schema_length=None)
    except pl.exceptions.PolarsError:
        raise DataError("broken_json", _first_broken(name, path)) from None
    return _typed("jsonl", frame)


def _first_broken(name: str, path: Path) -> str:
    with path.open(encoding="utf-8-sig", errors="replace") as lines:
        for number, line in enumerate(lines, 1):
            try:
                if line.strip() and not isinstance(json.loads(line), dict):
                    return f'Line {number} of {name} holds no object. Each line is one: {{"column": value, …}}.'
            except json.JSONDecodeError as error:
                return (
                    f"Line {number} of {name} is no JSON ({error.msg} at sign {error.colno}). Each line is one object."
                )
    return f"{name} cannot be read as JSON lines: a column holds values of different kinds."


def _typed(kind: str, frame: pl.DataFrame) -> TableIn:
    names, told = headings_of(list(frame.columns))
    frame = frame.rename(dict(zip(frame.columns, names, strict=True)))
    known: dict[str, OutsideColumn] = {}
    cells = []
    for name in names:
        read_as = _read_as(frame.schema[name])
        if read_as is None:
            told.append(f"“{name}” holds more than one value in a cell; it is read as a text in JSON form.")
        elif read_as != "text":
            known[name] = OutsideColumn(name=name, read_as=read_as)
        cells.append(_texts(frame[name], read_as))
    return TableIn(kind, tidy_frame(pl.DataFrame(cells)), FileReading(), known, told=told)


def _read_as(dtype: Any) -> ReadAs | None:
    if dtype.is_nested():
        return None
    if dtype.is_numeric():
        return "number"
    return {pl.Date: "date", pl.Datetime: "date-time", pl.Boolean: "yes/no"}.get(dtype.base_type(), "text")  # type: ignore[return-value]


def _texts(values: pl.Series, read_as: ReadAs | None) -> pl.Series:
    if read_as is None:
        told = [
            None if value is None else json.dumps(value, ensure_ascii=False, default=str) for value in values.to_list()
        ]
        return pl.Series(values.name, told, dtype=pl.String)
    if values.dtype == pl.Boolean:
        return values.replace_strict({True: "yes", False: "no"}, return_dtype=pl.String)
    if values.dtype.is_float():
        whole = values.is_finite() & (values == values.round(0)) & (values.abs() < 2**53)
        return pl.select(
            pl.when(pl.lit(whole)).then(pl.lit(values.cast(pl.Int64, strict=False).cast(pl.String)))
            .otherwise(pl.lit(values.cast(pl.String))).alias(values.name)
        )[values.name]  # fmt: skip
    if isinstance(values.dtype, pl.Datetime):
        moments = values.dt.convert_time_zone("UTC").dt.replace_time_zone(None) if values.dtype.time_zone else values
        return moments.dt.strftime("%Y-%m-%dT%H:%M:%S%.3f")
    return values.cast(pl.String)
