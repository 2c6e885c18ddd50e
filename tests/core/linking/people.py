"""People in two lists, some of them in both, spelt otherwise; seeded, and nobody is real."""

from __future__ import annotations

import random

FIRST = [
    "Bela",
    "Caro",
    "Dena",
    "Elin",
    "Fara",
    "Hale",
    "Jona",
    "Kato",
    "Lior",
    "Nilo",
    "Pell",
    "Runa",
    "Ulla",
    "Wim",
    "Yara",
]
SYLLABLES = ["ba", "lo", "ri", "ten", "va", "mo", "kel", "dar", "sun", "per", "nik", "ost", "ran", "lu", "fen"]
WARDS = [f"W{n}" for n in range(14)]
Row = dict[str, str]


def person(chance: random.Random) -> Row:
    family = "".join(chance.choice(SYLLABLES) for _ in range(chance.choice([2, 3]))).title()
    born = f"{chance.randrange(1940, 2010)}-{chance.randrange(1, 13):02}-{chance.randrange(1, 29):02}"
    return {"name": f"{chance.choice(FIRST)} {family}", "born": born, "ward": chance.choice(WARDS)}


def written_again(chance: random.Random, row: Row, slips: float) -> Row:
    """The same person as somebody else wrote them down."""
    name, (year, month, day), ward = row["name"], row["born"].split("-"), row["ward"]
    if chance.random() < slips:
        at = chance.randrange(len(name) - 1)
        name = chance.choice([name[:at] + name[at + 1] + name[at] + name[at + 2 :], name[:at] + name[at + 1 :]])
    if chance.random() < 0.1:
        name = " ".join(reversed(name.split()))
    born = f"{year}-{month}-{day}"
    if chance.random() < slips / 2:
        born = chance.choice([f"{year}-{month}-{max(1, int(day) - 1):02}", "", f"{year}-{int(day) % 12 + 1:02}-{day}"])
    return {"full_name": name.upper(), "born": born, "ward": chance.choice(WARDS) if chance.random() < 0.1 else ward}


def two_lists(people: int, both: int, slips: float, seed: int = 1) -> tuple[list[Row], list[Row], set[tuple[int, int]]]:
    """Two lists of so many people, and which rows are the same of those in both."""
    chance = random.Random(seed)
    left = [person(chance) for _ in range(people)]
    others = [written_again(chance, person(chance), 0) for _ in range(people - both)]
    right = [written_again(chance, row, slips) for row in left[:both]] + others
    order = list(range(people))
    chance.shuffle(order)
    at = {old: new for new, old in enumerate(order)}
    return left, [right[old] for old in order], {(n, at[n]) for n in range(both)}
