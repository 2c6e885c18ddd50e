"""Changes of code lists and unit lists."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from skavo.core.questionnaire.script import CodeList, Script, UnitList

# what, list, field, before, after, effect, words
ListChange = tuple[str, str, str, str, str, Literal["none", "wider", "narrower", "breaks"], str]


def list_changes(before: Script, after: Script) -> Iterator[ListChange]:
    """Codes added, removed, relabelled or given another meaning, list by list."""
    olds, news = ({entry.name: entry for entry in s.code_lists} for s in (before, after))
    for name, new in news.items():
        if name in olds:
            yield from _code_changes(olds[name], new)
    for name in olds:
        if name not in news:
            yield "codes", name, "", name, "", "none", "The list is no longer used; its codes stay in the data."


def _code_changes(old: CodeList, new: CodeList) -> Iterator[ListChange]:
    olds, news = ({c.code: c for c in entry.codes} for entry in (old, new))
    come, gone = [c for c in news if c not in olds], [c for c in olds if c not in news]
    if come:
        words = "Interviews collected before could not choose them."
        yield "codes", new.name, "added", "", ", ".join(come), "wider", words
    if gone:
        words = "Interviews collected before may hold them; they stay in the data set."
        yield "codes", new.name, "removed", ", ".join(gone), "", "narrower", words
    for code in news.keys() & olds.keys():
        a, b = olds[code], news[code]
        for lang in dict.fromkeys([*a.label, *b.label]):
            if a.label.get(lang, "") != b.label.get(lang, ""):
                words = "Look whether the code still means the same."
                yield "codes", new.name, f"{code}.{lang}", a.label.get(lang, ""), b.label.get(lang, ""), "none", words
        if a.attributes != b.attributes:
            words = "Code filters may offer it elsewhere."
            yield "codes", new.name, f"{code}.attributes", _pairs(a.attributes), _pairs(b.attributes), "none", words
        if a.exclusive != b.exclusive:
            words = "It goes with other codes now." if a.exclusive else "Earlier answers may hold it with others."
            effect: Literal["wider", "narrower"] = "wider" if a.exclusive else "narrower"
            yield "codes", new.name, f"{code}.exclusive", str(a.exclusive), str(b.exclusive), effect, words


def _pairs(attributes: dict[str, str]) -> str:
    return ", ".join(f"{key} {value}" for key, value in sorted(attributes.items()))


def unit_changes(before: Script, after: Script) -> Iterator[ListChange]:
    """Units added, removed or given another factor, list by list."""
    olds, news = ({entry.name: entry for entry in s.unit_lists} for s in (before, after))
    for name in olds.keys() & news.keys():
        yield from _units(olds[name], news[name])


def _units(old: UnitList, new: UnitList) -> Iterator[ListChange]:
    olds, news = ({u.unit: u for u in entry.units} for entry in (old, new))
    come, gone = [u for u in news if u not in olds], [u for u in olds if u not in news]
    if come:
        yield "units", new.name, "added", "", ", ".join(come), "wider", "Earlier interviews could not choose them."
    if gone:
        words = "Interviews collected before may hold them, with their size."
        yield "units", new.name, "removed", ", ".join(gone), "", "narrower", words
    for unit in olds.keys() & news.keys():
        a, b = olds[unit], news[unit]
        if (a.factor, a.dimension) != (b.factor, b.dimension):
            words = "Sizes collected before were worked out with the old factor."
            yield "units", new.name, unit, f"{a.factor} {a.dimension}", f"{b.factor} {b.dimension}", "breaks", words
