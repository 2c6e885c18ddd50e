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
