"""The profile of a data set: each variable with its shape, its kinds of nothing and what stands out."""

from __future__ import annotations

from dataclasses import dataclass

from skavo.core.cleaning.figures import Figures, figures_of
from skavo.core.cleaning.profile.decided import Decided
from skavo.core.cleaning.profile.findings import Finding, findings_of
from skavo.core.cleaning.profile.pairs import pairs_that_clash
from skavo.core.cleaning.profile.robust import fence_of
from skavo.core.cleaning.profile.shape import Bar, bars_of
from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import label_in


@dataclass(frozen=True)
class Profile:
    """`rows` counts those of the table, whether asked or not."""

    variable: str
    table: str
    kind: str
    measure: str
    label: str
    rows: int
    distinct: int
    figures: Figures
    bars: list[Bar]
    findings: list[Finding]


def profile_of(data: DataSet, decided: Decided | None = None) -> list[Profile]:
    """Every variable of a data set, in the order of its tables, without the findings that are `decided`."""
    settled = decided or Decided()
    clashing = pairs_that_clash(data)
    profiles = []
    for table in data.values():
        for column in table.layout.columns:
            values = table.frame[column.variable]
            fence = fence_of(values) if column.measure == "number" else None
            found = [*findings_of(table, column, fence, settled), *clashing.get(column.variable, [])]
            figures = figures_of(data, column.variable)
            assert figures is not None
            profiles.append(
                Profile(
                    column.variable, table.layout.name, column.kind, column.measure,
                    label_in(column.label, "en", column.variable), values.len(), values.drop_nulls().n_unique(), figures,
                    bars_of(column, values, fence), [f for f in found if f.count > settled.in_order.get((column.variable, f.kind), 0)],
                )
            )  # fmt: skip
    return profiles
