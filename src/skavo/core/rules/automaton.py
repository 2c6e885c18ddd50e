"""Whether a text fits a pattern or a mask, in time that grows with the text and no faster, whatever the pattern.

A pattern is read by Python's own reader and turned into an automaton, all of whose states are followed at once
(Thompson, Programming Techniques: Regular expression search algorithm, Communications of the ACM 11(6), 1968). What one
character is taken by is asked of Python's matcher, so that classes, categories and flags mean what they mean there.

What no automaton can follow is refused: looking around, groups that are referred back to, possessive repetitions.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

_parser: Any = re._parser
_compiler: Any = vars(re)["_compiler"]
MOST_STATES = 4_000
# Sets of states seen before, by the character that led on from them.
_MOST_KEPT = 4_000
_ONE_CHARACTER = ("LITERAL", "NOT_LITERAL", "ANY", "IN")
_REPETITIONS = ("MAX_REPEAT", "MIN_REPEAT")

Takes = Callable[[str], bool]
# Whether a place between two characters is one: (text, place) -> bool.
Stands = Callable[[str, int], bool]
States = frozenset[int]


class NoAutomaton(Exception):
    """`reason` says what the pattern asks for that an automaton cannot do."""

    def __init__(self, reason: str) -> None:
        super().__init__(reason)
        self.reason = reason


@dataclass
class Automaton:
    """State 0 begins, `end` ends. A character leads from a state to the next one; what is free leads on without any."""

    takes: list[tuple[Takes, int] | None] = field(default_factory=list)
    free: list[list[tuple[Stands | None, int]]] = field(default_factory=list)
    end: int = 0
    has_places: bool = False
    _known: dict[tuple[States, str], States] = field(default_factory=dict)

    def state(self) -> int:
        if len(self.takes) >= MOST_STATES:
            raise NoAutomaton("repeats too much")
        self.takes.append(None)
        self.free.append([])
        return len(self.takes) - 1

    def fits(self, text: str) -> bool:
        """Whether the whole of `text` fits."""
        states = self._reached({0}, text, 0)
        for place, character in enumerate(text, start=1):
            if not states:
                return False
            states = self._after(states, character, text, place)
        return self.end in states

    def _after(self, states: States, character: str, text: str, place: int) -> States:
        key = (states, character)
        if not self.has_places and key in self._known:
            return self._known[key]
        led = {step[1] for state in states if (step := self.takes[state]) is not None and step[0](character)}
        after = self._reached(led, text, place)
        if not self.has_places and len(self._known) < _MOST_KEPT:
            self._known[key] = after
        return after

    def _reached(self, states: set[int], text: str, place: int) -> States:
        """`states` and all that they lead to without a character."""
        found, ahead = set(states), list(states)
        while ahead:
            for stands, to in self.free[ahead.pop()]:
                if to not in found and (stands is None or stands(text, place)):
                    found.add(to)
                    ahead.append(to)
        return frozenset(found)


@lru_cache(maxsize=512)
def automaton_of(pattern: str) -> Automaton:
    """The automaton of a pattern; raise re.error where it cannot be read, NoAutomaton where there is none."""
    parsed = _parser.parse(pattern)
    made = Automaton()
    begin = made.state()
    made.end = _Builder(made, parsed.state).sequence(list(parsed), begin, parsed.state.flags)
    return made


@lru_cache(maxsize=512)
def mask_automaton(mask: str) -> Automaton:
    """The automaton of a mask: `A` letter, `9` digit, `*` letter or digit, `?` makes the one before optional."""
    pieces = {"A": r"[^\W\d_]", "9": r"\d", "*": r"[^\W_]"}
    parts: list[str] = []
    for place, c in enumerate(mask):
        # A second ? after the first adds nothing.
        if c == "?" and place:
            parts += [] if mask[place - 1] == "?" and place > 1 else ["?"]
        else:
            parts.append(pieces.get(c, re.escape(c)))
    return automaton_of("".join(parts))


def text_fits(form: str, pattern: str, text: str) -> bool:
    """Whether the whole of `text` fits a mask or a pattern (`form` is one of the two words)."""
    return (mask_automaton(pattern) if form == "mask" else automaton_of(pattern)).fits(text)


class _Builder:
    """Adds pieces of a pattern to an automaton; each returns the state it ends in."""

    def __init__(self, made: Automaton, reader: Any) -> None:
        self.made = made
        self.reader = reader

    def sequence(self, items: list[Any], begin: int, flags: int) -> int:
        for op, argument in items:
            begin = self.piece(str(op), op, argument, begin, flags)
        return begin

    def piece(self, name: str, op: Any, argument: Any, begin: int, flags: int) -> int:
        if name in _ONE_CHARACTER:
            end = self.made.state()
            self.made.takes[begin] = (self._takes(op, argument, flags), end)
            # A state that takes a character leads nowhere else: what follows begins in one of its own.
            return self._joined([end])
        if name in _REPETITIONS:
            least, most, body = argument
            return self._repetition(begin, least, most, body, flags)
        if name == "SUBPATTERN":
            _, added, removed, body = argument
            return self.sequence(list(body), begin, (flags | added) & ~removed)
        if name == "BRANCH":
            return self._joined([self.sequence(list(b), self._branch(begin), flags) for b in argument[1]])
        if name == "AT":
            self.made.has_places = True
            end = self.made.state()
            self.made.free[begin].append((_place(str(argument), flags), end))
            return end
        raise NoAutomaton(_REASONS.get(name, "asks for something"))

    def _takes(self, op: Any, argument: Any, flags: int) -> Takes:
        reader = copy.copy(self.reader)
        reader.flags = flags
        one = _compiler.compile(_parser.SubPattern(reader, [(op, argument)]))
        return lambda character: one.fullmatch(character) is not None

    def _branch(self, begin: int) -> int:
        branch = self.made.state()
        self.made.free[begin].append((None, branch))
        return branch

    def _joined(self, ends: list[int]) -> int:
        end = self.made.state()
        for one in ends:
            self.made.free[one].append((None, end))
        return end

    def _repetition(self, begin: int, least: int, most: int, body: Any, flags: int) -> int:
        for _ in range(least):
            begin = self.sequence(list(body), self._branch(begin), flags)
        if most == _parser.MAXREPEAT:
            again = self._branch(begin)
            back = self.sequence(list(body), self._branch(again), flags)
            self.made.free[back].append((None, again))
            return self._joined([again])
        ends = [begin]
        for _ in range(most - least):
            begin = self.sequence(list(body), self._branch(begin), flags)
            ends.append(begin)
        return self._joined(ends)


_REASONS = {
    "ASSERT": "looks ahead or behind", "ASSERT_NOT": "looks ahead or behind",
    "GROUPREF": "refers back to one of its groups", "GROUPREF_EXISTS": "refers back to one of its groups",
    "POSSESSIVE_REPEAT": "repeats without giving back", "ATOMIC_GROUP": "groups without giving back",
}  # fmt: skip


def _place(name: str, flags: int) -> Stands:
    if name == "AT_BEGINNING_STRING" or (name == "AT_BEGINNING" and not flags & re.MULTILINE):
        return lambda _text, place: place == 0
    if name == "AT_BEGINNING":
        return lambda text, place: place == 0 or text[place - 1] == "\n"
    if name == "AT_END_STRING":
        return lambda text, place: place == len(text)
    if name == "AT_END" and flags & re.MULTILINE:
        return lambda text, place: place == len(text) or text[place] == "\n"
    if name == "AT_END":
        return lambda text, place: place == len(text) or text[place:] == "\n"
    word = re.compile(r"\w", re.ASCII if flags & re.ASCII else 0)

    def is_boundary(text: str, place: int) -> bool:
        before = place > 0 and word.match(text[place - 1]) is not None
        after = place < len(text) and word.match(text[place]) is not None
        return before is not after

    return is_boundary if name == "AT_BOUNDARY" else lambda text, place: not is_boundary(text, place)
