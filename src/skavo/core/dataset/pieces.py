"""Which columns a question gives, and what stands in them: most give one, a quantity or a place several.

An interview's row holds the answer in JSON form, a quantity with its size. Releases may ask the same question as
another kind; a value is then brought into the newest kind where that loses nothing, and is missing where it cannot be.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from decimal import Decimal, InvalidOperation
from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.rules.geodesy import length_m, size_m2
from skavo.core.rules.values import Area, Path, Quantity, Reading


@dataclass(frozen=True)
class Piece:
    """`suffix` is added to the variable, `key` names the entry of the answer; `words` say it in the column's label."""

    suffix: str
    key: str
    measure: str
    words: str = ""


_MEDIA = (Piece("", "file", "text"), Piece("_name", "name", "text", "name of the file"))
# Kinds whose answer is an object; all others give one column that holds the answer itself.
PIECES: dict[str, tuple[Piece, ...]] = {
    "quantity": (
        Piece("", "size", "number"),
        Piece("_amount", "amount", "number", "as answered"),
        Piece("_unit", "unit", "code", "unit"),
    ),
    "instrument": (
        Piece("", "size", "number"),
        Piece("_instrument", "instrument", "text", "instrument"),
        Piece("_time", "time", "text", "time"),
    ),
    "point": (
        Piece("_latitude", "latitude", "number", "latitude"),
        Piece("_longitude", "longitude", "number", "longitude"),
        Piece("_accuracy", "accuracy", "number", "accuracy in metres"),
    ),
    "path": (Piece("", "shape", "text"), Piece("_length", "length", "number", "length in metres")),
    "area": (Piece("", "shape", "text"), Piece("_size", "size", "number", "square metres")),
    "photo": _MEDIA,
    "audio": _MEDIA,
    "video": _MEDIA,
    "file": _MEDIA,
    "signature": _MEDIA,
}


def row_value(value: Any) -> Any:
    """A value of the engine as an interview's row keeps it: its JSON form, with what only the engine can work out."""
    if isinstance(value, Quantity | Reading):
        size = value.amount if value.size is None and isinstance(value, Reading) else value.size
        return {**write_answer(value), "size": write_answer(size)}
    if isinstance(value, Path):
        return {"shape": _geometry("LineString", value.points), "length": write_answer(length_m(value))}
    if isinstance(value, Area):
        return {
            "shape": _geometry("Polygon", (*value.points, value.points[0])),
            "size": write_answer(size_m2(value)),
        }
    return write_answer(value)


def _geometry(kind: str, points: tuple[Any, ...]) -> str:
    """A geometry of RFC 7946 as text."""
    line = [[p.longitude, p.latitude] for p in points]
    return json.dumps({"type": kind, "coordinates": [line] if kind == "Polygon" else line})


def cell(key: str, measure: str, value: Any) -> Any:
    """The value of one column from a row's value; None where it is missing or of a kind that cannot be brought over."""
    if key:
        value = value.get(key) if isinstance(value, dict) else None
    elif isinstance(value, dict) and measure != "yes/no":
        return None
    return None if value is None else _READERS[measure](value)


def _number(value: Any) -> Decimal | None:
    try:
        return Decimal(str(value))
    except InvalidOperation:
        return None


def _read(parse: Callable[[str], Any]) -> Callable[[Any], Any]:
    def read(value: Any) -> Any:
        try:
            return parse(value) if isinstance(value, str) else None
        except ValueError:
            return None

    return read


def _moment(text: str) -> datetime | None:
    moment = datetime.fromisoformat(text)
    return moment.astimezone(UTC).replace(tzinfo=None) if moment.tzinfo else None


def _yes_no(value: Any) -> bool | None:
    return value if isinstance(value, bool) else None


def _code(value: Any) -> str | None:
    if isinstance(value, list):
        return value[0] if len(value) == 1 else None
    return value if isinstance(value, str) else None


def _codes(value: Any) -> list[str] | None:
    return value if isinstance(value, list) else [value] if isinstance(value, str) else None


def _text(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(map(str, value))
    return {True: "yes", False: "no"}[value] if isinstance(value, bool) else str(value)


_READERS: dict[str, Callable[[Any], Any]] = {
    "number": _number,
    "text": _text,
    "date": _read(lambda text: date.fromisoformat(text[:10])),
    "time": _read(time.fromisoformat),
    "date-time": _read(_moment),
    "yes/no": _yes_no,
    "code": _code,
    "codes": _codes,
}
