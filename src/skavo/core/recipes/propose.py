"""Which variable of a source is which of those before: proposed, to be looked at."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel

from skavo.core.dataset.flatten import DataSet, Table
from skavo.core.dataset.layout import INTERVIEWS, Column, label_in
from skavo.core.questionnaire.variables import MOST_CHARACTERS
from skavo.core.recipes.stack import clashes_of, same_words


class Pairing(BaseModel):
    """A variable or roster of a source, and what it is called in the data set.

    `by` says how it was found: by its lasting identity, its name or its label, or *new* where nothing before is the same.
    `apart` says why it stands beside a variable of the same name or identity, and not in it.
    """

    theirs: str
    called: str
    by: str
    label: str
    codes: dict[str, str]
    apart: str


class StackProposal(BaseModel):
    """`names` and `codes` as a source of a recipe has them: only what is called otherwise."""

    names: dict[str, str]
    codes: dict[str, dict[str, str]]
    pairings: list[Pairing]


def propose(before: DataSet, other: DataSet, language: str = "en") -> StackProposal:
    """How `other` goes under what was stacked `before`. What cannot be told to be the same stands apart."""
    taken = {name for name, _ in _names(before)}
    pairings: list[Pairing] = []
    tables: dict[str, str] = {}
    for name, table in other.items():
        found, by = _table_like(before, table, tables)
        called = found or _free(name, taken)
        taken.add(called)
        tables[name] = called
        if name != INTERVIEWS:
            label = label_in(table.layout.label, language, name)
            pairings.append(Pairing(theirs=name, called=called, by=by, label=label, codes={}, apart=""))
        known = list(before[found].layout.columns) if found is not None else []
        pairings += _columns(known, table, taken, language)
    names = {p.theirs: p.called for p in pairings if p.theirs != p.called}
    return StackProposal(names=names, codes={p.theirs: p.codes for p in pairings if p.codes}, pairings=pairings)


def _names(data: DataSet) -> Iterator[tuple[str, str]]:
    for name, table in data.items():
        yield name, name
        for column in table.layout.columns:
            yield column.variable, name


def _table_like(before: DataSet, table: Table, tables: dict[str, str]) -> tuple[str | None, str]:
    if table.layout.name == INTERVIEWS:
        return INTERVIEWS, "name"
    parent = tables.get(table.layout.parent or "")
    siblings = [other.layout for other in before.values() if other.layout.parent == parent]
    free = [layout for layout in siblings if layout.name not in tables.values()]
    by_name = next((layout.name for layout in free if layout.name == table.layout.name), None)
    if by_name is not None:
        return by_name, "name"
    by_label = next((layout.name for layout in free if same_words(layout.label, table.layout.label)), None)
    return (by_label, "label") if by_label is not None and table.layout.label else (None, "new")


def _columns(known: list[Column], table: Table, taken: set[str], language: str) -> Iterator[Pairing]:
    left = {column.variable: column for column in known}
    partners: dict[str, tuple[Column, str]] = {}
    # What is surely the same comes first: nothing is taken away from an identity by a name, nor from a name by a label.
    for by in ("identity", "name", "label"):
        for column in table.layout.columns:
            if column.variable not in partners and (found := _like(left, column, by)) is not None:
                partners[column.variable] = (left.pop(found), by)
    for column in table.layout.columns:
        label = label_in(column.label, language, column.variable)
        ours, by = partners.get(column.variable, (None, "new"))
        if ours is None:
            called = _free(column.variable, taken)
            yield Pairing(theirs=column.variable, called=called, by=by, label=label, codes={}, apart="")
        else:
            codes, apart = _matched(ours, column)
            called = ours.variable if not apart else _free(column.variable, taken)
            yield Pairing(theirs=column.variable, called=called, by=by, label=label, codes=codes, apart=apart)
        taken.add(called)


def _like(left: dict[str, Column], column: Column, by: str) -> str | None:
    if by == "name":
        return column.variable if column.variable in left else None
    for ours in left.values():
        same_part = (ours.part_id, ours.piece) == (column.part_id, column.piece)
        if same_part if by == "identity" else ours.label and same_words(ours.label, column.label):
            return ours.variable
    return None


def _matched(ours: Column, theirs: Column) -> tuple[dict[str, str], str]:
    """What the codes of a variable become so that they mean the same, or why they cannot."""
    clashes = clashes_of(ours, theirs, 0, theirs.variable)
    if not clashes:
        return {}, ""
    if not clashes[0].code:
        return {}, clashes[0].words
    becomes: dict[str, str] = {}
    for code, label in theirs.codes.items():
        same = next((known for known, words in ours.codes.items() if same_words(words, label)), None)
        if same is None and code in ours.codes:
            return {}, next(clash.words for clash in clashes if clash.code == code)
        if same is not None and same != code:
            becomes[code] = same
    return becomes, ""


def _free(name: str, taken: set[str]) -> str:
    free, again = name, 2
    while free in taken:
        tail = f"_{again}"
        free, again = f"{name[: MOST_CHARACTERS - len(tail)]}{tail}", again + 1
    return free
