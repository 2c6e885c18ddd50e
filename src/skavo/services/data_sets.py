"""Data sets at the desk: what there are, their recipes written, tried and changed, their rows looked at."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.cleaning.work import as_texts
from skavo.core.combining.sides import check_known
from skavo.core.dataset.flatten import FACTS, DataSet, Table, why, without_sensitive
from skavo.core.dataset.layout import INTERVIEWS, MISSING_WORDS, label_in
from skavo.core.recipes.make import Made, make
from skavo.core.recipes.propose import StackProposal, propose
from skavo.core.recipes.recipe import Alone, Recipe, Source, read_recipe, write_recipe
from skavo.core.recipes.stack import Clash
from skavo.services.cleaning import VariableOut, variables_of
from skavo.services.desk import Desk
from skavo.services.found import the_data_set
from skavo.services.refusals import Refused, not_found, same_version
from skavo.store.datasets import outside_tables
from skavo.store.models import NamedDataSet, OutsideTable, Questionnaire, Release, SavedTable, now
from skavo.store.recipes import alone_in, own_set, revision_of, title_of, titles_of, zone_of
from skavo.store.sensitive import MASK, Hidden

MOST_ROWS = 100


class DataSetIn(BaseModel):
    """A data set as somebody writes it down."""

    model_config = ConfigDict(extra="forbid")
    title: str = Field(min_length=1, max_length=200)
    recipe: Recipe


class DataSetChange(DataSetIn):
    """`version` is that of the data set that was seen."""

    version: int


class OutsideSource(BaseModel):
    """A table from elsewhere; only of one that is joined it is known which rows are those of nobody."""

    id: int
    name: str
    is_joined: bool


class SourceOut(BaseModel):
    """A questionnaire that data sets can be made from, with its releases and the tables from elsewhere beside it; `data_set_id`
    is what it begins with."""

    questionnaire: int
    title: str
    releases: list[int]
    outside: list[OutsideSource]
    data_set_id: int


class DataSetOut(BaseModel):
    """`questionnaire_id` is the one that it begins with, None for one that somebody made; `tables` are saved ones made of it."""

    id: int
    title: str
    questionnaire_id: int | None
    recipe: Recipe
    revision: int
    version: int
    tables: list[str]
    created_by: str
    created_at: datetime


class DataSetsOut(BaseModel):
    sets: list[DataSetOut]
    sources: list[SourceOut]


class NarrowedOut(BaseModel):
    """Of so many interviews of a source, those that stay out by their state, their release and their day."""

    interviews: int
    not_accepted: int
    other_release: int
    other_day: int
    kept: int


class TableMade(BaseModel):
    name: str
    label: str
    rows: int
    variables: int


class MadeOut(BaseModel):
    """What a recipe makes: source by source, line by line. With `clashes` there are no tables; `places` are those that the rows
    could be of."""

    narrowed: list[NarrowedOut]
    left_out: list[int]
    beyond: list[int]
    clashes: list[Clash]
    tables: list[TableMade]
    places: list[str]
    variables: list[VariableOut]


class SetRowsQuery(BaseModel):
    """Rows of a table from the `offset`th on."""

    table: str = Field(max_length=64)
    offset: int = Field(default=0, ge=0)


class SetRowsOut(BaseModel):
    """Cells as texts, what is missing by its kind in square brackets; `keys` of the columns lead to the row."""

    keys: int
    columns: list[str]
    labels: list[str]
    total: int
    rows: list[list[str | None]]


class ProposeIn(BaseModel):
    """How the last of `sources` goes under those before it."""

    model_config = ConfigDict(extra="forbid")
    sources: list[Source] = Field(min_length=2, max_length=30)


def list_data_sets(desk: Desk, study_id: int) -> DataSetsOut:
    """Those that questionnaires begin with first, then those that somebody made, by title."""
    with desk.store.reading() as session:
        found = session.scalars(
            select(NamedDataSet)
            .where(NamedDataSet.study_id == study_id, NamedDataSet.removed_at.is_(None))
            .order_by(NamedDataSet.begins_id.is_(None), NamedDataSet.title, NamedDataSet.id)
        )
        return DataSetsOut(sets=[_out(desk, session, named) for named in found], sources=_sources(session, study_id))


def _sources(session: Session, study_id: int) -> list[SourceOut]:
    questionnaires = select(Questionnaire).where(
        Questionnaire.study_id == study_id, Questionnaire.describes == "interviews"
    )
    return [
        SourceOut(
            questionnaire=one.id, title=one.title, data_set_id=own_set(session, one.id).id,
            outside=[
                OutsideSource(id=table.id, name=table.name, is_joined=bool(table.joined))
                for table in outside_tables(session, one.id)
            ],
            releases=list(session.scalars(
                select(Release.number).where(Release.questionnaire_id == one.id, Release.practice.is_(False)).order_by(Release.number)
            )),
        )
        for one in session.scalars(questionnaires.order_by(Questionnaire.id))
    ]  # fmt: skip


def _out(desk: Desk, session: Session, named: NamedDataSet) -> DataSetOut:
    tables = select(SavedTable.title).where(SavedTable.data_set_id == named.id).order_by(SavedTable.title)
    recipe = read_recipe(named.recipe)
    return DataSetOut(
        id=named.id, title=title_of(session, named), questionnaire_id=named.begins_id,
        recipe=recipe if desk.sees_sensitive else _as_seen(recipe, _hidden_in(desk, session, recipe)),
        revision=revision_of(session, named), version=named.version, tables=list(session.scalars(tables)),
        created_by=named.created_by, created_at=named.created_at,
    )  # fmt: skip


def _hidden_in(desk: Desk, session: Session, recipe: Recipe) -> Hidden:
    """What is hidden of the sources, by the names that it has in the data set."""
    names: set[str] = set()
    for source in recipe.sources:
        names |= {source.names.get(v, v) for v in desk.hides(session, source.questionnaire).variables}
    for step in recipe.derived:
        if Hidden(variables=frozenset(names)).is_read_by(step.formula):
            names.add(step.into)
    return Hidden(variables=frozenset(names))


def _as_seen(recipe: Recipe, hidden: Hidden) -> Recipe:
    """A recipe without what its rules say of hidden variables."""
    seen = recipe.model_copy(deep=True)
    for step in seen.derived:
        step.formula = MASK if hidden.is_read_by(step.formula) else step.formula
    for left in seen.left_out:
        left.rule = MASK if hidden.is_read_by(left.rule) else left.rule
    for source in seen.sources:
        source.codes = {v: codes for v, codes in source.codes.items() if not hidden.has(source.names.get(v, v))}
    return seen


def show_made(desk: Desk, data_set_id: int) -> MadeOut:
    """What a data set's recipe makes now."""
    with desk.store.reading() as session:
        named = desk.named_data(session, the_data_set(session, data_set_id))
    return _made_out(named.made, named.data)


def _made_out(made: Made, data: DataSet) -> MadeOut:
    return MadeOut(
        narrowed=[NarrowedOut(**vars(one)) for one in made.narrowed], left_out=made.left_out, beyond=made.beyond,
        clashes=made.clashes, places=made.tables, variables=variables_of(data),
        tables=[
            TableMade(
                name=name, label=label_in(t.layout.label, "en", name), rows=t.frame.height, variables=len(t.layout.columns)
            )
            for name, t in data.items()
        ],
    )  # fmt: skip


def try_recipe(desk: Desk, study_id: int, recipe: Recipe) -> MadeOut:
    """What a recipe would make; raise DataError with the line that does not fit."""
    with desk.store.reading() as session:
        _check_sources(session, study_id, recipe.sources)
        made = _make(desk, session, study_id, recipe)
    return _made_out(made, made.data)


def _make(desk: Desk, session: Session, study_id: int, recipe: Recipe) -> Made:
    """What a recipe makes of the data as whoever asks may see them."""
    data, alone = _data_of(desk, session, recipe.sources)
    return make(recipe, data, titles_of(session, recipe), zone_of(session, study_id), alone)


def propose_source(desk: Desk, study_id: int, wanted: ProposeIn) -> StackProposal:
    """How a source goes under those before it: which variable is which, which code is which."""
    *before, last = wanted.sources
    with desk.store.reading() as session:
        _check_sources(session, study_id, wanted.sources)
        made = _make(desk, session, study_id, Recipe(sources=before))
        data, alone = _data_of(desk, session, [last])
    if made.clashes:
        raise Refused("clashes", f"The sources before this one do not go together yet. {made.clashes[0].words}")
    return propose(made.data, data[last.questionnaire] if last.alone is None else alone[last.alone])


def _data_of(desk: Desk, session: Session, sources: list[Source]) -> tuple[dict[int, DataSet], dict[Alone, DataSet]]:
    """The questionnaires and the outside tables among some sources, as whoever asks may see them."""
    prepared = {source.questionnaire: desk.data(session, source.questionnaire) for source in sources}
    alone = alone_in(desk.sets, session, sources, prepared)
    if not desk.sees_sensitive:
        alone = {which: without_sensitive(data) for which, data in alone.items()}
    return {number: one.data for number, one in prepared.items()}, alone


def _check_sources(session: Session, study_id: int, sources: list[Source]) -> None:
    for source in sources:
        found = session.get(Questionnaire, source.questionnaire)
        if found is None or found.study_id != study_id or found.describes != "interviews":
            raise not_found("questionnaire")
        outside = session.get(OutsideTable, source.outside) if source.outside is not None else None
        if source.outside is not None and (outside is None or outside.questionnaire_id != source.questionnaire):
            raise not_found("outside table")


def add_data_set(desk: Desk, study_id: int, said: DataSetIn) -> DataSetOut:
    """Keep a data set whose recipe can be made."""
    _check(desk, study_id, said.recipe)
    with desk.store.session() as session:
        _check_title(session, study_id, said.title)
        named = NamedDataSet(study_id=study_id, title=said.title, recipe=write_recipe(said.recipe), **desk.signed())
        session.add_all([named, desk.event(study_id, "data set made", title=said.title)])
        session.flush()
        return _out(desk, session, named)


def change_data_set(desk: Desk, data_set_id: int, said: DataSetChange) -> DataSetOut:
    """Give a data set another recipe or title; its revision rises."""
    with desk.store.reading() as session:
        named = the_data_set(session, data_set_id)
        _may_change(named)
    _check(desk, named.study_id, said.recipe)
    with desk.store.session() as session:
        named = the_data_set(session, data_set_id)
        same_version(named.version, said.version)
        _check_title(session, named.study_id, said.title, but=named.id)
        before = revision_of(session, named)
        named.title, named.recipe = said.title, write_recipe(said.recipe)
        named.version += 1
        named.shift += before + 1 - revision_of(session, named)
        session.add(desk.event(named.study_id, "data set changed", title=said.title))
        return _out(desk, session, named)


def remove_data_set(desk: Desk, data_set_id: int) -> None:
    """Take a data set away that no saved table is made of."""
    with desk.store.session() as session:
        named = the_data_set(session, data_set_id)
        _may_change(named)
        tables = session.scalar(select(func.count()).where(SavedTable.data_set_id == named.id)) or 0
        if tables:
            raise Refused(
                "data_set_used", f"{tables} saved tables are made of “{named.title}”. Remove them under Analyse first."
            )
        named.removed_at = now()
        session.add(desk.event(named.study_id, "data set removed", title=named.title, data_set=named.id))


def bring_back_data_set(desk: Desk, study_id: int, data_set_id: int) -> DataSetOut:
    """Undo that a data set was taken away."""
    with desk.store.session() as session:
        named = session.get(NamedDataSet, data_set_id)
        if named is None or named.study_id != study_id:
            raise not_found("data set")
        _check_title(session, study_id, named.title, but=named.id)
        named.removed_at = None
        session.add(desk.event(study_id, "data set brought back", title=named.title))
        return _out(desk, session, named)


def _check(desk: Desk, study_id: int, recipe: Recipe) -> None:
    made = try_recipe(desk, study_id, recipe)
    if made.clashes:
        raise Refused("clashes", made.clashes[0].words, {"clashes": [clash.model_dump() for clash in made.clashes]})


def _check_title(session: Session, study_id: int, title: str, but: int | None = None) -> None:
    mine = select(NamedDataSet).where(NamedDataSet.study_id == study_id, NamedDataSet.removed_at.is_(None))
    taken = {title_of(session, named).casefold() for named in session.scalars(mine) if named.id != but}
    if title.casefold() in taken:
        raise Refused(
            "title_taken", f"There is a data set “{title}” already. Give this one another title.", {"field": "title"}
        )


def _may_change(named: NamedDataSet) -> None:
    if named.begins_id is not None:
        raise Refused(
            "data_set_fixed",
            "This data set holds all interviews of its questionnaire and stays as it is. Make another one from it.",
        )


def show_set_rows(desk: Desk, data_set_id: int, query: SetRowsQuery) -> SetRowsOut:
    """Rows of a table of a data set."""
    with desk.store.reading() as session:
        data = desk.named_data(session, the_data_set(session, data_set_id)).data
    check_known(query.table, list(data), "table")
    table = data[query.table]
    return SetRowsOut(
        keys=len(table.layout.keys),
        columns=[*_known(table), *(c.variable for c in table.layout.columns)],
        labels=[*_known(table), *(label_in(c.label, "en", c.variable) for c in table.layout.columns)],
        total=table.frame.height,
        rows=[list(row) for row in _cells(table, query.offset).rows()],
    )


def _known(table: Table) -> list[str]:
    """What is known of each row besides its answers: its keys, and of an interview when, by whom and how it was made."""
    facts = FACTS if table.layout.name == INTERVIEWS else {}
    return list(dict.fromkeys([*table.layout.keys, *(fact for fact in facts if fact in table.frame.columns)]))


def _cells(table: Table, offset: int) -> pl.DataFrame:
    page = table.frame.slice(offset, MOST_ROWS)
    columns: list[Any] = [as_texts(page[name]) for name in _known(table)]
    for column in table.layout.columns:
        name = column.variable
        reasons = page[why(name)].cast(pl.String).replace_strict(
            {kind: f"[{words}]" for kind, words in MISSING_WORDS.items() if kind != "unanswered"}, default=None,
            return_dtype=pl.String,
        )  # fmt: skip
        columns.append(as_texts(page[name]).cast(pl.String).fill_null(reasons).alias(name))
    return pl.DataFrame(columns)
