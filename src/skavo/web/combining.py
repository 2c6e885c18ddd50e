"""The combine station: tables from elsewhere."""

from __future__ import annotations

from flask import request
from pydantic import BaseModel, ConfigDict, Field

from skavo.services import combining
from skavo.services.combining import Card, Join, OutsideOut, Report
from skavo.web.routing import Resource, desk
from skavo.web.shapes import QuestionnairePath

api = Resource("combining", "/questionnaires/<int:questionnaire_id>/outside")


class FileQuery(BaseModel):
    """`name` is the file's name."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)


class CardChange(Card):
    """`version` is that of the card that was changed."""

    version: int


class OutsidePath(BaseModel):
    questionnaire_id: int
    outside_id: int


@api.route_for("get", "", needs="analyse.read", returns=list[OutsideOut])
def list_all(path: QuestionnairePath) -> list[OutsideOut]:
    return combining.list_outside(desk(), path.questionnaire_id)


@api.route_for("post", "", needs="combine.write", returns=OutsideOut, status=201)
def bring_in(path: QuestionnairePath, query: FileQuery) -> OutsideOut:
    """Take in a .csv or .xlsx file sent as the body."""
    return combining.bring_in(desk(), path.questionnaire_id, query.name, request.get_data(cache=False))


@api.route_for("put", "/<int:outside_id>/card", needs="combine.write", returns=OutsideOut)
def write_card(path: OutsidePath, body: CardChange) -> OutsideOut:
    card = Card(**body.model_dump(exclude={"version"}))
    return combining.write_card(desk(), path.outside_id, card, body.version)


@api.route_for("post", "/<int:outside_id>/preview", needs="combine.write", returns=Report)
def preview(path: OutsidePath, body: Join) -> Report:
    return combining.preview_join(desk(), path.questionnaire_id, path.outside_id, body)


@api.route_for("put", "/<int:outside_id>/join", needs="combine.write", returns=OutsideOut)
def join(path: OutsidePath, body: Join) -> OutsideOut:
    return combining.set_join(desk(), path.questionnaire_id, path.outside_id, body)


@api.route_for("delete", "/<int:outside_id>/join", needs="combine.write", returns=OutsideOut)
def undo_join(path: OutsidePath) -> OutsideOut:
    return combining.set_join(desk(), path.questionnaire_id, path.outside_id, None)


@api.route_for("delete", "/<int:outside_id>", needs="combine.write")
def remove(path: OutsidePath) -> None:
    combining.remove_outside(desk(), path.questionnaire_id, path.outside_id)
