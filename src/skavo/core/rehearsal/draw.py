"""Answers drawn at random within the limits that the rules set."""

from __future__ import annotations

import random
from collections.abc import Callable
from datetime import date, datetime, time, timedelta
from decimal import Decimal
from typing import Any

from skavo.core.interview.answers import write_answer
from skavo.core.interview.engine import Engine
from skavo.core.interview.release import PartSpec
from skavo.core.rehearsal.reading import ReleaseReading
from skavo.core.rehearsal.texts import matching_text, plain_text
from skavo.core.rules.limits import OPEN
from skavo.core.rules.state import Row
from skavo.core.rules.values import as_decimal

FROM_RULES = 0.35
SPECIAL = 0.03
GROWS = 0.4


class NoAnswer(Exception):
    """Nothing can be answered here, as where a code filter lets no code through."""


class Draw:
    """Draws answers in JSON form; the same `rng` gives the same answers."""

    def __init__(self, reading: ReleaseReading, rng: random.Random) -> None:
        self.reading = reading
        self.rng = rng
        self._by_type: dict[str, Callable[[Engine, PartSpec, Row], Any]] = {
            "number": self._number,
            "quantity": self._quantity,
            "text": self._text,
            "yes/no": self._yes_no,
            "code": self._code,
            "codes": self._codes,
            "date": self._date,
            "time": self._time,
            "date-time": self._date_time,
            "point": lambda engine, part, row: self._point(),
            "path": lambda engine, part, row: {"points": [self._point() for _ in range(4)]},
            "area": lambda engine, part, row: self._area(),
            "media": lambda engine, part, row: self._media(part),
            "unit": self._unit,
        }

    def answer(self, engine: Engine, part: PartSpec, row: Row) -> Any:
        """An answer to a question; raise NoAnswer where there can be none."""
        special = part.raw["special"]
        if special and part.index not in self.reading.counts and self.rng.random() < SPECIAL:
            return {"special": self.rng.choice(special)}
        if part.reads_back is not None:
            source = engine.release.parts[part.reads_back]
            present = engine.values[part.reads_back].get(row[: source.depth])
            if present is None:
                raise NoAnswer
            return {"confirmed": write_answer(present)}
        return self._by_type[part.raw["type"]](engine, part, row)

    def _from_rules(self, part: PartSpec) -> Any | None:
        known = self.reading.constants.get(part.index)
        return self.rng.choice(known) if known and self.rng.random() < FROM_RULES else None

    def number(self, part: PartSpec) -> Decimal:
        """A number within the part's limits, in base units."""
        limits = self.reading.limits.get(part.index, OPEN)
        whole = part.kind.name == "whole number"
        constant = self._from_rules(part)
        if isinstance(constant, int | Decimal) and part.index not in self.reading.counts:
            near = Decimal(constant) + self.rng.choice([-1, 0, 0, 1])
            if (limits.low is None or near >= limits.low) and (limits.high is None or near <= limits.high):
                return near
        low = limits.low if limits.low is not None else min(Decimal(0), limits.high or Decimal(0))
        if part.index in self.reading.counts:
            high = min(limits.high if limits.high is not None else low + 6, low + 6)
            return min(high, low + int(self.rng.expovariate(0.6)))
        high = limits.high if limits.high is not None else low + 100
        if whole:
            return Decimal(self.rng.randint(int(low.to_integral_value("ROUND_CEILING")), max(int(low), int(high))))
        return low + round((high - low) * Decimal(repr(self.rng.random())), 2)

    def _number(self, engine: Engine, part: PartSpec, row: Row) -> Any:
        number = write_answer(int(x) if (x := self.number(part)) == x.to_integral_value() else x)
        if part.kind.name == "instrument":
            return {"amount": number, "instrument": "made up", "time": ""}
        return number

    def _quantity(self, engine: Engine, part: PartSpec, row: Row) -> Any:
        return as_quantity(engine, part, row, self.number(part), self.rng)

    def _text(self, engine: Engine, part: PartSpec, row: Row) -> Any:
        constant = self._from_rules(part)
        if isinstance(constant, str):
            return constant
        return matching_text(part.raw, self.rng) or plain_text(part.variable, self.rng)

    def _yes_no(self, engine: Engine, part: PartSpec, row: Row) -> bool:
        grows = part.index in self.reading.grows
        return self.rng.random() < (GROWS if grows else self.reading.share_of_yes(part.index))

    def _offered(self, engine: Engine, part: PartSpec, row: Row) -> list[dict[str, Any]]:
        codes = engine.offered_codes(part, row)
        if not codes:
            raise NoAnswer
        return codes

    def _code(self, engine: Engine, part: PartSpec, row: Row) -> str:
        codes = [c["code"] for c in self._offered(engine, part, row)]
        constant = self._from_rules(part)
        weights = self.reading.weights_of(part.index, codes)
        return str(constant if constant in codes else self.rng.choices(codes, weights)[0])

    def _codes(self, engine: Engine, part: PartSpec, row: Row) -> list[str]:
        offered = self._offered(engine, part, row)
        alone = [c["code"] for c in offered if c["exclusive"]]
        together = [c["code"] for c in offered if not c["exclusive"]]
        if alone and (not together or self.rng.random() < 0.15):
            return [self.rng.choice(alone)]
        least = min(int(part.least or 1), len(together)) or 1
        most = min(int(part.most) if part.most is not None else len(together), len(together))
        count = self.rng.randint(least, max(least, min(most, least + 3)))
        chosen = self.rng.sample(together, count)
        constant = self._from_rules(part)
        if constant in together and constant not in chosen:
            chosen[0] = constant
        return chosen

    def _date(self, engine: Engine, part: PartSpec, row: Row) -> str:
        constant = self._from_rules(part)
        today: date = engine.outside["now"].date()
        near = constant if isinstance(constant, date) else today
        spread = self.rng.choice([3, 60, 800, 20_000])
        return (near - timedelta(days=self.rng.randint(0, spread))).isoformat()[:10]

    def _time(self, engine: Engine, part: PartSpec, row: Row) -> str:
        constant = self._from_rules(part)
        if isinstance(constant, time):
            return constant.isoformat(timespec="minutes")
        return f"{self.rng.randint(6, 21):02}:{self.rng.choice([0, 15, 30, 45]):02}"

    def _date_time(self, engine: Engine, part: PartSpec, row: Row) -> str:
        now: datetime = engine.outside["now"]
        spread = self.rng.choice([30, 600, 20_000])
        return (now - timedelta(minutes=self.rng.randint(0, spread))).isoformat(timespec="minutes")

    def _point(self, around: tuple[float, float] = (0.0, 0.0), spread: float = 0.05) -> dict[str, Any]:
        lat, lon = (c + self.rng.uniform(-spread, spread) for c in around)
        return {"latitude": round(lat, 6), "longitude": round(lon, 6), "accuracy": float(self.rng.randint(3, 11))}

    def _area(self) -> dict[str, Any]:
        size = self.rng.uniform(0.0002, 0.002)
        corner = self._point()
        lat, lon = corner["latitude"], corner["longitude"]
        corners = [(lat, lon), (lat, lon + size), (lat + size, lon + size), (lat + size, lon)]
        return {"points": [{"latitude": round(a, 6), "longitude": round(b, 6), "accuracy": None} for a, b in corners]}

    def _media(self, part: PartSpec) -> dict[str, Any]:
        return {
            "file": f"{self.rng.getrandbits(256):064x}",
            "name": f"{part.variable} (made up)",
            "type": "",
            "bytes": 0,
        }

    def _unit(self, engine: Engine, part: PartSpec, row: Row) -> str:
        register = part.raw["register"]
        known = [k for k, u in engine.outside.get("units", {}).items() if u.get("register", register) == register]
        return str(self.rng.choice(known)) if known else f"{register}-{self.rng.randint(1, 999):03}"


def as_quantity(engine: Engine, part: PartSpec, row: Row, size: Decimal, rng: random.Random) -> dict[str, Any]:
    """A size in base units as an answer in one of the units whose factor is known in this interview."""
    factors = {unit: rule(engine, row) for unit, rule in part.factors.items()}
    usable = [unit for unit, factor in factors.items() if factor]
    if not usable:
        raise NoAnswer
    unit = rng.choice(usable)
    amount = (size / Decimal(as_decimal(factors[unit]))).quantize(Decimal("0.000001"))
    return {"amount": write_answer(amount), "unit": unit}
