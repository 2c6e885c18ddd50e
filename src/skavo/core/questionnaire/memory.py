"""Compiled lines kept from one compilation to the next, so that one changed rule checks only what it touches."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any

from skavo.core.questionnaire.cycles import names_in
from skavo.core.questionnaire.outline import Entry
from skavo.core.questionnaire.script import Part, Script
from skavo.core.rules.types import Scope, Symbol, Type

MOST_LINES = 50_000


@dataclass(frozen=True)
class KeptLine:
    """A line without faults, and the type of its value where it is derived."""

    compiled: dict[str, Any]
    derived: Type | None


class Memory:
    """The lines compiled last, by everything that their result depends on; safe between threads."""

    def __init__(self) -> None:
        self._lines: OrderedDict[Any, KeptLine] = OrderedDict()
        self._lock = Lock()

    def find(self, key: Any) -> KeptLine | None:
        with self._lock:
            line = self._lines.get(key)
            if line is not None:
                self._lines.move_to_end(key)
            return line

    def keep(self, key: Any, line: KeptLine) -> None:
        with self._lock:
            self._lines[key] = line
            while len(self._lines) > MOST_LINES:
                self._lines.popitem(last=False)


def script_key(script: Script) -> Any:
    """What every line depends on: languages and units."""
    units = tuple((u.unit, u.dimension, u.factor, entry.name) for entry in script.unit_lists for u in entry.units)
    labels = tuple(tuple(u.label.items()) for entry in script.unit_lists for u in entry.units)
    return tuple(script.languages), units, labels


def line_key(whole: Any, entry: Entry, scope: Scope, hidden: frozenset[int]) -> Any:
    """Everything that the compiled form of a line depends on, `whole` being that of the script."""
    part = entry.part
    words = names_in(" ".join(_texts_of(part)))
    if part.unit or whole[1]:
        words |= {name for unit in whole[1] for name in names_in(unit[2])}
    symbols = sorted((scope.symbols[w] for w in words if w in scope.symbols), key=lambda s: s.index)
    return (
        part.model_dump_json(),
        whole,
        (entry.index, entry.parent, entry.rosters, entry.end, entry.specifies),
        tuple(_symbol_key(symbol, scope) for symbol in symbols),
        _list_key(part.code_list, scope),
        hidden,
    )


def _symbol_key(symbol: Symbol, scope: Scope) -> Any:
    names = tuple(scope.roster_names.get(r) for r in symbol.rosters)
    return symbol, names, _list_key(symbol.type.code_list or "", scope)


def _list_key(name: str, scope: Scope) -> Any:
    if not name:
        return None
    return name, tuple(scope.codes(name)), tuple(scope.attributes(name)), tuple(scope.exclusive(name))


def _texts_of(part: Part) -> list[str]:
    checks = [*part.must_hold, *part.should_hold]
    rules = [part.asked_when, part.repeated, part.derived, part.default, part.code_filter, part.answer_needed]
    messages = [text for check in checks for text in check.message.values()]
    # A text between braces is a rule; quotes around it in a wording must not hide it.
    worded = [t.replace('"', " ") for t in (*part.wording.values(), *part.instruction.values(), *messages)]
    return [*rules, *[check.rule for check in checks], *worded, part.reads_back, part.fills]


MEMORY = Memory()
