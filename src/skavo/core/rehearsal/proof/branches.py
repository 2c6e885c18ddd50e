"""A small set of test interviews that visits every branch, and what a later release makes of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import z3

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import PartSpec, Release
from skavo.core.rehearsal.proof.results import TestInterview, Unvisited
from skavo.core.rehearsal.proof.search import Prover, outside_of
from skavo.core.rehearsal.proof.searcher import Searcher
from skavo.core.rehearsal.proof.symbols import FALSE, Expr, both, either, opposite
from skavo.core.rehearsal.proof.witness import broken_checks
from skavo.core.rehearsal.proof.world import World

MOST_TESTS = 60
MOST_MISSES = 25
CANNOT = "it cannot happen in an interview that keeps all hard checks"
NOT_FOUND = "no interview was found that takes it"


@dataclass(frozen=True)
class Branch:
    """One way a rule can come out: `visited` says whether an interview takes it."""

    words: str
    condition: Callable[[World], Expr]
    visited: Callable[[Engine], bool]


def branches_of(release: Release) -> list[Branch]:
    """Every rule that decides what is asked, yes and not; every roster with rows and without; every soft check."""
    found: list[Branch] = []
    for part in release.parts:
        if part.asked_when is not None:
            found += [_asked(part, True), _asked(part, False)]
        if part.repeat is not None and part.repeat[0] != "while":
            found += [_rows(part, True), _rows(part, False)]
        elif part.repeat is not None:
            found.append(_second_row(part))
        found += [_soft(part, check.number) for check in part.checks if check.strength == "should"]
    return found


def _asked(part: PartSpec, yes: bool) -> Branch:
    def condition(world: World) -> Expr:
        ways = []
        for row in world.instances(part.rosters):
            parent, rule = world.asked_when[part.index, row]
            ways.append(both(parent, rule.yes if yes else opposite(rule.yes)))
        return either(*ways)

    def visited(engine: Engine) -> bool:
        return any(
            asked is yes and (yes or _is_offered(engine, part, row)) for row, asked in engine.asked[part.index].items()
        )

    return Branch(f"{part.variable or part.raw['id']} is {'asked' if yes else 'not asked'}", condition, visited)


def _is_offered(engine: Engine, part: PartSpec, row: tuple[Any, ...]) -> bool:
    """Whether what holds a part is asked, so that its own rule decides."""
    if part.parent is None:
        return True
    outer = row[:-1] if part.in_roster else row
    there = not part.in_roster or row[-1] in engine.rows[part.parent].get(outer, ())
    return there and engine.asked[part.parent].get(outer, False)


def _rows(part: PartSpec, some: bool) -> Branch:
    def condition(world: World) -> Expr:
        ways = []
        for row in world.instances(part.rosters):
            place = (part.index, row)
            rows = either(*[exists for _, exists in world.rows[place]], world.more_rows.get(place, FALSE))
            ways.append(both(world.asked[part.index, row], rows if some else opposite(rows)))
        return either(*ways)

    def visited(engine: Engine) -> bool:
        return any(
            asked and bool(engine.rows[part.index].get(row)) is some for row, asked in engine.asked[part.index].items()
        )

    return Branch(f"{part.variable} has {'rows' if some else 'no rows'}", condition, visited)


def _second_row(part: PartSpec) -> Branch:
    def condition(world: World) -> Expr:
        return either(*[world.rows[part.index, row][1][1] for row in world.instances(part.rosters)])

    def visited(engine: Engine) -> bool:
        return any(len(rows) > 1 for rows in engine.rows[part.index].values())

    return Branch(f"{part.variable} has a second row", condition, visited)


def _soft(part: PartSpec, number: int) -> Branch:
    def condition(world: World) -> Expr:
        return either(*[both(asked, rule.no) for _, asked, rule in world.checks[part.index, number]])

    def visited(engine: Engine) -> bool:
        return any(b.check == number for (i, _), found in engine.broken.items() if i == part.index for b in found)

    return Branch(f"{part.variable} does not keep: {part.checks[number].text}", condition, visited)


def make_tests(prover: Prover) -> tuple[list[TestInterview], list[Unvisited]]:
    """Test interviews that together visit every branch that can be visited, and the branches that none visits.

    Each interview is asked to take as many branches not yet visited as go together.
    """
    left = branches_of(prover.release)
    tests: list[TestInterview] = []
    missed: list[Unvisited] = []
    while left and len(tests) < MOST_TESTS:
        engine, why = _interview_through(prover, prover.few, left)
        if engine is None and why == NOT_FOUND and prover.few.world.more_rows:
            engine, why = _interview_through(prover, prover.many, left)
        if engine is None and why == CANNOT and prover.later is not None:
            engine, why = _interview_through(prover, prover.later, left)
        visits = [branch for branch in left if branch.visited(engine)] if engine is not None else []
        if engine is None or not visits:
            missed.append(Unvisited(left.pop(0).words, why))
            continue
        left = [branch for branch in left if branch not in visits]
        words = [branch.words for branch in visits]
        tests.append(_as_test(f"test {len(tests) + 1}", engine, words))
    return tests, missed + [Unvisited(branch.words, f"{MOST_TESTS} test interviews are the most") for branch in left]


def _as_test(name: str, engine: Engine, visits: list[str]) -> TestInterview:
    outside = outside_of(engine)
    now: datetime = outside["now"]
    started: datetime = outside.get("interview.started", now)
    return TestInterview(
        name,
        engine.packed_answers(),
        outside["earlier"],
        now.isoformat(),
        started.isoformat(),
        visits,
        outcome_of(engine),
    )


def _interview_through(prover: Prover, searcher: Searcher, left: list[Branch]) -> tuple[Engine | None, str]:
    """A valid interview through the first branch and as many others as go with it, or why there is none."""
    made_up = next((engine for engine in prover.sound if left[0].visited(engine)), None)
    demands = [*searcher.checks_kept(), *searcher.needs_met(prover.dead_ends)]
    wanted = [*demands, left[0].condition(searcher.world)]
    outcome = searcher.solver.check(*wanted)
    if outcome == z3.unsat:
        return made_up, CANNOT
    if outcome == z3.unknown:
        return made_up, NOT_FOUND
    model = searcher.solver.model()
    if searcher.world.translator.is_bounded and searcher.solver.check(*wanted, searcher.world.clear) == z3.sat:
        wanted.append(searcher.world.clear)
        model = searcher.solver.model()
    misses = 0
    for branch in left[1:]:
        condition = branch.condition(searcher.world)
        if z3.is_true(model.eval(condition, True)):
            wanted.append(condition)
            continue
        if misses >= MOST_MISSES:
            continue
        if searcher.solver.check(*wanted, condition) == z3.sat:
            wanted.append(condition)
            model = searcher.solver.model()
        else:
            misses += 1
    return _completed(prover, searcher.witness.interview(model), left[0]) or made_up, NOT_FOUND


def _completed(prover: Prover, plain: Engine, branch: Branch) -> Engine | None:
    if branch.visited(plain) and _is_finished(prover, plain):
        return plain
    answers, outside = dict(plain.answers), outside_of(plain)
    for attempt in range(6):
        made = prover.make_up(attempt, answers, outside)
        if made.is_valid and branch.visited(made.engine) and not broken_checks(made.engine):
            return made.engine
    return None


def _is_finished(prover: Prover, engine: Engine) -> bool:
    """Whether nothing but dead ends is left open."""
    return not any(
        b.strength == "must" and not (b.code == "needed" and index in prover.dead_ends)
        for (index, _), found in engine.broken.items()
        for b in found
    )


def outcome_of(engine: Engine) -> dict[str, Any]:
    """What came of an interview, to be held against what comes of it in a later release."""
    snapshot = engine.snapshot()
    findings = [[path, code, check] for path, code, check in snapshot["findings"]]
    return {"asked": snapshot["asked"], "derived": snapshot["derived"], "findings": findings}
