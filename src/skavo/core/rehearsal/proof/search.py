"""Searching a release for interviews in which something holds: by the solver, and every find tried in the engine."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any

import z3

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import PartSpec, Release
from skavo.core.rehearsal.make_up import MadeUp, make_up
from skavo.core.rehearsal.proof.calls import DAY
from skavo.core.rehearsal.proof.results import Answers, CheckTold, Contradiction
from skavo.core.rehearsal.proof.searcher import Check, Searcher
from skavo.core.rehearsal.proof.spoil import spoiled
from skavo.core.rehearsal.proof.symbols import TRUE, Expr, both, either
from skavo.core.rehearsal.proof.witness import as_moment, broken_checks
from skavo.core.rehearsal.proof.world import World
from skavo.core.rules.state import variables_in

FEW_ROWS, MANY_ROWS = 2, 7
# Interviews of a release are made within two years.
DAYS_AHEAD = 731
REHEARSED = 25
MOST_CONE = 60
FEWEST = "fewer are impossible"


@dataclass(frozen=True)
class Found:
    """What came of a search: `verdict` is yes, no or undecided; `core` are the checks in the way.

    `answers` and what was known `outside` of the interview are a witness.
    """

    verdict: str
    answers: Answers = field(default_factory=dict)
    outside: dict[str, Any] = field(default_factory=dict)
    core: tuple[Check, ...] = ()
    why: str = ""


@dataclass(frozen=True)
class Search:
    """What is looked for, for the solver and for the engine, and the parts that it rests on."""

    condition: Callable[[World], Expr]
    accept: Callable[[Engine], bool]
    cone: set[int]


class Prover:
    """Proves one release at the moment `now`, or where nothing can be answered then, on the first day that lets it.

    What is not so at that moment is claimed only where it is not so later either. `dead_ends` are needed answers that
    can never be given, with the checks in the way: left out so that they hide nothing else. `sound` are interviews that
    keep all hard checks; most of what is searched for happens in one of them.
    """

    now: datetime
    few: Searcher
    dead_ends: dict[int, tuple[Check, ...]]
    sound: list[Engine]

    def __init__(self, release: Release, now: datetime) -> None:
        self.release = release
        self._set_out(now)
        if not self.sound and self._find(self.few, _ANYTHING, None).verdict == "no" and self.later is not None:
            day = self.later.first_day(*self.later.checks_kept(), *self.later.needs_met(self.dead_ends))
            if day is not None:
                self._set_out(as_moment(day * DAY))
        if not self.sound and self.dead_ends:
            self.sound = self._rehearsed()

    def _set_out(self, now: datetime) -> None:
        self.now = now
        self.few = Searcher(self.release, now, FEW_ROWS)
        self._alive: set[int] = set()
        self.dead_ends = {}
        self.sound = self._rehearsed()

    def _rehearsed(self) -> list[Engine]:
        made = (self.make_up(n, {}) for n in range(REHEARSED))
        return [m.engine for m in made if m.is_valid]

    def make_up(self, number: int, answers: Answers, outside: dict[str, Any] | None = None) -> MadeUp:
        """Interview `number` made up from `answers`, dead ends left empty."""
        known = {**self.few.witness.outside, **(outside or {})}
        return make_up(self.few.reading, random.Random(number), known, answers, left_empty=self.dead_ends)

    @cached_property
    def many(self) -> Searcher:
        return Searcher(self.release, self.now, MANY_ROWS)

    @cached_property
    def _later(self) -> Searcher:
        return Searcher(self.release, self.now, FEW_ROWS, DAYS_AHEAD)

    @cached_property
    def _last(self) -> Searcher:
        return Searcher(self.release, self.now + timedelta(days=DAYS_AHEAD), FEW_ROWS)

    @property
    def later(self) -> Searcher | None:
        """The release at any later moment; None where no rule asks for the time."""
        return self._later if self.few.reading.reads_clock else None

    def _at_all_times(self) -> list[Searcher]:
        return [self.few, self.later] if self.later is not None else [self.few]

    def find(self, search: Search, without: Check | None = None) -> Found:
        """Look for an interview that keeps all hard checks but `without`, and in which the search's condition holds."""
        for engine in self.sound:
            if search.accept(engine):
                return _found(engine)
        found = self._find(self.few, search, without)
        if found.verdict == "undecided" and found.why == _MORE_ROWS:
            found = self._find(self.many, search, without)
        if found.verdict == "no" and self.later is not None:
            at_any_time = self._find(self.later, search, without)
            if at_any_time.verdict == "undecided":
                # Between two unknown days the solver is less exact than up to a known one.
                at_last = self._find(self._last, search, without)
                return at_last if at_last.verdict == "yes" else replace(at_any_time, why=_LATER)
            return at_any_time if at_any_time.verdict == "yes" else found
        return found

    def _find(self, searcher: Searcher, search: Search, without: Check | None) -> Found:
        wanted, solver = search.condition(searcher.world), searcher.solver
        demands = [*searcher.checks_kept(without), *searcher.needs_met(self.dead_ends)]
        world = searcher.world
        if world.translator.is_bounded and solver.check(*demands, wanted, world.no_more_rows, world.clear) == z3.sat:
            found = self._confirmed(searcher, solver.model(), search)
            if found.verdict == "yes":
                return found
        outcome = solver.check(*demands, wanted, world.no_more_rows)
        if outcome == z3.sat:
            return self._confirmed(searcher, solver.model(), search)
        if outcome == z3.unsat:
            outcome = solver.check(*demands, wanted)
            if outcome == z3.unsat:
                checks, needs = searcher.core()
                return self._find(searcher, search, without) if self._ends_dead(needs) else Found("no", core=checks)
            if outcome == z3.sat:
                tried = self._confirmed(searcher, solver.model(), search)
                return tried if tried.verdict == "yes" else Found("undecided", why=_MORE_ROWS)
        return Found("undecided", why="the solver gave up: the rules are too hard for it")

    def _ends_dead(self, needs: Iterable[int]) -> bool:
        """Whether one of the needed answers that a search failed on can never be given; it is left out from now on."""
        for index in sorted(set(needs) - self._alive):
            checks = [searcher.dead_end(index, self.dead_ends) for searcher in self._at_all_times()]
            if checks[0] is not None and None not in checks:
                self.dead_ends[index] = checks[0]
                return True
            self._alive.add(index)
        return False

    def _confirmed(self, searcher: Searcher, model: Any, search: Search) -> Found:
        for engine in self._tries(searcher, model, search):
            if search.accept(engine):
                return _found(engine)
        return Found("undecided", why="the solver’s answers did not lead there when they were tried")

    def _tries(self, searcher: Searcher, model: Any, search: Search) -> Iterator[Engine]:
        """A model as interviews: what the search rests on, all of it, and the rest made up."""
        yield searcher.witness.interview(model, lambda index: index in search.cone)
        engine = searcher.witness.interview(model)
        yield engine
        answers = dict(engine.answers)
        # An answer that the solver could not follow may break a check that has nothing to do with the search.
        for (index, row), broken in list(engine.broken.items()):
            if any(b.strength == "must" for b in broken):
                engine.answer(path_of(self.release, index, row), None)
        yield engine
        for attempt in range(5):
            yield self.make_up(attempt, answers, outside_of(engine)).engine

    # reach

    def reach(self, part: PartSpec) -> Found:
        """Whether an interview that keeps all hard checks asks a part."""

        def condition(world: World) -> Expr:
            return either(*[world.asked[part.index, row] for row in world.instances(part.rosters)])

        return self.find(Search(condition, lambda engine: _leads(engine, part), self.cone(part)))

    def shortest(self, part: PartSpec, found: Found) -> Found:
        """The fewest answers that lead to a part, beginning with those found; `why` says that fewer are impossible."""
        cone = self.cone(part)
        kept = {p: a for p, a in found.answers.items() if self._index(p) in cone}
        searcher = self.few if found.outside["now"] == self.now else self._later
        best = self._reduced(part, Engine(self.release, found.outside, kept))
        if len(cone) > MOST_CONE:
            return best
        given = [a.given for (index, _), a in searcher.world.answers.items() if index in cone]
        condition = either(*[searcher.world.asked[part.index, r] for r in searcher.world.instances(part.rosters)])
        while best.answers:
            limit = z3.AtMost(*given, len(best.answers) - 1) if given else z3.BoolVal(False)
            outcome = searcher.solver.check(*searcher.checks_kept(), condition, limit)
            if outcome != z3.sat:
                return replace(best, why=FEWEST if outcome == z3.unsat else "")
            fewer = searcher.witness.interview(searcher.solver.model(), lambda index: index in cone)
            reduced = self._reduced(part, fewer)
            if not _leads(fewer, part) or len(reduced.answers) >= len(best.answers):
                return best
            best = reduced
        return replace(best, why=FEWEST)

    def _index(self, path: str) -> int:
        return self.release.by_name.get(path.split("/")[-1], -1)

    def _reduced(self, part: PartSpec, engine: Engine) -> Found:
        """What is left when every answer is dropped that the way there does not need."""
        for path, answer in reversed(list(engine.answers.items())):
            engine.answer(path, None)
            if not _leads(engine, part):
                engine.answer(path, answer)
                self._simplify(part, engine, path)
        return _found(engine)

    def _simplify(self, part: PartSpec, engine: Engine, path: str) -> None:
        """Fewer codes, or a count of 1, where that leads there as well."""
        answer = engine.answers[path]
        if isinstance(answer, list):
            simpler: list[Any] = [[c for c in answer if c != code] for code in answer] if len(answer) > 1 else []
        else:
            simpler = [1] if type(answer) is int and answer > 1 else []
        for other in simpler:
            engine.answer(path, other)
            if _leads(engine, part):
                self._simplify(part, engine, path)
                return
        engine.answer(path, answer)

    def cone(self, part: PartSpec, rests_on: Iterable[int] = ()) -> set[int]:
        """The parts that decide whether `part` is asked, and `rests_on`, through everything they rest on themselves."""
        found: set[int] = set(rests_on)
        queue = [part.index, *found]
        while queue:
            here = self.release.parts[queue.pop()]
            raw = here.raw
            flow = [raw["asked_when"], raw["derived"], raw["default"], raw["repeat"]]
            needs = set().union(*(variables_in(tree) for tree in flow if tree is not None))
            if here.parent is not None:
                needs.add(here.parent)
            for index in needs - found:
                found.add(index)
                queue.append(index)
        return found

    # checks

    def judge(self, check: Check) -> CheckTold:
        """Whether a hard check can ever fail and ever be met."""
        part = self.release.parts[check[0]]
        text = part.checks[check[1]].text

        def failing(world: World) -> Expr:
            return either(*[both(asked, rule.no) for _, asked, rule in world.checks[check]])

        def holding(world: World) -> Expr:
            return either(*[both(asked, rule.yes) for _, asked, rule in world.checks[check]])

        def fails(engine: Engine) -> bool:
            return check in broken_checks(engine)

        def holds(engine: Engine) -> bool:
            rows = [row for row, asked in engine.asked[part.index].items() if asked]
            return any(part.checks[check[1]].rule(engine, row) is True for row in rows) and not broken_checks(engine)

        cone = self.cone(part, {part.index, *self.few.reading.rests_on[check]})
        met = self.find(Search(holding, holds, cone))
        if met.verdict == "no":
            return CheckTold(part.variable, text, "never met", self._because(met.core, check, "it contradicts"))
        fail = self.find(Search(failing, fails, cone), without=check)
        if fail.verdict == "undecided" and self._is_seen_to_fail(check):
            fail = Found("yes")
        if fail.verdict == "no":
            why = self._because(fail.core, check, "it follows from")
            return CheckTold(part.variable, text, "never fails", why)
        undecided = next((f.why for f in (met, fail) if f.verdict == "undecided"), None)
        if undecided is not None:
            return CheckTold(part.variable, text, "undecided", self.reason(part, undecided))
        return CheckTold(part.variable, text, "sound", "")

    def _is_seen_to_fail(self, check: Check) -> bool:
        """Whether some answer in an otherwise sound interview breaks a check and nothing else."""
        part = self.release.parts[check[0]]
        return any(broken_checks(engine) == {check} for engine in spoiled(self.few.reading, self.sound, part))

    def _because(self, core: Iterable[Check], own: Check, words: str) -> str:
        others = [c for c in core if c != own]
        if not others:
            return "wherever it is asked, its limits and the answers that led there already decide it"
        return f"{words} {'; '.join(map(self.few.text, others))}"

    def contradictions(self) -> list[Contradiction]:
        """Pairs of hard checks on the same answers that never hold together where both are asked."""
        checks = list(self.few.keeps)
        found = []
        for place, first in enumerate(checks):
            for second in checks[place + 1 :]:
                if self._share(first, second) and all(s.contradict(first, second) for s in self._at_all_times()):
                    a, b = (self.release.parts[c[0]] for c in (first, second))
                    rules = a.checks[first[1]].text, b.checks[second[1]].text
                    found.append(Contradiction(a.variable, rules[0], b.variable, rules[1]))
        return found

    def _share(self, first: Check, second: Check) -> bool:
        a, b = self.few.reading.rests_on[first], self.few.reading.rests_on[second]
        return not a.keys().isdisjoint(b)

    # words

    def reason(self, part: PartSpec, why: str) -> str:
        """Why something is undecided, with what the solver could not follow on the way there."""
        doubts: set[str] = set(self.few.world.doubts.get(part.index, ()))
        for index in self.cone(part):
            doubts |= self.few.world.doubts.get(index, set())
        return f"{why} ({'; '.join(sorted(doubts))})" if doubts else why

    def why_dead(self, index: int) -> str:
        """Why a needed answer can never be given."""
        checks = self.dead_ends[index]
        if not checks:
            return "an answer is needed, and none can be given: its limits or its code filter let nothing through"
        words = "this check" if len(checks) == 1 else "all of these checks"
        return f"an answer is needed, and none keeps {words}: {'; '.join(map(self.few.text, checks))}"

    def why_unreachable(self, part: PartSpec, core: tuple[Check, ...], never: set[str]) -> str:
        """Which rules keep a part from being asked; `never` are variables already known to be out of reach."""
        if core:
            return f"the hard checks keep it from being asked: {'; '.join(map(self.few.text, core))}"
        around: PartSpec | None = part
        while around is not None:
            if around.raw["asked_when_text"]:
                names = [self.release.parts[i].variable for i in sorted(variables_in(around.raw["asked_when"]))]
                lost = [name for name in names if name in never]
                because = f" ({', '.join(lost)} can never be asked)" if lost else self._asked_when(names)
                return f"no answers make this come out yes: {around.raw['asked_when_text']}{because}"
            around = self.release.parts[around.parent] if around.parent is not None else None
        return "no answers lead to it"

    def _asked_when(self, names: list[str]) -> str:
        """What the variables of a rule are themselves asked by."""
        parts = [self.release.parts[self._index(name)] for name in names]
        told = [f"{p.variable} is asked when {p.raw['asked_when_text']}" for p in parts if p.raw["asked_when_text"]]
        return f" ({'; '.join(told)})" if told else ""


_ANYTHING = Search(lambda world: TRUE, lambda engine: True, set())
_LATER = "it takes another day than that of the proof, and none was found on which it happens"
_MORE_ROWS = f"it may take more than {MANY_ROWS} rows of a roster"


def _found(engine: Engine) -> Found:
    """An interview as what was found, its answers in the order of asking."""
    paths = (path_of(engine.release, index, row) for index, row in engine.places())
    return Found("yes", {p: engine.answers[p] for p in paths if p in engine.answers}, outside_of(engine))


def outside_of(engine: Engine) -> dict[str, Any]:
    """What an interview knows besides its answers, in the form that the engine takes."""
    clock: dict[str, Any] = {
        name: engine.outside[name] for name in ("now", "interview.started") if name in engine.outside
    }
    return {**clock, "earlier": earlier_of(engine)}


def earlier_of(engine: Engine) -> Answers:
    """What an interview knows of the earlier round, in JSON form by path."""
    known = engine.outside["earlier"].items()
    return {path_of(engine.release, index, row): write_answer(value) for (index, row), value in known}


def _leads(engine: Engine, part: PartSpec) -> bool:
    return any(engine.asked[part.index].values()) and not broken_checks(engine)
