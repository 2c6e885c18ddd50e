"""How far collecting is: interviews by day and by enumerator, on columns, however many there are."""

from __future__ import annotations

from dataclasses import dataclass

import polars as pl
from sqlalchemy import ColumnElement, DateTime, select, type_coerce
from sqlalchemy.orm import Session

from skavo.store.models import Interview

_COLUMNS: dict[str, type[pl.DataType] | pl.DataType] = {
    "enumerator": pl.String,
    "state": pl.String,
    "minutes": pl.Float64,
    "started": pl.Datetime("us"),
}


@dataclass(frozen=True)
class Day:
    """`day` is a date in the study's own time zone, as 2026-11-14."""

    day: str
    interviews: int


@dataclass(frozen=True)
class EnumeratorProgress:
    """`median_minutes` is None where no interview has a duration."""

    enumerator: str
    arrived: int
    accepted: int
    median_minutes: float | None


@dataclass(frozen=True)
class Progress:
    """Of all interviews of a study that are no practice; days without an interview are left out."""

    interviews: int
    median_minutes: float | None
    enumerators: list[EnumeratorProgress]
    days: list[Day]


def progress_of(session: Session, zone: str, days: int, *within: ColumnElement[bool]) -> Progress:
    """The progress of the interviews `within`, with the last `days` days on which one was begun in `zone`."""
    wanted = select(
        Interview.enumerator, Interview.state, Interview.minutes, type_coerce(Interview.started_at, DateTime)
    ).where(*within, Interview.practice.is_(False))
    rows = session.connection().execute(wanted).all()
    frame = pl.DataFrame(rows, schema=_COLUMNS, orient="row")
    return Progress(
        frame.height, _rounded(frame["minutes"].median()), _by_enumerator(frame), _by_day(frame, zone, days)
    )


def _by_enumerator(frame: pl.DataFrame) -> list[EnumeratorProgress]:
    grouped = frame.group_by("enumerator").agg(
        pl.len(), (pl.col("state") == "accepted").sum().alias("accepted"), pl.col("minutes").median()
    )
    ordered = grouped.sort("enumerator").iter_rows()
    return [EnumeratorProgress(name, arrived, accepted, _rounded(m)) for name, arrived, accepted, m in ordered]


def _by_day(frame: pl.DataFrame, zone: str, days: int) -> list[Day]:
    begun = frame["started"].drop_nulls().dt.replace_time_zone("UTC").dt.convert_time_zone(zone).dt.date()
    counted = begun.value_counts().sort("started").tail(days)
    return [Day(str(day), interviews) for day, interviews in counted.iter_rows()]


def _rounded(minutes: object) -> float | None:
    return round(minutes, 1) if isinstance(minutes, float) else None
