"""What a new release calls otherwise, in the data set: so that saved steps, tables and joins go on meaning the same."""

from __future__ import annotations

from dataclasses import dataclass

from skavo.core.cleaning.naming import renamed_step
from skavo.core.cleaning.steps import AnyStep
from skavo.core.dataset.flatten import build_data_set
from skavo.core.dataset.layout import INTERVIEWS, layout_of, roster_names
from skavo.core.dataset.rules import DataRules, table_of
from skavo.core.dataset.senses import senses_of
from skavo.core.estimation.tables import TableRequest
from skavo.core.interview.release import Release
from skavo.core.rules.mentions import rename_in_rule


@dataclass(frozen=True)
class Renaming:
    """`names` leads from variables and rosters of the data set before a release to those after it; those of them that are
    `taken` are called so again, by something else."""

    names: dict[str, str]
    rules: DataRules
    taken: frozenset[str] = frozenset()

    def variable(self, name: str) -> str:
        return self.names.get(name, name)

    def rule(self, text: str, beside: str) -> str:
        """A rule that stands in a table, or in that of a variable, all as they were called before."""
        if not text.strip():
            return text
        table = beside if beside in self.rules.data else table_of(self.rules.data, beside) or INTERVIEWS
        return rename_in_rule(text, self.rules.scope_in(table), self.names)

    def step(self, step: AnyStep) -> AnyStep:
        return renamed_step(step, self.variable, self.rule)

    def request(self, request: TableRequest) -> TableRequest:
        return request.model_copy(
            update={
                "variable": self.variable(request.variable),
                "by": request.by and self.variable(request.by),
                "across": request.across and self.variable(request.across),
                "where": self.rule(request.where, request.variable),
            }
        )


def renaming(before: list[Release], new: Release) -> Renaming:
    """How the columns and tables of the releases `before`, oldest first, are called once `new` is the newest."""
    old_layouts, new_layouts = layout_of(before), layout_of([*before, new])
    after = {(c.part_id, c.piece): c.variable for t in new_layouts.values() for c in t.columns}
    # What meant something else before stands apart from now on, and what was done to it goes with it.
    stands = senses_of([*before, new])[len(before) - 1] if before else {}
    names = {
        column.variable: after[part, column.piece]
        for table in old_layouts.values()
        for column in table.columns
        if ((part := stands.get(column.part_id, column.part_id)), column.piece) in after
    }
    new_names = roster_names([*before, new])
    names |= {name: new_names[identity] for identity, name in roster_names(before).items()}
    changed = {old: new_name for old, new_name in names.items() if old != new_name}
    known = {*after.values(), *new_layouts}
    taken = frozenset(old for old in changed if old in known and old not in changed.values())
    return Renaming(changed, DataRules(build_data_set(old_layouts, [])), taken)
