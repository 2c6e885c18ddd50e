"""Lines taken from elsewhere into a script: from another questionnaire, from a module, from the same one again.

What is new gets identities and names of its own, and the rules among the lines follow; code lists and units that they
use come along, unless the script has the same ones already.
"""

from __future__ import annotations

import re
import uuid
from collections.abc import Iterable
from dataclasses import dataclass
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.questionnaire.outline import build_outline
from skavo.core.questionnaire.rename import rename_variables
from skavo.core.questionnaire.script import CodeList, Part, Script, UnitList
from skavo.core.questionnaire.variables import MOST_CHARACTERS

_List = TypeVar("_List", CodeList, UnitList)


class Fragment(BaseModel):
    """Some lines of a script with the lists that they use, and the languages of their texts."""

    model_config = ConfigDict(extra="forbid")
    languages: list[str] = Field(min_length=1, max_length=40)
    parts: list[Part] = Field(max_length=5_000)
    code_lists: list[CodeList] = []
    unit_lists: list[UnitList] = []


@dataclass(frozen=True)
class Grafted:
    """`added` are the identities of the lines put in, in order; `renamed` leads from names they came with to new ones."""

    script: Script
    added: list[str]
    renamed: dict[str, str]
    lists_renamed: dict[str, str]


def cut_fragment(script: Script, lines: Iterable[int]) -> Fragment:
    """The lines at these places with the lists that they use."""
    parts = [script.parts[i] for i in sorted(set(lines)) if 0 <= i < len(script.parts)]
    lists, units = {p.code_list for p in parts}, {p.unit for p in parts}
    return Fragment(
        languages=script.languages,
        parts=parts,
        code_lists=[entry for entry in script.code_lists if entry.name in lists],
        unit_lists=[entry for entry in script.unit_lists if entry.name in units],
    )


def graft(script: Script, fragment: Fragment, at: int, level: int, prefix: str = "") -> Grafted:
    """Put a fragment in before line `at`, its outermost lines on `level`.

    A variable that is taken gets `prefix` before it, where that makes it free, else the next free number behind it.
    """
    parts = [part.model_copy(deep=True) for part in fragment.parts]
    shift = level - min((part.level for part in parts), default=level)
    for part in parts:
        part.level = min(max(part.level + shift, 1), 12)
    lists_renamed = _bring_lists(script.code_lists, fragment.code_lists)
    units_renamed = _bring_lists(script.unit_lists, fragment.unit_lists)
    renamed, parts = _with_free_names(script, fragment, parts, prefix)
    for part in parts:
        part.id = str(uuid.uuid4())
        old = part.code_list
        part.code_list = lists_renamed.get(old, old)
        part.unit = units_renamed.get(part.unit, part.unit)
        if old != part.code_list and part.code_filter:
            part.code_filter = re.sub(rf"\b{re.escape(old)}\.", f"{part.code_list}.", part.code_filter)
    here = max(0, min(at, len(script.parts)))
    whole = script.model_copy(
        update={
            "parts": [*script.parts[:here], *parts, *script.parts[here:]],
            "code_lists": [*script.code_lists, *_new(fragment.code_lists, script.code_lists, lists_renamed)],
            "unit_lists": [*script.unit_lists, *_new(fragment.unit_lists, script.unit_lists, units_renamed)],
        }
    )
    return Grafted(whole, [part.id for part in parts], renamed, {**lists_renamed, **units_renamed})


def free_name(name: str, taken: set[str], prefix: str = "") -> str:
    """`name`, or the nearest to it that is not taken and no longer than a variable may be."""
    if name not in taken:
        return name
    if prefix and (prefixed := f"{prefix}_{name}"[:MOST_CHARACTERS].rstrip("_")) not in taken:
        return prefixed
    number = 2
    while True:
        tail = f"_{number}"
        numbered = f"{name[: MOST_CHARACTERS - len(tail)]}{tail}"
        if numbered not in taken:
            return numbered
        number += 1


def _with_free_names(
    script: Script, fragment: Fragment, parts: list[Part], prefix: str
) -> tuple[dict[str, str], list[Part]]:
    taken = {entry.part.variable for entry in build_outline(script) if entry.part.variable}
    alone = Script(
        languages=fragment.languages, parts=parts, code_lists=fragment.code_lists, unit_lists=fragment.unit_lists
    )
    for number, part in enumerate(parts):
        part.id = f"line {number}"
    names: dict[str, str] = {}
    renamed: dict[str, str] = {}
    for part in parts:
        if not part.variable:
            continue
        free = free_name(part.variable, taken, prefix)
        taken.add(free)
        if free != part.variable:
            names[part.id] = renamed[part.variable] = free
    return renamed, rename_variables(alone, names).script.parts if names else parts


def _bring_lists(present: list[_List], coming: list[_List]) -> dict[str, str]:
    """New names for the lists whose name is taken by a list that holds something else."""
    known = {entry.name: entry for entry in present}
    taken = set(known)
    renamed: dict[str, str] = {}
    for entry in coming:
        if entry.name in known and known[entry.name] != entry:
            renamed[entry.name] = free_name(entry.name, taken)
            taken.add(renamed[entry.name])
    return renamed


def _new(coming: list[_List], present: list[_List], renamed: dict[str, str]) -> list[_List]:
    known = {entry.name for entry in present}
    return [
        entry.model_copy(update={"name": renamed.get(entry.name, entry.name)}, deep=True)
        for entry in coming
        if entry.name in renamed or entry.name not in known
    ]
