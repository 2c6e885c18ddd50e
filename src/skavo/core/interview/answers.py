"""How an answer of each kind is read and written.

An answer has a JSON form (on the device, in files) and a Python form (in rules):

| kind | JSON | Python |
| --- | --- | --- |
| text, scanned code | string | str |
| whole number | integer | int |
| decimal | string "12.5" or integer | int or Decimal |
| quantity | {amount, unit} | Quantity |
| instrument | {amount, instrument, time} | Reading |
| date, time, date-time | "2027-03-14", "14:30", "2027-03-14T14:30+02:00" | date, time, datetime |
| yes/no | true, false | bool |
| single answer | the code, a string | str |
| multiple answer, ranking | list of codes | tuple of str: in the order of the code list, in that of preference |
| point | {latitude, longitude, accuracy} | Point |
| path, area | {points: [point …]} | Path, Area |
| photo, audio, video, file, signature | {file, name, type, bytes} | Media |
| unit | the unit's id, a string | str |
| read-back | {confirmed: value} or {wrong: value} | the value and whether it was confirmed |
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterable
from datetime import date, datetime, time
from decimal import Decimal, InvalidOperation
from fractions import Fraction
from typing import Any

from skavo.core.rules.values import (
    MOST_CHARACTERS,
    Area,
    Media,
    Number,
    Path,
    Point,
    Quantity,
    Reading,
    as_decimal,
    tidy,
)

SPECIAL_ANSWERS = ("dont_know", "refused")


class WrongAnswer(ValueError):
    """An answer that its kind cannot hold; `code` names why."""

    def __init__(self, code: str) -> None:
        super().__init__(code)
        self.code = code


def read_text(raw: Any) -> str:
    if not isinstance(raw, str):
        raise WrongAnswer("not_a_text")
    if len(raw) > MOST_CHARACTERS:
        raise WrongAnswer("text_too_long")
    return raw


# What is as long as this is a slip of the finger.
_BEYOND = 10**15
_MOST_WRITTEN = 60


def read_whole(raw: Any) -> int:
    if type(raw) is int and -_BEYOND < raw < _BEYOND:
        return raw
    number = read_decimal(raw)
    if not isinstance(number, int):
        raise WrongAnswer("not_whole")
    return number


def read_decimal(raw: Any) -> Number:
    if type(raw) is int and -_BEYOND < raw < _BEYOND:
        return raw
    if isinstance(raw, bool) or not isinstance(raw, int | str | float):
        raise WrongAnswer("not_a_number")
    try:
        written = str(raw).strip().replace(",", ".")
        number = Decimal(written if len(written) <= _MOST_WRITTEN else "NaN")
    except InvalidOperation:
        raise WrongAnswer("not_a_number") from None
    if not number.is_finite() or abs(number.adjusted()) > 15:
        raise WrongAnswer("not_a_number")
    return tidy(number)


def _piece(raw: Any, name: str, wrong: str) -> Any:
    if not isinstance(raw, dict):
        raise WrongAnswer(wrong)
    return raw.get(name)


def read_quantity(raw: Any) -> Quantity:
    unit = _piece(raw, "unit", "not_a_quantity")
    if not isinstance(unit, str) or not unit:
        raise WrongAnswer("no_unit")
    return Quantity(read_decimal(raw.get("amount")), unit)


def read_reading(raw: Any) -> Reading:
    amount = read_decimal(_piece(raw, "amount", "not_a_number"))
    return Reading(amount, None, str(raw.get("instrument") or ""), str(raw.get("time") or ""))


# Python versions differ in what else they take for a date: 24:00, week dates, forms without signs between.
_DATE = re.compile(r"\d{4}-\d{2}-\d{2}", re.ASCII)
_TIME = re.compile(r"([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?", re.ASCII)
_DATE_TIME = re.compile(rf"{_DATE.pattern}T{_TIME.pattern}(\.\d{{1,6}})?(?P<offset>Z|[+-]\d{{2}}:\d{{2}})?", re.ASCII)


def read_date(raw: Any) -> date:
    text = read_text(raw)
    try:
        if _DATE.fullmatch(text):
            return date.fromisoformat(text)
    except ValueError:
        pass
    raise WrongAnswer("not_a_date")


def read_time(raw: Any) -> time:
    text = read_text(raw)
    if not _TIME.fullmatch(text):
        raise WrongAnswer("not_a_time")
    return time.fromisoformat(text)


def read_date_time(raw: Any) -> datetime:
    match = _DATE_TIME.fullmatch(read_text(raw))
    if match is not None and match["offset"] is None:
        raise WrongAnswer("no_offset")
    try:
        if match is not None:
            return datetime.fromisoformat(match[0])
    except ValueError:
        pass
    raise WrongAnswer("not_a_date_time")


def read_yes_no(raw: Any) -> bool:
    if not isinstance(raw, bool):
        raise WrongAnswer("not_yes_or_no")
    return raw


def read_codes(raw: Any) -> tuple[str, ...]:
    if not isinstance(raw, list | tuple) or not all(isinstance(code, str) for code in raw):
        raise WrongAnswer("not_codes")
    return tuple(dict.fromkeys(raw))


def _degrees(raw: Any, most: int) -> float:
    if isinstance(raw, bool) or not isinstance(raw, int | float) or not -most <= raw <= most:
        raise WrongAnswer("not_a_point")
    return float(raw)


def read_point(raw: Any) -> Point:
    latitude = _degrees(_piece(raw, "latitude", "not_a_point"), 90)
    accuracy = raw.get("accuracy")
    if accuracy is not None and not (isinstance(accuracy, int | float) and math.isfinite(accuracy) and accuracy >= 0):
        raise WrongAnswer("not_a_point")
    return Point(latitude, _degrees(raw.get("longitude"), 180), None if accuracy is None else float(accuracy))


def _points(raw: Any, least: int, wrong: str) -> tuple[Point, ...]:
    points = _piece(raw, "points", wrong)
    if not isinstance(points, list) or len(points) < least:
        raise WrongAnswer(wrong)
    return tuple(read_point(p) for p in points)


def read_path(raw: Any) -> Path:
    return Path(_points(raw, 2, "not_a_path"))


def read_area(raw: Any) -> Area:
    points = _points(raw, 3, "not_an_area")
    return Area(points[:-1] if len(points) > 3 and points[0] == points[-1] else points)


def read_media(raw: Any) -> Media:
    file, size = _piece(raw, "file", "not_a_file"), raw.get("bytes", 0)
    if not isinstance(file, str) or len(file) != 64 or not set(file) <= set("0123456789abcdef"):
        raise WrongAnswer("not_a_file")
    if type(size) is not int or size < 0:
        raise WrongAnswer("not_a_file")
    return Media(file, str(raw.get("name") or ""), str(raw.get("type") or ""), size)


def read_confirmation(raw: Any) -> dict[str, Any]:
    if not isinstance(raw, dict) or len(raw) != 1 or not set(raw) <= {"confirmed", "wrong"}:
        raise WrongAnswer("not_a_confirmation")
    return raw


def write_answer(value: Any) -> Any:
    """The JSON form of a Python value; numbers that are not whole become exact decimal text."""
    writer = _WRITERS.get(type(value))
    return value if writer is None else writer(value)


def _point_json(p: Point) -> dict[str, Any]:
    return {"latitude": p.latitude, "longitude": p.longitude, "accuracy": p.accuracy}


def _points_json(shape: Path | Area) -> dict[str, Any]:
    return {"points": [_point_json(p) for p in shape.points]}


_WRITERS: dict[type, Callable[[Any], Any]] = {
    Decimal: lambda x: format(x.normalize(), "f"),
    Fraction: lambda x: format(as_decimal(x).normalize(), "f"),
    date: date.isoformat,
    datetime: lambda x: x.isoformat(timespec="minutes" if x.second == x.microsecond == 0 else "seconds"),
    time: lambda x: x.isoformat(timespec="minutes"),
    tuple: list,
    Quantity: lambda x: {"amount": write_answer(x.amount), "unit": x.unit},
    Reading: lambda x: {"amount": write_answer(x.amount), "instrument": x.instrument, "time": x.time},
    Point: _point_json,
    Path: _points_json,
    Area: _points_json,
    Media: lambda x: {"file": x.file, "name": x.name, "type": x.type, "bytes": x.bytes},
}


def in_list_order(codes: Iterable[str], order: list[str]) -> tuple[str, ...]:
    """Chosen `codes` in the order of their code list, so that the order of tapping leaves no trace."""
    chosen = set(codes)
    return tuple(code for code in order if code in chosen)
