"""What a proof tells."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

Answers = dict[str, Any]


@dataclass(frozen=True)
class Reached:
    """A question that can be asked, with the fewest answers that lead to it; `fewest` says that this was proved."""

    variable: str
    answers: Answers
    fewest: bool


@dataclass(frozen=True)
class Told:
    """A question with what was found out about it."""

    variable: str
    why: str


@dataclass(frozen=True)
class CheckTold:
    """`verdict`: sound, never fails, never met, or undecided."""

    variable: str
    rule: str
    verdict: str
    why: str


@dataclass(frozen=True)
class Contradiction:
    """Two hard checks that never hold together where both are asked."""

    first: str
    first_rule: str
    second: str
    second_rule: str


@dataclass(frozen=True)
class Unvisited:
    """A branch that no test interview takes, and why: it cannot be taken, or none was found that does."""

    branch: str
    why: str


@dataclass(frozen=True)
class TestInterview:
    """Answers in JSON form that keep all hard checks, the branches they visit, and what came of them.

    `earlier` is what the earlier round held; `now` and `started` are the moments, with offset, that rules may ask for.
    """

    __test__ = False  # not a test of pytest

    name: str
    answers: dict[str, Any]
    earlier: dict[str, Any]
    now: str
    started: str
    visits: list[str]
    outcome: dict[str, Any]


@dataclass
class Proof:
    """`day` is the day of the interviews: that of the proof, or the first one on which an interview can be completed."""

    day: str
    reached: list[Reached] = field(default_factory=list)
    unreachable: list[Told] = field(default_factory=list)
    undecided: list[Told] = field(default_factory=list)
    # needed answers that nobody can give; everything else is proved as if they could be left empty
    dead_ends: list[Told] = field(default_factory=list)
    checks: list[CheckTold] = field(default_factory=list)
    contradictions: list[Contradiction] = field(default_factory=list)
    tests: list[TestInterview] = field(default_factory=list)
    unvisited: list[Unvisited] = field(default_factory=list)

    @property
    def is_faulty(self) -> bool:
        """Whether something was proved that has to be mended."""
        verdicts = {check.verdict for check in self.checks}
        return bool(self.unreachable or self.dead_ends or self.contradictions or "never met" in verdicts)
