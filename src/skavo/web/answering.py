"""What the page of a link asks for. It is open to whoever has the address; services/answering.py says whom it lets in."""

from __future__ import annotations

import secrets
from typing import Any

from flask import Response, current_app, jsonify, request
from pydantic import BaseModel, Field
from sqlalchemy import func, select

from skavo.services import answering
from skavo.services.answering import LinkPage, Visitor
from skavo.services.media import phone_content
from skavo.store.files import Upload
from skavo.store.filing import claim_files, tell_file
from skavo.store.models import Interview, StoredFile
from skavo.web.device import MOST_BYTES, ReceiptOut
from skavo.web.guard import caller
from skavo.web.limits import limiter
from skavo.web.media import shown
from skavo.web.problems import Problem
from skavo.web.routing import Resource, desk, store
from skavo.web.shapes import Body
from skavo.web.uploads import MOST_FILE_BYTES, FileQuery, FileReceipt, receive

api = Resource("answering", "/answer/<string:secret>")
# What one who answers may send besides the answers.
_MOST_FILES, _MOST_FILE = 200, 200 << 20
_COOKIE = "skavo-answering"
_COOKIE_SECONDS = 366 * 24 * 3600


class SecretPath(BaseModel):
    secret: str = Field(max_length=64)


class LinkReleasePath(SecretPath):
    identity: str = Field(pattern="^[0-9a-f]{32}$")


class LinkMediaPath(SecretPath):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


class AnswersPath(SecretPath):
    uuid: str = Field(pattern="^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")


class AnswersFilePath(AnswersPath):
    hash: str = Field(pattern="^[0-9a-f]{64}$")


class Begun(Body):
    uuid: str = Field(pattern="^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")


def _visitor() -> Visitor:
    return Visitor(caller().person_id, request.cookies.get(_COOKIE, "")[:100])


def _to_be_marked() -> Visitor:
    """Who asks, with a new mark where the browser has none: it may have lost the one it was given."""
    found = _visitor()
    return found if found.mark else Visitor(found.person_id, secrets.token_urlsafe(24))


@api.route_for("get", "", needs="open", returns=LinkPage)
@limiter.limit("120 per minute")
def look(path: SecretPath) -> LinkPage:
    with store().reading() as session:
        return answering.show_link(session, path.secret, _visitor())


@api.route_for("get", "/releases/<string:identity>", needs="open")
@limiter.limit("60 per minute")
def release(path: LinkReleasePath) -> Response:
    with store().reading() as session:
        return jsonify(answering.release_of_link(session, path.secret, _visitor(), path.identity))


@api.route_for("get", "/media/<string:hash>", needs="open")
@limiter.limit("600 per minute")
def media(path: LinkMediaPath) -> Response:
    """A file that a release of the study shows."""
    with store().reading() as session:
        study_id = answering.enter(session, path.secret, _visitor()).link.study_id
    return shown(phone_content(desk(), study_id, path.hash))


@api.route_for("post", "/interviews", needs="open")
@limiter.limit("60 per minute; 2000 per day")
def begin(body: Begun, path: SecretPath) -> Response:
    """Note that an interview is begun; the browser is given a mark by which it is known again."""
    visitor = _to_be_marked()
    with store().session() as session:
        answering.begin_answering(session, path.secret, visitor, body.uuid)
    return _marked(Response(status=204), visitor.mark)


def _marked(response: Response, mark: str) -> Response:
    """An answer that gives the browser the mark by which it is known again."""
    response.set_cookie(
        _COOKIE, mark, max_age=_COOKIE_SECONDS, path="/api/answer", httponly=True, samesite="Lax",
        secure=bool(current_app.config["SESSION_COOKIE_SECURE"]),
    )  # fmt: skip
    return response


@api.route_for("put", "/interviews/<string:uuid>", needs="open", returns=ReceiptOut)
@limiter.limit("60 per minute")
def take_in(path: AnswersPath) -> Response:
    """Keep the answers, byte for byte; the receipt carries the hash of what was kept."""
    raw = request.get_data(cache=False)
    if len(raw) > MOST_BYTES:
        raise Problem("file_too_large", f"The answers are larger than {MOST_BYTES >> 20} MB.")
    visitor = _to_be_marked()
    with store().reading() as session:
        arrival = answering.compute_answers(session, path.secret, visitor, path.uuid, raw)
    with store().session() as session:
        receipt = answering.take_answers(session, path.secret, visitor, arrival)
        if receipt.outcome != "known":
            claim_files(session, store().files, session.get_one(Interview, receipt.interview_id))
    told = ReceiptOut(uuid=receipt.uuid, hash=receipt.hash, outcome=receipt.outcome, number=receipt.number)
    return _marked(jsonify(told.model_dump(mode="json")), visitor.mark)


@api.route_for("get", "/interviews/<string:uuid>/files/<string:hash>", needs="open", returns=FileReceipt)
@limiter.limit("600 per minute")
def arrived_of_file(path: AnswersFilePath) -> FileReceipt:
    """How much of a file has arrived, so that sending goes on where it broke off."""
    return FileReceipt(received=_upload(path)[1].received, hash=None)


@api.route_for("put", "/interviews/<string:uuid>/files/<string:hash>", needs="open", returns=FileReceipt)
@limiter.limit("600 per minute")
def take_in_file(path: AnswersFilePath, query: FileQuery) -> FileReceipt:
    """Keep a file of an interview that was begun, whole or piece by piece."""
    study_id, upload = _upload(path)
    receipt = receive(upload, min(_MOST_FILE, MOST_FILE_BYTES[query.kind]))
    if receipt.hash is not None:
        told: dict[str, Any] = {"interview_uuid": path.uuid, "digest": path.hash, "kind": query.kind}
        with store().session() as session:
            tell_file(session, store().files, study_id=study_id, device_id=None, **told)
    return receipt


def _upload(path: AnswersFilePath) -> tuple[int, Upload]:
    with store().reading() as session:
        entrance, begun = answering.begun_here(session, path.secret, _visitor(), path.uuid)
        study_id = entrance.link.study_id
        there = select(func.count()).where(
            StoredFile.study_id == study_id, StoredFile.interview_uuid == path.uuid, StoredFile.hash != path.hash
        )
        if (session.scalar(there) or 0) >= _MOST_FILES:
            raise Problem("file_too_large", f"More than {_MOST_FILES} files go with no interview.")
        return study_id, Upload(store().files, f"link-{begun.id}", path.hash)
