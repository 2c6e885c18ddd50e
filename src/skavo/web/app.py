"""Putting the server together."""

from __future__ import annotations

import secrets
from datetime import timedelta
from pathlib import Path
from typing import Any

from flask import Response
from flask_login import LoginManager
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI
from flask_wtf import CSRFProtect
from flask_wtf.csrf import CSRFError
from werkzeug.middleware.proxy_fix import ProxyFix
from werkzeug.routing import IntegerConverter, Map

from skavo import __version__
from skavo.jobs.laying import order_what_is_outdated
from skavo.jobs.mail import Mail
from skavo.jobs.runner import Jobs
from skavo.jobs.works import kinds_of
from skavo.services.presence import Presence
from skavo.settings import Settings
from skavo.store.database import Store, open_store
from skavo.store.datasets import DataSets
from skavo.store.people import has_administrator
from skavo.store.secrets import new_code
from skavo.web import (
    administration,
    analysis,
    answering,
    bundles,
    checks,
    cleaning,
    combining,
    data_sets,
    device,
    device_carried,
    device_files,
    device_pairing,
    device_units,
    device_visits,
    device_work,
    extracts,
    field,
    files,
    interviews,
    jobs,
    languages,
    ledger,
    links,
    lists,
    logbook,
    maps,
    media,
    modules,
    paper,
    people,
    problems,
    questionnaires,
    record,
    registers,
    rehearsals,
    revisions,
    rules,
    samples,
    sessions,
    studies,
    visits,
    way_in,
    writing,
)
from skavo.web.guard import check_routes, guard
from skavo.web.limits import limiter
from skavo.web.pages import OPEN_PAGES, pages

# Styles may be inline because the component library writes them at run time; scripts may not.
CONTENT_SECURITY_POLICY = "; ".join(
    [
        "default-src 'self'", "script-src 'self' 'wasm-unsafe-eval'", "style-src 'self' 'unsafe-inline'",
        "img-src 'self' data: blob:", "media-src 'self' blob:", "worker-src 'self'", "connect-src 'self'", "font-src 'self'",
        "object-src 'none'", "base-uri 'none'", "form-action 'self'", "frame-ancestors 'none'",
    ]
)  # fmt: skip
RESOURCES = (
    sessions, way_in, administration, studies, people, record, logbook, questionnaires, writing, lists, languages, modules, media, maps, registers, samples, visits, field, links, answering, paper, device, device_carried, device_pairing, device_units, device_visits, device_work, device_files, ledger, interviews, revisions, files, bundles, checks, cleaning, combining, data_sets, analysis, extracts,
    jobs, rehearsals, rules,
)  # fmt: skip
MOST_BYTES = 110 * 1024 * 1024


# How a request says who asks.
SECURITY_SCHEMES: dict[str, Any] = {
    "session": {"type": "apiKey", "in": "cookie", "name": "skavo"},
    "device": {"type": "http", "scheme": "bearer"},
}


class _Int(IntegerConverter):
    """Numbers in an address that a database can hold; a larger one names nothing."""

    def __init__(self, url_map: Map, *args: Any, **more: Any) -> None:
        super().__init__(url_map, *args, **{"max": 2**63 - 1, **more})


def create_app(
    folder: Path, *, store: Store | None = None, limits: bool = True, settings: Settings | None = None
) -> OpenAPI:
    """The server over the store in `folder`; jobs are queued but only worked on after `start_jobs`."""
    settings = settings or Settings(folder=folder)
    opened = store or open_store(folder)
    app = OpenAPI(
        "skavo.web", info=Info(title="Skavo", version=__version__), validation_error_callback=problems.validation_problem,
        static_folder=None, doc_ui=False, security_schemes=SECURITY_SCHEMES,
    )  # fmt: skip
    app.url_map.converters["int"] = _Int
    is_encrypted = settings.address.startswith("https://")
    if settings.trusted_proxies:
        hops = settings.trusted_proxies
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=hops, x_proto=hops, x_host=hops)  # type: ignore[method-assign]
    app.config.update(
        SECRET_KEY=_secret(folder),
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Strict",
        # Behind HTTPS no other page of the domain can set it.
        SESSION_COOKIE_NAME="__Host-skavo" if is_encrypted else "skavo",
        SESSION_COOKIE_SECURE=is_encrypted,
        PERMANENT_SESSION_LIFETIME=timedelta(hours=10),
        MAX_CONTENT_LENGTH=MOST_BYTES,
        WTF_CSRF_TIME_LIMIT=None,
        RATELIMIT_ENABLED=limits,
        OPEN_PAGES=OPEN_PAGES,
        PUBLIC_ADDRESS=settings.address,
        FOLDER=folder,
        MAIL=Mail(
            settings.mail_host,
            settings.mail_port,
            settings.mail_sender,
            settings.mail_login,
            settings.mail_password,
            settings.mail_starttls,
        ),
        FIRST_CODE="",
    )
    # The order of answers is that of asking; it is kept on the way to the screen.
    app.json.sort_keys = False  # type: ignore[attr-defined]
    sets = DataSets(opened.files)
    app.extensions["skavo_store"] = opened
    app.extensions["skavo_data_sets"] = sets
    app.extensions["skavo_presence"] = Presence()
    app.extensions["skavo_jobs"] = Jobs(opened, sets, kinds_of(lambda: app.config["MAIL"]))
    _protect(app)
    problems.install(app)
    for resource in RESOURCES:
        app.register_api(resource.api)
    app.register_blueprint(pages)
    check_routes(app.url_map.iter_rules(), app.view_functions)
    with opened.reading() as session:
        if not has_administrator(session):
            app.config["FIRST_CODE"] = new_code()
    return app


def start_jobs(app: OpenAPI) -> Jobs:
    """Begin working on the queue in this process."""
    working: Jobs = app.extensions["skavo_jobs"]
    working.start()
    order_what_is_outdated(working)
    return working


def _protect(app: OpenAPI) -> None:
    login = LoginManager(app)
    login.user_loader(sessions.load_user)
    limiter.init_app(app)
    csrf = CSRFProtect(app)
    csrf.exempt(device.api)
    csrf.exempt(device_pairing.api)
    csrf.exempt(device_units.api)
    csrf.exempt(device_visits.api)
    csrf.exempt(device_work.api)
    csrf.exempt(device_files.api)
    csrf.exempt(device_carried.api)
    # Whoever answers is mostly nobody who is signed in; where they are, their cookie goes along with no other page.
    csrf.exempt(answering.api)
    app.before_request(guard)

    @app.errorhandler(CSRFError)
    def _csrf(error: CSRFError) -> Response:
        return problems.problem("page_too_old", "This page is too old. Load it again and repeat.", 400)

    @app.after_request
    def _headers(response: Response) -> Response:
        # A file of an interview comes with a stricter one of its own.
        response.headers.setdefault("Content-Security-Policy", CONTENT_SECURITY_POLICY)
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        if app.config["SESSION_COOKIE_SECURE"]:
            response.headers["Strict-Transport-Security"] = "max-age=31536000"
        if response.mimetype in ("application/json", "application/problem+json"):
            response.headers["Cache-Control"] = "no-store"
        return response


def _secret(folder: Path) -> str:
    """The key that cookies are signed with, made once; written whole or not at all."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    path = folder / "secret"
    kept = path.read_text(encoding="ascii").strip() if path.exists() else ""
    if kept:
        return kept
    made = secrets.token_urlsafe(48)
    half = path.with_suffix(".half")
    half.touch(mode=0o600)
    half.write_text(made, encoding="ascii")
    half.replace(path)
    return made
