"""What a code filter comes to: codes that no answer lets through, answers that leave nothing to choose."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product
from typing import Any

from skavo.core.lists.hanging import FilterLink, read_link
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.outline import Entry
from skavo.core.questionnaire.script import CodeList, Script
from skavo.core.rules.evaluate import bind
from skavo.core.rules.state import Row, variables_in

# Beyond so many a filter is not worked out: the sheet has to answer while somebody types.
MOST_TRIED = 20_000
_NAMED = 3


def check_filters(script: Script, entries: list[Entry], parts: list[dict[str, Any]]) -> Iterator[Finding]:
    """Doubts about filters that depend on single answers and yes or no only; `parts` are the entries compiled."""
    for entry, compiled in zip(entries, parts, strict=True):
        tree, codes = compiled["code_filter"], script.list_named(entry.part.code_list)
        if tree is not None and codes is not None and codes.codes:
            yield from _check(script, entries, entry, tree, codes)


def _check(script: Script, entries: list[Entry], entry: Entry, tree: Any, codes: CodeList) -> Iterator[Finding]:
    if (link := read_link(entry.part.code_filter, codes.name)) is not None:
        yield from _check_link(script, entries, entry, link, codes)
        return
    if _reads_outside(tree):
        return
    asked = [entries[index] for index in sorted(variables_in(tree))]
    values = [_answers(script, other) for other in asked]
    tries = len(codes.codes)
    for known in values:
        tries *= len(known or ())
    if None in values or not 0 < tries <= MOST_TRIED:
        return
    state, row = _Given(len(entries)), (1,) * len(entry.rosters)
    passes = bind(tree)
    never, nothing = {code.code for code in codes.codes}, []
    for given in product(*[known or [] for known in values]):
        for other, value in zip(asked, given, strict=True):
            state.values[other.index] = {row[: len(other.rosters)]: value}
        left = set()
        for code in codes.codes:
            state.outside["code"] = {**code.attributes, "code": code.code}
            if passes(state, row) is True:
                left.add(code.code)
        never -= left
        if not left:
            nothing.append(given)
    yield from _told(entry, asked, never, nothing, codes)


def _check_link(
    script: Script, entries: list[Entry], entry: Entry, link: FilterLink, codes: CodeList
) -> Iterator[Finding]:
    """The filter of a list that hangs under another one: however long they are, it is seen at a glance."""
    asked = next((other for other in entries if other.part.variable == link.variable), None)
    answers = _answers(script, asked) if asked is not None else None
    if asked is None or not answers:
        return
    held = {code.code: {**code.attributes, "code": code.code}.get(link.attribute) for code in codes.codes}
    given = set(held.values())
    # Codes that stand under none of the answers are told of by their list (check_hanging).
    nothing = [(answer,) for answer in answers if answer not in given]
    yield from _told(entry, [asked], set(), nothing, codes)


_OUTSIDE = {"outside", "unit", "earlier", "row", "row_name", "known"}


def _reads_outside(tree: Any) -> bool:
    """Whether a rule rests on more than answers: the day, a register unit, the earlier round, the row at hand."""
    if not isinstance(tree, list) or not tree:
        return False
    return (isinstance(tree[0], str) and tree[0] in _OUTSIDE) or any(_reads_outside(piece) for piece in tree)


def _told(
    entry: Entry, asked: list[Entry], never: set[str], nothing: list[tuple[Any, ...]], codes: CodeList
) -> Iterator[Finding]:
    def doubt(code: str, message: str, mend: str) -> Finding:
        return Finding("doubt", code, message, mend, entry.source, entry.part.id, "code_filter")

    if never:
        listed = [code.code for code in codes.codes if code.code in never]
        mend = f"Look at their attributes in the list {codes.name}, or at this rule."
        yield doubt("never_offered", f"{_some(listed)} can never be chosen here.", mend)
    if nothing and asked and len(never) < len(codes.codes):
        cases = [
            " and ".join(f"{e.part.variable} is {_said(v)}" for e, v in zip(asked, g, strict=True)) for g in nothing
        ]
        mend = "Give the list codes for it, or ask only where there are some."
        yield doubt("nothing_left", f"Nothing is left to choose where {_some(cases)}.", mend)


def _some(names: list[str]) -> str:
    more = len(names) - _NAMED
    return ", ".join(names[:_NAMED]) + (f" and {more} more" if more > 0 else "")


def _said(value: Any) -> str:
    return {True: "yes", False: "no"}[value] if isinstance(value, bool) else str(value)


def _answers(script: Script, entry: Entry) -> list[Any] | None:
    """Every answer that a question can have, where they can be counted."""
    if entry.part.kind == "yes/no":
        return [True, False]
    listed = script.list_named(entry.part.code_list) if entry.part.kind == "single answer" else None
    return [code.code for code in listed.codes] if listed is not None else None


class _Given:
    """Answers given by hand, as far as a filter reads them (rules.state.State)."""

    def __init__(self, size: int) -> None:
        self.values: list[dict[Row, Any]] = [{} for _ in range(size)]
        self.special: list[dict[Row, str]] = [{} for _ in range(size)]
        self.asked: list[dict[Row, bool]] = [{} for _ in range(size)]
        self.rows: list[dict[Row, list[Any]]] = [{} for _ in range(size)]
        self.outside: dict[str, Any] = {}

    def label(self, code_list: str, code: str) -> str:
        return code
