"""What a plan makes of a data set as it goes: the data so far, every changed cell, every row left out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Any

import polars as pl

from skavo.core.dataset.flatten import WHY, DataSet, Table, dtype_of, why
from skavo.core.dataset.layout import KEY, Column, TableLayout
from skavo.core.dataset.rules import DataRules, error_of, table_of
from skavo.core.errors import DataError
from skavo.core.questionnaire.variables import is_variable, suggest_lawful
from skavo.core.rules.types import Type, nearest

# Every changed cell: `step` is the identity of the step, `row` the names of the roster rows around. A cell without a value
# has its kind of missing in `…_why`.
CHANGES: dict[str, Any] = {
        "step": pl.Int64, "table": pl.Categorical, "interview": pl.String, "row": pl.List(pl.String), "variable": pl.Categorical,
        "before": pl.String, "before_why": WHY, "after": pl.String, "after_why": WHY,
}  # fmt: skip
# Every row left out: of which table, and for which row of the same table, where it was another copy of that.
LEFT_OUT: dict[str, Any] = {
    "step": pl.Int64, "table": pl.String, "interview": pl.String, "row": pl.List(pl.String), "copy_of": pl.String,
}  # fmt: skip
MADE_BY_STEP = "step."


@dataclass
class Told:
    """What a step has to tell of itself: variables made, texts it has not met with how often, rows gone through one by one."""

    made: list[str] = field(default_factory=list)
    unmet: dict[str, int] = field(default_factory=dict)
    by_rows: int = 0


class Work:
    """One step after the other over `data`, which is left as it is."""

    def __init__(self, data: DataSet) -> None:
        self.data = dict(data)
        self.told: dict[int, Told] = {}
        self._changes: list[pl.DataFrame] = []
        self._left_out: list[pl.DataFrame] = []
        self._step = 0
        self._rules: DataRules | None = None

    def begin(self, step: int) -> Work:
        """The same with room for one more step: what a step did that failed half way is forgotten with it."""
        trial = Work(self.data)
        trial.told = {**self.told, step: Told()}
        trial._changes, trial._left_out = [*self._changes], [*self._left_out]
        trial._step = step
        trial._rules = self._rules
        return trial

    @property
    def tells(self) -> Told:
        """What the step at work tells."""
        return self.told[self._step]

    @property
    def changes(self) -> pl.DataFrame:
        """All changed cells, in the order of the plan (CHANGES)."""
        return pl.concat([pl.DataFrame(schema=CHANGES), *self._changes])

    @property
    def left_out(self) -> pl.DataFrame:
        """All rows left out, in the order of the plan (LEFT_OUT)."""
        return pl.concat([pl.DataFrame(schema=LEFT_OUT), *self._left_out])

    @property
    def rules(self) -> DataRules:
        if self._rules is None:
            self._rules = DataRules(self.data)
        return self._rules

    def find(self, variable: str) -> tuple[Table, Column]:
        """The table and column of a variable; raise DataError with the nearest name where there is none."""
        name = table_of(self.data, variable)
        if name is None:
            known = [c.variable for t in self.data.values() for c in t.layout.columns]
            hint = nearest(variable, known)
            mend = f" Did you mean {hint}?" if hint else ""
            raise DataError("unknown_variable", f"There is no variable “{variable}”.{mend}", {"variable": variable})
        column = self.data[name].layout.column(variable)
        assert column is not None
        return self.data[name], column

    def find_table(self, name: str) -> Table:
        if name not in self.data:
            hint = nearest(name, list(self.data)) or ", ".join(self.data)
            raise DataError("unknown_table", f"There is no table “{name}”. There is: {hint}.", {"table": name})
        return self.data[name]

    def where(self, rule: str, table: Table) -> pl.Series:
        """In which rows of a table a rule is a definite yes; in all of them without a rule."""
        if not rule.strip():
            return pl.repeat(True, table.frame.height, dtype=pl.Boolean, eager=True)
        tree, faults = self.rules.check(rule, table.layout.name)
        if tree is None:
            raise error_of(faults[0], "rule")
        return self._outcome(tree, table).fill_null(False)

    def formula(self, text: str, table: Table, field_name: str = "formula") -> tuple[pl.Series, Type]:
        """What a formula gives in each row, and of which type that is."""
        tree, kind, faults = self.rules.check_typed(text, table.layout.name)
        if tree is None:
            raise error_of(faults[0], field_name)
        return self._outcome(tree, table), kind

    def _outcome(self, tree: Any, table: Table) -> pl.Series:
        found = self.rules.outcome(tree, table.layout.name)
        self.tells.by_rows += found.by_rows
        return found.values

    def sources(self, texts: Iterable[str]) -> frozenset[str]:
        """What the variables named in some rules are made from, by the identities of parts of the questionnaire."""
        named = {name for text in texts for name in self.rules.names_in(text)}
        return frozenset().union(*[_origins(column) for t in self.data.values() for column in t.layout.columns
                                   if column.variable in named])  # fmt: skip

    def put(self, table: Table, column: Column, values: pl.Series, reasons: pl.Series, sources: frozenset[str]) -> None:
        """New values and kinds of missing for a whole column; a cell that stays as it is counts as unchanged."""
        name = column.variable
        if values.dtype != dtype_of(column):
            values = values.cast(dtype_of(column), strict=False)
        reasons = reasons.cast(WHY)
        cells = pl.DataFrame({"old": table.frame[name], "new": values, "was": table.frame[why(name)], "is": reasons})
        differs = pl.col("old").ne_missing(pl.col("new")) | pl.col("was").ne_missing(pl.col("is"))
        changed = cells.select(differs.alias("changed"))["changed"]
        rows = changed.arg_true()
        if rows.is_empty():
            return
        self._changes.append(self._changed(table, column, cells[rows], rows))
        frame = table.frame.with_columns(values.alias(name), reasons.alias(why(name)))
        if not sources <= _origins(column):
            layout = _replaced(table.layout, replace(column, sources=column.sources | sources))
            self._set(Table(layout, frame))
        else:
            self._set(table.with_frame(frame))

    def _changed(self, table: Table, column: Column, cells: pl.DataFrame, rows: pl.Series) -> pl.DataFrame:
        keys = table.frame.select(table.layout.keys)[rows]
        return pl.DataFrame(
            {
                "step": pl.repeat(self._step, rows.len(), dtype=pl.Int64, eager=True),
                "table": pl.repeat(table.layout.name, rows.len(), eager=True), "interview": keys[KEY],
                "row": row_names(keys), "variable": pl.repeat(column.variable, rows.len(), eager=True),
                "before": as_texts(cells["old"]), "before_why": cells["was"],
                "after": as_texts(cells["new"]), "after_why": cells["is"],
            },
            schema=CHANGES,
        )  # fmt: skip

    def make(
        self, table: Table, column: Column, values: pl.Series, reasons: pl.Series | None = None, before: str = ""
    ) -> None:
        """A new variable, at the end of its table; where there is no value it is unanswered unless `reasons` say why."""
        self.check_name(column.variable)
        values = values.cast(dtype_of(column), strict=False)
        if reasons is None:
            reasons = pl.select(pl.when(values.is_null()).then(pl.lit("unanswered", dtype=WHY))).to_series()
        frame = self.data[table.layout.name].frame.with_columns(
            values.alias(column.variable), reasons.cast(WHY).alias(why(column.variable))
        )
        layout = self.data[table.layout.name].layout
        self._set(Table(replace(layout, columns=(*layout.columns, column)), frame))
        self.tells.made.append(column.variable)

    def check_name(self, name: str) -> None:
        """Raise DataError where a variable cannot be called so: the strictest of the usual analysis files, and once only."""
        if not is_variable(name):
            message = "A variable has small letters, digits and _, begins with a letter, has 32 characters at most and is no word of rules."
            raise DataError("wrong_name", f"{message} Try {suggest_lawful(name)}.", {"variable": name})
        if name in [*self.data, *(c.variable for t in self.data.values() for c in t.layout.columns)]:
            message = f"There is a variable “{name}” already. Give this one another name."
            raise DataError("name_taken", message, {"variable": name})

    def column(self, variable: str, measure: str, sources: frozenset[str], **more: Any) -> Column:
        """A column that the step at work makes."""
        kind = {"number": "decimal", "code": "single answer", "codes": "multiple answer"}.get(measure, measure)
        identity = f"{MADE_BY_STEP}{self._step}.{variable}"
        return Column(variable, identity, kind, measure, origin="plan", sources=sources, **more)

    def relabel(self, table: Table, before: Column, after: Column) -> None:
        """A column described otherwise; its values stay."""
        frame = table.frame
        if before.variable != after.variable:
            names = {before.variable: after.variable, why(before.variable): why(after.variable)}
            frame = frame.rename(names)
        layout = table.layout
        columns = tuple(after if c.variable == before.variable else c for c in layout.columns)
        self._set(Table(replace(layout, columns=columns), frame))

    def drop(self, table: Table, rows: pl.Series, copy_of: pl.Series | None = None) -> None:
        """Leave rows of a table out, by a yes or no for each, with all that lies under them in other tables."""
        keys = table.frame.filter(rows).select(table.layout.keys)
        if keys.is_empty():
            return
        none = pl.repeat(None, keys.height, dtype=pl.String, eager=True)
        self._left_out.append(
            pl.DataFrame(
                {
                    "step": pl.repeat(self._step, keys.height, dtype=pl.Int64, eager=True),
                    "table": pl.repeat(table.layout.name, keys.height, eager=True), "interview": keys[KEY],
                    "row": row_names(keys), "copy_of": none if copy_of is None else copy_of.filter(rows),
                },
                schema=LEFT_OUT,
            )
        )  # fmt: skip
        for other in list(self.data.values()):
            if other.layout.keys[: len(table.layout.keys)] == table.layout.keys:
                kept = other.frame.join(keys, on=list(table.layout.keys), how="anti", maintain_order="left")
                self._set(other.with_frame(kept))

    def _set(self, table: Table) -> None:
        self.data[table.layout.name] = table
        self._rules = None


def row_names(keys: pl.DataFrame) -> pl.Series:
    """The names of the roster rows around each row, outermost first; none in the table of interviews."""
    names = keys.drop(KEY)
    if names.width == 0:
        return pl.Series("row", [[]], dtype=pl.List(pl.String)).new_from_index(0, keys.height)
    return names.select(pl.concat_list(pl.all()).alias("row"))["row"]


def as_texts(values: pl.Series) -> pl.Series:
    """Values as they are shown: whole numbers without a point, codes with commas between, yes and no."""
    if values.dtype == pl.Boolean:
        return values.replace_strict({True: "yes", False: "no"}, return_dtype=pl.String)
    if values.dtype == pl.List(pl.String):
        return values.list.join(", ")
    if values.dtype == pl.Float64:
        is_whole = (values == values.round()) & (values.abs() < 2**53)
        texts = (
            pl.when(is_whole)
            .then(values.cast(pl.Int64, strict=False).cast(pl.String))
            .otherwise(values.cast(pl.String))
        )
        return pl.select(texts.alias(values.name)).to_series()
    if values.dtype == pl.Datetime("ms"):
        return values.dt.to_string("%Y-%m-%d %H:%M:%S")
    return values.cast(pl.String)


def _origins(column: Column) -> frozenset[str]:
    return frozenset({column.part_id}) | column.sources


def _replaced(layout: TableLayout, column: Column) -> TableLayout:
    return replace(layout, columns=tuple(column if c.variable == column.variable else c for c in layout.columns))


def must_be(column: Column, measures: tuple[str, ...], what: str) -> None:
    """Raise DataError where a step does not go with what a variable holds."""
    if column.measure not in measures:
        message = f"“{column.variable}” holds {column.kind}; {what}."
        raise DataError("wrong_measure", message, {"variable": column.variable})


def check_codes(column: Column, codes: Iterable[str]) -> None:
    """Raise DataError at the first code that a column's list does not have."""
    for code in codes:
        if code not in column.codes:
            hint = nearest(code, column.codes)
            mend = f" Did you mean {hint}?" if hint else f" Codes: {', '.join(list(column.codes)[:12])}."
            raise DataError("impossible_code", f"“{column.variable}” has no code “{code}”.{mend}", {"code": code})
