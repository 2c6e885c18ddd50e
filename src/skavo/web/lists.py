"""Code lists while a script is written: ready ones, from files and tables, merged, called otherwise."""

from __future__ import annotations

from flask import request
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.lists.from_table import MOST_CODES, Level
from skavo.core.questionnaire.script import CodeList, ListTable, Script
from skavo.services import lists
from skavo.services.lists import ListUpdateOut, MergedOut, OutsideName, ReadyOut, TableOut
from skavo.services.writing import RenamedOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("lists")
_BASE = "/questionnaires/<int:questionnaire_id>/lists"


class ReadyIn(Body):
    name: str = Field(min_length=1, max_length=64)
    languages: list[str] = Field(min_length=1, max_length=40)


class RecodingIn(Body):
    """`codes` leads from codes of the list to what they are called from now on."""

    script: Script
    code_list: str
    codes: dict[str, str] = Field(min_length=1, max_length=MOST_CODES)


class MergingIn(Body):
    """`becomes` says of single codes of `goes` which code of `stays`, or which new one, they are from now on."""

    script: Script
    stays: str
    goes: str
    becomes: dict[str, str] = Field(default={}, max_length=MOST_CODES)


class ListFileQuery(BaseModel):
    """`name` is the file's name, `languages` those of the script, a comma between them."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)
    languages: str = Field(default="en", max_length=500, pattern=r"^[A-Za-z0-9-]+(,[A-Za-z0-9-]+)*$")


class OutsideIn(Body):
    name: str = Field(min_length=1, max_length=64)
    languages: list[str] = Field(min_length=1, max_length=40)


class RowsIn(Body):
    columns: list[str] = Field(min_length=1, max_length=500)
    rows: list[list[str]] = Field(max_length=MOST_CODES)


class UpdatingListIn(RowsIn):
    """`drop_missing` leaves out the codes that the table does not have."""

    present: CodeList
    table: ListTable
    drop_missing: bool = False


class LevelsIn(RowsIn):
    levels: list[Level] = Field(min_length=1, max_length=8)
    language: str = Field(min_length=1, max_length=40)


@api.route_for("get", "/ready-lists", needs="signed-in", returns=list[ReadyOut])
def ready() -> list[ReadyOut]:
    return lists.ready_lists()


@api.route_for("post", f"{_BASE}/ready", needs="script.write", returns=CodeList)
def take_ready(path: QuestionnairePath, body: ReadyIn) -> CodeList:
    return lists.take_ready(body.name, body.languages)


@api.route_for("post", f"{_BASE}/codes", needs="script.write", returns=RenamedOut)
def recode(path: QuestionnairePath, body: RecodingIn) -> RenamedOut:
    return lists.recoded(body.script, body.code_list, body.codes)


@api.route_for("post", f"{_BASE}/merging", needs="script.write", returns=MergedOut)
def merge(path: QuestionnairePath, body: MergingIn) -> MergedOut:
    return lists.merged(body.script, body.stays, body.goes, body.becomes)


@api.route_for("post", f"{_BASE}/file", needs="script.write", returns=TableOut)
def read_file(path: QuestionnairePath, query: ListFileQuery) -> TableOut:
    """Read a .csv or .xlsx file sent as the body; it is not kept."""
    return lists.read_file(query.name, request.get_data(cache=False), query.languages.split(","))


@api.route_for("get", f"{_BASE}/tables", needs="script.write", returns=list[OutsideName])
def tables(path: QuestionnairePath) -> list[OutsideName]:
    return lists.list_tables(desk(), path.questionnaire_id)


@api.route_for("post", f"{_BASE}/outside", needs="script.write", returns=TableOut)
def read_outside(path: QuestionnairePath, body: OutsideIn) -> TableOut:
    return lists.read_outside(desk(), path.questionnaire_id, body.name, body.languages)


@api.route_for("post", f"{_BASE}/updating", needs="script.write", returns=ListUpdateOut)
def update(path: QuestionnairePath, body: UpdatingListIn) -> ListUpdateOut:
    return lists.updated(body.present, body.columns, body.rows, body.table, body.drop_missing)


@api.route_for("post", f"{_BASE}/levels", needs="script.write", returns=list[CodeList])
def levels(path: QuestionnairePath, body: LevelsIn) -> list[CodeList]:
    return lists.levelled(body.columns, body.rows, body.levels, body.language)
