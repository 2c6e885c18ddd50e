"""The rows of rosters: their names, which stay when another row is removed."""

from __future__ import annotations

from collections.abc import Collection
from itertools import count
from typing import Any

from skavo.core.interview.answers import WrongAnswer
from skavo.core.interview.release import PartSpec
from skavo.core.rules.state import Row, Rule, State

MOST_ROWS = 500
# Rosters in rosters multiply: what a slip of the finger, or a stranger, may ask of a phone and of the server.
MOST_ROWS_IN_ALL = 50_000


def row_names(form: str, rule: Rule, state: State, row: Row, removed: Collection[int]) -> list[int]:
    """The names of a counted roster's rows: 1, 2, 3 …, without those that were removed."""
    names = (n for n in count(1) if n not in removed)
    if form == "while":
        found = [next(names)]
        while len(found) < MOST_ROWS and rule(state, (*row, found[-1])) is True:
            found.append(next(names))
        return found
    wanted = rule(state, row)
    return [] if wanted is None else [next(names) for _ in range(max(0, min(int(wanted), MOST_ROWS)))]


def read_removed(part: PartSpec, raw: Any) -> frozenset[int]:
    """A roster's own answer, {"removed": [2, 5]}: the names of rows that were taken out."""
    names = raw.get("removed") if isinstance(raw, dict) else None
    counted = part.repeat is not None and part.repeat[0] in ("times", "while")
    if not counted or not isinstance(names, list) or not all(type(n) is int and n > 0 for n in names):
        raise WrongAnswer("takes_no_answer")
    return frozenset(names)


def lowered_count(part: PartSpec, row: Row, values: list[dict[Row, Any]]) -> tuple[int, Row, int] | None:
    """The variable that says how many rows there are, its row and one less; None where it is no plain answer."""
    form, tree = part.raw["repeat"][:2]
    if form != "times" or tree[0] != "variable":
        return None
    index, depth = tree[1], tree[2]
    present = values[index].get(row[:depth])
    return (index, row[:depth], int(present) - 1) if present is not None and present >= 1 else None


def is_of_register(unit: dict[str, Any], register: str) -> bool:
    """Whether a unit belongs to a register; one that does not say so belongs to any."""
    return not register or unit.get("register", register) == register


def units_under(units: dict[str, dict[str, Any]], above: str, register: str) -> list[str]:
    """The ids of the units of a register ("" for any) directly below one, in the register's order."""
    return [key for key, unit in units.items() if unit.get("under") == above and is_of_register(unit, register)]
