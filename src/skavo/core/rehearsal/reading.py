"""What the rules of a release say about each part: the constants it is compared with, its limits, the checks it bears on."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal
from typing import Any

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import CompiledCheck, PartSpec, Release
from skavo.core.interview.state import Place
from skavo.core.rules.limits import OPEN, Limits
from skavo.core.rules.state import Row, read_literal, reads_of, rows_under, variables_in

COMPARISONS = ("is", "is_not", "lt", "le", "gt", "ge")


class ReleaseReading:
    """Worked out once for a release and shared by all interviews made up with it."""

    def __init__(self, release: Release) -> None:
        self.release = release
        self.constants: dict[int, list[Any]] = {}
        for tree in _all_trees(release):
            for index, value in _compared(tree):
                known = self.constants.setdefault(index, [])
                if value not in known:
                    known.append(value)
        self.limits = {part.index: _limits(part) for part in release.parts if part.kind.is_number}
        self.counts = {
            _plain(part.raw["repeat"][1]) for part in release.parts if part.repeat and part.repeat[0] == "times"
        }
        self.grows = {
            index for part in release.parts if part.repeat and part.repeat[0] == "while"
            for index in variables_in(part.raw["repeat"][1])
        }  # fmt: skip
        self._opened = _opened(release)
        self.earlier = sorted(
            {t[1] for tree in _all_trees(release) for t in subtrees(tree) if t[0] == "earlier" and t[2] == 0}
        )
        trees = (t for tree in _all_trees(release) for t in subtrees(tree))
        self.reads_clock = any(t[0] == "outside" and t[1] in ("today", "now", "interview.started") for t in trees)
        # Rosters whose rows are told apart by their number.
        self.numbered = {t[2] for tree in _all_trees(release) for t in subtrees(tree) if t[0] == "row"}
        self.rests_on = {
            (part.index, check.number): self._base({part.index: part.depth, **check.reads})
            for part in release.parts for check in part.checks
        }  # fmt: skip
        self.bears_on: dict[int, list[tuple[PartSpec, CompiledCheck]]] = {}
        for part in release.parts:
            for check in part.checks:
                if check.strength == "must":
                    for index in self.rests_on[part.index, check.number]:
                        self.bears_on.setdefault(index, []).append((part, check))

    def share_of_yes(self, index: int) -> float:
        """How often a yes/no question is answered with yes: oftener where that opens more of the questionnaire."""
        opened = self._opened.get(index, {})
        return 0.5 + 0.45 * (opened.get(True, 0.0) - opened.get(False, 0.0))

    def weights_of(self, index: int, codes: list[str]) -> list[float]:
        """How often each code is drawn, against the others: oftener where it opens more of the questionnaire."""
        opened = self._opened.get(index, {})
        return [1 + 4 * len(codes) * opened.get(code, 0.0) for code in codes]

    def _base(self, reads: dict[int, int]) -> dict[int, int]:
        """The answers that values rest on, with the rows they share: derived values are replaced by what they are made of."""
        found: dict[int, int] = {}
        queue = list(reads.items())
        seen = set(reads)
        while queue:
            index, shared = queue.pop()
            part = self.release.parts[index]
            if part.derived is None and part.repeat is None:
                found[index] = shared
                continue
            # A value over rows rests on the answer that says how many there are, too.
            tree = part.raw["derived"] if part.repeat is None else part.raw["repeat"][1]
            for source, deep in reads_of(tree).items():
                if source not in seen:
                    seen.add(source)
                    queue.append((source, min(shared, deep)))
        return found

    def places_of(self, engine: Engine, part: PartSpec, check: CompiledCheck, row: Row) -> Iterator[Place]:
        """Every place whose answer a check rests on, at one row."""
        for index, shared in self.rests_on[part.index, check.number].items():
            source = self.release.parts[index]
            if source.kind.read is None:
                continue
            for r in rows_under(engine, list(source.rosters[shared:]), row[:shared]):
                yield index, r


def _opened(release: Release) -> dict[int, dict[Any, float]]:
    """By part and answer: which share of the questionnaire that answer opens, through what it opens in turn."""
    opened: dict[int, dict[Any, set[int]]] = {}
    for part in reversed(release.parts):
        gate = _gate(part.raw["asked_when"])
        if gate is not None:
            lines = opened.setdefault(gate[0], {}).setdefault(gate[1], set())
            inside = range(part.index, part.end)
            lines.update(inside, *(further for i in inside for further in opened.get(i, {}).values()))
    total = len(release.parts)
    return {i: {answer: len(lines) / total for answer, lines in by.items()} for i, by in opened.items()}


def _gate(tree: Any) -> tuple[int, Any] | None:
    """(part, answer) where a rule says no more than that a question is answered with yes, with no, or with one code."""
    if tree is None:
        return None
    if tree[0] == "and":
        return next((g for g in (_gate(t) for t in tree[1:]) if g), None)
    if tree[0] == "variable":
        return tree[1], True
    if tree[0] == "not" and tree[1][0] == "variable":
        return tree[1][1], False
    if tree[0] == "is" and tree[1][0] == "variable" and tree[2][:2] == ["literal", "yes/no"]:
        return tree[1][1], bool(tree[2][2])
    if tree[0] == "is" and tree[1][0] == "variable" and tree[2][:2] == ["literal", "code"]:
        return tree[1][1], tree[2][2]
    return None


def _all_trees(release: Release) -> Iterator[Any]:
    for part in release.parts:
        raw = part.raw
        yield from (raw[f] for f in ("asked_when", "derived", "default", "code_filter") if raw[f] is not None)
        if not isinstance(raw["needed"], bool):
            yield raw["needed"]
        if raw["repeat"]:
            yield raw["repeat"][1]
        yield from (check["rule"] for check in raw["checks"])


def subtrees(tree: Any) -> Iterator[list[Any]]:
    """A typed tree and every tree within it."""
    if isinstance(tree, list) and tree and isinstance(tree[0], str):
        yield tree
    if isinstance(tree, list) and tree[:1] != ["literal"]:
        for piece in tree:
            yield from subtrees(piece)


def _compared(tree: Any) -> Iterator[tuple[int, Any]]:
    """(part, constant) of every comparison of a variable with a literal."""
    for piece in subtrees(tree):
        op, *args = piece
        sides: list[Any] = []
        if op in COMPARISONS and len(args) == 2:
            sides = [(args[0], args[1]), (args[1], args[0])]
        elif op == "between":
            sides = [(args[0], args[1]), (args[0], args[2])]
        elif op in ("one_of", "none_of"):
            sides = [(args[0], item) for item in args[1]]
        elif op == "includes":
            sides = [(args[0], code) for code in args[2]]
        for variable, literal in sides:
            index = _plain(variable)
            if index is not None and isinstance(literal, list) and literal[0] == "literal" and literal[2] is not None:
                yield index, read_literal(literal[1], literal[2])


def _plain(tree: Any) -> int | None:
    """The part that a tree reads, where it is nothing but that."""
    if tree[0] in ("size", "date_of"):
        return _plain(tree[1])
    return int(tree[1]) if tree[0] == "variable" else None


def _limits(part: PartSpec) -> Limits:
    limits = Limits(part.least, part.most)
    for check in part.raw["checks"]:
        if check["strength"] == "must":
            limits = limits.within(_own_limits(check["rule"], part.index))
    return limits


def _own_limits(tree: Any, index: int) -> Limits:
    op, *args = tree
    if op == "and":
        limits = OPEN
        for arg in args:
            limits = limits.within(_own_limits(arg, index))
        return limits
    if op not in ("between", "ge", "gt", "le", "lt") or _plain(args[0]) != index:
        return OPEN
    numbers = [Decimal(a[2]) if a[:2] == ["literal", "number"] else None for a in args[1:]]
    low = numbers[0] if op in ("between", "ge", "gt") else None
    high = numbers[-1] if op in ("between", "le", "lt") else None
    return Limits(low, high)
