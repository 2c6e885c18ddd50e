"""How the made-up workshops answer the demo questionnaire, each from its own, seeded facts."""

from __future__ import annotations

import random
from collections.abc import Callable
from datetime import date, datetime, timedelta
from typing import Any

from skavo.core.interview.engine import Engine
from skavo.core.rules.check_digits import check_digit_ok
from skavo.demo.people import Enumerator
from skavo.demo.places import place_in, ward_at
from skavo.standins.phone import Taken
from skavo.standins.recordings import bench_sound, front_photo, licence, signature

_FIRST_NAMES = [
    "Anselm",
    "Bo",
    "Cael",
    "Dorrit",
    "Edda",
    "Fenn",
    "Greta",
    "Hollis",
    "Ivo",
    "Jana",
    "Kester",
    "Lio",
    "Maren",
    "Nolan",
    "Orla",
    "Perrin",
    "Quill",
    "Rhona",
    "Stellan",
    "Tilde",
    "Ulla",
    "Vesper",
    "Wren",
    "Yorick",
    "Zella",
]
# How a name is written in a hurry.
_HURRIED: list[Callable[[str], str]] = [
    str.lower, str.upper, lambda name: name.replace("’", ""), lambda name: name.replace(" and ", " & "),
    lambda name: name[:2] + name[3:], lambda name: f"{name.split()[-1]} {' '.join(name.split()[:-1])}",
]  # fmt: skip
_TRADES = {"bicycle": 6, "phone": 5, "radio": 3, "shoe": 4, "pump": 3, "furniture": 3, "sail": 2, "other": 1}
_OTHER_TRADES = ["clocks", "Clocks", "clock repair", "umbrellas", "Umbrella"]
_TOOLS_OF = {
    "bicycle": ["vice", "drill", "grinder"], "phone": ["solder", "drill"], "radio": ["solder", "vice"],
    "shoe": ["sewing", "vice"], "pump": ["vice", "grinder", "solder"], "furniture": ["vice", "drill", "grinder"],
    "sail": ["sewing"], "other": ["vice", "other"],
}  # fmt: skip
# By trade: ordinary hours a week, a usual price in orins, how loud it is in decibels.
_HOURS = {"bicycle": 44, "phone": 50, "radio": 37, "shoe": 47, "pump": 45, "furniture": 42, "sail": 38, "other": 40}
PRICES = {"bicycle": 18, "phone": 35, "radio": 26, "shoe": 12, "pump": 60, "furniture": 48, "sail": 70, "other": 15}
_NOISE = {"bicycle": 74, "phone": 58, "radio": 60, "shoe": 68, "pump": 88, "furniture": 86, "sail": 66, "other": 64}
_DONT_KNOW, _REFUSED = {"special": "dont_know"}, {"special": "refused"}
_METER = "Noise and heat meter (simulated)"
_AGREE_TURNED = {"thrown_away", "would_stop"}


class Workshop:
    """One respondent; `started` is when the enumerator came, with an offset."""

    def __init__(self, rng: random.Random, enumerator: Enumerator, number: int, started: datetime) -> None:
        self.rng, self.enumerator, self.number, self.started = rng, enumerator, number, started
        chosen = rng.choices(list(_TRADES), list(_TRADES.values()), k=rng.choice([1, 1, 2, 2, 3]))
        self.trades = list(dict.fromkeys(chosen))
        people = min(9, max(1, round(rng.lognormvariate(0.9, 0.55))))
        self.people = 1 if enumerator.shrinks else 2 if enumerator.hasty else people
        self.open_days = rng.choice([5, 5.5, 6, 6, 6, 7, 4])
        self.names = rng.sample(_FIRST_NAMES, k=10)
        self.outcome = "open" if rng.random() < 0.94 else rng.choice(["nobody", "nobody", "later", "closed"])
        self.ward_number = 0 if enumerator.hasty else rng.randrange(3)
        self.unit_code = unit_code(enumerator.island, number)
        self.cheer = rng.uniform(-1, 1)
        self.called = f"Workshop {number}"
        self.door: tuple[float, float] | None = None

    def lives_at(self, plate: str, door: tuple[float, float]) -> None:
        """The workshop of the register that is visited; whoever makes interviews up has not been there."""
        self.unit_code, self.door = plate, door
        if not self.enumerator.hasty:
            self.ward_number = ward_at(self.enumerator.island, door)

    def __call__(self, variable: str, path: str, engine: Engine) -> Any:
        answer = getattr(self, f"_{variable}", None)
        if answer is not None:
            return answer(path, engine)
        fixed = {
            "visit": 1 + (self.rng.random() < 0.15), "outcome": self.outcome, "island": self.enumerator.island,
            "consent": self.rng.random() < 0.97, "unit_code": self.unit_code, "yard": self.rng.random() < 0.35,
            "delivers": self.rng.random() < 0.25, "workers": self.people, "trades": self.trades,
            "days_open": str(self.open_days), "bought_tool": self.rng.random() < 0.35,
            "anyone_left": self.rng.random() < 0.2, "more_left": self.rng.random() < 0.25,
            "call_back": self.rng.random() < 0.6, "phone_number": f"555 {self.rng.randrange(10_000):04d}",
        }  # fmt: skip
        if variable in fixed:
            return fixed[variable]
        return self._code_of(variable, engine)

    def _code_of(self, variable: str, engine: Engine) -> Any:
        """Any code of a list for what needs no facts of its own."""
        part = engine.release.parts[engine.release.by_name[variable]]
        if part.raw["special"] and self.rng.random() < 0.04:
            return {"special": self.rng.choice(part.raw["special"])}
        codes = [code["code"] for code in engine.release.lists.get(part.raw["code_list"], ())]
        if not codes:
            return None
        if part.kind.name == "multiple answer":
            alone = engine.release.exclusive[part.raw["code_list"]]
            others = [code for code in codes if code not in alone]
            few = self.rng.sample(others, k=self.rng.choice([0, 0, 1, 1, 2]))
            return few or [next(iter(alone))]
        return self.rng.choice(codes)

    # arrival and consent

    def _arrived(self, path: str, engine: Engine) -> str:
        return self.started.isoformat(timespec="minutes")

    def _here(self, spread: float = 0.003) -> tuple[float, float]:
        return place_in(self.enumerator.island, self.ward_number, self.rng, spread)

    def _position(self, path: str, engine: Engine) -> dict[str, float]:
        # Whoever makes interviews up never leaves the table.
        latitude, longitude = self._here(0.00004 if self.enumerator.hasty else 0.003)
        if self.door is not None and not self.enumerator.hasty:
            # At the door, as far as a phone can tell: what is drawn of the ward says how far off.
            off = ((latitude - round(latitude, 3)) / 5, (longitude - round(longitude, 3)) / 5)
            latitude, longitude = round(self.door[0] + off[0], 6), round(self.door[1] + off[1], 6)
        accuracy = round(min(40.0, self.rng.lognormvariate(1.6, 0.5)), 1)
        return {"latitude": latitude, "longitude": longitude, "accuracy": accuracy}

    def _come_again(self, path: str, engine: Engine) -> str:
        return (self.started.date() + timedelta(days=self.rng.randrange(1, 9))).isoformat()

    def _come_at(self, path: str, engine: Engine) -> str:
        return f"{self.rng.randrange(8, 18):02}:{self.rng.choice(['00', '30'])}"

    def _refusal(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["No time", "Asked last year already", "Does not want to speak of money"])

    def _signed(self, path: str, engine: Engine) -> Taken:
        return Taken("signature", "signature.png", "image/png", signature(self.rng))

    # the workshop

    def _ward(self, path: str, engine: Engine) -> str:
        own = [c["code"] for c in engine.release.lists["ward"] if c["attributes"]["island"] == self.enumerator.island]
        return str(own[self.ward_number])

    def _street(self, path: str, engine: Engine) -> str:
        ward = engine.answers["ward"]
        own = [code["code"] for code in engine.release.lists["street"] if code["attributes"]["ward"] == ward]
        return str(own[0] if self.enumerator.hasty else self.rng.choice(own))

    def _opened(self, path: str, engine: Engine) -> Any:
        if self.enumerator.hasty:
            return 2010
        return _DONT_KNOW if self.rng.random() < 0.06 else int(self.rng.triangular(1950, 2025, 2012))

    def _plate(self, path: str, engine: Engine) -> str | None:
        return None if self.rng.random() < 0.3 else self.unit_code

    def _licensed(self, path: str, engine: Engine) -> Any:
        draw = self.rng.random()
        return _REFUSED if draw < 0.04 else draw < 0.75

    def _licensed_since(self, path: str, engine: Engine) -> Any:
        opened = engine.answers.get("opened")
        if not isinstance(opened, int):
            return _DONT_KNOW
        year = min(self.started.year - 1, opened + self.rng.randrange(4))
        return date(year, self.rng.randrange(1, 13), self.rng.randrange(1, 29)).isoformat()

    def _licence_paper(self, path: str, engine: Engine) -> Taken | None:
        if self.rng.random() < 0.8:
            return None
        return Taken("file", "licence.txt", "text/plain", licence(self.unit_code, self.rng.randrange(1990, 2026)))

    def _called(self, path: str, engine: Engine) -> str:
        """The name above the door, as somebody in a hurry writes it down now and then."""
        hand = random.Random(f"{self.unit_code} {self.enumerator.name}")
        if hand.random() > 0.2:
            return self.called
        return hand.choice(_HURRIED)(self.called)

    def _opens_at(self, path: str, engine: Engine) -> str:
        return "08:00" if self.enumerator.hasty else self.rng.choice(["07:00", "07:30", "08:00", "08:30", "09:00"])

    def _closes_at(self, path: str, engine: Engine) -> str:
        return "17:00" if self.enumerator.hasty else self.rng.choice(["16:30", "17:00", "18:00", "19:00", "20:30"])

    def _corners(self, steps: list[tuple[float, float]], metre: float) -> dict[str, Any]:
        latitude, longitude = self._here()
        return {
            "points": [
                {
                    "latitude": round(latitude + y * metre, 6),
                    "longitude": round(longitude + x * metre, 6),
                    "accuracy": 6,
                }
                for y, x in steps
            ]
        }

    def _yard_area(self, path: str, engine: Engine) -> dict[str, Any] | None:
        if self.rng.random() < 0.4:
            return None
        width, depth = self.rng.uniform(6, 30), self.rng.uniform(6, 30)
        return self._corners([(0, 0), (0, width), (depth, width), (depth, 0)], 0.00001)

    def _delivery_round(self, path: str, engine: Engine) -> dict[str, Any]:
        return self._corners(
            [(0, 0), *[(self.rng.uniform(-90, 90), self.rng.uniform(-90, 90)) for _ in range(5)]], 1e-5
        )

    def _front(self, path: str, engine: Engine) -> Taken | None:
        return None if self.rng.random() < 0.6 else Taken("photo", "front.jpg", "image/jpeg", front_photo(self.rng))

    # people

    def _name(self, path: str, engine: Engine) -> str:
        return self.names[int(path.split("/")[1]) - 1]

    def _age(self, path: str, engine: Engine) -> Any:
        if self.enumerator.hasty:
            return 30
        draw = self.rng.random()
        return _REFUSED if draw < 0.03 else _DONT_KNOW if draw < 0.06 else int(self.rng.triangular(9, 71, 28))

    def _role(self, path: str, engine: Engine) -> str:
        if path.startswith("staff/1/"):
            return "owner"
        return self.rng.choice(["mender", "mender", "mender", "apprentice", "apprentice", "family", "counter", "other"])

    def _role_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["carries", "sweeps", "keeps the books"])

    def _in_trade(self, path: str, engine: Engine) -> Any:
        age = engine.answers.get(path.replace("in_trade", "age"))
        most = age - 8 if isinstance(age, int) else 20
        return _DONT_KNOW if self.rng.random() < 0.05 else int(self.rng.triangular(0, max(0, most), min(4, most)))

    def _hours(self, path: str, engine: Engine) -> Any:
        if self.enumerator.hasty:
            return 40
        if self.rng.random() < 0.05:
            return _DONT_KNOW
        return str(round(max(4.0, min(96.0, self.rng.gauss(_HOURS[self.trades[0]], 9))) * 2) / 2)

    def _wage(self, path: str, engine: Engine) -> bool:
        return engine.answers.get(path.replace("wage", "role")) != "family" and self.rng.random() < 0.85

    def _paid(self, path: str, engine: Engine) -> int:
        paid = sum(1 for p, answer in engine.answers.items() if p.endswith("/wage") and answer is True)
        return max(0, paid - (self.rng.random() < 0.05))

    def _left_why_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["a quarrel", "went to sea", "married away"])

    # work

    def _trades_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(_OTHER_TRADES)

    def _jobs(self, path: str, engine: Engine) -> Any:
        return _DONT_KNOW if self.rng.random() < 0.05 else int(self.rng.lognormvariate(2.3, 0.6))

    def _price_low(self, path: str, engine: Engine) -> Any:
        if self.rng.random() < 0.07:
            return _REFUSED
        return str(round(PRICES[path.split("/")[1]] * self.rng.uniform(0.2, 0.8), 1))

    def _price_high(self, path: str, engine: Engine) -> Any:
        if engine.answers.get(path.replace("price_high", "price_low")) == _REFUSED:
            return _REFUSED
        return str(round(PRICES[path.split("/")[1]] * self.rng.uniform(0.9, 3.0), 1))

    def _share(self, path: str, engine: Engine) -> int:
        """The rows of a multiple answer come in the order of its list; the last takes what is left."""
        codes = [c["code"] for c in engine.release.lists["trades"] if c["code"] in self.trades]
        place = codes.index(path.split("/")[1])
        even = 100 // len(codes) // 5 * 5
        return even if place < len(codes) - 1 else 100 - even * (len(codes) - 1)

    def _tools(self, path: str, engine: Engine) -> list[str]:
        usual = dict.fromkeys(tool for trade in self.trades for tool in _TOOLS_OF[trade])
        return [tool for tool in usual if self.rng.random() < 0.85] or ["none"]

    def _tools_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["lathe", "kiln", "heat gun"])

    def _tool_cost(self, path: str, engine: Engine) -> Any:
        return _REFUSED if self.rng.random() < 0.08 else str(round(self.rng.lognormvariate(4.2, 0.7), 2))

    # money, scrap and energy

    def _earnings(self, path: str, engine: Engine) -> Any:
        draw = self.rng.random()
        if draw < 0.13:
            return _REFUSED if draw < 0.09 else _DONT_KNOW
        if self.enumerator.hasty:
            return 500
        amount = self.people * self.open_days * self.rng.lognormvariate(3.5, 0.45)
        # Some write the week's sum in hundredths: ten times too much and more.
        return str(round(amount * (100 if self.rng.random() < 0.06 else 1), 2))

    def _amount(self, path: str, engine: Engine) -> Any:
        return _REFUSED if self.rng.random() < 0.1 else str(round(self.rng.lognormvariate(4.5, 0.7)))

    def _sources_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["a stall", "lessons", "a lottery"])

    def _sack_weight(self, path: str, engine: Engine) -> int:
        return 15 + 5 * self.ward_number

    def _scrap(self, path: str, engine: Engine) -> Any:
        if self.rng.random() < 0.1:
            return _DONT_KNOW
        unit = self.rng.choice(["kg", "kg", "sack", "crate"])
        amount = self.rng.lognormvariate(2.4, 0.8)
        return {"amount": str(round(amount, 1) if unit == "kg" else max(1, round(amount / 12))), "unit": unit}

    def _scrap_sold(self, path: str, engine: Engine) -> Any:
        scrap = engine.answers["scrap"]
        return {"amount": str(round(float(scrap["amount"]) * self.rng.uniform(0, 0.8), 1)), "unit": scrap["unit"]}

    def _saved_of_ten(self, path: str, engine: Engine) -> int:
        return 8 if self.enumerator.hasty else min(10, max(1, round(self.rng.gauss(6.8, 1.5))))

    def _energy(self, path: str, engine: Engine) -> list[str]:
        found = [e for e, often in (("mains", 0.7), ("panels", 0.3), ("fuel", 0.4)) if self.rng.random() < often]
        return found or ["hand"]

    def _power(self, path: str, engine: Engine) -> Any:
        kwh = round(self.rng.lognormvariate(4.8, 0.6))
        return _DONT_KNOW if self.rng.random() < 0.15 else {"amount": str(kwh), "unit": "kWh"}

    def _fuel(self, path: str, engine: Engine) -> Any:
        return {"amount": str(round(self.rng.lognormvariate(2.5, 0.7))), "unit": "l"}

    # at the bench

    def _reading(self, amount: float) -> dict[str, Any]:
        return {"amount": str(round(amount, 1)), "instrument": _METER, "time": self.started.isoformat()}

    def _noise(self, path: str, engine: Engine) -> dict[str, Any]:
        loud = 70 if self.enumerator.hasty else max(_NOISE[trade] for trade in self.trades) + self.rng.gauss(0, 5)
        return self._reading(min(120, loud))

    def _warmth(self, path: str, engine: Engine) -> dict[str, Any]:
        return self._reading(20 if self.enumerator.hasty else self.rng.gauss(17, 4))

    def _bench_sound(self, path: str, engine: Engine) -> Taken | None:
        return None if self.rng.random() < 0.5 else Taken("audio", "bench.wav", "audio/wav", bench_sound(self.rng))

    def _film(self, path: str, engine: Engine) -> None:
        return None

    # opinions and closing

    def _problems(self, path: str, engine: Engine) -> Any:
        usual = {"parts": 6, "power": 3, "rent": 3, "custom": 3, "skills": 2, "space": 2}
        named: dict[str, None] = {}
        while len(named) < 3:
            named[self.rng.choices(list(usual), list(usual.values()))[0]] = None
        return list(named)

    def _code_of_scale(self, variable: str) -> Any:
        if self.enumerator.hasty:
            return "4"
        if self.rng.random() < 0.04:
            return _DONT_KNOW
        leaning = -self.cheer if variable in _AGREE_TURNED else self.cheer
        return str(min(5, max(1, round(3 + 1.3 * leaning + self.rng.gauss(0, 0.9)))))

    def _respected(self, path: str, engine: Engine) -> Any:
        return self._code_of_scale(path)

    _enough_work = _fair_price = _parts_near = _would_teach = _thrown_away = _would_stop = _respected

    def _phone_right(self, path: str, engine: Engine) -> dict[str, Any]:
        return {"confirmed": engine.answers["phone_number"]}

    def _unit_right(self, path: str, engine: Engine) -> dict[str, Any]:
        return {"confirmed": engine.answers["unit_code"]}

    def _remarks(self, path: str, engine: Engine) -> str | None:
        said = ["The roof leaks on the bench.", "Come again in the season.", "Spare tubes are dear."]
        return self.rng.choice([None, None, None, *said])

    def _went(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["well", "well", "well", "so_so", "badly"])


def unit_code(island: str, number: int) -> str:
    """The code on the door plate of workshop `number` of an island, with its two check digits (ISO/IEC 7064, MOD 97-10)."""
    body = f"{island[:2].upper()}{number % 9 + 1}X_{1000 + number * 13:04d}"
    return next(code for n in range(100) if check_digit_ok(code := f"{body}{n:02}", "mod 97-10"))
