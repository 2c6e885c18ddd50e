"""Which tables and columns the interviews of one questionnaire give, through all its releases.

Variables are matched by the lasting identity of their part; names, labels and order are those of the newest release
that has them.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, Literal

from skavo.core.dataset.pieces import PIECES, Piece
from skavo.core.interview.release import Release

INTERVIEWS = "interviews"
KEY = "interview.key"

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

    `piece` names the entry of the answer that stands in it, where a question gives several columns.
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

    Before anything is released there is the table of interviews, without variables.
    """
    tables: dict[str, dict[str, Any]] = {INTERVIEWS: {"parent": None, "keys": (KEY,), "label": {}, "columns": []}}
    for release in reversed(releases):
        for index in [-1, *[p.index for p in release.parts if p.repeat is not None]]:
            table = _table_of(release, index)
            known = tables.setdefault(table["name"], {**table, "columns": []})
            newer = {column.part_id for column in known["columns"]}
            known["columns"] += [c for c in _columns_of(release, index) if c.part_id not in newer]
    return {
        name: TableLayout(name, table["parent"], table["keys"], tuple(table["columns"]), table["label"])
        for name, table in tables.items()
    }


def _table_of(release: Release, roster: int) -> dict[str, Any]:
    if roster < 0:
        return {"name": INTERVIEWS, "parent": None, "keys": (KEY,), "label": {}}
    part = release.parts[roster]
    names = [release.parts[r].variable for r in part.rosters]
    keys = (KEY, *[f"{name}.row" for name in [*names, part.variable]])
    return {
        "name": part.variable,
        "parent": names[-1] if names else INTERVIEWS,
        "keys": keys,
        "label": plain_texts(part.raw["wording"]),
    }


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
