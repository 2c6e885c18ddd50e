"""One interview made up by walking the engine: every hard check holds in it, by construction.

Each question is answered as it comes up. Where an answer breaks a hard check that rests on answers already given,
others are tried: drawn ones, and those at which the two sides of a comparison meet. Where none helps, an earlier
answer that the check rests on is tried instead, until the number of broken checks is down to none.
"""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Collection, Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import PartSpec
from skavo.core.interview.state import Place
from skavo.core.rehearsal.draw import Draw, NoAnswer
from skavo.core.rehearsal.reading import ReleaseReading
from skavo.core.rehearsal.solve import meeting_answers
from skavo.core.rules.state import Row

MOST_DRAWS = 12
MOST_REPAIRS, AGAIN = 120, 6
MOST_PLACES = 5_000
LEFT_EMPTY = 0.04
KNOWN_EARLIER = 0.8

# (part, check); check -1 stands for what is wrong besides checks.
Rule = tuple[int, int]


@dataclass
class MadeUp:
    """`engine` holds the interview; `unmet` names what could not be met, empty for a valid interview;
    `avoided` names what could be met only by leaving a question unanswered.

    `fired` counts how often an answer that was tried broke each rule, `tries` how many answers were tried in all.
    """

    engine: Engine
    unmet: dict[Rule, int] = field(default_factory=dict)
    avoided: dict[Rule, int] = field(default_factory=dict)
    fired: Counter[Rule] = field(default_factory=Counter)
    tries: int = 0

    @property
    def is_valid(self) -> bool:
        return not self.unmet


def make_up(
    reading: ReleaseReading,
    rng: random.Random,
    outside: dict[str, Any],
    answers: dict[str, Any] | None = None,
    *,
    left_empty: Collection[int] = (),
) -> MadeUp:
    """An interview made up with `rng`; `answers` are given beforehand and kept where they can be.

    Questions in `left_empty` get no answer, even where one is needed.
    """
    return _Maker(reading, rng, outside, answers or {}, left_empty).run()


def make_up_earlier(reading: ReleaseReading, rng: random.Random, outside: dict[str, Any]) -> dict[str, Any]:
    """What the earlier round may have held of the answers that rules ask for, most of the time."""
    draw, engine = Draw(reading, rng), Engine(reading.release, dict(outside))
    found = {}
    for index in reading.earlier:
        part = reading.release.parts[index]
        if part.kind.read is None or rng.random() > KNOWN_EARLIER:
            continue
        with suppress(NoAnswer):
            found[part.variable] = draw.answer(engine, part, ())
    return found


class _Maker:
    def __init__(
        self,
        reading: ReleaseReading,
        rng: random.Random,
        outside: dict[str, Any],
        answers: dict[str, Any],
        left_empty: Collection[int],
    ) -> None:
        self.reading, self.rng, self.left_empty = reading, rng, left_empty
        self.draw = Draw(reading, rng)
        self.engine = Engine(reading.release, outside, answers)
        self.made = MadeUp(self.engine)
        self.left: set[Place] = set()
        self.hopeless: set[Rule] = set()
        self.fixed = set(answers)

    def run(self) -> MadeUp:
        for _ in range(MOST_PLACES):
            place = next(self._open_places(), None)
            if place is None:
                break
            self._fill(place)
            if self.made.unmet:
                return self.made
        broken = self._broken()
        if broken and not self._repair(broken):
            self._give_up(broken)
        for (index, row), found in self.engine.broken.items():
            for b in found:
                if b.strength == "should":
                    self.engine.keep(path_of(self.engine.release, index, row), b.check, "made up")
        return self.made

    def _open_places(self) -> Iterator[Place]:
        for index, row in self.engine.places():
            part = self.engine.release.parts[index]
            if part.kind.read is not None and not self._is_settled(index, row):
                yield index, row

    def _is_settled(self, index: int, row: Row) -> bool:
        engine = self.engine
        empty = index in self.left_empty or (index, row) in self.left
        return empty or row in engine.values[index] or row in engine.special[index]

    # one question

    def _fill(self, place: Place) -> None:
        part, row = self.engine.release.parts[place[0]], place[1]
        needed = self.engine.is_needed(part, row)
        if not needed and part.index not in self.reading.counts and self.rng.random() < LEFT_EMPTY:
            self.left.add(place)
            return
        before: list[tuple[Place, int]] = []
        for _ in range(MOST_DRAWS):
            try:
                answer = self.draw.answer(self.engine, part, row)
            except NoAnswer:
                self._nothing_to_answer(place, needed)
                return
            before = self._try(place, answer)
            if not before:
                return
        for answer in meeting_answers(self.engine, self.reading, part, row, before, self.rng):
            before = self._try(place, answer)
            if not before:
                return
        if self._repair(before):
            return
        if needed:
            self._give_up(before)
        else:
            self._leave(place, before)

    def _leave(self, place: Place, broken: list[tuple[Place, int]]) -> None:
        """An answer that nobody needs and that no check lets through is left out."""
        self.engine.answer(path_of(self.engine.release, *place), None)
        self.left.add(place)
        for (index, _), check in broken:
            self.made.avoided[index, check] = self.made.fired[index, check]
        after = self._broken()
        if after and not self._repair(after):
            self._give_up(after)

    def _nothing_to_answer(self, place: Place, needed: bool) -> None:
        if needed:
            self.made.unmet[place[0], -1] = 1
        self.left.add(place)

    def _try(self, place: Place, answer: Any) -> list[tuple[Place, int]]:
        """Give an answer; return what is broken by now that no answer still to come could mend."""
        self.engine.answer(path_of(self.engine.release, *place), answer)
        self.made.tries += 1
        broken = self._broken()
        self.made.fired.update((index, check) for (index, _), check in broken)
        return broken

    def _broken(self) -> list[tuple[Place, int]]:
        found = []
        for place, broken in self.engine.broken.items():
            part = self.engine.release.parts[place[0]]
            for b in broken:
                if b.strength != "must" or b.code == "needed":
                    continue
                if b.check < 0 or not self._waits(part, place[1], b.check):
                    found.append((place, b.check))
        return found

    def _waits(self, part: PartSpec, row: Row, check: int) -> bool:
        """Whether a check rests on an answer that is still to come."""
        for index, r in self.reading.places_of(self.engine, part, part.checks[check], row):
            if self.engine.asked[index].get(r) and not self._is_settled(index, r):
                return True
        return False

    # mending

    def _repair(self, broken: list[tuple[Place, int]]) -> bool:
        """Change answers that broken checks rest on until none is broken; say whether that was reached."""
        best = len(broken)
        # What could not be mended once in this interview is not tried at length again.
        known = all((index, check) in self.hopeless for (index, _), check in broken)
        for _ in range(AGAIN if known else MOST_REPAIRS):
            if not broken:
                return True
            place = self._one_to_change(broken)
            if place is None:
                return False
            path = path_of(self.engine.release, *place)
            before = self.engine.answers.get(path)
            after = self._change(place, broken)
            if len(after) > best and self.rng.random() > 0.1:
                self.engine.answer(path, before)
                broken = self._broken()
            else:
                broken, best = after, len(after)
        self.hopeless.update((index, check) for (index, _), check in broken)
        return not broken

    def _one_to_change(self, broken: list[tuple[Place, int]]) -> Place | None:
        (index, row), check = self.rng.choice(broken)
        part = self.engine.release.parts[index]
        if check < 0:
            return index, row
        answered = [
            p for p in self.reading.places_of(self.engine, part, part.checks[check], row)
            if self._is_settled(*p) and self.engine.asked[p[0]].get(p[1])
        ]  # fmt: skip
        free = [p for p in answered if path_of(self.engine.release, *p) not in self.fixed] or answered
        return self.rng.choice(free) if free else None

    def _change(self, place: Place, broken: list[tuple[Place, int]]) -> list[tuple[Place, int]]:
        part, row = self.engine.release.parts[place[0]], place[1]
        self.left.discard(place)
        if self.rng.random() < 0.8:
            after = None
            for answer in meeting_answers(self.engine, self.reading, part, row, broken, self.rng):
                after = self._try(place, answer)
                if len(after) < len(broken):
                    return after
            if after is not None and len(after) == len(broken):
                # As far as this answer can go: another one has to do the rest.
                return after
        try:
            return self._try(place, self.draw.answer(self.engine, part, row))
        except NoAnswer:
            return self._broken()

    def _give_up(self, broken: list[tuple[Place, int]]) -> None:
        for (index, _), check in broken:
            self.made.unmet[index, check] = self.made.fired[index, check]
