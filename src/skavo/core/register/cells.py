"""A unit's answers as cells of a table: out so that they come in again as they were, in from whatever people write.

Most fields are one column by the name of the variable. A quantity has its unit and a point its three figures in columns
of their own; paths and areas are geometries of RFC 7946 as text. What the phone took (pictures, sound) and what is
derived goes out only.
"""

from __future__ import annotations

import json
import re
import unicodedata
from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

from skavo.core.interview.answers import SPECIAL_ANSWERS, WrongAnswer, write_answer
from skavo.core.interview.release import PartSpec, Release
from skavo.core.maps.rings import closed_ring
from skavo.core.rules.functions import as_text

Cells = Mapping[str, str]
SPECIAL_WORDS = {"dont_know": "don’t know", "refused": "refused"}
_SUFFIXES: dict[str, tuple[str, ...]] = {
    "quantity": ("", "_unit"),
    "instrument": ("", "_instrument", "_time"),
    "point": ("_latitude", "_longitude", "_accuracy"),
}


def _form(part: PartSpec) -> str:
    """What shape an answer has: that of its type, but for a reading, whose type is a number."""
    return "instrument" if part.kind.name == "instrument" else str(part.raw["type"])


_YES_NO = {"yes": True, "y": True, "true": True, "1": True, "no": False, "n": False, "false": False, "0": False}


class WrongCell(ValueError):
    """A cell that its field cannot hold: what it holds, and what is expected."""


def columns_of(part: PartSpec) -> list[str]:
    """The columns that a field has in a table."""
    return [f"{part.variable}{suffix}" for suffix in _SUFFIXES.get(_form(part), ("",))]


def comes_in(part: PartSpec) -> bool:
    """Whether a file can bring a field: what the phone takes, and what is derived, does not come in a table."""
    return part.kind.takes_answer and _form(part) != "media" and part.reads_back is None


def cells_of(part: PartSpec, value: Any) -> list[str]:
    """The cells of an answer in JSON form, one for each of its columns."""
    return writer_of(part)(value)


def writer_of(part: PartSpec) -> Callable[[Any], list[str]]:
    """What makes cells of a field's answers; got once for many of them."""
    empty = [""] * len(columns_of(part))
    write = _WRITERS.get(_form(part), _plainly)

    def cells(value: Any) -> list[str]:
        if value is None:
            return empty
        if isinstance(value, dict) and "special" in value:
            return [SPECIAL_WORDS[value["special"]], *empty[1:]]
        return write(value)

    return cells


def _plainly(value: Any) -> list[str]:
    return [value if isinstance(value, str) else str(value) if type(value) is int else as_text(value)]


def _geometry(kind: str) -> Callable[[Any], list[str]]:
    def write(value: Any) -> list[str]:
        line = [[point["longitude"], point["latitude"]] for point in value["points"]]
        rings = [closed_ring(line)] if kind == "Polygon" else line
        return [json.dumps({"type": kind, "coordinates": rings})]

    return write


_WRITERS: dict[str, Callable[[Any], list[str]]] = {
    "quantity": lambda value: [str(value["amount"]), value["unit"]],
    "instrument": lambda value: [str(value["amount"]), value["instrument"], value["time"]],
    "point": lambda value: [
        "" if value[name] is None else repr(value[name]) for name in ("latitude", "longitude", "accuracy")
    ],
    "path": _geometry("LineString"),
    "area": _geometry("Polygon"),
    "codes": lambda value: [";".join(value)],
    "yes/no": lambda value: ["yes" if value else "no"],
    "media": lambda value: [value["name"] or value["file"]],
}


def read_cells(release: Release, part: PartSpec, cells: Cells) -> Any:
    """The answer in JSON form that the cells of a field hold, by column; None where all are empty.

    Raise WrongCell where they hold none that the field can have.
    """
    texts = [cells.get(column, "").strip() for column in columns_of(part)]
    if not any(texts):
        return None
    special = next((key for key in SPECIAL_ANSWERS if plain(texts[0]) == plain(SPECIAL_WORDS[key])), None)
    if special is not None:
        return {"special": special}
    reader = _READERS.get(_form(part))
    raw = texts[0] if reader is None else reader(release, part, texts)
    assert part.kind.read is not None
    try:
        read = part.kind.read(raw)
    except WrongAnswer:
        raise WrongCell(f"{_quoted(texts)} is no {_EXPECTED.get(part.kind.name, part.kind.name)}") from None
    return write_answer(read)


_EXPECTED = {
    "whole number": "whole number", "decimal": "number", "date": "date: write it like 2027-03-14",
    "time": "time: write it like 09:30", "date-time": "moment: write it like 2027-03-14T09:30+02:00",
    "quantity": "amount with a unit", "instrument": "number", "yes/no": "yes or no",
    "point": "place: write degrees, latitude between -90 and 90, longitude between -180 and 180",
    "path": "LineString of GeoJSON with 2 places or more", "area": "Polygon of GeoJSON with 3 corners or more",
}  # fmt: skip


def _quoted(texts: list[str]) -> str:
    return "“" + " ".join(text for text in texts if text)[:60] + "”"


_SIGNS = {code: None for code in range(128) if not chr(code).isalnum()}


def plain(text: str) -> str:
    """A text as it is compared with others: without case, accents, spaces and signs."""
    if text.isascii():
        return text.lower().translate(_SIGNS)
    folded = unicodedata.normalize("NFKD", text.casefold())
    return re.sub(r"[\W_]+", "", "".join(c for c in folded if not unicodedata.combining(c)))


def _number(text: str) -> str:
    """A number as people write it: spaces between thousands, a comma before decimals."""
    return re.sub(r"[\s   _’']", "", text).replace(",", ".")


def _whole(_release: Release, _part: PartSpec, texts: list[str]) -> str:
    return _number(texts[0])


def _quantity(_release: Release, part: PartSpec, texts: list[str]) -> Any:
    split = re.fullmatch(r"(-?[\d\s   _’'.,]+?)\s*([^\d\s.,].*)?", texts[0])
    amount, written = (split[1], split[2] or "") if split else (texts[0], "")
    named = texts[1] or written
    units = part.raw["units"]
    if not named and len(units) == 1:
        return {"amount": _number(amount), "unit": units[0]["unit"]}
    for unit in units:
        if plain(named) in {plain(name) for name in (unit["unit"], *unit["label"].values())}:
            return {"amount": _number(amount), "unit": unit["unit"]}
    known = ", ".join(unit["unit"] for unit in units)
    raise WrongCell(f"{_quoted(texts)} names no unit of its list ({known})")


def _reading(_release: Release, _part: PartSpec, texts: list[str]) -> Any:
    return {"amount": _number(texts[0]), "instrument": texts[1], "time": texts[2]}


def _yes_no(_release: Release, _part: PartSpec, texts: list[str]) -> Any:
    return _YES_NO.get(texts[0].casefold(), texts[0])


def _code(release: Release, part: PartSpec, texts: list[str]) -> str:
    return _one_code(release, part, texts[0])


def _codes(release: Release, part: PartSpec, texts: list[str]) -> list[str]:
    return [_one_code(release, part, piece.strip()) for piece in texts[0].split(";") if piece.strip()]


def _one_code(release: Release, part: PartSpec, text: str) -> str:
    """The code of a list that a text is, or whose label it is in any language."""
    labels: dict[str, dict[str, str]] = release.labels[part.raw["code_list"]]
    if text in labels:
        return text
    wanted = plain(text)
    named = [code for code, label in labels.items() if wanted in {plain(name) for name in (code, *label.values())}]
    if len(named) == 1:
        return named[0]
    listed = ", ".join(list(labels)[:8]) + (" …" if len(labels) > 8 else "")
    raise WrongCell(f"“{text[:60]}” is no code of the list {part.raw['code_list']} ({listed})")


def _date(_release: Release, _part: PartSpec, texts: list[str]) -> str:
    """ISO 8601, or day before month with points or strokes between, where that can mean one day only."""
    text = texts[0].removesuffix("T00:00:00")
    other = re.fullmatch(r"(\d{1,2})[./](\d{1,2})[./](\d{4})", text)
    if other is None:
        return text
    first, second, year = (int(piece) for piece in other.groups())
    if "/" in text and first <= 12 and second <= 12 and first != second:
        raise WrongCell(f"“{text}” may be two days. Write it like {year}-03-14")
    day, month = (first, second) if second <= 12 else (second, first)
    try:
        return date(year, month, day).isoformat()
    except ValueError:
        return text


def _point(_release: Release, _part: PartSpec, texts: list[str]) -> Any:
    if texts[0].startswith("{"):
        return _geometry_point(texts[0], texts[2])
    figures = []
    for text in texts:
        try:
            figures.append(float(_number(text)) if text else None)
        except ValueError:
            figures.append(None)
    return dict(zip(("latitude", "longitude", "accuracy"), figures, strict=True))


def _geometry_point(text: str, accuracy: str) -> Any:
    """A Point of RFC 7946; None where it is none."""
    try:
        geometry = json.loads(text)
        longitude, latitude = geometry["coordinates"][:2]
        point = {"latitude": latitude, "longitude": longitude, "accuracy": float(accuracy) if accuracy else None}
        return point if geometry["type"] == "Point" else None
    except (ValueError, KeyError, TypeError, RecursionError):
        return None


def _shape(kind: str) -> Callable[[Release, PartSpec, list[str]], Any]:
    def read(_release: Release, _part: PartSpec, texts: list[str]) -> Any:
        try:
            geometry = json.loads(texts[0])
            corners = geometry["coordinates"] if kind == "LineString" else geometry["coordinates"][0]
            return {
                "points": [
                    {"longitude": corner[0], "latitude": corner[1], "accuracy": None}
                    for corner in corners
                    if geometry["type"] == kind
                ]
            }
        except (ValueError, KeyError, IndexError, TypeError, RecursionError):
            return None

    return read


_READERS: dict[str, Callable[[Release, PartSpec, list[str]], Any]] = {
    "number": _whole,
    "quantity": _quantity,
    "instrument": _reading,
    "yes/no": _yes_no,
    "code": _code,
    "codes": _codes,
    "date": _date,
    "point": _point,
    "path": _shape("LineString"),
    "area": _shape("Polygon"),
}
