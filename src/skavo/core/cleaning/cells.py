"""Steps that put other values into cells: corrected, set, recoded, marked as missing, converted, moved in time."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

import polars as pl

from skavo.core.cleaning.plain_texts import swapped
from skavo.core.cleaning.steps import Convert, Correct, InOrder, MarkMissing, Recode, SetValue, Shift, SwapDayMonth
from skavo.core.cleaning.work import Work, check_codes, must_be
from skavo.core.dataset.flatten import WHY, Table, dtype_of, why
from skavo.core.dataset.layout import Column
from skavo.core.errors import DataError
from skavo.core.interview.answers import (
    WrongAnswer,
    read_codes,
    read_date,
    read_date_time,
    read_decimal,
    read_text,
    read_time,
    read_whole,
    read_yes_no,
)
from skavo.core.rules.functions import shift_date
from skavo.core.rules.types import Type
from skavo.core.rules.values import Duration

_NOTHING: frozenset[str] = frozenset()


def correct(work: Work, step: Correct) -> None:
    table, column = work.find(step.variable)
    if not step.reason.strip():
        raise DataError("no_reason", "A corrected value needs a reason.", {"variable": column.variable})
    value = None if step.missing else read_value(column, step.value)
    keys = [step.interview, *step.row]
    if len(keys) != len(table.layout.keys):
        raise DataError("wrong_row", f"“{column.variable}” is asked once per {table.layout.name}: say which row.")
    wanted = pl.all_horizontal([pl.col(k) == v for k, v in zip(table.layout.keys, keys, strict=True)])
    here = table.frame.select(wanted.alias("here"))["here"]
    if not here.any():
        raise DataError("no_such_row", f"There is no row {' / '.join(keys)} in {table.layout.name}.")
    put_where(work, table, column, here, value, step.missing)


def in_order(work: Work, step: InOrder) -> None:
    work.find(step.variable)
    if not step.reason.strip():
        raise DataError("no_reason", "Say why this is in order.", {"field": "reason"})


def read_value(column: Column, value: Any) -> Any:
    """A value from a form as a column holds it; raise DataError where it does not fit."""
    try:
        read: Any = read_whole(value) if column.whole else _READERS[column.measure](value)
    except WrongAnswer as error:
        raise DataError(error.code, f"“{column.variable}” holds {column.kind}; this value does not fit.") from None
    check_codes(column, (read,) if column.measure == "code" else read if column.measure == "codes" else ())
    if isinstance(read, datetime):
        return read.astimezone(UTC).replace(tzinfo=None)
    return list(read) if isinstance(read, tuple) else read


_READERS: dict[str, Callable[[Any], Any]] = {
    "text": read_text,
    "number": lambda value: float(read_decimal(value)),
    "date": read_date,
    "time": read_time,
    "date-time": read_date_time,
    "yes/no": read_yes_no,
    "code": read_text,
    "codes": read_codes,
}


def put_where(
    work: Work, table: Table, column: Column, here: pl.Series, value: Any, missing: str | None = None
) -> None:
    """One value, or one kind of missing, in every row where `here` says yes."""
    one = pl.Series([value], dtype=dtype_of(column)).new_from_index(0, here.len())
    put_values(work, table, column, here, one, _NOTHING, missing)


def put_values(
    work: Work, table: Table, column: Column, here: pl.Series, values: pl.Series, sources: frozenset[str],
    missing: str | None = None,
) -> None:  # fmt: skip
    """The values of another column in every row where `here` says yes; what is missing there becomes `missing`, or
    unanswered."""
    frame = table.frame.select(
        pl.col(column.variable).alias("old"), pl.col(why(column.variable)).alias("was"),
        values.cast(dtype_of(column), strict=False).alias("new"), here.alias("here"),
    )  # fmt: skip
    reason = pl.when(pl.col("new").is_null()).then(pl.lit(missing or "unanswered", dtype=WHY))
    found = frame.select(
        pl.when("here").then("new").otherwise("old").alias("value"),
        pl.when("here").then(reason).otherwise("was").alias("reason"),
    )
    work.put(table, column, found["value"], found["reason"], sources)


def set_value(work: Work, step: SetValue) -> None:
    table, column = work.find(step.variable)
    here = work.where(step.rule, table)
    code = step.formula.strip()
    if column.measure == "code" and code in column.codes:
        put_where(work, table, column, here, code)
        return
    values, kind = work.formula(step.formula, table)
    check_fits(column, kind, values)
    put_values(work, table, column, here, values, work.sources([step.formula, step.rule]))


def check_fits(column: Column, kind: Type, values: pl.Series) -> None:
    """Raise DataError where a formula gives what a column cannot hold."""
    if kind.name != column.measure and not (column.measure == "number" and kind.name == "quantity"):
        message = f"This gives {kind.words}; “{column.variable}” holds {column.kind}."
        raise DataError("wrong_type", message, {"field": "formula"})
    if column.whole and not values.drop_nulls().is_in(values.drop_nulls().round()).all():
        message = f"This gives numbers with decimals; “{column.variable}” holds {column.kind}. Use round(…, 0)."
        raise DataError("wrong_type", message, {"field": "formula"})
    if column.measure == "code":
        check_codes(column, values.drop_nulls().unique().to_list())


def recode(work: Work, step: Recode) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("code", "codes", "text"), "only codes and texts are recoded")
    column = with_codes(work, table, column, step.codes)
    table = work.find_table(table.layout.name)
    if column.measure != "text":
        check_codes(column, step.mapping.values())
    value = pl.col(column.variable)
    if column.measure == "codes":
        new = value.list.eval(pl.element().replace(step.mapping)).list.unique(maintain_order=True)
    else:
        new = value.replace(step.mapping)
    work.put(table, column, table.frame.select(new)[column.variable], table.frame[why(column.variable)], _NOTHING)


def with_codes(work: Work, table: Table, column: Column, codes: dict[str, str]) -> Column:
    """The column with more codes in its list."""
    new = {code: {"en": label or code} for code, label in codes.items() if code not in column.codes}
    if not new:
        return column
    more = replace(column, codes={**column.codes, **new})
    work.relabel(table, column, more)
    return more


def mark_missing(work: Work, step: MarkMissing) -> None:
    table, column = work.find(step.variable)
    put_where(work, table, column, work.where(step.rule, table), None, step.missing)


def convert(work: Work, step: Convert) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("number",), "only numbers are converted")
    for name in (step.amount, step.unit):
        if name not in table.frame.columns:
            work.find(name)
            raise DataError(
                "other_table", f"“{name}” is not in the same table as “{step.variable}”.", {"variable": name}
            )
    new = table.frame[column.variable]
    here = pl.repeat(False, new.len(), dtype=pl.Boolean, eager=True)
    for unit, factor in step.factors.items():
        values, kind = work.formula(f"({step.amount}) * ({factor})", table, f"factors.{unit}")
        check_fits(column, kind, values)
        is_unit = (table.frame[step.unit] == unit).fill_null(False)
        new, here = values.cast(new.dtype).zip_with(is_unit, new), here | is_unit
    sources = work.sources([step.amount, step.unit, *step.factors.values()])
    put_values(work, table, column, here & table.frame[step.amount].is_not_null(), new, sources)


def shift(work: Work, step: Shift) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("date", "date-time"), "only dates are moved")
    if column.measure == "date" and step.unit in ("minutes", "hours"):
        message = f"“{column.variable}” holds dates without a time; move them by days, months or years."
        raise DataError("wrong_unit", message, {"field": "unit"})
    by = _DURATIONS[step.unit](step.by)
    values = table.frame[column.variable]
    moved = [None if v is None else shift_date(v, by, 1) for v in values.unique(maintain_order=True).to_list()]
    new = _by_distinct(values, moved)
    put_values(work, table, column, work.where(step.rule, table) & values.is_not_null(), new, work.sources([step.rule]))


_DURATIONS: dict[str, Callable[[int], Duration]] = {
    "minutes": lambda n: Duration(seconds=60 * n),
    "hours": lambda n: Duration(seconds=3600 * n),
    "days": lambda n: Duration(seconds=86400 * n),
    "months": lambda n: Duration(months=n),
    "years": lambda n: Duration(months=12 * n),
}


def swap_day_month(work: Work, step: SwapDayMonth) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("date",), "only in dates day and month change places")
    values = table.frame[column.variable]
    new = _by_distinct(values, [swapped(v) for v in values.unique(maintain_order=True).to_list()])
    here = work.where(step.rule, table) & new.is_not_null()
    put_values(work, table, column, here, new, work.sources([step.rule]))


def _by_distinct(values: pl.Series, found: list[Any]) -> pl.Series:
    """What was found of each distinct value, in the order of `unique`, for every row."""
    known = pl.DataFrame({"v": values.unique(maintain_order=True), "found": pl.Series(found, dtype=values.dtype)})
    rows = pl.DataFrame({"v": values}).join(known, on="v", how="left", nulls_equal=True, maintain_order="left")
    return rows["found"]
