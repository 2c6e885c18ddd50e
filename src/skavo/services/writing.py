"""What the script sheet asks for while a script is written: nothing of it is kept until the script is saved."""

from __future__ import annotations

from dataclasses import dataclass

from pydantic import BaseModel

from skavo.core.errors import DataError
from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.graft import Fragment, graft
from skavo.core.questionnaire.propose import Around, Proposal, propose
from skavo.core.questionnaire.rename import Followed, rename_variables
from skavo.core.questionnaire.script import Part, Script
from skavo.core.questionnaire.variables import is_variable, suggest_variable
from skavo.formats.workbook.cells import read_cells
from skavo.formats.workbook.sheets import CellFault
from skavo.services.refusals import Refused

MOST_ROWS = 5_000
HOLDERS = frozenset(kind.name for kind in KINDS.values() if kind.holds_parts)


class RenamedOut(BaseModel):
    """`followed` are the places that mentioned a renamed variable and were changed with it."""

    script: Script
    followed: list[Followed]


class GraftedOut(BaseModel):
    """`added` are the identities of the lines put in; `renamed` and `lists_renamed` lead from old names to new ones."""

    script: Script
    added: list[str]
    renamed: dict[str, str]
    lists_renamed: dict[str, str]


class PastedOut(BaseModel):
    """Lines read from cells. `headings` is what each column was taken to be, "" for one left out."""

    headings: list[str]
    heads: bool
    fragment: Fragment
    faults: list[CellFault]


def renamed(script: Script, names: dict[str, str]) -> RenamedOut:
    """The script with parts called otherwise; refused where a new name is unlawful or taken."""
    others = {p.variable for p in script.parts if p.variable and p.id not in names}
    for name in names.values():
        if not is_variable(name):
            mend = suggest_variable(name)
            raise Refused("wrong_variable", f"“{name}” is no variable name. Write, for instance: {mend}")
        if name in others:
            raise Refused("double_variable", f"“{name}” is already the variable of another line.")
    found = rename_variables(script, names)
    return RenamedOut(script=found.script, followed=found.followed)


def grafted(script: Script, fragment: Fragment, at: int, level: int, prefix: str) -> GraftedOut:
    """Lines from elsewhere put in; see core."""
    return GraftedOut(**vars(graft(script, fragment, at, level, prefix)))


@dataclass(frozen=True)
class NewLine:
    """`holds` says that the line is a section, roster or grid."""

    wording: dict[str, str]
    holds: bool = False


def proposals(around: Around, lines: list[NewLine]) -> list[Proposal]:
    """A proposal for each line, none of two with the same variable."""
    taken, found = set(around.taken), []
    for line in lines:
        proposal = propose(Around(around.languages, taken, around.lists), line.wording, line.holds)
        taken.add(proposal.variable)
        found.append(proposal)
    return found


def pasted(script: Script, rows: list[list[str]], headings: list[str]) -> PastedOut:
    """Cells of a spreadsheet as lines; a line without a kind or a variable gets what its wording proposes."""
    if not any(cell.strip() for row in rows for cell in row):
        raise DataError("nothing_pasted", "There is nothing in these cells.", {})
    if len(rows) > MOST_ROWS:
        message = f"{len(rows):,} rows are more than the {MOST_ROWS:,} that are taken at once. Copy them in parts."
        raise DataError("too_many_rows", message, {"rows": len(rows)})
    read = read_cells(rows, script.languages, headings)
    needed_given = "answer needed" in {h.lower() for h in read.headings}
    taken = {p.variable for p in [*script.parts, *read.parts] if p.variable}
    lists = [entry.name for entry in script.code_lists]
    for place, part in enumerate(read.parts):
        proposal = propose(Around(script.languages, taken, lists), part.wording, part.kind in HOLDERS)
        _complete(part, proposal, place in read.kindless, needed_given)
        taken.add(part.variable)
    fragment = Fragment(languages=script.languages, parts=read.parts)
    return PastedOut(headings=read.headings, heads=read.heads, fragment=fragment, faults=read.faults)


def _complete(part: Part, proposal: Proposal, kindless: bool, needed_given: bool) -> None:
    """Fill what the cells leave open: the kind, what goes with it, the variable."""
    if kindless and not part.code_list:
        part.kind = proposal.kind
        part.code_list, part.unit = proposal.code_list, part.unit or proposal.unit
        if not needed_given:
            part.answer_needed = part.answer_needed or proposal.answer_needed
    if not part.variable and part.kind not in ("section", "statement"):
        part.variable = proposal.variable
