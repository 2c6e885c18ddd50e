"""Steps over texts: made alike, taken into codes by a dictionary, read as numbers and dates, split and joined."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import polars as pl

from skavo.core.cleaning.cells import with_codes
from skavo.core.cleaning.plain_texts import folded, read_text_as, tidied, variable_of
from skavo.core.cleaning.steps import Dictionary, JoinTexts, ReadAs, Split, Tidy
from skavo.core.cleaning.work import Work, as_texts, check_codes, must_be
from skavo.core.dataset.flatten import WHY, Table, why
from skavo.core.dataset.layout import Column, label_in
from skavo.core.errors import DataError


def tidy(work: Work, step: Tidy) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("text",), "only texts are made alike")
    values = table.frame[column.variable]
    how: dict[str, Any] = {"trim": step.trim, "blanks": step.blanks, "alike": step.alike, "case": step.case}
    new = _each(values, lambda text: tidied(text, **how) or None, pl.String)
    reasons = _reasons(table, column, new)
    work.put(table, column, new, reasons, frozenset())


def dictionary(work: Work, step: Dictionary) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("text",), "a dictionary takes texts into codes")
    target, into = work.find(step.into)
    if target.layout.name != table.layout.name:
        message = f"“{step.variable}” and “{step.into}” are asked in different tables."
        raise DataError("other_table", message, {"field": "into"})
    must_be(into, ("code", "codes"), "a dictionary takes texts into codes")
    into = with_codes(work, target, into, step.codes)
    check_codes(into, step.words.values())
    table = work.find_table(table.layout.name)
    words = {folded(text): code for text, code in step.words.items()}
    texts = table.frame[column.variable]
    found = _each(texts, lambda text: words.get(folded(text)), pl.String)
    unmet = texts.filter(texts.is_not_null() & found.is_null() & still_other(table, into, step.replaces))
    work.tells.unmet = {text: count for text, count in unmet.value_counts(sort=True).iter_rows() if folded(text)}
    frame = table.frame.select(
        pl.col(into.variable).alias("old"), pl.col(why(into.variable)).alias("was"), found.alias("found")
    )
    new = pl.col("found")
    if into.measure == "codes":
        kept = pl.col("old").fill_null([]).list.eval(pl.element().filter(pl.element() != step.replaces))
        new = pl.concat_list(kept, pl.col("found").implode().over(pl.int_range(pl.len()))).list.unique(
            maintain_order=True
        )
    there = pl.col("found").is_not_null() & (pl.col("found") != step.replaces)
    cells = frame.select(
        pl.when(there).then(new).otherwise("old").alias("value"), pl.when(~there).then("was").cast(WHY).alias("reason")
    )
    work.put(table, into, cells["value"], cells["reason"], frozenset({column.part_id}) | column.sources)


def still_other(table: Table, into: Column, replaces: str) -> pl.Series:
    """In which rows the code that stands for *other* still stands; in all of them where there is no such code."""
    if not replaces:
        return pl.repeat(True, table.frame.height, dtype=pl.Boolean, eager=True)
    chosen = pl.col(into.variable)
    is_there = chosen.list.contains(replaces) if into.measure == "codes" else chosen == replaces
    return table.frame.select(is_there.fill_null(False).alias("still"))["still"]


def read_as(work: Work, step: ReadAs) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("text",), "only texts are read")
    texts = table.frame[column.variable]
    found = _each(
        texts,
        lambda text: read_text_as(text, step.measure, step.form),
        {"number": pl.Float64, "date": pl.Date}[step.measure],
    )
    unmet = texts.filter(texts.is_not_null() & found.is_null()).value_counts(sort=True)
    work.tells.unmet = dict(unmet.iter_rows())
    label = {"en": step.label} if step.label else column.label
    made = work.column(step.into, step.measure, frozenset({column.part_id}) | column.sources, label=label)
    work.make(table, made, found, _reasons(table, column, found))


def split(work: Work, step: Split) -> None:
    table, column = work.find(step.variable)
    must_be(column, ("codes", "text"), "multiple answers and texts are split")
    sources = frozenset({column.part_id}) | column.sources
    values, reasons = table.frame[column.variable], table.frame[why(column.variable)]
    if column.measure == "codes":
        for code, texts in column.codes.items():
            name = variable_of(column.variable, code)
            label = {"en": f"{label_in(column.label, 'en')}: {label_in(texts, 'en', code)}"}
            work.make(table, work.column(name, "yes/no", sources, label=label), values.list.contains(code), reasons)
        return
    if not step.separator or not step.into:
        raise DataError(
            "no_parts", "Say what stands between the parts, and what each part is to be called.", {"field": "into"}
        )
    parts = values.str.splitn(step.separator, len(step.into)).struct.unnest()
    for name, part in zip(step.into, parts.get_columns(), strict=True):
        found = _each(part, lambda text: text.strip() or None, pl.String)
        label = {"en": f"{label_in(column.label, 'en')}: {name}"}
        work.make(table, work.column(name, "text", sources, label=label), found, _reasons(table, column, found))


def join_texts(work: Work, step: JoinTexts) -> None:
    columns = [work.find(name) for name in step.variables]
    table = columns[0][0]
    for other, column in columns:
        if other.layout.name != table.layout.name:
            message = f"“{column.variable}” is not in the same table as “{step.variables[0]}”."
            raise DataError("other_table", message, {"field": "variables"})
    parts = [as_texts(table.frame[column.variable]).alias(str(n)) for n, (_, column) in enumerate(columns)]
    found = pl.select(pl.concat_str(parts, separator=step.separator, ignore_nulls=True)).to_series()
    sources = frozenset().union(*[frozenset({c.part_id}) | c.sources for _, c in columns])
    label = {"en": step.label or step.into}
    work.make(
        table, work.column(step.into, "text", sources, label=label), _each(found, lambda text: text or None, pl.String)
    )


def _reasons(table: Table, column: Column, new: pl.Series) -> pl.Series:
    """Why there is nothing: as in the column it comes from, or unanswered where that has a value."""
    frame = table.frame.select(pl.col(why(column.variable)).alias("was"), new.alias("new"))
    unanswered = pl.col("was").fill_null(pl.lit("unanswered", dtype=WHY))
    return frame.select(pl.when(pl.col("new").is_null()).then(unanswered).alias("reason"))["reason"]


def _each(values: pl.Series, function: Callable[[str], Any], dtype: Any) -> pl.Series:
    """A function of Python over texts, asked once for each."""
    distinct = values.drop_nulls().unique()
    found = pl.Series("found", [function(text) for text in distinct.to_list()], dtype=dtype)
    known = pl.DataFrame({"v": distinct, "found": found})
    return pl.DataFrame({"v": values}).join(known, on="v", how="left", maintain_order="left")["found"]
