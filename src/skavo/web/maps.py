"""Map sheets at the desk, and their content for phones, a range at a time."""

from __future__ import annotations

from pathlib import Path
from tempfile import TemporaryDirectory

from flask import Response, request, send_file
from pydantic import BaseModel, ConfigDict, Field

from skavo.services import maps
from skavo.services.maps import MOST_BYTES, SheetName, SheetOut
from skavo.web.device import device_asking
from skavo.web.problems import Problem
from skavo.web.routing import Resource, desk, store
from skavo.web.shapes import StudyPath

api = Resource("maps")
_PIECE = 1 << 20


class SheetPath(BaseModel):
    sheet_id: int


class SheetHashPath(BaseModel):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


class SheetQuery(BaseModel):
    """`name` is what the map will be called."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=64, pattern=r"\S")


@api.route_for("get", "/studies/<int:study_id>/map-sheets", needs="field.read", returns=list[SheetOut])
def list_sheets(path: StudyPath) -> list[SheetOut]:
    return maps.list_sheets(desk(), path.study_id)


@api.route_for("post", "/studies/<int:study_id>/map-sheets", needs="field.manage", returns=SheetOut, status=201)
def bring_in(path: StudyPath, query: SheetQuery) -> SheetOut:
    """Take in a map sent as the body: GeoJSON, MBTiles or PMTiles."""
    request.max_content_length = MOST_BYTES
    with TemporaryDirectory() as scratch:
        sent = Path(scratch) / "map"
        with sent.open("wb") as out:
            while piece := request.stream.read(_PIECE):
                out.write(piece)
        if sent.stat().st_size == 0:
            raise Problem("empty_file", "This file is empty. Choose another one.")
        return maps.bring_in_sheet(desk(), path.study_id, query.name, sent)


@api.route_for("put", "/map-sheets/<int:sheet_id>", needs="field.manage", returns=SheetOut)
def rename(path: SheetPath, body: SheetName) -> SheetOut:
    return maps.rename_sheet(desk(), path.sheet_id, body)


@api.route_for("delete", "/map-sheets/<int:sheet_id>", needs="field.manage", status=204)
def remove(path: SheetPath) -> None:
    maps.remove_sheet(desk(), path.sheet_id)


@api.route_for("get", "/map-sheets/<int:sheet_id>/content", needs="field.read")
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
