"""Join an outside table to the data set: by keys, then by likeness; nothing is guessed, everything is reported."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import polars as pl

from skavo.core.combining.keys import keys_of
from skavo.core.combining.near import Decision, NearFound, Weighing, near_pairs
from skavo.core.combining.outside import ReadCells, read_cells
from skavo.core.combining.sides import (
    Outside,
    check_known,
    our_texts,
    places_of,
    table_named,
    their_texts,
)
from skavo.core.combining.spec import Join
from skavo.core.dataset.flatten import WHY, DataSet, Table, why
from skavo.core.dataset.layout import Column, TableLayout
from skavo.core.dataset.nesting import only_rows
from skavo.core.errors import DataError
from skavo.core.linking.link import weigh
from skavo.core.questionnaire.variables import MOST_CHARACTERS, suggest_variable

_KINDS = {"text": "text", "code": "single answer", "number": "decimal", "date": "date", "date-time": "date and time",
          "yes/no": "yes/no"}  # fmt: skip
_HERE, _THERE = "here", "there"


@dataclass(frozen=True)
class JoinReport:
    """What a join found. `rows` are those of the table that is joined into, `near` those that likeness found.

    `unmatched` (place, value) are ours without a row, or without a key, `unmatched_rows` (row, value) theirs without ours, counted from 1 below
    the heading; `ambiguous` (value, count) keys that several of their rows have and some of ours look for; `repeated` those
    that several of ours have. `otherwise` (ours, theirs, count) are matched keys that are written in two ways. `more` is how
    many rows there would be more, if every match were one. `unread` counts the cells of each column taken that could not be
    read as what the column is. `partners` is the place of their row for each row of ours, null where there is none.
    """

    rows: int
    outside_rows: int
    matched: int
    without_key: int
    unmatched: pl.DataFrame
    unmatched_rows: pl.DataFrame
    ambiguous: pl.DataFrame
    repeated: pl.DataFrame
    otherwise: pl.DataFrame
    more: int
    unread: dict[str, int]
    near: int = 0
    partners: pl.Series = field(default_factory=lambda: pl.Series(dtype=pl.Int64))
    found: NearFound = field(default_factory=NearFound)

    @property
    def doubtful(self) -> int:
        """How many rows of ours have a pair that is neither a match nor apart."""
        return len({pair.ours for pair in self.found.pairs if pair.state == "doubtful"})


def joined_name(source: str, column: str) -> str:
    """The variable that a column of an outside table becomes."""
    plain = "".join(c if c.isascii() and c.isalnum() else "_" for c in f"{source}_{column}".lower())
    return plain.strip("_")[:MOST_CHARACTERS]


def suggested_name(source: str, column: str) -> str:
    """A name for a column of an outside table: after its table as far as that leaves the column's own name whole."""
    own, words = suggest_variable(column), suggest_variable(source).split("_")
    while words and len("_".join([*words, own])) > MOST_CHARACTERS:
        words.pop()
    return "_".join([*words, own])


def names_taken(source: str, join: Join) -> dict[str, str]:
    """The variable of each column taken: as the join calls it, else after its table; two alike get a number."""
    names = {column: join.called[column] for column in join.take if column in join.called}
    for column in join.take:
        if column in names:
            continue
        name, number = joined_name(source, column), 2
        while name in names.values():
            tail = f"_{number}"
            name, number = f"{joined_name(source, column)[: MOST_CHARACTERS - len(tail)]}{tail}", number + 1
        names[column] = name
    return {column: names[column] for column in join.take}


def join_outside(
    data: DataSet, outside: Outside, join: Join, decisions: Sequence[Decision] = (), weighing: Weighing = weigh
) -> tuple[DataSet, JoinReport]:
    """The data set with the table joined. Raise DataError where it does not fit, or would make more rows than meant."""
    table = table_named(data, join.into)
    keys = _keys(data, outside, join)
    found, report = _by_key(table, keys, join)
    if join.several == "refuse" and report.more:
        raise DataError(
            "more_rows", f"{report.ambiguous['count'].len()} keys stand in several rows of {outside.name}: joined, there "
            f"would be {report.more} rows more. Say what becomes of those, or join by one more column.", {"more": report.more},
        )  # fmt: skip
    if join.near is not None:
        found, report = _by_likeness(data, outside, join, keys, found, report, decisions, weighing)
    report = replace(report, partners=found)
    if join.several == "rows":
        return _below(data, table, outside, join, keys, report)
    return _beside(data, table, outside, join, found, report)


def rows_compared(data: DataSet, outside: Outside, join: Join) -> tuple[list[dict[str, str]], list[dict[str, str]]]:
    """The cells that are compared by likeness, of every row of ours and of theirs, "" where nothing stands."""
    assert join.near is not None
    table = table_named(data, join.into)
    ours = {one.ours: our_texts(data, table, one.ours, one.words) for one in join.near.compare}
    theirs = {one.theirs: their_texts(outside, one.theirs) for one in join.near.compare}
    return _rows(ours), _rows(theirs)


def joined_by_key(data: DataSet, outside: Outside, join: Join) -> list[tuple[int, int]]:
    """The places of our rows and theirs that a key alone joins."""
    table = table_named(data, join.into)
    found, _ = _by_key(table, _keys(data, outside, join), join)
    return [(at, other) for at, other in enumerate(found.to_list()) if other is not None]


def _rows(columns: dict[str, pl.Series]) -> list[dict[str, str]]:
    frame = pl.DataFrame([cells.fill_null("").str.strip_chars().alias(name) for name, cells in columns.items()])
    return frame.to_dicts()


@dataclass(frozen=True)
class _Keys:
    """The keys of both sides made alike, and as they are written."""

    ours: pl.Series
    theirs: pl.Series
    ours_written: pl.Series
    theirs_written: pl.Series


def _keys(data: DataSet, outside: Outside, join: Join) -> _Keys:
    table = table_named(data, join.into)
    for name in [*(pair.theirs for pair in join.keys), *join.take]:
        check_known(name, outside.frame.columns, "column")
    ours = [(our_texts(data, table, pair.ours, pair.words), pair.alike) for pair in join.keys]
    theirs = [(their_texts(outside, pair.theirs), pair.alike) for pair in join.keys]
    if not join.keys:
        return _Keys(*(pl.repeat(None, n, dtype=pl.String, eager=True) for n in
                       (table.frame.height, outside.frame.height) * 2))  # fmt: skip
    return _Keys(keys_of(ours), keys_of(theirs), _written(ours), _written(theirs))


def _written(columns: Sequence[tuple[pl.Series, object]]) -> pl.Series:
    frame = pl.DataFrame([cells.str.strip_chars().alias(str(at)) for at, (cells, _) in enumerate(columns)])
    return frame.select(pl.concat_str(pl.all(), separator=" · ").alias("written"))["written"]


def _by_key(table: Table, keys: _Keys, join: Join) -> tuple[pl.Series, JoinReport]:
    """Which of their rows each of ours has, null for none; and what is to be told of it."""
    theirs = pl.DataFrame({"key": keys.theirs, "written": keys.theirs_written}).with_row_index(_THERE)
    ours = pl.DataFrame({"key": keys.ours, "written": keys.ours_written}).with_row_index(_HERE)
    groups = (
        theirs.drop_nulls("key").group_by("key", maintain_order=True)
        .agg(pl.first(_THERE), pl.len().alias("count"), pl.first("written").alias("other"))
    )  # fmt: skip
    met = ours.join(groups, on="key", how="left", maintain_order="left")
    usable = pl.col("count").is_not_null() & ((pl.col("count") == 1) | pl.lit(join.several in ("first", "rows")))
    found = met.select(pl.when(usable).then(pl.col(_THERE).cast(pl.Int64)).alias("found"))["found"]
    several = met.filter(pl.col("count") > 1)
    own = ours.drop_nulls("key").group_by("key", maintain_order=True).agg(
        pl.len().alias("count"), pl.first("written").alias("value")
    )  # fmt: skip
    spelt = met.filter(found.is_not_null() & (pl.col("written") != pl.col("other")))
    lonely = theirs.filter(~pl.col("key").is_in(ours["key"].drop_nulls().unique().implode()) | pl.col("key").is_null())
    places = pl.Series("place", places_of(table))
    nobody = met.select(pl.col("count").is_null().alias("nobody"))["nobody"]
    report = JoinReport(
        rows=ours.height, outside_rows=theirs.height, matched=int(found.is_not_null().sum()),
        without_key=ours["key"].null_count(),
        unmatched=pl.DataFrame({"place": places, "value": keys.ours_written.fill_null("")}).filter(nobody),
        unmatched_rows=lonely.select((pl.col(_THERE).cast(pl.Int64) + 1).alias("row"), pl.col("written").fill_null("").alias("value")),
        ambiguous=several.unique("key", maintain_order=True).select(pl.col("other").alias("value"), "count"),
        repeated=own.filter(pl.col("count") > 1).select("value", "count").sort("count", descending=True, maintain_order=True),
        otherwise=spelt.group_by(pl.col("written").alias("ours"), pl.col("other").alias("theirs"), maintain_order=True)
        .agg(pl.len().alias("count")),
        more=int((several["count"] - 1).sum()), unread={},
    )  # fmt: skip
    return found, report


def _by_likeness(
    data: DataSet, outside: Outside, join: Join, keys: _Keys, found: pl.Series, report: JoinReport,
    decisions: Sequence[Decision], weighing: Weighing,
) -> tuple[pl.Series, JoinReport]:  # fmt: skip
    assert join.near is not None
    ours, theirs = rows_compared(data, outside, join)
    used = set(found.drop_nulls().to_list()) if join.near.once else set()
    left = [at for at in range(len(theirs)) if at not in used]
    places = places_of(data[join.into])
    mine = found.is_null().arg_true().to_list()
    near = near_pairs(ours, [theirs[at] for at in left], places, join.near, decisions, open_=mine, weighing=weighing)
    near = replace(near, pairs=[replace(pair, theirs=left[pair.theirs]) for pair in near.pairs])
    partners = near.partners
    filled = pl.Series([partners.get(at, known) for at, known in enumerate(found.to_list())], dtype=pl.Int64)
    keyless = set(keys.ours.is_null().arg_true().to_list())
    return filled, replace(
        report, matched=report.matched + len(partners), near=len(partners), found=near,
        without_key=len(keyless - partners.keys()),
        unmatched=report.unmatched.filter(~pl.col("place").is_in([places[at] for at in partners])),
        unmatched_rows=report.unmatched_rows.filter(~pl.col("row").is_in([at + 1 for at in set(partners.values())])),
    )  # fmt: skip


def _beside(
    data: DataSet, table: Table, outside: Outside, join: Join, found: pl.Series, report: JoinReport
) -> tuple[DataSet, JoinReport]:
    """The columns taken as variables of the table that is joined into; those of rows without a partner are not asked."""
    frame, columns = table.frame, list(table.layout.columns)
    none = found.is_null()
    for name, (column, values, reasons, unread) in _taken(outside, join).items():
        _free(data, table, outside, column.variable)
        picked = pl.DataFrame({"value": values, "why": reasons})[found.fill_null(0).to_list()] if len(values) else None
        nothing = pl.DataFrame({"value": pl.repeat(None, frame.height, dtype=values.dtype, eager=True),
                                "why": pl.repeat(None, frame.height, dtype=WHY, eager=True)})  # fmt: skip
        cells = (picked if picked is not None else nothing).with_columns(none.alias("none"))
        cells = cells.select(
            pl.when(~pl.col("none")).then("value").alias(column.variable),
            pl.when(pl.col("none")).then(pl.lit("not_asked", dtype=WHY)).otherwise("why").alias(why(column.variable)),
        )
        frame = frame.drop(cells.columns, strict=False).hstack(cells)
        columns = [c for c in columns if c.variable != column.variable] + [column]
        report.unread[name] = unread
    joined = {**data, join.into: Table(replace(table.layout, columns=tuple(columns)), frame)}
    if join.keep != "all":
        kept = found.is_not_null() if join.keep == "matched" else none
        joined = only_rows(joined, join.into, kept)
    return joined, report


def _below(
    data: DataSet, table: Table, outside: Outside, join: Join, keys: _Keys, report: JoinReport
) -> tuple[DataSet, JoinReport]:
    """Their rows as a table of their own below ours, one for each match, named by where they stand in the file."""
    if outside.name in data:
        raise DataError("name_taken", f"There is a table {outside.name} already. Give this one another name.")
    ours = table.frame.select(*table.layout.keys, keys.ours.alias("@key"))
    theirs = pl.DataFrame({"@key": keys.theirs}).with_row_index("@row").drop_nulls("@key")
    met = ours.drop_nulls("@key").join(theirs, on="@key", how="inner", maintain_order="left_right")
    row = f"{outside.name}.row"
    frame = met.select(*table.layout.keys, (pl.col("@row").cast(pl.Int64) + 1).cast(pl.String).alias(row))
    places, columns = met["@row"].to_list(), []
    for name, (column, values, reasons, unread) in _taken(outside, join).items():
        _free(data, table, outside, column.variable)
        frame = frame.with_columns(values[places].alias(column.variable), reasons[places].alias(why(column.variable)))
        columns.append(column)
        report.unread[name] = unread
    layout = TableLayout(outside.name, join.into, (*table.layout.keys, row), tuple(columns), {"en": outside.name})
    joined = {**data, outside.name: Table(layout, frame)}
    if join.keep != "all":
        has = keys.ours.is_in(keys.theirs.drop_nulls().unique().implode()).fill_null(False)
        joined = only_rows(joined, join.into, has if join.keep == "matched" else ~has)
    return joined, report


def _free(data: DataSet, table: Table, outside: Outside, variable: str) -> None:
    """Raise DataError where a variable of the questionnaire, or of another source, is called the same, or a table."""
    for other in data.values():
        column = other.layout.column(variable)
        of_others = column is not None and (column.origin != outside.name or other.layout.name != table.layout.name)
        if of_others or other.layout.name == variable:
            what = "variable" if of_others else "table"
            raise DataError(
                "name_taken",
                f"There is a {what} “{variable}” already. Call the column of {outside.name} otherwise.",
            )


def _taken(outside: Outside, join: Join) -> dict[str, tuple[Column, pl.Series, pl.Series, int]]:
    """By column taken: the variable that it becomes, its values and why there are none, how many cells could not be read."""
    found = {}
    for name, variable in names_taken(outside.name, join).items():
        column, read = typed_column(outside, name, variable)
        found[name] = (column, read.values, read.reasons, int(read.unread.sum()))
    return found


def typed_column(outside: Outside, name: str, variable: str) -> tuple[Column, ReadCells]:
    """A column of an outside table as a variable, and its values."""
    described = outside.column(name)
    read = read_cells(outside.frame[name], described)
    codes = {code: {"en": label} for code, label in described.codes.items()}
    if described.read_as == "code":
        for value in read.values.drop_nulls().unique().sort().to_list():
            codes.setdefault(value, {"en": value})
    column = Column(
        variable,
        f"outside.{variable}",
        kind=_KINDS[described.read_as],
        measure=described.read_as,
        label={"en": described.label or f"{name} ({outside.name})"},
        codes=codes,
        origin=outside.name,
    )
    return column, read
