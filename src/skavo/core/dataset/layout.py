"""Which tables and columns the interviews of one questionnaire give, through all its releases.

Variables are matched by the lasting identity of their part; names, labels and order are those of the newest release
that has them.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, Literal, TypeVar

from skavo.core.dataset.pieces import PIECES, Piece
from skavo.core.dataset.senses import senses_of
from skavo.core.interview.release import Release
from skavo.core.questionnaire.variables import MOST_CHARACTERS

INTERVIEWS = "interviews"
KEY = "interview.key"
# Of a variable, in the strictest of the usual analysis files.
T = TypeVar("T")

MissingKind = Literal["unanswered", "not_asked", "dont_know", "refused"]
MISSING_KINDS: tuple[MissingKind, ...] = ("unanswered", "not_asked", "dont_know", "refused")
MISSING_WORDS = {
    "unanswered": "unanswered",
    "not_asked": "not asked",
    "dont_know": "don’t know",
    "refused": "refused",
}


@dataclass(frozen=True)
class Column:
    """A variable. `measure` says how it is stored: number, text, date, time, date-time, yes/no, code or codes.

    `piece` names the entry of the answer that stands in it, where a question gives several columns; `exclusive` are the
    codes that go with no other. `sources` are the parts that a step made it from, besides its own, so that it is as
    sensitive as they are; `unit` is what its numbers are counted in.
    """

    variable: str
    part_id: str
    kind: str
    measure: str
    label: dict[str, str] = field(default_factory=dict)
    codes: dict[str, dict[str, str]] = field(default_factory=dict)
    sensitive: bool = False
    whole: bool = False
    origin: str = "questionnaire"
    piece: str = ""
    exclusive: frozenset[str] = frozenset()
    sources: frozenset[str] = frozenset()
    unit: str = ""


@dataclass(frozen=True)
class TableLayout:
    """`name` is `interviews` or a roster's variable; `keys` lead from the interview to the row."""

    name: str
    parent: str | None
    keys: tuple[str, ...]
    columns: tuple[Column, ...]
    label: dict[str, str] = field(default_factory=dict)

    def column(self, variable: str) -> Column | None:
        return next((c for c in self.columns if c.variable == variable), None)


def layout_of(releases: list[Release]) -> dict[str, TableLayout]:
    """The tables of `releases`, oldest first; a part of an older release that the newest lacks comes last.

    A part of an older release whose name another part has taken since is called by its release as well: `age_r1`; so is one
    whose answers meant something else then (senses.py).
    Before anything is released there is the table of interviews, without variables.
    """
    tables = {"": _Growing(INTERVIEWS, None, (KEY,), {})}
    senses = senses_of(releases)
    names = _Names(roster_names(releases))
    for number, release in reversed(list(enumerate(releases, 1))):
        for index in [-1, *[p.index for p in release.parts if p.repeat is not None]]:
            identity = "" if index < 0 else release.parts[index].raw["id"]
            if identity not in tables:
                tables[identity] = _table_of(release, index, names.tables)
            known = tables[identity].columns
            newer = {(column.part_id, column.piece) for column in known}
            known += [
                replace(column, variable=names.free(column.variable, number))
                for column in _in_sense(_columns_of(release, index), senses[number - 1])
                if (column.part_id, column.piece) not in newer
            ]
    return {t.name: TableLayout(t.name, t.parent, t.keys, tuple(t.columns), t.label) for t in tables.values()}


def _in_sense(columns: list[Column], senses: dict[str, str]) -> list[Column]:
    """Columns under the identities that their answers stand under; what they come from is as sensitive as it was."""
    return [
        replace(
            c,
            part_id=senses[c.part_id],
            sources=c.sources | {c.part_id},
            label={lang: f"{text} ({senses[c.part_id].rpartition('@')[2]})" for lang, text in c.label.items()},
        )
        if c.part_id in senses
        else c
        for c in columns
    ]


def roster_names(releases: list[Release]) -> dict[str, str]:
    """The name of each roster's table, by the identity of its part: that of the newest release that has it."""
    names: dict[str, str] = {}
    for number, release in reversed(list(enumerate(releases, 1))):
        for part in release.parts:
            if part.repeat is not None and part.raw["id"] not in names:
                names[part.raw["id"]] = _free(part.variable, number, {INTERVIEWS, *names.values()})
    return names


def tables_by_now(release: Release, names: dict[str, str], tables: dict[str, T]) -> dict[str, T]:
    """What was laid out with `release`, by the names that its tables have now (`roster_names`)."""
    called = {part.variable: names[part.raw["id"]] for part in release.parts if part.repeat is not None}
    return {called.get(name, name): rows for name, rows in tables.items()}


@dataclass
class _Growing:
    name: str
    parent: str | None
    keys: tuple[str, ...]
    label: dict[str, str]
    columns: list[Column] = field(default_factory=list)


class _Names:
    """Names given so far: of `tables` by the identity of their roster, and of columns; none is given twice."""

    def __init__(self, tables: dict[str, str]) -> None:
        self.tables = tables
        self.taken = {INTERVIEWS, *tables.values()}

    def free(self, name: str, number: int) -> str:
        found = _free(name, number, self.taken)
        self.taken.add(found)
        return found


def _free(name: str, number: int, taken: set[str]) -> str:
    """`name`, or where that is taken, the same with the number of the release behind it."""
    free, again = name, 1
    while free in taken:
        tail = f"_r{number}" if again == 1 else f"_r{number}_{again}"
        free, again = f"{name[: MOST_CHARACTERS - len(tail)]}{tail}", again + 1
    return free


def _table_of(release: Release, roster: int, names: dict[str, str]) -> _Growing:
    part = release.parts[roster]
    around = [names[release.parts[r].raw["id"]] for r in part.rosters]
    own = names[part.raw["id"]]
    keys = (KEY, *[f"{name}.row" for name in [*around, own]])
    return _Growing(own, around[-1] if around else INTERVIEWS, keys, plain_texts(part.raw["wording"]))


def _columns_of(release: Release, roster: int) -> list[Column]:
    around = () if roster < 0 else (*release.parts[roster].rosters, roster)
    return [
        column
        for part in release.parts
        if part.rosters == around and (part.kind.takes_answer or part.derived is not None)
        for column in _columns(release, part.index)
    ]


def _columns(release: Release, index: int) -> list[Column]:
    part = release.parts[index]
    raw = part.raw
    wording = release.parts[raw["specifies"]].raw["wording"] if raw["specifies"] is not None else raw["wording"]
    labels = plain_texts(wording)
    whole = Column(
        variable=part.variable,
        part_id=raw["id"],
        kind=part.kind.name,
        measure=_MEASURES.get(raw["type"], raw["type"]),
        label=labels,
        codes=dict(release.labels.get(raw["code_list"], {})) if part.kind.uses_codes else {},
        sensitive=raw["sensitive"],
        whole=part.kind.name == "whole number",
        exclusive=frozenset(release.exclusive.get(raw["code_list"], ())) if part.kind.uses_codes else frozenset(),
    )
    pieces = PIECES.get(part.kind.name)
    return [whole] if pieces is None else [_piece(whole, piece, raw) for piece in pieces]


def _piece(whole: Column, piece: Piece, raw: dict[str, Any]) -> Column:
    base = raw["base_unit"] if piece.key == "size" else ""
    words = piece.words or base
    return replace(
        whole,
        variable=whole.variable + piece.suffix,
        measure=piece.measure,
        label={lang: f"{text} ({words})" if words else text for lang, text in whole.label.items()},
        codes={u["unit"]: u["label"] for u in raw["units"]} if piece.key == "unit" else {},
        piece=piece.key,
    )


# Types of rules that a table keeps as another measure.
_MEASURES = {"quantity": "number", "unit": "text"}


def plain_texts(texts: dict[str, list[Any]]) -> dict[str, str]:
    """Texts as labels: what is filled in from answers is shown as …"""
    return {lang: "".join(s if isinstance(s, str) else "…" for s in segments) for lang, segments in texts.items()}


def label_in(texts: dict[str, str], language: str, otherwise: str = "") -> str:
    """A text in `language`, or in any other it has."""
    return texts.get(language) or next(iter(texts.values()), "") or otherwise
