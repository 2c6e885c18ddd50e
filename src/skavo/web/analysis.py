"""The analyse station: tables and what is behind their figures."""

from __future__ import annotations

from pydantic import BaseModel, Field

from skavo.core.estimation.tables import TableRequest
from skavo.services import tables
from skavo.services.cleaning import VariableOut
from skavo.services.tables import Behind, ComputedTable, Figure, SavedOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, DataSetPath

api = Resource("analysis", "/data-sets/<int:data_set_id>")


class SavedIn(Body):
    title: str = Field(min_length=1, max_length=200)
    request: TableRequest


class SavedPath(BaseModel):
    data_set_id: int
    table_id: int


@api.route_for("get", "/variables", needs="analyse.read", returns=list[VariableOut])
def set_variables(path: DataSetPath) -> list[VariableOut]:
    return tables.list_set_variables(desk(), path.data_set_id)


@api.route_for("post", "/table", needs="analyse.read", returns=ComputedTable)
def table(path: DataSetPath, body: TableRequest) -> ComputedTable:
    return tables.compute_table(desk(), path.data_set_id, body)


@api.route_for("post", "/table/behind", needs="analyse.read", returns=Behind)
def behind(path: DataSetPath, body: Figure) -> Behind:
    return tables.show_behind(desk(), path.data_set_id, body)


@api.route_for("get", "/tables", needs="analyse.read", returns=list[SavedOut])
def saved(path: DataSetPath) -> list[SavedOut]:
    return tables.list_tables(desk(), path.data_set_id)


@api.route_for("post", "/tables", needs="analyse.write", returns=SavedOut, status=201)
def save(path: DataSetPath, body: SavedIn) -> SavedOut:
    return tables.save_table(desk(), path.data_set_id, body.title, body.request)


@api.route_for("delete", "/tables/<int:table_id>", needs="analyse.write")
def remove(path: SavedPath) -> None:
    tables.remove_table(desk(), path.table_id)
