"""A release with the solver: what is asked of it, under which of the release's demands."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime
from typing import Any

import z3

from skavo.core.interview.release import CompiledCheck, Release
from skavo.core.rehearsal.proof.symbols import Expr, both, either
from skavo.core.rehearsal.proof.witness import WitnessMaker
from skavo.core.rehearsal.proof.world import World
from skavo.core.rehearsal.reading import ReleaseReading

TIMEOUT_MS = 4_000
Check = tuple[int, int]


class Searcher:
    """A release unrolled to so many rows; every hard check and every needed answer can be demanded by itself.

    It is seen at the moment `now`, or at any one in so many days from then on.
    """

    def __init__(self, release: Release, now: datetime, most_rows: int, days_ahead: int = 0) -> None:
        self.release = release
        self.reading = ReleaseReading(release)
        self.world = World(release, now, most_rows, days_ahead)
        self.witness = WitnessMaker(self.reading, self.world)
        self.solver = z3.Solver()
        self.solver.set("timeout", TIMEOUT_MS)
        self.solver.add(*self.world.base)
        self.keeps: dict[Check, Expr] = {}
        for check, rows in self.world.checks.items():
            if self.check(check).strength == "must":
                keep = self.keeps[check] = z3.Bool(f"keep {check[0]} {check[1]}")
                self.solver.add(*[z3.Implies(both(keep, asked), z3.Not(rule.no)) for _, asked, rule in rows])
        self.needs: dict[int, Expr] = {}
        for index, places in self.world.needed.items():
            need = self.needs[index] = z3.Bool(f"need {index}")
            self.solver.add(*[z3.Implies(both(need, needed), enough) for needed, enough in places])

    def check(self, check: Check) -> CompiledCheck:
        return self.release.parts[check[0]].checks[check[1]]

    def text(self, check: Check) -> str:
        """A hard check with the question it belongs to."""
        return f"{self.release.parts[check[0]].variable}: {self.check(check).text}"

    def checks_kept(self, without: Check | None = None) -> list[Expr]:
        return [keep for check, keep in self.keeps.items() if check != without]

    def needs_met(self, without: Collection[int] = ()) -> list[Expr]:
        return [need for index, need in self.needs.items() if index not in without]

    def core(self) -> tuple[tuple[Check, ...], tuple[int, ...]]:
        """The hard checks and the needed answers that the last search failed on."""
        found = {c.get_id() for c in self.solver.unsat_core()}
        checks = tuple(check for check, keep in self.keeps.items() if keep.get_id() in found)
        return checks, tuple(index for index, need in self.needs.items() if need.get_id() in found)

    def dead_end(self, index: int, known: Collection[int]) -> tuple[Check, ...] | None:
        """The hard checks that let no answer through wherever the needed answer `index` is asked; None if some pass.

        Every needed answer before it is given, but for the dead ends already `known`.
        """
        answered = either(*[both(needed, enough) for needed, enough in self.world.needed[index]])
        before = [need for i, need in self.needs.items() if i < index and i not in known]
        if self.solver.check(*self.checks_kept(), *before, answered) != z3.unsat:
            return None
        return self._least([*before, answered], self.core()[0])

    def first_day(self, *wanted: Expr) -> int | None:
        """The ordinal of the first day on which `wanted` can be; None where that is not found out."""
        if self.solver.check(*wanted) != z3.sat:
            return None
        first, found = self.world.now.toordinal(), self._day()
        while first < found:
            middle = (first + found) // 2
            if self.solver.check(*wanted, self.world.today <= middle) == z3.sat:
                found = self._day()
            else:
                first = middle + 1
        return found

    def _day(self) -> int:
        return int(self.solver.model().eval(self.world.today, True).as_long())

    def contradict(self, first: Check, second: Check) -> bool:
        """Whether two hard checks, each of which can hold, never hold together where both are asked."""
        rows = [(a, b) for a in self.world.checks[first] for b in self.world.checks[second] if _same_rows(a[0], b[0])]
        asked = either(*[both(a[1], b[1]) for a, b in rows])
        hold = either(*[both(a[1], b[1], a[2].yes, b[2].yes) for a, b in rows])
        if self.solver.check(hold) != z3.unsat or self.solver.check(asked) != z3.sat:
            return False
        # One of them alone must be able to hold, or it is never met by itself and told so there.
        alone = [either(*[both(c[1], c[2].yes) for c in self.world.checks[check]]) for check in (first, second)]
        return all(self.solver.check(one) == z3.sat for one in alone)

    def _least(self, conditions: list[Expr], checks: tuple[Check, ...]) -> tuple[Check, ...]:
        """`checks` without those that the conditions fail on without."""
        for check in checks:
            fewer = tuple(c for c in checks if c != check)
            if self.solver.check(*[self.keeps[c] for c in fewer], *conditions) == z3.unsat:
                checks = fewer
        return checks


def _same_rows(a: tuple[Any, ...], b: tuple[Any, ...]) -> bool:
    shared = min(len(a), len(b))
    return a[:shared] == b[:shared]
