"""The columns of the sheet `Script`, one row each: heading, field of the part, how a cell is read and written."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from skavo.core.questionnaire.script import MOST_SHORT

LANG = re.compile(r"^(?P<base>.+?)\s*\[(?P<lang>[A-Za-z0-9-]+)\]$")
CHECK = re.compile(r"^(?P<field>must hold|should hold)(?:\s+(?P<number>\d+))?$")
MESSAGE = re.compile(r"^(?P<field>must hold|should hold)(?:\s+(?P<number>\d+))? message$")
_SPECIAL = {"don't know": "dont_know", "refused": "refused"}


class WrongCell(ValueError):
    """A cell that cannot be read: code, message and mend."""

    def __init__(self, code: str, message: str, mend: str) -> None:
        super().__init__(message)
        self.code, self.message, self.mend = code, message, mend


@dataclass(frozen=True)
class Column:
    """`heading` as it is written; read without regard to case."""

    heading: str
    field: str
    read: Callable[[str], Any]
    write: Callable[[Any], str]


def read_yes_no(cell: str) -> bool:
    """`yes` or `no`, in any case."""
    word = cell.strip().lower()
    if word not in ("yes", "no"):
        raise WrongCell("not_yes_no", f"“{cell}” is neither yes nor no.", "Write yes or no, or leave it empty.")
    return word == "yes"


def _level(cell: str) -> int:
    if not cell.isdecimal() or not 1 <= int(cell) <= 12:
        raise WrongCell("not_whole", f"“{cell}” is no level.", "Write 1, 2, 3 … up to 12.")
    return int(cell)


def _limit(cell: str) -> int | float:
    try:
        number = float(cell.replace(",", "."))
    except ValueError:
        number = math.nan
    if not math.isfinite(number):
        raise WrongCell("not_a_number", f"“{cell}” is not a number.", "Write a number, as 3 or 0.5.")
    return int(number) if number == int(number) else number


def _special_answers(cell: str) -> list[str]:
    words = [w.strip().lower().replace("’", "'") for w in re.split(r"[,;]|\band\b", cell) if w.strip()]
    if words == ["both"]:
        return list(_SPECIAL.values())
    unknown = [w for w in words if w not in _SPECIAL]
    if unknown:
        raise WrongCell("unknown_special", f"“{unknown[0]}” is no special answer.", "Write: don't know, refused")
    return [_SPECIAL[w] for w in words]


def read_files(cell: str) -> list[str]:
    """Names of files, a semicolon between them."""
    names = [name.strip() for name in cell.split(";") if name.strip()]
    long = next((name for name in names if len(name) > MOST_SHORT), None)
    if long is not None:
        message = f"The name “{long[:40]} …” has {len(long)} characters; {MOST_SHORT} is the most."
        raise WrongCell("too_long", message, "Write a semicolon between two names.")
    return names


def _limit_text(value: float | None) -> str:
    return "" if value is None else str(value)


PLAIN: tuple[Column, ...] = (
    Column("Level", "level", _level, str),
    Column("Kind", "kind", lambda cell: " ".join(cell.lower().split()), str),
    Column("Variable", "variable", str, str),
    Column("Code list", "code_list", str, str),
    Column("Code filter", "code_filter", str, str),
    Column("Asked when", "asked_when", str, str),
    Column("Repeated", "repeated", str, str),
    Column("Derived", "derived", str, str),
    Column("Default", "default", str, str),
    Column("Answer needed", "answer_needed", str, str),
    Column(
        "Special answers",
        "special_answers",
        _special_answers,
        lambda names: ", ".join(word for word, name in _SPECIAL.items() if name in names),
    ),
    Column("Mask", "mask", str, str),
    Column("Unit", "unit", str, str),
    Column("Least", "least", _limit, _limit_text),
    Column("Most", "most", _limit, _limit_text),
    Column("Reads back", "reads_back", str, str),
    Column("Register", "register_name", str, str),
    Column("Fills", "fills", str, str),
    Column("Sensitive", "sensitive", read_yes_no, lambda yes: "yes" if yes else ""),
    Column("Read aloud", "read_aloud", read_yes_no, lambda yes: "" if yes else "no"),
    Column("Order", "order", lambda cell: cell.lower(), str),
    Column("Media", "media", read_files, "; ".join),
    Column("Remark", "remark", str, str),
    Column("Module", "origin", str, str),
)
BY_HEADING = {column.heading.lower(): column for column in PLAIN}
BY_FIELD = {column.field: column for column in PLAIN}


def heading_of(field: str) -> str:
    """The heading, in small letters, of the column that a finding's field stands in."""
    base, *rest = field.split(".")
    if base in ("must_hold", "should_hold") and rest:
        words = base.replace("_", " ")
        title = words if rest[0] == "0" else f"{words} {int(rest[0]) + 1}"
        return f"{title} message [{rest[2]}]" if rest[1] == "message" else title
    if rest:
        return f"{base} [{rest[0]}]"
    return BY_FIELD[base].heading.lower() if base in BY_FIELD else base
