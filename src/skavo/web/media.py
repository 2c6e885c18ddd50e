"""The media shelf of a study at the desk, and its files for phones."""

from __future__ import annotations

from io import BytesIO
from typing import Literal

from flask import Response, request, send_file
from pydantic import BaseModel, ConfigDict, Field

from skavo.services import media
from skavo.services.file_made import FileMade
from skavo.services.media import BroughtOut, SaidIn, ShelfOut
from skavo.web.guard import caller
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import StudyPath

api = Resource("media")
# What is shown from the shelf runs nothing and reaches nothing, whatever it holds.
_SANDBOX = "sandbox; default-src 'none'; img-src 'self'; media-src 'self'; style-src 'unsafe-inline'"


class ShelfFilePath(BaseModel):
    shelf_file_id: int


class PhoneFilePath(BaseModel):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


class StudyPhoneFilePath(PhoneFilePath):
    study_id: int


class NameQuery(BaseModel):
    """`name` is the file's name."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=400)


class SizeQuery(BaseModel):
    """`size` is whole, or phone for the file as phones get it."""

    model_config = ConfigDict(extra="forbid")
    size: Literal["whole", "phone"] = "whole"


@api.route_for("get", "/studies/<int:study_id>/media", needs="script.read", returns=ShelfOut)
def shelf(path: StudyPath) -> ShelfOut:
    return media.show_shelf(desk(), path.study_id)


@api.route_for("post", "/studies/<int:study_id>/media", needs="script.write", returns=BroughtOut)
def bring_in(path: StudyPath, query: NameQuery) -> BroughtOut:
    """Take in a file, or a zip of them, sent as the body; what has the same name is replaced."""
    return media.bring_in(desk(), path.study_id, query.name, request.get_data(cache=False))


@api.route_for("get", "/studies/<int:study_id>/media.zip", needs="script.read")
def take_out(path: StudyPath) -> Response:
    made = media.take_out_all(desk(), path.study_id)
    return Response(made.content, mimetype=made.type, headers=attachment(made.name))


@api.route_for("get", "/studies/<int:study_id>/media/<string:hash>", needs="script.read")
def as_in_release(path: StudyPhoneFilePath) -> Response:
    """A file as a release names it, for the phone pane."""
    return shown(media.phone_content(desk(), path.study_id, path.hash))


@api.route_for("get", "/media/<int:shelf_file_id>/content", needs="script.read")
def content(path: ShelfFilePath, query: SizeQuery) -> Response:
    return shown(media.content_of(desk(), path.shelf_file_id, as_on_phones=query.size == "phone"))


@api.route_for("put", "/media/<int:shelf_file_id>", needs="script.write", status=204)
def say(path: ShelfFilePath, body: SaidIn) -> None:
    media.say(desk(), path.shelf_file_id, body)


@api.route_for("delete", "/media/<int:shelf_file_id>", needs="script.write", status=204)
def remove(path: ShelfFilePath) -> None:
    media.remove(desk(), path.shelf_file_id)


@api.route_for("get", "/field/media/<string:hash>", needs="device")
def for_phone(path: PhoneFilePath) -> Response:
    """A file that a release of the device's study shows."""
    return shown(media.phone_content(desk(), caller().study_id or 0, path.hash))


def shown(made: FileMade) -> Response:
    """A file of a shelf, as browsers play and show it."""
    # Films are sought in: browsers ask for ranges of them.
    response = send_file(BytesIO(made.content), mimetype=made.type, conditional=True, download_name=made.name)
    response.headers["Content-Security-Policy"] = _SANDBOX
    response.headers["Cache-Control"] = "private, no-cache"
    return response
