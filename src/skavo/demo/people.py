"""Who works in the demo study. No such people exist."""

from __future__ import annotations

from dataclasses import dataclass

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


# What the phones tell of themselves when the fleet has handed in: gigabytes used of 32, battery, interviews in hand and
# packed, files that wait, hours that the clock is ahead, days since they were last heard of.
@dataclass(frozen=True)
class Told:
    gigabytes: float
    battery: int
    in_hand: int = 0
    packed: int = 0
    files: int = 0
    clock_hours: int = 0
    silent_days: int = 0


TOLD = {
    "phone 01": Told(6.7, 84, in_hand=1),
    "phone 02": Told(10.1, 61, packed=2, files=5),
    "phone 03": Told(5.8, 47, packed=4, files=9),
    "phone 04": Told(8.3, 92, in_hand=1, packed=1, files=2),
    "phone 05": Told(13.9, 38, in_hand=2, packed=3, files=7, clock_hours=26),
    "phone 06": Told(12.0, 20, in_hand=1, packed=6, files=14, silent_days=4),
    "phone 07": Told(29.8, 73, files=212),
    "phone 08": Told(10.9, 55, in_hand=2, packed=8, files=17),
}
