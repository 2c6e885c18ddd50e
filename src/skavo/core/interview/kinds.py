"""The kinds of part a questionnaire has, one row each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from skavo.core.interview import answers


@dataclass(frozen=True, slots=True)
class Kind:
    """`name` is the word on screen and in the workbook; `type` the rule type of an answer; `glyph` its mark.

    `uses_codes` says that its answers are codes of a list, `derives` that its value follows from a rule.
    """

    name: str
    glyph: str
    type: str = ""
    read: Callable[[Any], Any] | None = None
    holds_parts: bool = False
    uses_codes: bool = False
    derives: bool = False

    @property
    def takes_answer(self) -> bool:
        return self.read is not None

    @property
    def is_number(self) -> bool:
        return self.type in ("number", "quantity")


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("section", "▾", holds_parts=True),
        Kind("roster", "↻", type="rows", holds_parts=True),
        Kind("grid", "▦", holds_parts=True),
        Kind("statement", "¶"),
        Kind("text", "T", type="text", read=answers.read_text),
        Kind("whole number", "#", type="number", read=answers.read_whole),
        Kind("decimal", "½", type="number", read=answers.read_decimal),
        Kind("quantity", "⚖", type="quantity", read=answers.read_quantity),
        Kind("date", "◫", type="date", read=answers.read_date),
        Kind("time", "◷", type="time", read=answers.read_time),
        Kind("date-time", "◴", type="date-time", read=answers.read_date_time),
        Kind("yes/no", "⇄", type="yes/no", read=answers.read_yes_no),
        Kind("single answer", "◎", type="code", read=answers.read_text, uses_codes=True),
        Kind("multiple answer", "☑", type="codes", read=answers.read_codes, uses_codes=True),
        Kind("ranking", "⇅", type="codes", read=answers.read_codes, uses_codes=True),
        Kind("point", "⊕", type="point", read=answers.read_point),
        Kind("path", "∿", type="path", read=answers.read_path),
        Kind("area", "⬠", type="area", read=answers.read_area),
        Kind("photo", "▣", type="media", read=answers.read_media),
        Kind("audio", "♪", type="media", read=answers.read_media),
        Kind("video", "▷", type="media", read=answers.read_media),
        Kind("file", "❏", type="media", read=answers.read_media),
        Kind("signature", "✎", type="media", read=answers.read_media),
        Kind("scanned code", "‖", type="text", read=answers.read_text),
        Kind("instrument", "⊙", type="number", read=answers.read_reading),
        Kind("unit", "⌂", type="unit", read=answers.read_text),
        Kind("read-back", "↩", type="yes/no", read=answers.read_confirmation),
        Kind("derived value", "ƒ", derives=True),
        Kind("carried value", "⤳", derives=True),
    )
}
# Parts that are no question of their own: nothing is numbered, nothing answered.
UNNUMBERED = frozenset({"section", "roster", "grid", "statement", "derived value", "carried value"})
