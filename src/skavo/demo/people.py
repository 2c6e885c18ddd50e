"""Who works in the demo study, and how the made-up respondents answer. No such people exist."""

from __future__ import annotations

import random
from dataclasses import dataclass
from typing import Any

from skavo.core.interview.engine import Engine
from skavo.demo.places import WARDS

# login, name, role
STAFF = [
    ("dora", "Dora Maine", "data_manager"),
    ("sela", "Sela Brack", "supervisor"),
    ("orrin", "Orrin Vale", "supervisor"),
    ("ilse", "Ilse Varn", "enumerator"),
    ("kip", "Kip Ansel", "keyer"),
    ("anna", "Anna Rolt", "analyst"),
]
# By sign-in: the teams that a supervisor is limited to.
SUPERVISES = {"orrin": ["Tarrow and Vint"]}
PASSWORD = "ostrel-isles"


@dataclass(frozen=True)
class Enumerator:
    """`hasty` makes up interviews in a hurry; `shrinks` leaves people out of the roster to save time."""

    name: str
    island: str
    device: str
    team: str
    hasty: bool = False
    shrinks: bool = False


ENUMERATORS = [
    Enumerator("Ilse Varn", "kesk", "phone 01", "Kesk and Luma"),
    Enumerator("Mira Tole", "kesk", "phone 02", "Kesk and Luma"),
    Enumerator("Osk Perrin", "luma", "phone 03", "Kesk and Luma", hasty=True),
    Enumerator("Teva Lunn", "luma", "phone 04", "Kesk and Luma"),
    Enumerator("Brann Ode", "tarrow", "phone 05", "Tarrow and Vint"),
    Enumerator("Joss Arrel", "tarrow", "phone 06", "Tarrow and Vint", shrinks=True),
    Enumerator("Sunn Kade", "vint", "phone 07", "Tarrow and Vint"),
    Enumerator("Nim Calder", "vint", "phone 08", "Tarrow and Vint"),
]
# Why an answer was kept although it is unusual.
REASONS = {
    "age": ["Helps after school", "Learns the trade from an uncle", "Asked again, it is so"],
    "hours": ["It is the season", "Sleeps in the workshop"],
    "earnings": ["It is the season", "A large order", "Shown the book"],
}
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
_TRADES = ["bicycle"] * 6 + ["phone"] * 5 + ["radio"] * 3 + ["shoe"] * 4 + ["furniture"] * 3 + ["sail"] * 2 + ["other"]
_OTHER_TRADES = ["clocks", "Clocks", "clock repair", "umbrellas", "Umbrella"]
_TOOLS_OF = {
    "bicycle": ["vice", "drill", "grinder"], "phone": ["solder", "drill"], "radio": ["solder", "vice"],
    "shoe": ["sewing", "vice"], "furniture": ["vice", "drill", "grinder"], "sail": ["sewing"], "other": ["vice", "other"],
}  # fmt: skip
_HOURS_OF = {"bicycle": 44, "phone": 50, "radio": 37, "shoe": 47, "furniture": 42, "sail": 38, "other": 40}


class Workshop:
    """One respondent: answers every question of the demo questionnaire from its own, seeded facts."""

    def __init__(self, rng: random.Random, enumerator: Enumerator, number: int) -> None:
        self.rng = rng
        self.enumerator = enumerator
        self.number = number
        self.trade = rng.choice(_TRADES)
        people = min(9, max(1, round(rng.lognormvariate(0.9, 0.55))))
        self.people = 1 if enumerator.shrinks else 2 if enumerator.hasty else people
        self.open_days = rng.choice([5, 5.5, 6, 6, 6, 7, 4])
        self.names = rng.sample(_FIRST_NAMES, k=10)
        prefix = {"kesk": "KE", "luma": "LU", "tarrow": "TA", "vint": "VI"}[enumerator.island]
        self.unit_code = f"{prefix}{number % 9 + 1}X_{100000 + number * 137:06d}"

    def __call__(self, variable: str, path: str, engine: Engine) -> Any:
        answer = getattr(self, f"_{variable}", None)
        if answer is not None:
            return answer(path, engine)
        fixed = {
            "consent": True, "island": self.enumerator.island, "unit_code": self.unit_code, "trade": self.trade,
            "workers": self.people, "days_open": str(self.open_days), "call_back": self.rng.random() < 0.6,
            "phone_number": f"555 {self.rng.randrange(10_000):04d}", "bought_tool": self.rng.random() < 0.35,
        }  # fmt: skip
        return fixed.get(variable)

    def _ward(self, path: str, engine: Engine) -> str:
        own = [w.code for w in WARDS if w.island == self.enumerator.island]
        return own[0] if self.enumerator.hasty else self.rng.choice(own)

    def _opened(self, path: str, engine: Engine) -> Any:
        if self.enumerator.hasty:
            return 2010
        return {"special": "dont_know"} if self.rng.random() < 0.06 else int(self.rng.triangular(1950, 2025, 2012))

    def _trade_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(_OTHER_TRADES)

    def _name(self, path: str, engine: Engine) -> str:
        return self.names[int(path.split("/")[1]) - 1]

    def _age(self, path: str, engine: Engine) -> Any:
        if self.enumerator.hasty:
            return 30
        draw = self.rng.random()
        if draw < 0.03:
            return {"special": "refused"}
        return {"special": "dont_know"} if draw < 0.06 else int(self.rng.triangular(9, 71, 28))

    def _role(self, path: str, engine: Engine) -> str:
        if path.startswith("staff/1/"):
            return "owner"
        return self.rng.choice(["mender", "mender", "mender", "apprentice", "apprentice", "family", "counter", "other"])

    def _role_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["carries", "sweeps", "keeps the books"])

    def _hours(self, path: str, engine: Engine) -> Any:
        if self.enumerator.hasty:
            return 40
        if self.rng.random() < 0.05:
            return {"special": "dont_know"}
        return str(round(max(4.0, min(96.0, self.rng.gauss(_HOURS_OF[self.trade], 9))) * 2) / 2)

    def _paid(self, path: str, engine: Engine) -> int:
        return min(self.people, max(0, round(self.people * self.rng.uniform(0.5, 1.05))))

    def _tools(self, path: str, engine: Engine) -> list[str]:
        return [t for t in _TOOLS_OF[self.trade] if self.rng.random() < 0.85] or ["none"]

    def _tools_other(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["lathe", "kiln", "heat gun"])

    def _tool_cost(self, path: str, engine: Engine) -> Any:
        return {"special": "refused"} if self.rng.random() < 0.08 else str(round(self.rng.lognormvariate(4.2, 0.7), 2))

    def _earnings(self, path: str, engine: Engine) -> Any:
        draw = self.rng.random()
        if draw < 0.09:
            return {"special": "refused"}
        if draw < 0.13:
            return {"special": "dont_know"}
        if self.enumerator.hasty:
            return 500
        amount = self.people * self.open_days * self.rng.lognormvariate(3.5, 0.45)
        # Some write the week's sum in hundredths: ten times too much and more.
        return str(round(amount * (100 if self.rng.random() < 0.06 else 1), 2))

    def _scrap(self, path: str, engine: Engine) -> Any:
        return {"special": "dont_know"} if self.rng.random() < 0.1 else str(round(self.rng.lognormvariate(2.4, 0.8), 1))

    def _worst_problem(self, path: str, engine: Engine) -> str:
        return self.rng.choice(["parts", "parts", "parts", "power", "rent", "custom", "skills"])

    def _second_problem(self, path: str, engine: Engine) -> str | None:
        worst = engine.answers.get("worst_problem")
        return self.rng.choice([p for p in ("parts", "power", "rent", "custom", "skills") if p != worst])

    def _remarks(self, path: str, engine: Engine) -> str | None:
        return self.rng.choice(
            [None, None, None, "The roof leaks on the bench.", "Come again in the season.", "Spare tubes are dear."]
        )
