"""What stands on the paper: headings, lines to fill in, tables for rosters and grids, lists at the end."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

FormKind = Literal[
    "nothing", "choices", "long list", "boxes", "lines", "amount", "ranking", "signature", "elsewhere", "read-back"
]  # fmt: skip


@dataclass(frozen=True)
class Choice:
    """A code with its box; `leads` says where one goes on from it, `specify` asks what "other" is.

    `under` names the code of an earlier list that it belongs to, "" where the list hangs under none.
    """

    code: str
    label: str
    leads: str = ""
    specify: bool = False
    under: str = ""
    media: tuple[str, ...] = ()


@dataclass(frozen=True)
class Boxes:
    """Boxes for so many signs in a row; `pattern` has what stands printed between them, a space for an empty box."""

    label: str
    pattern: str


@dataclass(frozen=True)
class Form:
    """How a line is answered. `note` is said to the interviewer; `units` are ticked beside an amount."""

    kind: FormKind
    choices: tuple[Choice, ...] = ()
    boxes: tuple[Boxes, ...] = ()
    units: tuple[str, ...] = ()
    lines: int = 1
    note: str = ""


@dataclass(frozen=True)
class Line:
    """A question or a statement. `number` is "" for what has none, `specials` the answers that are none."""

    id: str
    number: str
    wording: str
    instruction: str
    condition: str
    checks: tuple[str, ...]
    form: Form
    specials: tuple[Choice, ...] = ()
    aloud: bool = True
    media: tuple[str, ...] = ()


@dataclass(frozen=True)
class Heading:
    depth: int
    title: str
    instruction: str
    condition: str


@dataclass(frozen=True)
class Table:
    """A roster: its lines are columns, a row is filled in for each of what it is repeated for.

    `outer` names the rosters around it, whose line's number stands first; `rows` are the names that are known,
    otherwise `blanks` rows are left empty.
    """

    title: str
    instruction: str
    condition: str
    note: str
    outer: tuple[str, ...]
    columns: tuple[Line, ...]
    rows: tuple[str, ...]
    blanks: int


@dataclass(frozen=True)
class Grid:
    """Lines that are answered with the same codes."""

    title: str
    instruction: str
    condition: str
    lines: tuple[Line, ...]
    choices: tuple[Choice, ...]


@dataclass(frozen=True)
class CodeSheet:
    """A list that is too long for its line; `codes` is empty where it is too long for paper altogether."""

    name: str
    codes: tuple[Choice, ...]
    count: int


Block = Line | Heading | Table | Grid


@dataclass
class Paper:
    """A questionnaire in one language. `release` is "" for a draft; `words` are those of words.py."""

    title: str
    study: str
    language: str
    rtl: bool
    release: str
    words: dict[str, str]
    blocks: list[Block] = field(default_factory=list)
    lists: list[CodeSheet] = field(default_factory=list)
