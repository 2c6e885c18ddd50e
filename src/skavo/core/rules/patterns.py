"""Patterns that can run away: whether some text could keep the matcher busy for longer than anybody waits."""

from __future__ import annotations

import re
from typing import Any

_parser: Any = re._parser
MANY = 10
_REPETITIONS = ("MAX_REPEAT", "MIN_REPEAT", "POSSESSIVE_REPEAT")
_TAKES_NOTHING = ("AT", "ASSERT", "ASSERT_NOT")


def pattern_fault(pattern: str) -> tuple[str, str, str] | None:
    """(code, message, mend) of what is wrong with a pattern, or None.

    A repetition is refused where one text can be shared out over it in too many ways: a repetition in a repetition,
    alternatives that begin alike in a repetition, three repetitions of the same characters one after the other. Two
    are let through: the time then grows with the square of the text, which is not felt with what people type.
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
    fault = _fault(list(parsed), inside=False) or _shared_out(list(parsed))
    if fault is None:
        return None
    return "runaway_pattern", fault[0], fault[1]


def _fault(items: list[Any], inside: bool) -> tuple[str, str] | None:
    for op, argument in items:
        name = str(op)
        if name in _REPETITIONS:
            _, most, body = argument
            repeats = most > MANY
            if repeats and inside:
                return (
                    "This pattern repeats a repetition and can run for hours on some answers.",
                    "Remove one of the two repetitions.",
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


# How many repetitions could take the text just read, and its characters.
Chain = tuple[int, frozenset[str]]
_NO_CHAIN: Chain = (0, frozenset())
_TOO_LONG = 3


def _shared_out(items: list[Any]) -> tuple[str, str] | None:
    if _chain(items, _NO_CHAIN)[0] < _TOO_LONG:
        return None
    return (
        "Three repetitions of the same characters follow each other; some answers can be shared out over them in too many ways.",
        "Let each stop at what follows it: [^-]*- instead of .*-",
    )


def _chain(items: list[Any], chain: Chain) -> Chain:
    """The longest chain of repetitions at the end of `items`, `chain` having stood before them."""
    for op, argument in items:
        name = str(op)
        if chain[0] >= _TOO_LONG:
            break
        if name in _REPETITIONS:
            least, most, body = argument
            chain = _chain_of_repetition(least, most, body, chain)
        elif name == "SUBPATTERN":
            chain = _chain(list(argument[3]), chain)
        elif name == "BRANCH":
            chain = max((_chain(list(b), chain) for b in argument[1]), key=lambda found: found[0])
        elif name not in _TAKES_NOTHING and not _overlap(_first([(op, argument)]), chain[1]):
            chain = _NO_CHAIN
    return chain


def _chain_of_repetition(least: int, most: int, body: Any, chain: Chain) -> Chain:
    if most > MANY:
        taken = _first(body)
        return (chain[0] + 1 if _overlap(taken, chain[1]) else 1), taken
    after = chain
    for _ in range(min(most, _TOO_LONG)):
        after = _chain(list(body), after)
    return chain if least == 0 and chain[0] > after[0] else after


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
        if name in _REPETITIONS:
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
