"""The analyse station: tables computed from a sentence, saved, and the interviews behind each figure."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import polars as pl
from pydantic import BaseModel, ConfigDict, ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.dataset.layout import label_in
from skavo.core.estimation.tables import (
    ResultTable,
    TableRequest,
    interviews_behind,
    make_table,
    read_request,
    write_request,
)
from skavo.core.recipes.recipe import Recipe
from skavo.services.cleaning import VariableOut, variables_of
from skavo.services.desk import Desk
from skavo.services.found import the_data_set
from skavo.services.refusals import Refused, not_found
from skavo.store.models import Questionnaire, Release, SavedTable
from skavo.store.recipes import NamedData


class Figure(BaseModel):
    """One figure of a table: its row's and its column's category."""

    model_config = ConfigDict(extra="forbid")

    request: TableRequest
    row: str
    column: str


class NamedFigure(Figure):
    data_set_id: int


class Behind(BaseModel):
    """The way back from a figure: the interviews, what was cleaned, the wording in each release of each source; the data set
    that it is made of, with its revision."""

    data_set: str
    revision: int

    interviews: int
    cleaned: int
    wordings: list[dict[str, Any]]


class SavedOut(BaseModel):
    id: int
    title: str
    request: TableRequest
    created_at: datetime
    created_by: str


class ComputedTable(ResultTable):
    """A table, and the data set at the revision that it is made of."""

    data_set: str
    revision: int


def _data(desk: Desk, data_set_id: int) -> NamedData:
    with desk.store.reading() as session:
        return desk.named_data(session, the_data_set(session, data_set_id))


def compute_table(desk: Desk, data_set_id: int, request: TableRequest) -> ComputedTable:
    named = _data(desk, data_set_id)
    made = make_table(named.data, request)
    return ComputedTable(**dict(made), data_set=named.title, revision=named.revision)


def list_set_variables(desk: Desk, data_set_id: int) -> list[VariableOut]:
    """Every variable of a data set, in the order of its tables."""
    return variables_of(_data(desk, data_set_id).data)


def numbers_behind(desk: Desk, session: Session, study_id: int, text: str) -> list[int]:
    """The numbers of the interviews behind a figure, given as JSON {data_set_id, request, row, column}."""
    try:
        asked = NamedFigure.model_validate_json(text)
    except ValidationError:
        raise Refused(
            "wrong_figure", "This address names no figure. Go back to the table and choose it again."
        ) from None
    named = the_data_set(session, asked.data_set_id)
    if named.study_id != study_id:
        raise not_found("figure")
    data = desk.named_data(session, named).data
    keys = interviews_behind(data, asked.request, asked.row, asked.column)
    # The rows of an outside table are no interviews that could be opened.
    return [int(key) for key in keys if key.isdigit()]


def show_behind(desk: Desk, data_set_id: int, figure: Figure) -> Behind:
    """What a figure was made of."""
    named, request = _data(desk, data_set_id), figure.request
    keys = interviews_behind(named.data, request, figure.row, figure.column)
    cleaned, wordings = 0, []
    titled = len(named.recipe.questionnaires) > 1
    with desk.store.reading() as session:
        for questionnaire, prepared in named.prepared.items():
            theirs = _names_in(
                named.recipe, questionnaire, [v for v in (request.variable, request.by, request.across) if v]
            )
            of_figure = pl.col("variable").is_in(theirs) & pl.col("interview").is_in(keys)
            cleaned += prepared.cleaned.changes.filter(of_figure).height
            asked = _names_in(named.recipe, questionnaire, [request.variable])
            title = session.get_one(Questionnaire, questionnaire).title if titled else ""
            wordings += _wordings(session, questionnaire, title, asked, request.language)
    return Behind(
        interviews=len(keys), cleaned=cleaned, wordings=wordings, data_set=named.title, revision=named.revision
    )


def _names_in(recipe: Recipe, questionnaire: int, names: list[str]) -> list[str]:
    """What variables of the data set are called in a questionnaire that it is made from."""
    sources = [s for s in recipe.sources if s.questionnaire == questionnaire and s.alone is None]
    found = {name for name in names if not any(name in s.names for s in sources)}
    for source in sources:
        found |= {theirs for theirs, called in source.names.items() if called in names}
    return sorted(found)


def _wordings(
    session: Session, questionnaire: int, title: str, asked: list[str], language: str
) -> list[dict[str, Any]]:
    releases = select(Release).where(Release.questionnaire_id == questionnaire).order_by(Release.number)
    return [
        {"release": release.number, "questionnaire": title, "wording": label_in(part["wording"], language)}
        for release in session.scalars(releases)
        for part in release.script["parts"]
        if part["variable"] in asked
    ]


def list_tables(desk: Desk, data_set_id: int) -> list[SavedOut]:
    """The saved tables of a data set, by title."""
    query = select(SavedTable).where(SavedTable.data_set_id == data_set_id).order_by(SavedTable.title)
    with desk.store.reading() as session:
        return [_saved_out(table) for table in session.scalars(query)]


def _saved_out(table: SavedTable) -> SavedOut:
    return SavedOut(
        id=table.id, title=table.title, request=read_request(table.request), created_at=table.created_at,
        created_by=table.created_by,
    )  # fmt: skip


def save_table(desk: Desk, data_set_id: int, title: str, request: TableRequest) -> SavedOut:
    """Save a table's sentence, once it has been seen to give a table."""
    compute_table(desk, data_set_id, request)
    return keep_table(desk, data_set_id, title, request)


def keep_table(desk: Desk, data_set_id: int, title: str, request: TableRequest) -> SavedOut:
    """Save a sentence that is known to give a table."""
    with desk.store.session() as session:
        study_id = the_data_set(session, data_set_id).study_id
        made = SavedTable(data_set_id=data_set_id, title=title, request=write_request(request), **desk.signed())
        session.add_all([made, desk.event(study_id, "table saved", title=title)])
        session.flush()
        return _saved_out(made)


def remove_table(desk: Desk, table_id: int) -> None:
    with desk.store.session() as session:
        session.delete(session.get_one(SavedTable, table_id))
