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
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, not_found
from skavo.store.datasets import Prepared
from skavo.store.models import Release, SavedTable


class Figure(BaseModel):
    """One figure of a table: its row's and its column's category."""

    model_config = ConfigDict(extra="forbid")

    request: TableRequest
    row: str
    column: str


class NamedFigure(Figure):
    questionnaire_id: int


class Behind(BaseModel):
    """The way back from a figure: the interviews, what was cleaned, the wording in each release."""

    interviews: int
    cleaned: int
    wordings: list[dict[str, Any]]


class SavedOut(BaseModel):
    id: int
    title: str
    request: TableRequest
    created_at: datetime
    created_by: str


def _data(desk: Desk, questionnaire_id: int) -> Prepared:
    with desk.store.reading() as session:
        return desk.data(session, questionnaire_id)


def compute_table(desk: Desk, questionnaire_id: int, request: TableRequest) -> ResultTable:
    return make_table(_data(desk, questionnaire_id).data, request)


def numbers_behind(desk: Desk, session: Session, study_id: int, text: str) -> list[int]:
    """The numbers of the interviews behind a figure, given as JSON {questionnaire_id, request, row, column}."""
    try:
        asked = NamedFigure.model_validate_json(text)
    except ValidationError:
        raise Refused(
            "wrong_figure", "This address names no figure. Go back to the table and choose it again."
        ) from None
    questionnaire = the_questionnaire(session, asked.questionnaire_id)
    if questionnaire.study_id != study_id:
        raise not_found("figure")
    data = desk.data(session, questionnaire.id).data
    return [int(key) for key in interviews_behind(data, asked.request, asked.row, asked.column)]


def show_behind(desk: Desk, questionnaire_id: int, figure: Figure) -> Behind:
    """What a figure was made of."""
    prepared, request = _data(desk, questionnaire_id), figure.request
    keys = interviews_behind(prepared.data, request, figure.row, figure.column)
    named = [name for name in (request.variable, request.by, request.across) if name]
    of_figure = pl.col("variable").is_in(named) & pl.col("interview").is_in(keys)
    cleaned = prepared.cleaned.changes.filter(of_figure).height
    with desk.store.reading() as session:
        releases = select(Release).where(Release.questionnaire_id == questionnaire_id).order_by(Release.number)
        wordings = [
            {"release": release.number, "wording": label_in(part["wording"], request.language)}
            for release in session.scalars(releases)
            for part in release.script["parts"]
            if part["variable"] == request.variable
        ]
    return Behind(interviews=len(keys), cleaned=cleaned, wordings=wordings)


def list_tables(desk: Desk, questionnaire_id: int) -> list[SavedOut]:
    """The saved tables of a questionnaire, by title."""
    query = select(SavedTable).where(SavedTable.questionnaire_id == questionnaire_id).order_by(SavedTable.title)
    with desk.store.reading() as session:
        return [_saved_out(table) for table in session.scalars(query)]


def _saved_out(table: SavedTable) -> SavedOut:
    return SavedOut(
        id=table.id, title=table.title, request=read_request(table.request), created_at=table.created_at,
        created_by=table.created_by,
    )  # fmt: skip


def save_table(desk: Desk, questionnaire_id: int, title: str, request: TableRequest) -> SavedOut:
    """Save a table's sentence, once it has been seen to give a table."""
    compute_table(desk, questionnaire_id, request)
    return keep_table(desk, questionnaire_id, title, request)


def keep_table(desk: Desk, questionnaire_id: int, title: str, request: TableRequest) -> SavedOut:
    """Save a sentence that is known to give a table."""
    with desk.store.session() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        made = SavedTable(
            questionnaire_id=questionnaire_id, title=title, request=write_request(request), **desk.signed()
        )
        session.add_all([made, desk.event(study_id, "table saved", title=title)])
        session.flush()
        return _saved_out(made)


def remove_table(desk: Desk, table_id: int) -> None:
    with desk.store.session() as session:
        session.delete(session.get_one(SavedTable, table_id))
