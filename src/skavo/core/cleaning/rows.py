"""Steps that leave rows out: the same interview twice, rows of a roster, whole interviews. None is lost: each is told."""

from __future__ import annotations

import polars as pl

from skavo.core.cleaning.copies import end_of_chain
from skavo.core.cleaning.steps import Duplicates, LeaveOut, RowsOut
from skavo.core.cleaning.work import Work
from skavo.core.dataset.flatten import Table
from skavo.core.dataset.layout import INTERVIEWS, KEY
from skavo.core.errors import DataError


def duplicates(work: Work, step: Duplicates) -> None:
    table = work.find_table(INTERVIEWS)
    if not step.variables and not step.by_hand and not step.apart:
        raise DataError(
            "no_variables", "Name the variables in which two interviews are the same.", {"field": "variables"}
        )
    kept_by = _the_same(work, table, step) if step.variables else {}
    for copy, other in step.apart:
        for one, kept in ((copy, other), (other, copy)):
            if kept_by.get(one) == kept:
                del kept_by[one]
    kept_by |= step.by_hand
    known = set(table.frame[KEY].to_list())
    kept_by = {copy: end_of_chain(kept_by, kept) for copy, kept in kept_by.items() if copy in known}
    # A ring of copies would leave none of them.
    kept_by = {copy: kept for copy, kept in kept_by.items() if kept in known and kept != copy}
    keys = table.frame[KEY]
    copies = keys.replace_strict(kept_by, default=None, return_dtype=pl.String)
    work.drop(table, copies.is_not_null(), copies)


def _the_same(work: Work, table: Table, step: Duplicates) -> dict[str, str]:
    """Each copy with the interview that is kept of those that are the same; a missing value is like none."""
    for name in step.variables:
        found, _ = work.find(name)
        if found.layout.name != INTERVIEWS:
            raise DataError("other_table", f"“{name}” is not asked once per interview.", {"field": "variables"})
    filled = pl.sum_horizontal([pl.col(c.variable).is_not_null().cast(pl.Int32) for c in table.layout.columns])
    frame = table.frame.select(KEY, *step.variables, filled.alias("#filled")).with_row_index("#")
    frame = frame.drop_nulls(step.variables)
    order = {"first": pl.col("#"), "last": -pl.col("#").cast(pl.Int64), "fullest": -pl.col("#filled").cast(pl.Int64)}
    best = pl.col(KEY).sort_by([order[step.keep], pl.col("#")]).first().over(step.variables)
    pairs = frame.select(KEY, best.alias("kept")).filter(pl.col(KEY) != pl.col("kept"))
    return dict(pairs.iter_rows())


def rows_out(work: Work, step: RowsOut) -> None:
    table = work.find_table(step.table)
    if step.table == INTERVIEWS:
        raise DataError(
            "not_a_roster", "Interviews are left out by a step of its own, with a reason.", {"field": "table"}
        )
    if not step.rule.strip() and not step.rows:
        raise DataError("no_rows", "Say which rows: by a rule, or one by one.", {"field": "rule"})
    here = work.where(step.rule, table) if step.rule.strip() else _listed(table, [])
    work.drop(table, (here | _listed(table, step.rows)) & ~_listed(table, step.but))


def _listed(table: Table, rows: list[list[str]]) -> pl.Series:
    """Which rows of a table are among some, each {interview, names of rows}."""
    keys = list(table.layout.keys)
    fitting = [row for row in rows if len(row) == len(keys)]
    wanted = pl.DataFrame(fitting, schema=dict.fromkeys(keys, pl.String), orient="row")
    found = table.frame.select(keys).join(
        wanted.unique().with_columns(there=True), on=keys, how="left", maintain_order="left"
    )
    return found["there"].fill_null(False)


def leave_out(work: Work, step: LeaveOut) -> None:
    table = work.find_table(INTERVIEWS)
    if not step.reason.strip():
        raise DataError("no_reason", "An interview that is left out needs a reason.", {"field": "reason"})
    if not step.rule.strip() and not step.interviews:
        raise DataError("no_rows", "Say which interviews: by a rule, or one by one.", {"field": "rule"})
    here = table.frame[KEY].is_in(step.interviews)
    work.drop(table, here | work.where(step.rule, table) if step.rule.strip() else here)
