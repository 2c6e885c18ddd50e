"""The three pages, office, field and that of links, and what they are made of."""

from __future__ import annotations

import re
from pathlib import Path

from flask import Blueprint, Response, abort, current_app, jsonify, redirect, request, send_from_directory
from werkzeug.wrappers import Response as AnyResponse

from skavo.doctor import folder_and_database

STATIC = Path(__file__).parent / "static"
pages = Blueprint("pages", __name__)
OPEN_PAGES = {
    "pages.office",
    "pages.field",
    "pages.answer",
    "pages.asset",
    "pages.field_root",
    "pages.former_service_worker",
    "pages.health",
    "static",
}
_NOT_BUILT = "The pages are not built. Run `make build` and start again; the command line works without them.\n"


def _page(name: str) -> Response:
    if not (STATIC / name).exists():
        return Response(_NOT_BUILT, mimetype="text/plain", status=503)
    response = send_from_directory(STATIC, name)
    response.headers["Cache-Control"] = "no-cache"
    return response


@pages.get("/")
@pages.get("/<path:path>")
def office(path: str = "") -> AnyResponse:
    """A file of the build where there is one, the office page for every other address."""
    if path.startswith(("api/", "openapi")):
        abort(404)
    target = STATIC / path
    if path and target.is_file() and STATIC in target.resolve().parents:
        return asset(path)
    return _page("office.html")


@pages.get("/healthz")
def health() -> Response:
    """Whether the server can do its work, and in words what stands in the way; nothing of what it holds."""
    found = list(folder_and_database(current_app.config["FOLDER"]))
    ill = [
        {"what": f.what, "words": f.words, "mend": f.mend} for f in found if not f.is_well and f.what != "permissions"
    ]
    response = jsonify({"well": not ill, "problems": ill})
    response.status_code = 503 if ill else 200
    return response


@pages.get("/sw.js")
def former_service_worker() -> AnyResponse:
    """Where phones of earlier builds look for what is new."""
    return asset("field/sw.js")


@pages.get("/field")
def field_root() -> AnyResponse:
    return redirect("/field/" + (f"?{request.query_string.decode()}" if request.query_string else ""))


@pages.get("/field/")
@pages.get("/field/<path:path>")
def field(path: str = "") -> AnyResponse:
    """A file of the build, or the field page; a file of another build is not there, and no page in its stead."""
    if path and (STATIC / "field" / path).is_file():
        return asset(f"field/{path}")
    if path.startswith(_BUILT):
        abort(404)
    return _page("field.html")


@pages.get("/answer/<path:path>")
def answer(path: str) -> Response:
    """The page of a link; whether there is one of that address it finds out itself."""
    return _page("answer.html")


def field_build() -> str:
    """The build of the field page that is given out now, by the name of its first script; "" where none is built."""
    page = STATIC / "field.html"
    found = _FIRST_SCRIPT.search(page.read_text(encoding="utf-8")) if page.exists() else None
    return found[1] if found else ""


_FIRST_SCRIPT = re.compile(r'<script[^>]+type="module"[^>]+src="[^"]*/([^"/]+)\.js"')
_BUILT = ("assets/", "engine/", "sw.js")


def asset(path: str) -> Response:
    response = send_from_directory(STATIC, path)
    fixed = path.startswith(("field/assets/", "field/engine/"))
    response.headers["Cache-Control"] = "public, max-age=31536000, immutable" if fixed else "no-cache"
    if path == "field/sw.js":
        response.headers["Service-Worker-Allowed"] = "/field/"
    return response
