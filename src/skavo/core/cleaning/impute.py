"""Missing values filled in, each flagged: one value, a figure of the group, or the value of a donor."""

from __future__ import annotations

from typing import Any

import polars as pl

from skavo.core.cleaning.cells import put_values, read_value
from skavo.core.cleaning.drawn import draw, figure
from skavo.core.cleaning.steps import Impute
from skavo.core.cleaning.work import Work, must_be
from skavo.core.dataset.flatten import Table, dtype_of, why
from skavo.core.dataset.layout import Column
from skavo.core.errors import DataError


def impute(work: Work, step: Impute) -> None:
    """A donor is drawn among the rows of the same group that have a value: sequential order by a hash of seed and row, so
    that the same rows give the same donors on any machine (random hot deck within classes: Andridge and Little 2010).
    """
    table, column = work.find(step.variable)
    groups = [_group(work, table, name) for name in step.by]
    frame = table.frame.with_columns(groups).with_columns(
        pl.col(why(column.variable)).cast(pl.String).is_in(step.missing).alias("#to_fill")
    )
    values, donors = _VALUES[step.way](frame, table, column, step)
    here = frame["#to_fill"].fill_null(False) & values.is_not_null()
    sources = work.sources(step.by)
    put_values(work, table, column, here, values, sources)
    _flag(work, work.find_table(table.layout.name), column, here, donors)


def _group(work: Work, table: Table, name: str) -> pl.Expr:
    """A variable that groups are made of; missing ones form a group of their own."""
    found, _ = work.find(name)
    if found.layout.name != table.layout.name:
        raise DataError("other_table", f"“{name}” is not in the same table.", {"field": "by"})
    return pl.col(name).alias(f"#by_{name}")


def _fixed(frame: pl.DataFrame, table: Table, column: Column, step: Impute) -> tuple[pl.Series, None]:
    value = read_value(column, step.value)
    return pl.Series([value], dtype=dtype_of(column)).new_from_index(0, frame.height), None


def _figure(frame: pl.DataFrame, table: Table, column: Column, step: Impute) -> tuple[pl.Series, None]:
    if step.way in ("mean", "median"):
        must_be(column, ("number",), f"only numbers have a {step.way}")
    else:
        must_be(column, ("number", "text", "code", "yes/no", "date"), "it has no commonest value")
    over = [pl.col(f"#by_{name}") for name in step.by] or [pl.lit(0).alias("#all")]
    groups = frame.select(*over, pl.col(column.variable).alias("#value"))
    names = groups.columns[:-1]
    given = groups.drop_nulls("#value").group_by(names, maintain_order=True).agg("#value")
    figures = [figure(step.way, values, whole=column.whole) for values in given["#value"].to_list()]
    known = given.select(names).with_columns(pl.Series("#figure", figures, dtype=dtype_of(column)))
    return groups.join(known, on=names, how="left", nulls_equal=True, maintain_order="left")["#figure"], None


def _donor(frame: pl.DataFrame, table: Table, column: Column, step: Impute) -> tuple[pl.Series, pl.Series]:
    keys = list(table.layout.keys)
    over = [f"#by_{name}" for name in step.by]
    places = frame.select(
        pl.concat_str(keys, separator="/").alias("#place"), *over, pl.col(column.variable).alias("#value"), "#to_fill"
    )
    places = places.with_columns(pl.lit(0).alias("#all")).with_row_index("#")
    group = over or ["#all"]
    givers = places.filter(pl.col("#value").is_not_null()).sort("#place")
    givers = givers.with_columns(pl.int_range(pl.len()).over(group).alias("#nth"), pl.len().over(group).alias("#of"))
    takers = places.filter("#to_fill").join(
        givers.group_by(group).agg(pl.col("#of").first()), on=group, nulls_equal=True
    )
    drawn = [draw(step.seed, place, of) for place, of in takers.select("#place", "#of").iter_rows()]
    found = takers.with_columns(pl.Series("#nth", drawn, dtype=pl.Int64)).join(
        givers.select(*group, "#nth", pl.col("#place").alias("#giver"), pl.col("#value").alias("#given")),
        on=[*group, "#nth"], how="left", nulls_equal=True,
    )  # fmt: skip
    all_rows = places.select("#").join(found.select("#", "#giver", "#given"), on="#", how="left", maintain_order="left")
    return all_rows["#given"], all_rows["#giver"]


def _flag(work: Work, table: Table, column: Column, here: pl.Series, donors: pl.Series | None) -> None:
    """Which values were filled in, in a variable beside it; with donors the row that each is from, in another.

    Whoever fills the same variable again, with something else where there was nothing, goes on in the same ones.
    """
    filled, donor = f"{column.variable[:25]}_filled", f"{column.variable[:26]}_donor"
    _note(
        work,
        table,
        work.column(filled, "yes/no", frozenset(), label={"en": f"{column.variable} was filled in"}),
        here,
        here,
    )
    if donors is not None:
        label = {"en": f"The row that {column.variable} was filled in from"}
        made = work.column(donor, "text", frozenset(), label=label)
        _note(work, work.find_table(table.layout.name), made, donors, here)


def _note(work: Work, table: Table, made: Column, values: pl.Series, here: pl.Series) -> None:
    """The values of the rows that were filled; in a new variable nothing was asked of the others."""
    before = table.layout.column(made.variable)
    if before is not None and before.origin == "plan":
        put_values(work, table, before, here, values, frozenset())
        return
    cells = pl.DataFrame({"value": values, "here": here})
    is_flag = made.measure == "yes/no"
    found = cells["value"] if is_flag else cells.select(pl.when("here").then("value").alias("v"))["v"]
    reasons = cells.select(pl.when(pl.lit(value=not is_flag) & ~pl.col("here")).then(pl.lit("not_asked")).alias("r"))[
        "r"
    ]
    work.make(table, made, found, reasons)


_VALUES: dict[str, Any] = {"fixed": _fixed, "mean": _figure, "median": _figure, "commonest": _figure, "donor": _donor}
