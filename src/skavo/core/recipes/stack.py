"""Sources put under one another: the same variables in one column, what a source did not ask is *not asked* there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import polars as pl
from pydantic import BaseModel

from skavo.core.dataset.flatten import FACTS, WHY, DataSet, Table, dtype_of, why
from skavo.core.dataset.layout import INTERVIEWS, KEY, Column, TableLayout, label_in
from skavo.core.dataset.nesting import tables_above
from skavo.core.errors import DataError
from skavo.core.recipes.recipe import Source

# The variable that says which source an interview is from.
SOURCE = "source"


class Clash(BaseModel):
    """A variable that is not the same in two sources: `place` is the source, from 0, that does not go with those before.

    `code` is the one that means something else there, empty where the variable as a whole is of another kind.
    """

    place: int
    variable: str
    theirs: str
    code: str
    words: str


@dataclass(frozen=True)
class Stacked:
    """Without `clashes` the sources are in `data`; with any there is nothing."""

    data: DataSet
    clashes: list[Clash]


def stack(sources: Sequence[tuple[Source, DataSet]], titles: Sequence[str]) -> Stacked:
    """`titles` tell the sources apart. One source alone is only called otherwise where it says so.

    Raise DataError where a name is given twice, tables lie differently, or an interview is in two sources.
    """
    renamed = [called_otherwise(data, source) for source, data in sources]
    if len(renamed) == 1:
        return Stacked(renamed[0], [])
    names = list(dict.fromkeys(name for data in renamed for name in data))
    clashes: list[Clash] = []
    stacked = {name: _under_one_another(name, renamed, sources, clashes) for name in names}
    if clashes:
        return Stacked({}, clashes)
    _check_names(stacked)
    _check_once(stacked[INTERVIEWS], titles)
    heights = [data[INTERVIEWS].frame.height for data in renamed]
    return Stacked({**stacked, INTERVIEWS: _with_source(stacked, heights, titles)}, [])


def called_otherwise(data: DataSet, source: Source) -> DataSet:
    """A source with its variables, rosters and codes called as the data set calls them, without what stays out."""
    if not source.names and not source.codes:
        return data
    called = {name: source.names.get(name, name) for name in data}
    called[INTERVIEWS] = INTERVIEWS
    found: DataSet = {}
    for name, table in data.items():
        if any(called[above] == "" for above in (name, *tables_above(data, table))):
            continue
        made = _called_otherwise(table, called, source)
        if made.layout.name in found:
            raise DataError("name_taken", f"Two rosters would be called “{made.layout.name}”. Give one another name.")
        found[made.layout.name] = made
    _check_names(found)
    return found


def _called_otherwise(table: Table, called: dict[str, str], source: Source) -> Table:
    layout, frame = table.layout, table.frame
    rows = {f"{old}.row": f"{new}.row" for old, new in called.items() if new}
    renamed = {key: rows.get(key, key) for key in layout.keys}
    columns, taken = [], []
    for column in layout.columns:
        name = source.names.get(column.variable, column.variable)
        if not name:
            continue
        values = _recoded(frame[column.variable], column, source.codes.get(column.variable, {}))
        taken += [values.alias(name), frame[why(column.variable)].alias(why(name))]
        columns.append(replace(_with_codes(column, source.codes.get(column.variable, {})), variable=name))
    known = dict.fromkeys((*FACTS, *layout.keys))
    keys = frame.select(*[key for key in known if key in frame.columns]).rename(renamed)
    names = [series.name for series in taken]
    if twice := next((name for name in names if names.count(name) > 1), None):
        raise DataError("name_taken", f"Two variables would be called “{twice}”. Give one another name.")
    parent = called[layout.parent] if layout.parent is not None else None
    made = TableLayout(called[layout.name], parent, tuple(renamed.values()), tuple(columns), layout.label)
    return Table(made, keys.with_columns(taken))


def _recoded(values: pl.Series, column: Column, codes: dict[str, str]) -> pl.Series:
    if not codes:
        return values
    if column.measure == "codes":
        return values.list.eval(pl.element().replace(codes)).list.unique(maintain_order=True)
    if column.measure == "code":
        return values.replace(codes)
    raise DataError("no_codes", f"“{column.variable}” has no codes that could become others.")


def _with_codes(column: Column, codes: dict[str, str]) -> Column:
    if not codes:
        return column
    known: dict[str, dict[str, str]] = {}
    for code, label in column.codes.items():
        known.setdefault(codes.get(code, code), label)
    return replace(column, codes=known, exclusive=frozenset(codes.get(code, code) for code in column.exclusive))


def _under_one_another(
    name: str, renamed: list[DataSet], sources: Sequence[tuple[Source, DataSet]], clashes: list[Clash]
) -> Table:
    places = [place for place, data in enumerate(renamed) if name in data]
    first = renamed[places[0]][name].layout
    columns = {column.variable: column for column in first.columns}
    for place in places[1:]:
        layout = renamed[place][name].layout
        if (layout.parent, layout.keys) != (first.parent, first.keys):
            raise DataError("lies_elsewhere", f"The roster “{name}” lies below other rows in source {place + 1}.")
        back = {new: old for old, new in sources[place][0].names.items()}
        for column in layout.columns:
            known = columns.get(column.variable)
            theirs = back.get(column.variable, column.variable)
            meant = frozenset(sources[place][0].codes.get(theirs, {}).values())
            found = clashes_of(known, column, place, theirs, meant) if known is not None else []
            clashes += found
            columns[column.variable] = column if known is None else _both(known, column)
    if clashes:
        return renamed[places[0]][name]
    layout = replace(first, columns=tuple(columns.values()))
    return Table(layout, pl.concat([_laid(renamed[place][name], layout) for place in places]))


def clashes_of(
    ours: Column, theirs: Column, place: int, called: str, meant: frozenset[str] = frozenset()
) -> list[Clash]:
    """Why two columns are not one variable; codes that are `meant` to be the same are taken as such."""
    if ours.measure != theirs.measure:
        words = f"“{ours.variable}” holds {_WORDS[ours.measure]} before, {_WORDS[theirs.measure]} here."
        return [Clash(place=place, variable=ours.variable, theirs=called, code="", words=words)]
    if ours.unit != theirs.unit:
        words = f"“{ours.variable}” is counted in {ours.unit or 'no unit'} before, in {theirs.unit or 'no unit'} here."
        return [Clash(place=place, variable=ours.variable, theirs=called, code="", words=words)]
    return [
        Clash(
            place=place, variable=ours.variable, theirs=called, code=code,
            words=f"Code {code} of “{ours.variable}” is “{label_in(ours.codes[code], 'en', code)}” before, "
            f"“{label_in(label, 'en', code)}” here.",
        )
        for code, label in theirs.codes.items()
        if code in ours.codes and code not in meant and not same_words(ours.codes[code], label)
    ]  # fmt: skip


_WORDS = {
    "number": "numbers", "text": "texts", "date": "dates", "time": "times", "date-time": "moments", "yes/no": "yes or no",
    "code": "one code", "codes": "several codes",
}  # fmt: skip


def same_words(one: dict[str, str], other: dict[str, str]) -> bool:
    """Whether two labels are the same in a language that both have, apart from capitals and blanks."""
    return one == other or any(_plain(one[lang]) == _plain(other[lang]) for lang in one.keys() & other.keys())


def _plain(text: str) -> str:
    return " ".join(text.casefold().split())


def _both(ours: Column, theirs: Column) -> Column:
    """A column that holds what two held: what either was made from, with the codes of both."""
    return replace(
        ours, codes={**theirs.codes, **ours.codes} if not ours.codes else {**ours.codes, **_more(ours, theirs)},
        sensitive=ours.sensitive or theirs.sensitive, whole=ours.whole and theirs.whole,
        exclusive=ours.exclusive | theirs.exclusive, sources=ours.sources | theirs.sources | {theirs.part_id},
    )  # fmt: skip


def _more(ours: Column, theirs: Column) -> dict[str, dict[str, str]]:
    return {code: label for code, label in theirs.codes.items() if code not in ours.codes}


def _laid(table: Table, layout: TableLayout) -> pl.DataFrame:
    """The rows of a source in the columns of all."""
    frame = table.frame
    taken = [pl.col(key) for key in (FACTS if layout.name == INTERVIEWS else layout.keys)]
    for column in layout.columns:
        name = column.variable
        if table.layout.column(name) is None:
            taken.append(pl.lit(None, dtype=dtype_of(column)).alias(name))
            taken.append(pl.lit("not_asked", dtype=WHY).alias(why(name)))
        else:
            taken += [pl.col(name).cast(dtype_of(column)), pl.col(why(name)).cast(WHY)]
    return frame.select(taken)


def _check_names(data: DataSet) -> None:
    seen = {INTERVIEWS}
    for name, table in data.items():
        for given in [*([name] if name != INTERVIEWS else []), *(c.variable for c in table.layout.columns)]:
            if given in seen:
                raise DataError("name_taken", f"“{given}” would be there twice. Give one of them another name.")
            seen.add(given)


def _check_once(interviews: Table, titles: Sequence[str]) -> None:
    keys = interviews.frame[KEY]
    if (twice := keys.filter(keys.is_duplicated())).len():
        raise DataError(
            "interview_twice", f"{twice[0]} is in two sources ({twice.n_unique():,} are). Where their releases or days overlap, narrow "
            "one of them down; a table that stands there twice is taken out once.",
        )  # fmt: skip


def _with_source(stacked: DataSet, heights: list[int], titles: Sequence[str]) -> Table:
    table = stacked[INTERVIEWS]
    taken = {c.variable for t in stacked.values() for c in t.layout.columns} | stacked.keys()
    name = next(n for n in (SOURCE, *(f"{SOURCE}_{i}" for i in range(2, 10_000))) if n not in taken)
    codes = {str(place): {"en": title} for place, title in enumerate(titles, 1)}
    column = Column(name, SOURCE, "single answer", "code", {"en": "Source"}, codes, origin="recipe")
    values = [code for code, height in zip(codes, heights, strict=True) for _ in range(height)]
    frame = table.frame.with_columns(pl.Series(name, values, dtype=pl.String), pl.lit(None, dtype=WHY).alias(why(name)))
    return Table(replace(table.layout, columns=(column, *table.layout.columns)), frame)
