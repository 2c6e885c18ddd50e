"""Steps that make variables or describe them: derived, classes of numbers, gathered codes, names for handing over."""

from __future__ import annotations

from dataclasses import replace

import polars as pl

from skavo.core.cleaning.steps import Classes, Derive, Gather, Present
from skavo.core.cleaning.work import Work, check_codes, must_be
from skavo.core.dataset.flatten import Table, why
from skavo.core.dataset.layout import Column
from skavo.core.errors import DataError
from skavo.core.rules.types import nearest


def derive(work: Work, step: Derive) -> None:
    table = work.find_table(step.table)
    values, kind = work.formula(step.formula, table)
    measure = {"quantity": "number"}.get(kind.name, kind.name)
    if measure not in ("number", "text", "date", "time", "date-time", "yes/no", "code", "codes"):
        raise DataError("wrong_type", f"This gives {kind.words}, which no variable holds.", {"field": "formula"})
    codes = {code: {"en": label or code} for code, label in step.codes.items()}
    if measure == "text" and codes:
        measure = "code"
    if measure in ("code", "codes") and not codes:
        codes = _codes_of(work, kind.code_list or "")
    made = work.column(
        step.into, measure, work.sources([step.formula]), label={"en": step.label or step.into}, codes=codes,
        unit=step.unit,
    )  # fmt: skip
    if measure == "code":
        check_codes(made, values.drop_nulls().unique().to_list())
    work.make(table, made, values)


def _codes_of(work: Work, variable: str) -> dict[str, dict[str, str]]:
    _, column = work.find(variable)
    return column.codes


def classes(work: Work, step: Classes) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("number",), "only numbers fall into classes")
    limits = [c.below for c in step.classes]
    ends = [limit for limit in limits if limit is not None]
    if ends != sorted(set(ends)) or None in limits[:-1]:
        message = "Each class ends where the next begins: the limits rise, and only the last may be open."
        raise DataError("limits_fall", message, {"field": "classes"})
    if len({c.code for c in step.classes}) < len(step.classes):
        raise DataError("code_twice", "Two classes have the same code. Give each its own.", {"field": "classes"})
    values = pl.col(column.variable)
    found_in = pl.lit(None, dtype=pl.String)
    for one in reversed(step.classes):
        inside = values.is_not_null() if one.below is None else values < one.below
        found_in = pl.when(inside).then(pl.lit(one.code)).otherwise(found_in)
    found = table.frame.with_columns(found_in.alias("#found"))["#found"]
    codes = {c.code: {"en": c.label or c.code} for c in step.classes}
    label = {"en": step.label or step.into}
    made = work.column(step.into, "code", frozenset({column.part_id}) | column.sources, label=label, codes=codes)
    reasons = table.frame[why(column.variable)]
    unanswered = reasons.fill_null("unanswered")
    work.make(table, made, found, pl.select(pl.when(found.is_null()).then(unanswered)).to_series())


def gather(work: Work, step: Gather) -> None:
    found = {code: work.find(variable) for code, variable in step.codes.items()}
    if not found:
        raise DataError("no_variables", "Name a variable for at least one code.", {"field": "codes"})
    table = next(iter(found.values()))[0]
    for other, column in found.values():
        must_be(column, ("yes/no",), "only answers of yes and no are gathered")
        if other.layout.name != table.layout.name:
            raise DataError("other_table", f"“{column.variable}” is not in the same table as the others.")
    chosen = [pl.when(pl.col(column.variable)).then(pl.lit(code)) for code, (_, column) in found.items()]
    there = pl.any_horizontal([pl.col(column.variable).is_not_null() for _, column in found.values()])
    values = table.frame.select(pl.when(there).then(pl.concat_list(chosen).list.drop_nulls()).alias("found"))["found"]
    sources = frozenset().union(*[frozenset({c.part_id}) | c.sources for _, c in found.values()])
    codes = {code: column.label or {"en": code} for code, (_, column) in found.items()}
    made = work.column(step.into, "codes", sources, label={"en": step.label or step.into}, codes=codes)
    first = next(iter(found.values()))[1]
    reasons = table.frame[why(first.variable)].fill_null("unanswered")
    work.make(table, made, values, pl.select(pl.when(values.is_null()).then(reasons)).to_series())


def present(work: Work, step: Present) -> None:
    table, column = work.find(step.variable)
    named = replace(column, variable=step.name or column.variable, label={**column.label, **step.label})
    if named.variable != column.variable:
        work.check_name(named.variable)
    work.relabel(table, column, named)
    if step.before:
        _move(work, work.find_table(table.layout.name), named, step.before)


def _move(work: Work, table: Table, column: Column, before: str) -> None:
    others = [c for c in table.layout.columns if c.variable != column.variable]
    names = [c.variable for c in others]
    if before not in names:
        hint = nearest(before, names)
        mend = f" Did you mean {hint}?" if hint else ""
        raise DataError(
            "unknown_variable", f"{table.layout.name} has no variable “{before}”.{mend}", {"field": "before"}
        )
    at = names.index(before)
    columns = (*others[:at], column, *others[at:])
    work.data[table.layout.name] = Table(replace(table.layout, columns=columns), table.frame)
