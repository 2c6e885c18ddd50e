"""Code lists from a table's rows: one list, brought up to date from it, or a whole tree of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from skavo.core.questionnaire.graft import free_name
from skavo.core.questionnaire.script import Code, CodeList, ListTable
from skavo.core.questionnaire.variables import suggest_variable

MOST_CODES = 50_000
Cells = Mapping[str, str | None]


@dataclass(frozen=True)
class CodeChange:
    """A code whose labels or attributes the table gives otherwise; both in words."""

    code: str
    before: str
    after: str


@dataclass(frozen=True)
class Doubtful:
    """A row of the table (2 is the first below the headings) that gives no code, and why."""

    row: int
    message: str


@dataclass(frozen=True)
class Update:
    """A list as the table has it. `missing` are codes that the table lacks: left out where that was asked for."""

    code_list: CodeList
    added: list[str]
    changed: list[CodeChange]
    missing: list[str]
    doubtful: list[Doubtful]


def update_list(present: CodeList, rows: Sequence[Cells], table: ListTable, *, drop_missing: bool = False) -> Update:
    """Bring a list up to date from the rows of a table; codes keep what the table says nothing of.

    Codes come in the order of the table, those it lacks behind. Without a column of codes they follow from the label,
    and the same label again is the same code.
    """
    known = {code.code: code for code in present.codes}
    by_label = {_first(code.label, table): code.code for code in present.codes}
    taken = set(known)
    found: dict[str, Code] = {}
    added, changed, doubtful = [], [], []
    for number, row in enumerate(rows, start=2):
        label = {tag: (row.get(column) or "").strip() for tag, column in table.labels.items()}
        name = (row.get(table.code) or "").strip() if table.code else _named(label, table, by_label, taken)
        if not table.code and name in found:
            continue
        taken.add(name)
        if not name or name in found:
            doubtful.append(Doubtful(number, f"“{name}” stands in the table twice." if name else "There is no code."))
            continue
        before = known.get(name)
        code = before.model_copy(deep=True) if before else Code(code=name)
        code.label |= {tag: said for tag, said in label.items() if said}
        code.attributes |= {column: (row.get(column) or "").strip() for column in table.attributes}
        found[name] = code
        if before is None:
            added.append(name)
        elif before != code:
            changed.append(CodeChange(name, _said(before), _said(code)))
    missing = [code.code for code in present.codes if code.code not in found]
    kept = [] if drop_missing else [known[name] for name in missing]
    updated = present.model_copy(update={"codes": [*found.values(), *kept]})
    return Update(updated, added, changed, missing, doubtful)


def _first(label: Mapping[str, str], table: ListTable) -> str:
    return next((label[tag] for tag in table.labels if label.get(tag)), "")


def _named(label: Mapping[str, str], table: ListTable, by_label: dict[str, str], taken: set[str]) -> str:
    said = _first(label, table)
    if said and said not in by_label:
        by_label[said] = free_name(suggest_variable(said), taken)
    return by_label.get(said, "")


def _said(code: Code) -> str:
    labels = " · ".join(code.label.values())
    held = ", ".join(f"{key} {value}" for key, value in sorted(code.attributes.items()))
    return f"{labels} ({held})" if held else labels


@dataclass(frozen=True)
class Level:
    """One level of a tree: the list it becomes, the columns of its labels and, where there is one, of its codes."""

    name: str
    label: str
    code: str = ""


def lists_of_levels(rows: Sequence[Cells], levels: Sequence[Level], language: str) -> list[CodeList]:
    """A list for each level, the widest first: rows hold one branch each, as island, ward, street.

    A code hangs under the one left of it, by an attribute called like that one's list. The same name under two of
    them is two codes. What stands right of an empty cell is left out.
    """
    lists = [CodeList(name=level.name) for level in levels]
    taken: list[set[str]] = [set() for _ in levels]
    known: dict[tuple[str, ...], str] = {}
    for row in rows:
        branch: tuple[str, ...] = ()
        for depth, level in enumerate(levels):
            said = (row.get(level.label) or "").strip()
            written = (row.get(level.code) or "").strip() if level.code else ""
            if not said and not written:
                break
            above, branch = branch, (*branch, written or said)
            if branch in known:
                continue
            name = free_name(written or suggest_variable(said), taken[depth])
            taken[depth].add(name)
            known[branch] = name
            held = {levels[depth - 1].name: known[above]} if depth else {}
            lists[depth].codes.append(Code(code=name, label={language: said or written}, attributes=held))
    return lists
