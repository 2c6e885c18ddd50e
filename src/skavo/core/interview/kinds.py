"""The kinds of part a questionnaire has, one row each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from skavo.core.interview import answers

Input = Literal[
    "", "typed", "typed moment", "yes or no", "one code", "many codes", "ranking", "amount and unit", "instrument", "scan",
    "position", "positions", "file", "signature", "pick", "read-back",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Kind:
    """`name` is the word on screen and in the workbook; `type` the rule type of an answer; `glyph` its mark.

    `uses_codes` says that its answers are codes of a list, `derives` that its value follows from a rule; `input` names
    what it is answered with on a screen, "" where nothing is.
    """

    name: str
    glyph: str
    type: str = ""
    read: Callable[[Any], Any] | None = None
    holds_parts: bool = False
    uses_codes: bool = False
    derives: bool = False
    input: Input = ""

    @property
    def takes_answer(self) -> bool:
        return self.read is not None

    @property
    def is_number(self) -> bool:
        return self.type in ("number", "quantity")


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("section", "§", holds_parts=True),
        Kind("roster", "↻", type="rows", holds_parts=True),
        Kind("grid", "▦", holds_parts=True),
        Kind("statement", "¶"),
        Kind("text", "T", type="text", read=answers.read_text, input="typed"),
        Kind("whole number", "#", type="number", read=answers.read_whole, input="typed"),
        Kind("decimal", "½", type="number", read=answers.read_decimal, input="typed"),
        Kind("quantity", "⚖", type="quantity", read=answers.read_quantity, input="amount and unit"),
        Kind("date", "◫", type="date", read=answers.read_date, input="typed"),
        Kind("time", "◷", type="time", read=answers.read_time, input="typed"),
        Kind("date-time", "◴", type="date-time", read=answers.read_date_time, input="typed moment"),
        Kind("yes/no", "⇄", type="yes/no", read=answers.read_yes_no, input="yes or no"),
        Kind("single answer", "◎", type="code", read=answers.read_text, uses_codes=True, input="one code"),
        Kind("multiple answer", "☑", type="codes", read=answers.read_codes, uses_codes=True, input="many codes"),
        Kind("ranking", "⇅", type="codes", read=answers.read_codes, uses_codes=True, input="ranking"),
        Kind("point", "⊕", type="point", read=answers.read_point, input="position"),
        Kind("path", "∿", type="path", read=answers.read_path, input="positions"),
        Kind("area", "⬠", type="area", read=answers.read_area, input="positions"),
        Kind("photo", "▣", type="media", read=answers.read_media, input="file"),
        Kind("audio", "♪", type="media", read=answers.read_media, input="file"),
        Kind("video", "▷", type="media", read=answers.read_media, input="file"),
        Kind("file", "❏", type="media", read=answers.read_media, input="file"),
        Kind("signature", "✎", type="media", read=answers.read_media, input="signature"),
        Kind("scanned code", "‖", type="text", read=answers.read_text, input="scan"),
        Kind("instrument", "⊙", type="number", read=answers.read_reading, input="instrument"),
        Kind("unit", "⌂", type="unit", read=answers.read_text, input="pick"),
        Kind("read-back", "↩", type="yes/no", read=answers.read_confirmation, input="read-back"),
        Kind("derived value", "ƒ", derives=True),
        Kind("carried value", "⤳", derives=True),
    )
}
# Parts that are no question of their own: nothing is numbered, nothing answered.
UNNUMBERED = frozenset({"section", "roster", "grid", "statement", "derived value", "carried value"})
