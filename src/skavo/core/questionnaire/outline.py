"""The outline of a script: which part holds which, and the names that its rules can see."""

from __future__ import annotations

from dataclasses import dataclass

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.script import Part, Script, Texts
from skavo.core.rules.types import Scope, Symbol, Type

SPECIFY_WORDING: Texts = {"en": "Which other?", "fr": "Quel autre ?", "ar": "ما هو الآخر؟"}


@dataclass
class Entry:
    """A part in its place. `source` is its line in the script (a specify question shares its question's line).

    `end` is one past the last entry inside it; `rosters` are the rosters around it, outermost first.
    """

    index: int
    source: int
    part: Part
    parent: int | None
    rosters: tuple[int, ...]
    end: int = 0
    specifies: int | None = None


def build_outline(script: Script) -> list[Entry]:
    """Entries in the order of asking, "other, specify" questions put in behind theirs."""
    entries: list[Entry] = []
    open_parts: list[Entry] = []
    for source, part in enumerate(script.parts):
        while open_parts and open_parts[-1].part.level >= part.level:
            open_parts.pop().end = len(entries)
        entry = _place(entries, source, part, open_parts)
        if _holds_parts(part):
            open_parts.append(entry)
        elif _specify_codes(script, part):
            other = _place(entries, source, _specify_part(script, part), open_parts)
            other.specifies = entry.index
    for entry in open_parts:
        entry.end = len(entries)
    return entries


def _place(entries: list[Entry], source: int, part: Part, around: list[Entry]) -> Entry:
    index = len(entries)
    rosters = tuple(e.index for e in around if e.part.kind == "roster")
    entry = Entry(index, source, part, around[-1].index if around else None, rosters, index + 1)
    entries.append(entry)
    return entry


def _holds_parts(part: Part) -> bool:
    kind = KINDS.get(part.kind)
    return kind is not None and kind.holds_parts


def _specify_codes(script: Script, part: Part) -> list[str]:
    kind = KINDS.get(part.kind)
    code_list = script.list_named(part.code_list) if kind and kind.uses_codes else None
    return [c.code for c in code_list.codes if c.specify] if code_list else []


def _specify_part(script: Script, part: Part) -> Part:
    codes = _specify_codes(script, part)
    verb = "includes any of" if part.kind == "multiple answer" else "is one of"
    quoted = ", ".join(f'"{code}"' for code in codes)
    return Part(
        id=f"{part.id}.other",
        level=part.level,
        kind="text",
        variable=f"{part.variable}_other",
        wording={lang: SPECIFY_WORDING.get(lang, SPECIFY_WORDING["en"]) for lang in script.languages},
        asked_when=f"{part.variable} {verb} ({quoted})",
        answer_needed="yes",
        sensitive=part.sensitive,
    )


def type_of(part: Part) -> Type:
    """The rule type of a part's answer; a derived value's is found by its rule."""
    kind = KINDS.get(part.kind)
    name = kind.type if kind and kind.type else "unknown"
    code_list = part.code_list if kind and kind.uses_codes else None
    return Type(name, code_list or None)  # type: ignore[arg-type]


def symbols_of(entries: list[Entry]) -> dict[str, Symbol]:
    """Every named part that a rule can refer to; the first of two with one name wins."""
    symbols: dict[str, Symbol] = {}
    for entry in entries:
        name = entry.part.variable
        refers = entry.part.kind not in ("section", "statement")
        if name and refers and name not in symbols:
            symbols[name] = Symbol(name, entry.index, type_of(entry.part), entry.rosters)
    return symbols


def base_scope(script: Script, entries: list[Entry], symbols: dict[str, Symbol]) -> Scope:
    """The scope of a rule that stands outside all rosters and sees everything."""

    def codes(name: str) -> list[str]:
        found = script.list_named(name)
        return [c.code for c in found.codes] if found else []

    def attributes(name: str) -> list[str]:
        found = script.list_named(name)
        return sorted({key for c in found.codes for key in c.attributes}) if found else []

    names = {e.index: e.part.variable for e in entries if e.part.kind == "roster"}
    return Scope(symbols, codes, roster_names=names, attributes=attributes)
