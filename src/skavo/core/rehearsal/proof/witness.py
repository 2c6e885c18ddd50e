"""A model of the solver as an interview, tried in the engine: nothing is claimed that the engine does not confirm."""

from __future__ import annotations

import random
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from decimal import Decimal
from typing import Any

import z3

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import path_of
from skavo.core.interview.release import PartSpec
from skavo.core.rehearsal.draw import Draw, NoAnswer, as_quantity
from skavo.core.rehearsal.patterns import text_of_pattern
from skavo.core.rehearsal.proof.calls import DAY
from skavo.core.rehearsal.proof.results import Answers
from skavo.core.rehearsal.proof.symbols import BEYOND, Chosen, Truth
from skavo.core.rehearsal.proof.translate import as_date
from skavo.core.rehearsal.proof.world import Answer, Place, World
from skavo.core.rehearsal.reading import ReleaseReading
from skavo.core.rehearsal.texts import matching_text, plain_text, text_of_mask
from skavo.core.rules.automaton import text_fits
from skavo.core.rules.state import Row
from skavo.core.rules.values import tidy

_TEXT_TRIES = 40


class WitnessMaker:
    """Makes interviews of models; `outside` is what the engine is told besides."""

    def __init__(self, reading: ReleaseReading, world: World) -> None:
        self.reading, self.world = reading, world
        self.release = world.release
        self.outside: dict[str, Any] = {"now": world.now}
        self.rng = random.Random(0)
        self.draw = Draw(reading, self.rng)

    def interview(self, model: Any, wanted: Callable[[int], bool] = lambda index: True) -> Engine:
        """A model as an interview: its answers at the parts `wanted`, as far as the engine asks for them."""
        outside = {**self.outside, **self.clock(model), "earlier": self.earlier(model)}
        engine = Engine(self.release, outside, language=self.language(model))
        places = sorted(self.world.answers, key=lambda place: (place[0], str(place[1])))
        for place in places:
            if wanted(place[0]):
                self._answer(engine, model, place)
        # Rows that come from a later answer, as in `while`, are there only now.
        for place in places:
            if wanted(place[0]) and path_of(self.release, place[0], self._row(model, place)) not in engine.answers:
                self._answer(engine, model, place)
        return engine

    def clock(self, model: Any) -> dict[str, datetime]:
        """The moment of the interview and that of its beginning."""
        if not self.world.days_ahead:
            return {}
        now, started = (model.eval(m, True).as_long() for m in (self.world.moment, self.world.started))
        return {"now": as_moment(now), "interview.started": as_moment(started)}

    def _row(self, model: Any, place: Place) -> Row:
        """The row of a place, the one that stands for rows not unrolled by its number in the model."""
        part, row = self.release.parts[place[0]], place[1]
        if BEYOND not in row:
            return row
        numbers = [self.world.beyond.get((roster, row[:depth])) for depth, roster in enumerate(part.rosters)]
        return tuple(
            model.eval(found[1], True).as_long() if name == BEYOND and found is not None else name
            for name, found in zip(row, numbers, strict=True)
        )

    def earlier(self, model: Any) -> Answers:
        """What the earlier round held, as far as rules ask for it."""
        found: Answers = {}
        for index, value in self.world.translator.earlier.items():
            part = self.release.parts[index]
            if z3.is_true(model.eval(self.world.known(value), True)):
                found[part.variable] = self._of_value(Engine(self.release, self.outside), model, part, (), value)
        return found

    def language(self, model: Any) -> str | None:
        chosen = model.eval(z3.Int("interview.language"))
        found = self.world.translator.texts.known(chosen.as_long()) if z3.is_int_value(chosen) else None
        return found if found in self.release.languages else None

    def _answer(self, engine: Engine, model: Any, place: Place) -> None:
        part, row = self.release.parts[place[0]], self._row(model, place)
        if not engine.asked[part.index].get(row):
            return
        answer = self.world.answers[place]
        given = self._read(engine, model, part, row, answer)
        if given is not None:
            engine.answer(path_of(self.release, part.index, row), given)

    def _read(self, engine: Engine, model: Any, part: PartSpec, row: Any, answer: Answer) -> Any:
        for special in ("dont_know", "refused"):
            if z3.is_true(model.eval(getattr(answer, special), True)):
                return {"special": special}
        if not z3.is_true(model.eval(answer.given, True)):
            return None
        if part.reads_back is not None:
            source = self.release.parts[part.reads_back]
            return {"confirmed": write_answer(engine.values[part.reads_back].get(row[: source.depth]))}
        return self._of_value(engine, model, part, row, answer.value)

    def _of_value(self, engine: Engine, model: Any, part: PartSpec, row: Any, value: Any) -> Any:
        if isinstance(value, Truth):
            return z3.is_true(model.eval(value.yes, True))
        if isinstance(value, Chosen):
            return [code for code, on in value.codes.items() if z3.is_true(model.eval(on, True))]
        return self._plain(engine, part, row, model, model.eval(value.value, True))

    def _plain(self, engine: Engine, part: PartSpec, row: Any, model: Any, found: Any) -> Any:
        kind = part.raw["type"]
        if kind in ("number", "quantity"):
            number = _decimal(found)
            if part.kind.name == "quantity":
                try:
                    return as_quantity(engine, part, row, number, self.rng)
                except NoAnswer:
                    return None
            written = write_answer(tidy(number))
            return {"amount": written, "instrument": "", "time": ""} if part.kind.name == "instrument" else written
        if kind == "date":
            return as_date(found.as_long()).isoformat()
        if kind == "time":
            return f"{found.as_long() // 60:02}:{found.as_long() % 60:02}"
        if kind == "date-time":
            return write_answer(as_moment(max(DAY, found.as_long())))
        if kind in ("code", "text"):
            return self._text(part, model, found.as_long())
        try:
            return self.draw.answer(engine, part, row)
        except NoAnswer:
            return None

    def _text(self, part: PartSpec, model: Any, number: int) -> str:
        known = self.world.translator.texts.known(number)
        if known is not None:
            return known
        wanted = {
            key: z3.is_true(model.eval(matches(number), True))
            for key, matches in self.world.translator.texts.fits.items()
        }
        return self._text_that_fits(part, wanted) or f"{part.variable} {number}"

    def _text_that_fits(self, part: PartSpec, wanted: dict[tuple[str, str], bool]) -> str | None:
        """A text that fits just those masks and patterns, or failing that the question's own."""
        own = matching_text(part.raw, self.rng)
        makers = [key for key, fits in wanted.items() if fits]
        plain = [own, plain_text(part.variable, self.rng), f"{part.variable} {len(wanted)}"]
        for n in range(_TEXT_TRIES):
            made = plain[n % len(plain)] if not makers else self._made(*makers[n % len(makers)])
            if made is not None and all(text_fits(*key, made) is fits for key, fits in wanted.items()):
                return made
        return own

    def _made(self, form: str, pattern: str) -> str | None:
        return text_of_mask(pattern, self.rng) if form == "mask" else text_of_pattern(pattern, self.rng)


def as_moment(seconds: int) -> datetime:
    """A number of seconds of the solver as a moment; it knows no other offset than that of UTC."""
    return datetime.combine(as_date(seconds // DAY), datetime.min.time(), UTC) + timedelta(seconds=seconds % DAY)


def _decimal(found: Any) -> Decimal:
    if z3.is_int_value(found):
        return Decimal(found.as_long())
    if z3.is_rational_value(found):
        return round(Decimal(found.numerator_as_long()) / Decimal(found.denominator_as_long()), 6)
    return Decimal(str(found.approx(6).as_fraction().limit_denominator(10**6).__float__()))


def broken_checks(engine: Engine) -> set[tuple[int, int]]:
    """The hard checks and built-in limits that an interview breaks; an answer that is still needed is none."""
    return {
        (index, b.check)
        for (index, _), found in engine.broken.items()
        for b in found
        if b.strength == "must" and b.code != "needed"
    }
