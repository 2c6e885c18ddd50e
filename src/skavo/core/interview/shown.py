"""Values as a person would say them, in the interview's language."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.messages import word
from skavo.core.rules.functions import as_text
from skavo.core.rules.geodesy import length_m, size_m2
from skavo.core.rules.values import Area, Media, Path, Point, Quantity, Reading

if TYPE_CHECKING:
    from skavo.core.interview.engine import Engine

NOTHING = "…"


def show_value(engine: Engine, source: dict[str, Any], value: Any) -> str:
    """`value` in words; `source` is the part or the piece of a text it belongs to: {type, code_list, …}."""
    if value is None:
        return NOTHING
    kind, code_list = source["type"], source["code_list"]
    if isinstance(value, bool):
        return word("yes" if value else "no", engine.language)
    if kind == "code" and code_list:
        return engine.label(code_list, value)
    if kind == "codes" and code_list:
        return ", ".join(engine.label(code_list, code) for code in value)
    if kind == "unit":
        return str(engine.outside.get("units", {}).get(value, {}).get("label") or value)
    writer = _WORDS.get(type(value))
    if writer is not None:
        return writer(source, value, engine)
    base = source.get("base_unit") or ""
    return f"{as_text(write_answer(value))} {base}".strip()


def _quantity(source: dict[str, Any], value: Quantity, engine: Engine) -> str:
    labels = {u["unit"]: u["label"] for u in source.get("units", [])}.get(value.unit, {})
    unit = labels.get(engine.language) or labels.get(engine.release.languages[0]) or value.unit
    return f"{as_text(write_answer(value.amount))} {unit}"


def _reading(source: dict[str, Any], value: Reading, engine: Engine) -> str:
    unit = next((u["unit"] for u in source.get("units", [])), "")
    return f"{as_text(write_answer(value.amount))} {unit}".strip()


def _point(source: dict[str, Any], value: Point, engine: Engine) -> str:
    accuracy = "" if value.accuracy is None else f" ±{round(value.accuracy)} m"
    return f"{value.latitude:.5f}, {value.longitude:.5f}{accuracy}"


def _path(source: dict[str, Any], value: Path, engine: Engine) -> str:
    length = length_m(value)
    return NOTHING if length is None else f"{round(length)} m"


def _area(source: dict[str, Any], value: Area, engine: Engine) -> str:
    size = size_m2(value)
    return NOTHING if size is None else f"{round(size)} m²"


def _media(source: dict[str, Any], value: Media, engine: Engine) -> str:
    return value.name or value.type or value.file[:8]


_WORDS: dict[type, Callable[[dict[str, Any], Any, Engine], str]] = {
    Quantity: _quantity,
    Reading: _reading,
    Point: _point,
    Path: _path,
    Area: _area,
    Media: _media,
}
