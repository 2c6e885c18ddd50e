"""Where a rule stands: the rows of one table, with the columns of the tables around them brought alongside."""

from __future__ import annotations

from dataclasses import dataclass, field

import polars as pl

from skavo.core.columns.numbers import MOST_EXACT, Digits, Number, RowByRow, digits_of, of_column, whole_numbers
from skavo.core.dataset.flatten import Table, why
from skavo.core.dataset.layout import Column
from skavo.core.rules.state import Row


@dataclass
class Tables:
    """The tables of a data set as rules number them.

    `known` holds a roster's table, or one of its columns, by index; `rosters` the indexes of the rosters around and of a
    table itself, outermost first.
    """

    known: list[tuple[Table, Column | None]]
    rosters: dict[str, tuple[int, ...]]
    _above: dict[int, pl.Series] = field(default_factory=dict)
    _digits: dict[int, Digits | None] = field(default_factory=dict)
    _whole: dict[int, pl.Series] = field(default_factory=dict)

    def values(self, index: int) -> pl.Series:
        """What stands in a variable's column."""
        table, column = self.known[index]
        assert column is not None
        return table.frame[column.variable]

    def digits(self, index: int) -> Digits | None:
        if index not in self._digits:
            self._digits[index] = digits_of(self.values(index))
        return self._digits[index]

    def whole(self, index: int, digits: Digits) -> pl.Series:
        """The numbers of a variable as whole ones."""
        if index not in self._whole:
            self._whole[index] = whole_numbers(self.values(index), digits)
        return self._whole[index]

    def table(self, roster: int) -> Table:
        return self.known[roster][0]

    def above(self, roster: int) -> pl.Series:
        """Of each row of a roster's table, the number of the row that it lies under in the table around."""
        found = self._above.get(roster)
        if found is None:
            table = self.table(roster)
            outer = self.table(self.rosters[table.layout.name][-2])
            keys = list(outer.layout.keys)
            rows = outer.frame.select(keys).with_row_index("#").unique(keys, keep="first", maintain_order=True)
            found = table.frame.select(keys).join(rows, on=keys, how="left", maintain_order="left")["#"]
            self._above[roster] = found
        return found


class Place:
    """The rows of the innermost of `rosters`. `frame` has a column for each thing that was asked for."""

    def __init__(self, tables: Tables, rosters: tuple[int, ...]) -> None:
        self.tables = tables
        self.rosters = rosters
        self.table = tables.table(rosters[-1])
        self.frame = pl.DataFrame({"#": pl.int_range(self.table.frame.height, dtype=pl.UInt32, eager=True)})
        self._up: dict[int, pl.Series] = {}

    def up(self, depth: int) -> pl.Series | None:
        """The number of the row around each row, in the table `depth` deep; None where that is the place's own."""
        if depth == len(self.rosters):
            return None
        if depth == 0:
            return pl.zeros(self.frame.height, dtype=pl.UInt32, eager=True)
        if depth not in self._up:
            inner = self.up(depth + 1)
            above = self.tables.above(self.rosters[depth])
            self._up[depth] = above if inner is None else above.gather(inner)
        return self._up[depth]

    def bring(self, name: str, values: pl.Series, depth: int) -> pl.Expr:
        """Put a column of the table `depth` deep beside the rows here, once."""
        if name not in self.frame.columns:
            up = self.up(depth)
            here = values if up is None else values.gather(up)
            self.frame = self.frame.with_columns(here.alias(name))
        return pl.col(name)

    def column(self, index: int, depth: int) -> pl.Expr:
        """The values of a variable."""
        return self.bring(f"#{index}", self.tables.values(index), depth)

    def number(self, index: int, depth: int) -> Number:
        """A variable that holds numbers."""
        tables = self.tables
        found = None if tables.values(index).dtype.is_float() else tables.digits(index)
        if found is not None and found.most >= MOST_EXACT:
            raise RowByRow

        def whole() -> pl.Expr:
            digits = tables.digits(index)
            if digits is None:
                raise RowByRow
            return self.bring(f"#{index}w", tables.whole(index, digits), depth)

        return of_column(self.column(index, depth), lambda: tables.digits(index), whole)

    def reason(self, index: int, depth: int) -> pl.Expr:
        """Why a variable has no value; null where it has one."""
        table, column = self.tables.known[index]
        assert column is not None
        return self.bring(f"#{index}?", table.frame[why(column.variable)], depth)

    def row_number(self, depth: int) -> pl.Expr:
        """1, 2, … among the rows beside it."""
        frame = self.tables.table(self.rosters[depth - 1]).frame
        around = pl.lit(0) if depth == 1 else pl.Series("around", self.tables.above(self.rosters[depth - 1]))
        numbers = frame.select(pl.int_range(1, pl.len() + 1, dtype=pl.Int64).over(around).alias("n"))["n"]
        return self.bring(f"#row{depth}", numbers, depth)

    def below(self, rosters: list[int], depth: int) -> Place:
        """The place of the rows of `rosters` below the row `depth` deep."""
        return Place(self.tables, (*self.rosters[:depth], *rosters))

    def fold(self, name: str, found: pl.DataFrame, depth: int) -> pl.Expr:
        """Bring what was found of each row `depth` deep, {up, value}, beside the rows here; null where nothing was."""
        height = 1 if depth == 0 else self.tables.table(self.rosters[depth - 1]).frame.height
        rows = pl.DataFrame({"up": pl.int_range(height, dtype=pl.UInt32, eager=True)})
        values = rows.join(found, on="up", how="left", maintain_order="left")["value"]
        return self.bring(name, values, depth)


def rows_of(table: Table) -> list[Row]:
    """The rows of a table as the evaluator names them."""
    return list(table.frame.select(table.layout.keys).iter_rows())
