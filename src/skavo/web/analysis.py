"""Tables: computed from a sentence, saved, and the interviews behind each figure."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel, Field, ValidationError
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
from skavo.store.datasets import Prepared
from skavo.store.models import Release, SavedTable
from skavo.web.problems import Problem, not_found
from skavo.web.questionnaires import questionnaire_or_404
from skavo.web.routing import Resource, happened, signed, store
from skavo.web.seen import seen_data
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("analysis", "/questionnaires/<int:questionnaire_id>")


class Figure(Body):
    """One figure of a table: its row's and its column's category."""

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


class SavedIn(Body):
    title: str = Field(min_length=1, max_length=200)
    request: TableRequest


class SavedOut(BaseModel):
    id: int
    title: str
    request: TableRequest
    created_at: datetime
    created_by: str


class SavedPath(BaseModel):
    questionnaire_id: int
    table_id: int


def _data(questionnaire_id: int) -> Prepared:
    with store().reading() as session:
        questionnaire_or_404(session, questionnaire_id)
        return seen_data(session, questionnaire_id)


@api.route_for("post", "/table", needs="analyse.read", returns=ResultTable)
def table(path: QuestionnairePath, body: TableRequest) -> ResultTable:
    return make_table(_data(path.questionnaire_id).data, body)


def numbers_behind(session: Session, study_id: int, text: str) -> list[int]:
    """The numbers of the interviews behind a figure, given as JSON {questionnaire_id, request, row, column}."""
    try:
        asked = NamedFigure.model_validate_json(text)
    except ValidationError:
        raise Problem(
            "wrong_figure", "This address names no figure. Go back to the table and choose it again."
        ) from None
    questionnaire = questionnaire_or_404(session, asked.questionnaire_id)
    if questionnaire.study_id != study_id:
        raise not_found("figure")
    data = seen_data(session, questionnaire.id).data
    return [int(key) for key in interviews_behind(data, asked.request, asked.row, asked.column)]


@api.route_for("post", "/table/behind", needs="analyse.read", returns=Behind)
def behind(path: QuestionnairePath, body: Figure) -> Behind:
    prepared = _data(path.questionnaire_id)
    keys = interviews_behind(prepared.data, body.request, body.row, body.column)
    named = {body.request.variable, body.request.by, body.request.across}
    wanted = set(keys)
    cleaned = sum(1 for c in prepared.cleaned.changes if c.variable in named and c.interview in wanted)
    with store().reading() as session:
        releases = select(Release).where(Release.questionnaire_id == path.questionnaire_id).order_by(Release.number)
        wordings = [
            {"release": r.number, "wording": label_in(_wording(p), body.request.language)}
            for r in session.scalars(releases)
            for p in r.script["parts"]
            if p["variable"] == body.request.variable
        ]
    return Behind(interviews=len(keys), cleaned=cleaned, wordings=wordings)


def _wording(part: dict[str, Any]) -> dict[str, str]:
    wording: dict[str, str] = part["wording"]
    return wording


@api.route_for("get", "/tables", needs="analyse.read", returns=list[SavedOut])
def saved(path: QuestionnairePath) -> list[SavedOut]:
    with store().reading() as session:
        questionnaire_or_404(session, path.questionnaire_id)
        query = (
            select(SavedTable).where(SavedTable.questionnaire_id == path.questionnaire_id).order_by(SavedTable.title)
        )
        return [_saved_out(t) for t in session.scalars(query)]


def _saved_out(table: SavedTable) -> SavedOut:
    return SavedOut(
        id=table.id, title=table.title, request=read_request(table.request), created_at=table.created_at,
        created_by=table.created_by,
    )  # fmt: skip


@api.route_for("post", "/tables", needs="analyse.write", returns=SavedOut, status=201)
def save(path: QuestionnairePath, body: SavedIn) -> SavedOut:
    """Save a table's sentence, once it has been seen to give a table."""
    make_table(_data(path.questionnaire_id).data, body.request)
    with store().session() as session:
        study_id = questionnaire_or_404(session, path.questionnaire_id).study_id
        made = SavedTable(
            questionnaire_id=path.questionnaire_id,
            title=body.title,
            request=write_request(body.request),
            **signed(),
        )
        session.add(made)
        session.add(happened(study_id, "table saved", title=body.title))
        session.flush()
        return _saved_out(made)


@api.route_for("delete", "/tables/<int:table_id>", needs="analyse.write")
def remove(path: SavedPath) -> None:
    with store().session() as session:
        session.delete(session.get_one(SavedTable, path.table_id))
