"""The analyse station: tables and what is behind their figures."""

from __future__ import annotations

from pydantic import BaseModel, Field

from skavo.core.estimation.tables import ResultTable, TableRequest
from skavo.services import tables
from skavo.services.tables import Behind, Figure, SavedOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("analysis", "/questionnaires/<int:questionnaire_id>")


class SavedIn(Body):
    title: str = Field(min_length=1, max_length=200)
    request: TableRequest


class SavedPath(BaseModel):
    questionnaire_id: int
    table_id: int


@api.route_for("post", "/table", needs="analyse.read", returns=ResultTable)
def table(path: QuestionnairePath, body: TableRequest) -> ResultTable:
    return tables.compute_table(desk(), path.questionnaire_id, body)


@api.route_for("post", "/table/behind", needs="analyse.read", returns=Behind)
def behind(path: QuestionnairePath, body: Figure) -> Behind:
    return tables.show_behind(desk(), path.questionnaire_id, body)


@api.route_for("get", "/tables", needs="analyse.read", returns=list[SavedOut])
def saved(path: QuestionnairePath) -> list[SavedOut]:
    return tables.list_tables(desk(), path.questionnaire_id)


@api.route_for("post", "/tables", needs="analyse.write", returns=SavedOut, status=201)
def save(path: QuestionnairePath, body: SavedIn) -> SavedOut:
    return tables.save_table(desk(), path.questionnaire_id, body.title, body.request)


@api.route_for("delete", "/tables/<int:table_id>", needs="analyse.write")
def remove(path: SavedPath) -> None:
    tables.remove_table(desk(), path.table_id)
