"""Types of the rule language and the names a rule can see."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

TypeName = Literal["number", "text", "yes/no", "code", "codes", "date", "time", "duration", "rows", "any", "unknown"]

WORDS: dict[str, str] = {
    "number": "a number",
    "text": "a text",
    "yes/no": "yes or no",
    "code": "a code",
    "codes": "several codes",
    "date": "a date",
    "time": "a time of day",
    "duration": "a span of time",
    "rows": "the rows of a roster",
    "any": "a value",
}


@dataclass(frozen=True)
class Type:
    """`name`, and for code and codes the code list they come from."""

    name: TypeName
    code_list: str | None = None

    @property
    def words(self) -> str:
        return WORDS.get(self.name, self.name) + (f" of the list {self.code_list}" if self.code_list else "")


NUMBER, TEXT, YES_NO = Type("number"), Type("text"), Type("yes/no")
DATE, TIME, DURATION, ROWS, UNKNOWN = Type("date"), Type("time"), Type("duration"), Type("rows"), Type("unknown")


@dataclass(frozen=True)
class Symbol:
    """A variable: `index` is its place in the order of asking, `rosters` the rosters around it, outermost first."""

    name: str
    index: int
    type: Type
    rosters: tuple[int, ...] = ()


@dataclass(frozen=True)
class Scope:
    """What a rule can see from where it stands.

    `rosters` are the rosters around the rule; `latest` is the last part it may refer to;
    `codes` gives the codes of a list; `filtered_list` is the list of a code filter, if the rule is one.
    """

    symbols: Mapping[str, Symbol]
    codes: Callable[[str], Iterable[str]]
    rosters: tuple[int, ...] = ()
    latest: int = 1_000_000
    roster_names: Mapping[int, str] = field(default_factory=dict)
    filtered_list: str | None = None
    attributes: Callable[[str], Iterable[str]] = lambda _list: ()

    def inside(self, rosters: tuple[int, ...]) -> Scope:
        return Scope(
            self.symbols, self.codes, rosters, self.latest, self.roster_names, self.filtered_list, self.attributes
        )


def nearest(word: str, known: Iterable[str]) -> str | None:
    """The known word most like `word`, or None if none is alike."""
    found = difflib.get_close_matches(word.lower(), list(known), n=1, cutoff=0.6)
    return found[0] if found else None
