"""How the columns of an outside table are read: every cell is kept as text, and this says what it stands for."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated, Any, Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.dataset.flatten import WHY
from skavo.core.dataset.layout import MissingKind

ReadAs = Literal["text", "number", "date", "date-time", "yes/no", "code"]
DateOrder = Literal["ymd", "dmy", "mdy"]
DecimalMark = Literal[".", ","]
# A text with so few different values is a code list rather than words (common practice).
_MOST_CODES = 40
# From such a share on, what is otherwise among numbers looks like slips.
_MOST_OF = 0.6
_YES, _NO = frozenset({"yes", "true"}), frozenset({"no", "false"})
# What stands between thousands: a space of any width, an apostrophe, or the other of point and comma.
_GAPS = r" \x{00a0}\x{202f}'’"
_ORDERS: dict[DateOrder, str] = {"ymd": "%Y-%m-%d", "dmy": "%d-%m-%Y", "mdy": "%m-%d-%Y"}
_DAY = r"^\d{1,4}[-./]\d{1,2}[-./]\d{1,4}$"
_MOMENT = r"^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}"


class OutsideColumn(BaseModel):
    """A column: `name` as its heading has it; `decimal` and `order` say how numbers and dates are written; `missing` are
    cells that mean nothing, by kind."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, Field(min_length=1, max_length=200)]
    label: Annotated[str, Field(max_length=1000)] = ""
    read_as: ReadAs = "text"
    decimal: DecimalMark = "."
    order: DateOrder = "ymd"
    codes: dict[str, str] = Field(default={})
    missing: dict[str, MissingKind] = Field(default={})


@dataclass(frozen=True)
class ReadCells:
    """The cells of a column as values, null where there is none; `reasons` says why not, `unread` marks the cells that
    hold something else than the column is read as."""

    values: pl.Series
    reasons: pl.Series
    unread: pl.Series


def read_cells(cells: pl.Series, column: OutsideColumn) -> ReadCells:
    """`cells` are texts, null where nothing stands."""
    texts = cells.cast(pl.String).str.strip_chars()
    texts = texts.to_frame("cell").select(pl.when(pl.col("cell") != "").then("cell"))["cell"]
    told = texts.replace_strict(column.missing, default=None, return_dtype=pl.String)
    meant = texts.to_frame("cell").select(pl.when(told.is_null()).then("cell"))["cell"]
    values = _READERS[column.read_as](meant, column)
    unread = meant.is_not_null() & values.is_null()
    why = told.to_frame("told").select(pl.when(values.is_null()).then(pl.col("told").fill_null("unanswered")))["told"]
    return ReadCells(values.rename(column.name), why.cast(WHY), unread)


def _number(texts: pl.Series, column: OutsideColumn) -> pl.Series:
    other = "," if column.decimal == "." else "."
    gaps = f"[{_GAPS}{other}]"
    whole = rf"^[+-]?(\d+|\d{{1,3}}({gaps}\d{{3}})+)"
    fits = texts.str.contains(rf"{whole}([{column.decimal}]\d+)?([eE][+-]?\d{{1,2}})?$")
    plain = texts.str.replace_all(gaps, "").str.replace_all(column.decimal, ".", literal=True)
    found = plain.to_frame("cell").select(pl.when(fits).then("cell"))["cell"].cast(pl.Float64, strict=False)
    return found.to_frame("value").select(pl.when(pl.col("value").is_finite()).then("value"))["value"]


def _date(texts: pl.Series, column: OutsideColumn) -> pl.Series:
    plain = texts.str.replace_all(r"[./]", "-").str.replace(r"[T ]00:00(:00(-0+)?)?$", "")
    return plain.str.strptime(pl.Date, _ORDERS[column.order], strict=False)


def _moment(texts: pl.Series, _: OutsideColumn) -> pl.Series:
    plain = texts.str.replace("T", " ", literal=True).str.replace(r"Z$", "")
    long = plain.str.strptime(pl.Datetime("ms"), "%Y-%m-%d %H:%M:%S%.f", strict=False)
    short = plain.str.strptime(pl.Datetime("ms"), "%Y-%m-%d %H:%M", strict=False)
    return pl.select(pl.coalesce(pl.lit(long), pl.lit(short)).alias("value"))["value"]


def _yes_no(texts: pl.Series, _: OutsideColumn) -> pl.Series:
    said = {**dict.fromkeys(_YES, True), **dict.fromkeys(_NO, False)}
    return texts.str.to_lowercase().replace_strict(said, default=None, return_dtype=pl.Boolean)


_READERS: dict[ReadAs, Any] = {
    "text": lambda texts, _: texts, "code": lambda texts, _: texts, "number": _number, "date": _date,
    "date-time": _moment, "yes/no": _yes_no,
}  # fmt: skip


def recognised(frame: pl.DataFrame, known: dict[str, OutsideColumn] | None = None) -> list[OutsideColumn]:
    """How each column of a frame of texts is read, by what stands in it; `known` are those that the file describes."""
    return [(known or {}).get(name) or _recognised(frame[name]) for name in frame.columns]


def _recognised(cells: pl.Series) -> OutsideColumn:
    different = cells.drop_nulls().cast(pl.String).str.strip_chars().unique(maintain_order=True)
    different = different.filter(different != "")
    if different.is_empty():
        return OutsideColumn(name=cells.name)
    for read_as, how in _tried(different):
        column = OutsideColumn(name=cells.name, read_as=read_as, **how)
        if not read_cells(different, column).unread.any():
            return column
    few = different.len() <= _MOST_CODES and different.len() < cells.len() - cells.null_count()
    return OutsideColumn(name=cells.name, read_as="code" if few else "text")


def _tried(different: pl.Series) -> list[tuple[ReadAs, dict[str, Any]]]:
    """What is tried in turn. A figure with zeros in front is what somebody is called, and stays a text."""
    tries: list[tuple[ReadAs, dict[str, Any]]] = [("yes/no", {})]
    if not different.str.contains(r"^[+-]?0\d").any():
        tries += [("number", {"decimal": mark}) for mark in (".", ",")]
    if different.str.contains(_MOMENT).all():
        tries += [("date", {}), ("date-time", {})]
    if different.str.contains(_DAY).all():
        tries += [("date", {"order": order}) for order in _ORDERS]
    return tries


def doubts_of(cells: pl.Series, counts: pl.Series, column: OutsideColumn) -> str:
    """What may as well be read otherwise: `decimal` or `order` the other way round, `number` where most cells of a text are
    one, or nothing. `cells` are the different ones, `counts` how often each stands there."""
    if column.read_as == "number" and cells.str.contains("[.,]").any():
        other = column.model_copy(update={"decimal": "," if column.decimal == "." else "."})
        return "decimal" if not read_cells(cells, other).unread.any() else ""
    if column.read_as == "date" and column.order != "ymd":
        other = column.model_copy(update={"order": "mdy" if column.order == "dmy" else "dmy"})
        return "order" if not read_cells(cells, other).unread.any() else ""
    if column.read_as in ("text", "code") and not column.codes and not cells.str.contains(r"^[+-]?0\d").any():
        filled = int(counts.filter(cells.is_not_null()).sum())
        numbers = [column.model_copy(update={"read_as": "number", "decimal": mark}) for mark in (".", ",")]
        read = max(int(counts.filter(read_cells(cells, one).values.is_not_null()).sum()) for one in numbers)
        return "number" if filled and filled > read >= _MOST_OF * filled else ""
    return ""


def shown(value: Any) -> str:
    """A value as a text, as a key or a comparison takes it: whole numbers without a point, dates in ISO form."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return value.isoformat() if isinstance(value, date | datetime) else str(value)
