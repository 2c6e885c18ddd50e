"""A rule over the data set with its outside tables joined: which rows break it."""

from __future__ import annotations

from dataclasses import dataclass

from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import KEY
from skavo.core.dataset.rules import DataRules, error_of
from skavo.core.errors import DataError


@dataclass(frozen=True)
class Breaking:
    """`rows` of all rows of the table are a definite no; `interviews` are theirs, `unknown` rows neither yes nor no."""

    rows: int
    unknown: int
    of: int
    interviews: list[str]


def breaking(data: DataSet, table: str, rule: str) -> Breaking:
    """Raise DataError with the place of what is wrong in the rule."""
    if table not in data:
        raise DataError("unknown_table", f"There is no table “{table}”. There is: {', '.join(data)}.")
    rules = DataRules(data)
    tree, faults = rules.check(rule, table)
    if tree is None:
        raise error_of(faults[0], "rule")
    frame = data[table].frame
    values = rules.outcome(tree, table).values
    broken = frame.filter(values.eq(False).fill_null(False))
    return Breaking(
        rows=broken.height, unknown=values.null_count(), of=frame.height,
        interviews=broken[KEY].unique(maintain_order=True).to_list(),
    )  # fmt: skip
