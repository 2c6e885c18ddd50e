"""The kinds of part a questionnaire has, one row each, and how an answer of each kind is read.

An answer has a JSON form (on the device, in files) and a Python form (in rules):

| kind | JSON | Python |
| --- | --- | --- |
| text | string | str |
| whole number | integer | int |
| decimal | string "12.5" or integer | int or Decimal |
| date | "2027-03-14" | date |
| time | "14:30" | time |
| yes/no | true, false | bool |
| single answer | the code, a string | str |
| multiple answer | list of codes | tuple of str, in the order of the code list |
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal, InvalidOperation
from typing import Any

from skavo.core.rules.functions import tidy

SPECIAL_ANSWERS = ("dont_know", "refused")


class WrongAnswer(ValueError):
    """An answer that its kind cannot hold; `code` names why."""

    def __init__(self, code: str) -> None:
        super().__init__(code)
        self.code = code


def _text(raw: Any) -> str:
    if not isinstance(raw, str):
        raise WrongAnswer("not_a_text")
    return raw


def _whole(raw: Any) -> int:
    number = _decimal(raw)
    if isinstance(number, Decimal):
        raise WrongAnswer("not_whole")
    return number


def _decimal(raw: Any) -> int | Decimal:
    if type(raw) is int and -(10**15) < raw < 10**15:
        return raw
    if isinstance(raw, bool) or not isinstance(raw, int | str | float):
        raise WrongAnswer("not_a_number")
    try:
        number = Decimal(str(raw).strip().replace(",", "."))
    except InvalidOperation:
        raise WrongAnswer("not_a_number") from None
    if not number.is_finite() or abs(number.adjusted()) > 15:
        raise WrongAnswer("not_a_number")
    return tidy(number)


def _date(raw: Any) -> date:
    try:
        return date.fromisoformat(_text(raw))
    except ValueError:
        raise WrongAnswer("not_a_date") from None


def _time(raw: Any) -> time:
    try:
        return time.fromisoformat(_text(raw))
    except ValueError:
        raise WrongAnswer("not_a_time") from None


def _yes_no(raw: Any) -> bool:
    if not isinstance(raw, bool):
        raise WrongAnswer("not_yes_or_no")
    return raw


def _codes(raw: Any) -> tuple[str, ...]:
    if not isinstance(raw, list | tuple) or not all(isinstance(code, str) for code in raw):
        raise WrongAnswer("not_codes")
    return tuple(dict.fromkeys(raw))


@dataclass(frozen=True)
class Kind:
    """`name` is the word on screen and in the workbook; `type` the rule type of an answer; `glyph` its mark."""

    name: str
    glyph: str
    type: str = ""
    read: Callable[[Any], Any] | None = None
    holds_parts: bool = False
    uses_codes: bool = False

    @property
    def takes_answer(self) -> bool:
        return self.read is not None


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("section", "▾", holds_parts=True),
        Kind("roster", "↻", type="rows", holds_parts=True),
        Kind("statement", "¶"),
        Kind("text", "T", type="text", read=_text),
        Kind("whole number", "#", type="number", read=_whole),
        Kind("decimal", "½", type="number", read=_decimal),
        Kind("date", "◫", type="date", read=_date),
        Kind("time", "◷", type="time", read=_time),
        Kind("yes/no", "⇄", type="yes/no", read=_yes_no),
        Kind("single answer", "◎", type="code", read=_text, uses_codes=True),
        Kind("multiple answer", "☑", type="codes", read=_codes, uses_codes=True),
        Kind("derived value", "ƒ"),
    )
}


def write_answer(value: Any) -> Any:
    """The JSON form of a Python value; numbers that are not whole become exact decimal text."""
    if isinstance(value, Decimal):
        return format(value.normalize(), "f")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, time):
        return value.isoformat(timespec="minutes")
    if isinstance(value, tuple):
        return list(value)
    return value


def in_list_order(codes: Iterable[str], order: list[str]) -> tuple[str, ...]:
    """Chosen `codes` in the order of their code list, so that the order of tapping leaves no trace."""
    chosen = set(codes)
    return tuple(code for code in order if code in chosen)
