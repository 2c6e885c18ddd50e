"""Types of the rule language and the names a rule can see."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from skavo.core.rules.limits import Limits
from skavo.core.rules.units import Unit

TypeName = Literal[
    "number", "quantity", "text", "yes/no", "code", "codes", "date", "time", "date-time", "duration",
    "point", "path", "area", "media", "unit", "rows", "any", "unknown",
]  # fmt: skip

WORDS: dict[str, str] = {
    "number": "a number",
    "quantity": "a quantity",
    "text": "a text",
    "yes/no": "yes or no",
    "code": "a code",
    "codes": "several codes",
    "date": "a date",
    "time": "a time of day",
    "date-time": "a date with its time",
    "duration": "a span of time",
    "point": "a point",
    "path": "a path",
    "area": "an area",
    "media": "a file",
    "unit": "a unit of a register",
    "rows": "the rows of a roster",
    "any": "a value",
    "unknown": "a value",
}


@dataclass(frozen=True)
class Type:
    """`name`; for code and codes the list they come from, for a quantity its dimension, for a unit its register.

    A number may carry a dimension too: a distance is a number of metres and may be compared with 2 km.
    """

    name: TypeName
    code_list: str | None = None
    dimension: str | None = None
    register: str | None = None

    @property
    def words(self) -> str:
        if self.name == "quantity" and self.dimension:
            return f"a quantity ({self.dimension})"
        return WORDS[self.name] + (f" of the list {self.code_list}" if self.code_list else "")


NUMBER, TEXT, YES_NO = Type("number"), Type("text"), Type("yes/no")
DATE, TIME, DURATION, ROWS, UNKNOWN = Type("date"), Type("time"), Type("duration"), Type("rows"), Type("unknown")
DATE_TIME, UNIT = Type("date-time"), Type("unit")
# A typed tree with the type of what it gives; NOTHING stands where a fault was found.
Typed = tuple[Any, Type]
NOTHING: Typed = (["literal", "text", None], UNKNOWN)
ORDERED = ("number", "quantity", "date", "time", "date-time", "duration")


@dataclass(frozen=True)
class Symbol:
    """A variable: `index` is its place in the order of asking, `rosters` the rosters around it, outermost first.

    `limits` are those that the questionnaire declares for its numbers; `sized` says that its answers are quantities
    or readings, which rules read by their size.
    """

    name: str
    index: int
    type: Type
    rosters: tuple[int, ...] = ()
    limits: Limits | None = None
    sized: bool = False


@dataclass(frozen=True)
class Scope:
    """What a rule can see from where it stands.

    `rosters` are the rosters around the rule; `latest` is the last part it may refer to; `hidden` are the parts of the
    same section of random order, whose turn is not known; `codes` gives the codes of a list, `exclusive` those
    that go with no other; `filtered_list` is the
    list of a code filter, if the rule is one; `own` is the part whose hard check this is, so that its limits come from
    elsewhere; `units` and `registers` are what is known of units of measure and of the attributes of register units;
    `visited` is the register of the unit that the interview is about; `row_types` says of rosters for each code or unit
    what a row stands for.
    """

    symbols: Mapping[str, Symbol]
    codes: Callable[[str], Iterable[str]]
    rosters: tuple[int, ...] = ()
    latest: int = 1_000_000
    roster_names: Mapping[int, str] = field(default_factory=dict)
    filtered_list: str | None = None
    attributes: Callable[[str], Iterable[str]] = lambda _list: ()
    exclusive: Callable[[str], Iterable[str]] = lambda _list: ()
    hidden: frozenset[int] = frozenset()
    own: int | None = None
    units: Mapping[str, tuple[Unit, ...]] = field(default_factory=dict)
    registers: Mapping[str, Mapping[str, TypeName]] = field(default_factory=dict)
    visited: str | None = None
    row_types: Mapping[int, Type] = field(default_factory=dict)

    def inside(self, rosters: tuple[int, ...]) -> Scope:
        return replace(self, rosters=rosters)


def nearest(word: str, known: Iterable[str]) -> str | None:
    """The known word most like `word`, or None if none is alike."""
    found = difflib.get_close_matches(word.lower(), list(known), n=1, cutoff=0.6)
    return found[0] if found else None


def sentence(words: str) -> str:
    """`words` with a capital letter at its beginning."""
    return words[:1].upper() + words[1:]
