"""Map sheets at the desk, and their content for phones, a range at a time."""

from __future__ import annotations

from pathlib import Path

from flask import Response, send_file
from pydantic import BaseModel, ConfigDict, Field

from skavo.services import maps
from skavo.services.maps import MOST_BYTES, SheetName, SheetOut
from skavo.web.device import device_asking
from skavo.web.routing import Resource, desk, store
from skavo.web.shapes import StudyPath
from skavo.web.uploads import PiecesPath, take_piece, upload_at_desk

api = Resource("maps")


class SheetPath(BaseModel):
    sheet_id: int


class SheetHashPath(BaseModel):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


class ArrivingOut(BaseModel):
    """How much has arrived; `sheet`, once all of it has, is the map."""

    received: int
    sheet: SheetOut | None = None


class SheetQuery(BaseModel):
    """`name` is what the map will be called."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=64, pattern=r"\S")


@api.route_for("get", "/studies/<int:study_id>/map-sheets", needs="register.read", returns=list[SheetOut])
def list_sheets(path: StudyPath) -> list[SheetOut]:
    return maps.list_sheets(desk(), path.study_id)


@api.route_for("get", "/studies/<int:study_id>/map-files/<string:name>", needs="field.manage", returns=ArrivingOut)
def arrived_of_map(path: PiecesPath) -> ArrivingOut:
    """How much of a map has arrived, so that sending goes on where it broke off."""
    return ArrivingOut(received=upload_at_desk("map", path).received)


@api.route_for("put", "/studies/<int:study_id>/map-files/<string:name>", needs="field.manage", returns=ArrivingOut)
def bring_in(path: PiecesPath, query: SheetQuery) -> ArrivingOut:
    """Take in the next piece of a map: GeoJSON, MBTiles or PMTiles; with the last one it is brought in."""
    here = desk()
    received, sheet = take_piece(
        upload_at_desk("map", path), MOST_BYTES,
        lambda sent: maps.bring_in_sheet(here, path.study_id, query.name, sent),
    )  # fmt: skip
    return ArrivingOut(received=received, sheet=sheet)


@api.route_for("put", "/map-sheets/<int:sheet_id>", needs="field.manage", returns=SheetOut)
def rename(path: SheetPath, body: SheetName) -> SheetOut:
    return maps.rename_sheet(desk(), path.sheet_id, body)


@api.route_for("delete", "/map-sheets/<int:sheet_id>", needs="field.manage", status=204)
def remove(path: SheetPath) -> None:
    maps.remove_sheet(desk(), path.sheet_id)


@api.route_for("get", "/map-sheets/<int:sheet_id>/content", needs="register.read")
def content(path: SheetPath) -> Response:
    return _sent(maps.content_at_desk(desk(), path.sheet_id))


@api.route_for("get", "/field/map-sheets/<string:hash>", needs="device")
def for_phone(path: SheetHashPath) -> Response:
    """A map sheet of the device's study; phones ask for ranges of it."""
    with store().reading() as session:
        found = maps.sheet_file(store().files, session, device_asking(session).study_id, path.hash)
    return _sent(found)


def _sent(found: Path) -> Response:
    response = send_file(found, mimetype="application/octet-stream", conditional=True, etag=found.name)
    response.headers["Cache-Control"] = "private, no-cache"
    return response
