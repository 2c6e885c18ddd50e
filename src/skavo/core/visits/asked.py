"""What the rules of a release ask of the unit that is visited, and of the earlier round: only that goes onto a phone."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any
from weakref import WeakKeyDictionary

from skavo.core.errors import SkavoError
from skavo.core.interview.paths import find_part, path_of
from skavo.core.interview.release import Release


@dataclass(frozen=True)
class Asked:
    """Fields of units by name, and parts whose earlier answers are read, by lasting identity."""

    of_unit: frozenset[str]
    of_earlier: frozenset[str]


_known: WeakKeyDictionary[Release, Asked] = WeakKeyDictionary()


def asked_by(release: Release) -> Asked:
    """What the rules of a release ask; worked out once for each."""
    if release not in _known:
        _known[release] = _asked_by(release)
    return _known[release]


def telling_of_units(release: Release, fields: Iterable[str]) -> frozenset[str]:
    """The parts, by lasting identity, whose value is made of one of these fields of a unit, or begins as one."""
    wanted = frozenset(fields)
    return frozenset(
        part.raw["id"]
        for part in release.parts
        if any(
            op[0] == "unit" and len(op) == 4 and op[2] in wanted
            for op in _ops([part.raw["derived"], part.raw["default"]])
        )
    )


def _asked_by(release: Release) -> Asked:
    ops = list(_ops([part.raw for part in release.parts]))
    return Asked(
        of_unit=frozenset(op[2] for op in ops if op[0] == "unit" and len(op) == 4 and isinstance(op[2], str)),
        of_earlier=frozenset(
            release.parts[op[1]].raw["id"] for op in ops if op[0] == "earlier" and isinstance(op[1], int)
        ),
    )


def _ops(piece: Any) -> Iterator[list[Any]]:
    """Everything in compiled parts that begins as a rule does, with the name of an op."""
    if isinstance(piece, dict):
        for value in piece.values():
            yield from _ops(value)
    elif isinstance(piece, list):
        if len(piece) >= 2 and isinstance(piece[0], str):
            yield piece
        for value in piece:
            yield from _ops(value)


def carried_over(answers: dict[str, Any], before: Release, after: Release, asked: Iterable[str]) -> dict[str, Any]:
    """Those answers of an interview made with `before` that are `asked` for, under the paths of `after`: what was renamed
    meanwhile is the same by its lasting identity."""
    wanted, now_is = frozenset(asked), {part.raw["id"]: part for part in after.parts}
    found: dict[str, Any] = {}
    for path, value in answers.items():
        try:
            part, row = find_part(before, path)
        except SkavoError:
            continue
        later = now_is.get(part.raw["id"])
        if later is not None and part.raw["id"] in wanted and len(later.rosters) == len(row):
            found[path_of(after, later.index, row)] = value
    return found
