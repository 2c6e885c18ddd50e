"""Values as a person would say them, in the interview's language."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.messages import word
from skavo.core.interview.state import InterviewState
from skavo.core.rules.functions import as_text
from skavo.core.rules.geodesy import length_m, size_m2
from skavo.core.rules.values import Area, Media, Path, Point, Quantity, Reading

NOTHING = "…"


def show_value(state: InterviewState, source: dict[str, Any], value: Any) -> str:
    """`value` in words; `source` is the part or the piece of a text it belongs to: {type, code_list, …}."""
    if value is None:
        return NOTHING
    kind, code_list = source["type"], source["code_list"]
    if isinstance(value, bool):
        return word("yes" if value else "no", state.language, state.own_words)
    if kind == "code" and code_list:
        return state.label(code_list, value)
    if kind == "codes" and code_list:
        return ", ".join(state.label(code_list, code) for code in value)
    if kind == "unit":
        return str(state.outside.get("units", {}).get(value, {}).get("label") or value)
    writer = _WORDS.get(type(value))
    if writer is not None:
        return writer(source, value, state)
    base = source.get("base_unit") or ""
    return f"{as_text(write_answer(value))} {base}".strip()


def _quantity(source: dict[str, Any], value: Quantity, state: InterviewState) -> str:
    labels = {u["unit"]: u["label"] for u in source.get("units", [])}.get(value.unit, {})
    unit = labels.get(state.language) or labels.get(state.release.languages[0]) or value.unit
    return f"{as_text(write_answer(value.amount))} {unit}"


def _reading(source: dict[str, Any], value: Reading, state: InterviewState) -> str:
    unit = next((u["unit"] for u in source.get("units", [])), "")
    return f"{as_text(write_answer(value.amount))} {unit}".strip()


def _point(source: dict[str, Any], value: Point, state: InterviewState) -> str:
    accuracy = "" if value.accuracy is None else f" ±{round(value.accuracy)} m"
    return f"{value.latitude:.5f}, {value.longitude:.5f}{accuracy}"


def _path(source: dict[str, Any], value: Path, state: InterviewState) -> str:
    length = length_m(value)
    return NOTHING if length is None else f"{round(length)} m"


def _area(source: dict[str, Any], value: Area, state: InterviewState) -> str:
    size = size_m2(value)
    return NOTHING if size is None else f"{round(size)} m²"


def _moment(source: dict[str, Any], value: datetime, state: InterviewState) -> str:
    """As the clock of whoever answered showed it."""
    return value.isoformat(" ", "minutes")[:16]


def _media(source: dict[str, Any], value: Media, state: InterviewState) -> str:
    return value.name or value.type or value.file[:8]


_WORDS: dict[type, Callable[[dict[str, Any], Any, InterviewState], str]] = {
    Quantity: _quantity,
    Reading: _reading,
    Point: _point,
    Path: _path,
    Area: _area,
    Media: _media,
    datetime: _moment,
}
