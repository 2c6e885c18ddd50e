"""What an enumerator has at the office, whichever phone it came from: receipts, and interviews left to go on with."""

from __future__ import annotations

from flask import Response, request
from pydantic import BaseModel, Field

from skavo.services.handed_in import ReceiptLine, receipts_of
from skavo.services.left_interviews import leave_interview, take_up
from skavo.web.device import MOST_BYTES, device_asking
from skavo.web.problems import Problem
from skavo.web.routing import Resource, store

api = Resource("device_work", "/field")


class ReceiptsQuery(BaseModel):
    before: int | None = Field(default=None, ge=1)


class LeftPath(BaseModel):
    uuid: str = Field(pattern="^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")


class LeaveQuery(BaseModel):
    """`label` is what the interview is called in lists."""

    label: str = Field(default="", max_length=200)


class LeftReceipt(BaseModel):
    """`hash` is that of what was kept."""

    uuid: str
    hash: str


@api.route_for("get", "/receipts", needs="device", returns=list[ReceiptLine])
def receipts(query: ReceiptsQuery) -> list[ReceiptLine]:
    """What its person has handed in, a hundred at a time, the newest first."""
    with store().reading() as session:
        return receipts_of(session, device_asking(session), query.before)


@api.route_for("put", "/left/<string:uuid>", needs="device", returns=LeftReceipt)
def leave(path: LeftPath, query: LeaveQuery) -> LeftReceipt:
    """Keep an interview in hand for another phone of the same person; only then does this one let it go."""
    content = request.get_data(cache=False)
    if len(content) > MOST_BYTES:
        raise Problem("file_too_large", f"The interview is larger than {MOST_BYTES >> 20} MB.")
    with store().session() as session:
        return LeftReceipt(
            uuid=path.uuid,
            hash=leave_interview(session, device_asking(session), path.uuid, query.label, content),
        )


@api.route_for("post", "/left/<string:uuid>/taking", needs="device")
def take(path: LeftPath) -> Response:
    """What was left, word for word, for this phone alone from now on."""
    with store().session() as session:
        content = take_up(session, device_asking(session), path.uuid)
    return Response(content, mimetype="application/json")
