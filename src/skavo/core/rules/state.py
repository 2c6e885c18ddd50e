"""What rules read: the state of an interview, literals, fields of registers, rows; and which parts a typed tree reads.

Standard library only: the phone loads this.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date, datetime, time
from decimal import Decimal
from typing import Any, NamedTuple, Protocol

from skavo.core.rules.values import Duration, tidy

Row = tuple[Any, ...]
Tree = Any
Rule = Callable[["State", Row], Any]


class State(Protocol):
    """What a rule reads: one table per part, keyed by row (`()` outside rosters).

    `values` holds effective answers (a missing one is absent), `special` the special answers,
    `asked` the rows where the part is asked, `rows` the row names of a roster under each outer row.
    `outside` is what is known besides the answers: `now`, `interview.started` …, `unit` (the id of the unit that the
    interview is about), `units` (register units by id), `earlier` (values of the earlier round by part and row).
    """

    values: list[dict[Row, Any]]
    special: list[dict[Row, str]]
    asked: list[dict[Row, bool]]
    rows: list[dict[Row, list[Any]]]
    outside: dict[str, Any]

    def label(self, code_list: str, code: str) -> str: ...


def read_literal(type_name: str, value: Any) -> Any:
    """A literal's JSON form as a Python value."""
    if type_name == "number":
        return tidy(Decimal(value))
    if type_name == "date":
        return date.fromisoformat(value)
    if type_name == "time":
        return time.fromisoformat(value)
    if type_name == "date-time":
        return datetime.fromisoformat(value)
    if type_name == "duration":
        return Duration(*value)
    return value


def read_attribute(type_name: str, raw: Any) -> Any:
    """A register's field as a value of a type; missing where it cannot be read as one."""
    if raw is None or raw == "":
        return None
    try:
        if type_name == "yes/no":
            return {"yes": True, "no": False, "true": True, "false": False}.get(str(raw).lower())
        if type_name in ("number", "quantity"):
            return tidy(Decimal(str(raw)))
        if type_name in ("date", "time", "date-time"):
            return read_literal(type_name, str(raw))
    except (ArithmeticError, ValueError):
        return None
    return str(raw)


def rows_under(state: State, rosters: list[int], row: Row) -> Iterator[Row]:
    """All rows of the innermost of `rosters` below `row`; `rosters` lead from `row` inwards."""
    if not rosters:
        yield row
        return
    for name in state.rows[rosters[0]].get(row, ()):
        yield from rows_under(state, rosters[1:], (*row, name))


def reads_of(tree: Tree) -> dict[int, int]:
    """The parts that `tree` reads, rosters of aggregates included, each with how many rows around it are those at hand.

    A rule in the third row of a roster that reads an answer of its own row shares one; a sum over all rows shares none.
    """
    found: dict[int, int] = {}
    if not isinstance(tree, list) or not tree or tree[0] == "literal":
        return found
    op = tree[0]
    place = _READS.get(op) if isinstance(op, str) else None
    if place is not None:
        return {tree[place.part]: tree[place.depth] - place.outside}
    for piece in tree:
        for index, shared in reads_of(piece).items():
            found[index] = min(shared, found.get(index, shared))
    if op == "aggregate":
        found |= dict.fromkeys(tree[2], tree[3])
        return {index: min(shared, tree[3]) for index, shared in found.items()}
    return found


def variables_in(tree: Tree) -> set[int]:
    """The indexes of all parts that `tree` reads, rosters of aggregates included."""
    return set(reads_of(tree))


def with_names(tree: Tree, name: Callable[[int], str]) -> Tree:
    """The same tree with the parts that it reads named instead of numbered."""
    if not isinstance(tree, list) or not tree or tree[0] == "literal":
        return tree
    op = tree[0]
    named = [with_names(piece, name) for piece in tree]
    place = _READS.get(op) if isinstance(op, str) else None
    if place is not None:
        named[place.part] = name(tree[place.part])
    if op == "aggregate":
        named[2] = [name(roster) for roster in tree[2]]
    return named


class _Reads(NamedTuple):
    """Where an op names the part that it reads and how deep that stands; a row's number rests on all rows beside it."""

    part: int
    depth: int
    outside: int = 0


_READS = {"variable": _Reads(1, 2), "status": _Reads(2, 3), "row": _Reads(2, 1, 1)}
