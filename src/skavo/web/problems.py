"""Errors as problem documents (RFC 9457): one shape for everything that goes wrong."""

from __future__ import annotations

import errno
import logging
from typing import Any

from flask import Flask, Response, jsonify, request
from pydantic import ValidationError
from sqlalchemy.exc import OperationalError
from werkzeug.exceptions import HTTPException

from skavo.core.errors import SkavoError
from skavo.jobs.preparing import order_once
from skavo.store.waited_for import BeingPrepared

log = logging.getLogger("skavo")

_STATUS = {
    "not_signed_in": 401, "wrong_sign_in": 401, "device_unknown": 401, "not_allowed": 403, "wipe_ordered": 403, "confirm_first": 403, "not_found": 404, "link_ended": 410,
    "changed_meanwhile": 409, "last_manager": 409, "has_errors": 409, "wrong_place": 409, "upload_busy": 409, "answered_already": 409, "link_not_open": 409, "disk_damaged": 500,
    "file_too_large": 413, "disk_full": 507,
}  # fmt: skip


class Problem(SkavoError):
    """An error of the interface itself."""


def problem(code: str, message: str, status: int, details: dict[str, Any] | None = None) -> Response:
    response = jsonify(
        {"type": "about:blank", "title": message, "status": status, "code": code, "details": details or {}}
    )
    response.status_code = status
    response.content_type = "application/problem+json"
    return response


def validation_problem(error: ValidationError) -> Response:
    """A body, path or query that does not fit; names the place, never the value."""
    first = error.errors(include_input=False, include_url=False)[0]
    place = "/".join(str(piece) for piece in first["loc"])
    return problem("wrong_request", f"{place or 'request'}: {first['msg']}.", 422, {"place": place})


def install(app: Flask) -> None:
    @app.errorhandler(BeingPrepared)
    def _prepared(error: BeingPrepared) -> Response:
        progress = order_once(app.extensions["skavo_store"], app.extensions["skavo_jobs"], error)
        return problem(error.code, error.message, 503, {"progress": progress})

    @app.errorhandler(SkavoError)
    def _skavo(error: SkavoError) -> Response:
        return problem(error.code, error.message, _STATUS.get(error.code, 422), error.details)

    @app.errorhandler(OSError)
    @app.errorhandler(OperationalError)
    def _disk(error: OSError | OperationalError) -> Response:
        is_full = isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT)
        if is_full or "disk is full" in str(error):
            message = (
                "The server’s disk is full. Nothing was kept of this and nothing is lost; make room and try again."
            )
            return problem("disk_full", message, 507)
        return _unforeseen(error)

    @app.errorhandler(OverflowError)
    def _too_large(error: OverflowError) -> Response:
        log.info("a number too large for the database was asked for")
        return problem("wrong_request", "A number in this request is larger than anything is counted.", 422)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        # Below /api an address that takes another method only is one that is not there.
        status = 404 if error.code == 405 and request.path.startswith("/api/") else error.code or 500
        code = {404: "not_found", 429: "too_many_tries"}.get(status, "http")
        message = {
            404: "There is nothing at this address.",
            413: "This is too large to send.",
            429: "Too many tries. Wait a minute and try again.",
        }.get(status, error.description or error.name)
        return problem(code, message, status)

    @app.errorhandler(Exception)
    def _unforeseen(error: Exception) -> Response:
        log.exception("unforeseen error")
        return problem("unforeseen", "Something went wrong on the server. Nothing was changed; try again.", 500)
