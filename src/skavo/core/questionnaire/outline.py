"""The outline of a script: which part holds which, and the names that its rules can see."""

from __future__ import annotations

import re
from dataclasses import dataclass

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.known import NOTHING_KNOWN, Known
from skavo.core.questionnaire.limits import declared_limits
from skavo.core.questionnaire.script import Part, Script, Texts, UnitOfMeasure
from skavo.core.rules.types import Scope, Symbol, Type
from skavo.core.rules.units import STANDARD, Unit, unit_book

SPECIFY_WORDING: Texts = {"en": "Which other?", "fr": "Quel autre ?", "ar": "ما هو الآخر؟"}

REPEATS = {
    "times": re.compile(r"^\s*(?P<rule>.+?)\s+times\s*$", re.S),
    "codes": re.compile(r"^\s*for\s+each\s+code\s+in\s+(?P<rule>\w+)\s*$"),
    "units": re.compile(r"^\s*for\s+each\s+unit\s+under\s+(?P<rule>[\w.]+)\s*$"),
    "while": re.compile(r"^\s*while\s+(?P<rule>.+?)\s*$", re.S),
}


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
        elif _specify_codes(script, entry.part):
            other = _place(entries, source, _specify_part(script, entry.part), open_parts)
            other.specifies = entry.index
    for entry in open_parts:
        entry.end = len(entries)
    return entries


def _place(entries: list[Entry], source: int, part: Part, around: list[Entry]) -> Entry:
    index = len(entries)
    rosters = tuple(e.index for e in around if e.part.kind == "roster")
    if around and around[-1].part.kind == "grid" and not part.code_list and _uses_codes(part):
        part = part.model_copy(update={"code_list": around[-1].part.code_list})
    entry = Entry(index, source, part, around[-1].index if around else None, rosters, index + 1)
    entries.append(entry)
    return entry


def _uses_codes(part: Part) -> bool:
    kind = KINDS.get(part.kind)
    return kind is not None and kind.uses_codes


def _holds_parts(part: Part) -> bool:
    kind = KINDS.get(part.kind)
    return kind is not None and kind.holds_parts


def _specify_codes(script: Script, part: Part) -> list[str]:
    code_list = script.list_named(part.code_list) if _uses_codes(part) else None
    return [c.code for c in code_list.codes if c.specify] if code_list else []


def _specify_part(script: Script, part: Part) -> Part:
    codes = _specify_codes(script, part)
    verb = "is one of" if part.kind == "single answer" else "includes any of"
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


def type_of(part: Part, units: list[UnitOfMeasure]) -> Type:
    """The rule type of a part's answer; a derived value's is found by its rule."""
    kind = KINDS.get(part.kind)
    name = kind.type if kind and kind.type else "unknown"
    dimension = units[0].dimension if units else None
    if dimension and part.kind in ("quantity", "instrument"):
        return Type("quantity", dimension=dimension)
    if part.kind == "quantity":
        # Its unit is at fault, and that is told there.
        return Type("unknown")
    code_list = part.code_list if _uses_codes(part) else None
    return Type(name, code_list or None, register=part.register_name or None if part.kind == "unit" else None)  # type: ignore[arg-type]


def units_of(script: Script, part: Part) -> list[UnitOfMeasure]:
    """The units that an answer may be given in: those of the list, or the single one that is named."""
    if not part.unit or part.kind not in ("quantity", "instrument"):
        return []
    listed = script.units_named(part.unit)
    if listed is not None:
        return listed.units
    own = next((u for entry in script.unit_lists for u in entry.units if u.unit == part.unit), None)
    if own is not None:
        return [own]
    standard = STANDARD.get(part.unit)
    return [UnitOfMeasure(unit=standard.name, dimension=standard.dimension, factor=standard.factor)] if standard else []


def symbols_of(script: Script, entries: list[Entry]) -> dict[str, Symbol]:
    """Every named part that a rule can refer to; the first of two with one name wins."""
    symbols: dict[str, Symbol] = {}
    for entry in entries:
        part = entry.part
        refers = part.kind not in ("section", "statement", "grid")
        if part.variable and refers and part.variable not in symbols:
            kind = type_of(part, units_of(script, part))
            sized = part.kind in ("quantity", "instrument")
            symbols[part.variable] = Symbol(
                part.variable, entry.index, kind, entry.rosters, declared_limits(part), sized
            )
    return symbols


def row_types_of(entries: list[Entry], symbols: dict[str, Symbol]) -> dict[int, Type]:
    """What the rows of rosters stand for: one of the codes chosen, or a unit of the register that the roster names."""
    found: dict[int, Type] = {}
    for entry in entries:
        if entry.part.kind != "roster":
            continue
        if REPEATS["units"].match(entry.part.repeated):
            found[entry.index] = Type("unit", register=entry.part.register_name or None)
        elif match := REPEATS["codes"].match(entry.part.repeated):
            chosen = symbols.get(match["rule"])
            if chosen is not None and chosen.type.name == "codes":
                found[entry.index] = Type("code", chosen.type.code_list)
    return found


def base_scope(
    script: Script,
    entries: list[Entry],
    symbols: dict[str, Symbol],
    known: Known = NOTHING_KNOWN,
    filtered: str | None = None,
) -> Scope:
    """The scope of a rule that stands outside all rosters and sees everything; `filtered` is a code filter's list."""
    lists = {entry.name: entry for entry in reversed(script.code_lists)}
    codes = {name: [str(code["code"]) for code in listed] for name, listed in known.codes.items()}
    codes |= {name: [c.code for c in entry.codes] for name, entry in lists.items()}
    attributes = {name: sorted({key for c in entry.codes for key in c.attributes}) for name, entry in lists.items()}
    alone = {name: [c.code for c in entry.codes if c.exclusive] for name, entry in lists.items()}
    units = [Unit(u.unit, u.dimension, u.factor, entry.name) for entry in script.unit_lists for u in entry.units]
    return Scope(
        symbols,
        lambda name: codes.get(name, []),
        roster_names={e.index: e.part.variable for e in entries if e.part.kind == "roster"},
        attributes=lambda name: attributes.get(name, []),
        exclusive=lambda name: alone.get(name, []),
        units=unit_book(units),
        registers=known.registers,
        visited=known.visited,
        row_types=row_types_of(entries, symbols),
        filtered_list=filtered,
    )
