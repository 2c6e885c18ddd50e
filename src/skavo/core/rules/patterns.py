"""Patterns that can run away: whether some text could keep the matcher busy for longer than anybody waits."""

from __future__ import annotations

import re
from typing import Any

_parser: Any = re._parser
MANY = 10


def pattern_fault(pattern: str) -> tuple[str, str, str] | None:
    """(code, message, mend) of what is wrong with a pattern, or None.

    A repetition is refused where one text can be shared out over it in more than one way: a repetition in a
    repetition, alternatives that begin alike in a repetition, two repetitions of the same characters side by side.
    These are the causes of matching times that grow faster than the text.
    """
    try:
        parsed = _parser.parse(pattern)
    except re.error as error:
        return (
            "wrong_pattern",
            f"The pattern cannot be read: {error.msg}.",
            "Write \\ before a character meant as itself.",
        )
    if len(pattern) > 300:
        return "long_pattern", f"The pattern has {len(pattern)} characters; 300 is the most.", "Split the rule in two."
    fault = _fault(list(parsed), inside=False)
    if fault is None:
        return None
    return "runaway_pattern", fault[0], fault[1]


def _fault(items: list[Any], inside: bool) -> tuple[str, str] | None:
    for place, (op, argument) in enumerate(items):
        name = str(op)
        if name in ("MAX_REPEAT", "MIN_REPEAT", "POSSESSIVE_REPEAT"):
            _, most, body = argument
            repeats = most > MANY
            if repeats and inside:
                return (
                    "This pattern repeats a repetition and can run for hours on some answers.",
                    "Remove one of the two repetitions.",
                )
            if repeats and _follows_alike(items, place):
                return (
                    "Two repetitions of the same characters stand side by side; some answers can be shared out over them in too many ways.",
                    "Keep one of the two.",
                )
            if repeats and _shares_with_next(list(body)):
                return (
                    "What may be left out in this repetition can also begin its next round; some answers take hours.",
                    "Make it a repetition of one thing.",
                )
            found = _fault(list(body), inside or repeats)
        elif name == "BRANCH":
            if inside and _branches_overlap(argument[1]):
                return (
                    "The alternatives of this repetition begin alike and can run for hours on some answers.",
                    "Let each begin with another character.",
                )
            found = next((f for f in (_fault(list(b), inside) for b in argument[1]) if f), None)
        elif name == "GROUPREF":
            return "A pattern that refers back to its own groups can run away.", "Write the text out."
        else:
            found = next((f for f in (_fault(list(b), inside) for b in _bodies(argument)) if f), None)
        if found:
            return found
    return None


def _bodies(argument: Any) -> list[Any]:
    found = argument if isinstance(argument, tuple) else (argument,)
    return [piece for piece in found if isinstance(piece, _parser.SubPattern)]


def _follows_alike(items: list[Any], place: int) -> bool:
    """Whether the next thing that must take up text is a repetition of some of the same characters."""
    mine = _first(items[place][1][2])
    for op, argument in items[place + 1 :]:
        if str(op) in ("MAX_REPEAT", "MIN_REPEAT"):
            least, most, body = argument
            if most > MANY and _overlap(mine, _first(body)):
                return True
            if least == 0:
                continue
        if str(op) == "AT":
            continue
        return False
    return False


def _shares_with_next(body: list[Any]) -> bool:
    """Whether something optional in a repetition takes the same characters as what may follow it."""
    items = _flat(body)
    return any(
        _is_optional(item) and _overlap(_first([item]), _first(items[place + 1 :]) | _first(items))
        for place, item in enumerate(items)
    )


def _flat(body: list[Any]) -> list[Any]:
    """The items of a body, groups opened."""
    found: list[Any] = []
    for op, argument in body:
        found += _flat(list(argument[3])) if str(op) == "SUBPATTERN" else [(op, argument)]
    return found


def _is_optional(item: Any) -> bool:
    op, argument = item
    if str(op) == "BRANCH":
        return any(len(b) == 0 for b in argument[1])
    return str(op) in ("MAX_REPEAT", "MIN_REPEAT") and argument[0] == 0


def _branches_overlap(branches: Any) -> bool:
    firsts = [_first(b) for b in branches]
    return any(_overlap(a, b) for i, a in enumerate(firsts) for b in firsts[i + 1 :])


_PROBES = [chr(c) for c in range(32, 127)] + ["é", "ß", "ع", "\n", "\t", " "]


def _first(body: Any) -> frozenset[str]:
    """Which of a few probe characters something can begin with."""
    for op, argument in list(body):
        name = str(op)
        if name in ("MAX_REPEAT", "MIN_REPEAT", "POSSESSIVE_REPEAT"):
            least, _, inner = argument
            return _first(inner) if least else _first(inner) | _first(list(body)[1:])
        if name == "SUBPATTERN":
            return _first(argument[3])
        if name == "BRANCH":
            return frozenset().union(*(_first(b) for b in argument[1]))
        if name == "AT":
            return _first(list(body)[1:])
        return frozenset(c for c in _PROBES if _takes(name, argument, c))
    return frozenset()


def _takes(name: str, argument: Any, c: str) -> bool:
    if name == "LITERAL":
        return bool(ord(c) == argument)
    if name == "NOT_LITERAL":
        return bool(ord(c) != argument)
    if name == "ANY":
        return True
    if name == "IN":
        hits = [_takes(str(op), value, c) for op, value in argument if str(op) != "NEGATE"]
        negated = any(str(op) == "NEGATE" for op, _ in argument)
        return any(hits) is not negated
    if name == "RANGE":
        return bool(argument[0] <= ord(c) <= argument[1])
    if name == "CATEGORY":
        return re.fullmatch(_CATEGORIES[str(argument)], c) is not None
    return True


_CATEGORIES = {
    "CATEGORY_DIGIT": r"\d", "CATEGORY_NOT_DIGIT": r"\D", "CATEGORY_SPACE": r"\s", "CATEGORY_NOT_SPACE": r"\S",
    "CATEGORY_WORD": r"\w", "CATEGORY_NOT_WORD": r"\W",
}  # fmt: skip


def _overlap(a: frozenset[str], b: frozenset[str]) -> bool:
    return not a.isdisjoint(b)
