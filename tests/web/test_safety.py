"""Deny by default, sessions, headers, errors."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from skavo.demo.people import PASSWORD
from skavo.web.app import create_app
from skavo.web.permissions import ROLES, may
from skavo.web.routing import NEEDS
from tests.web.conftest import Desk


def _routes(app: Any) -> list[tuple[str, str, str]]:
    """(method, address with 1 for every number, what it needs) of every route of the interface."""
    found = []
    for rule in app.url_map.iter_rules():
        if rule.rule.startswith("/api"):
            address = rule.rule
            for argument in rule.arguments:
                for form in (f"<int:{argument}>", f"<string:{argument}>"):
                    address = address.replace(form, "0" * 64 if argument == "hash" else "1")
            method = next(iter(rule.methods - {"HEAD", "OPTIONS"}))
            found.append((method, address, getattr(app.view_functions[rule.endpoint], NEEDS, "")))
    return found


def test_every_route_names_what_it_needs_and_every_role_gets_just_that(app: Any, desk: Callable[[str], Desk]) -> None:
    routes = _routes(app)
    assert len(routes) > 40
    assert all(needs for _, _, needs in routes)
    people = {role: desk(role) for role in ROLES}
    for method, address, needs in routes:
        for role, person in people.items():
            if needs in ("open", "signed-in", "device"):
                continue
            response = person.call(method, address, {} if method != "GET" else None)
            refused = response.status_code == 403 and response.get_json()["code"] == "not_allowed"
            assert refused is not may(role, needs), (role, method, address, response.status_code)


def test_nobody_who_is_not_signed_in_gets_anything_but_the_way_in(app: Any) -> None:
    stranger = Desk(app.test_client())
    for method, address, needs in _routes(app):
        if needs == "open":
            continue
        response = stranger.call(method, address, {} if method != "GET" else None)
        assert response.status_code in (401, 422), (method, address, response.status_code)
        if needs != "device":
            assert response.get_json()["code"] == "not_signed_in"


def test_an_unknown_role_may_nothing() -> None:
    assert not any(may("stranger", permission) for granted in ROLES.values() for permission in granted)


def test_a_wrong_password_and_an_unknown_name_say_the_same(app: Any) -> None:
    stranger = Desk(app.test_client())
    wrong = stranger.problem("POST", "/api/session", {"login": "dora", "password": "guess"})
    unknown = stranger.problem("POST", "/api/session", {"login": "nobody", "password": "guess"})
    assert wrong == unknown == (401, "wrong_sign_in", "This name and password do not go together.")


def test_a_change_without_the_pages_token_is_refused(desk: Callable[[str], Desk]) -> None:
    response = desk("data_manager").call("POST", "/api/studies", {"title": "x"}, csrf=False)
    assert (response.status_code, response.get_json()["code"]) == (400, "page_too_old")


def test_signing_out_ends_the_session(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    person.answer("DELETE", "/api/session")
    assert person.problem("GET", "/api/studies")[:2] == (401, "not_signed_in")


def test_guessing_is_slowed_down(tmp_path: Path) -> None:
    stranger = Desk(create_app(tmp_path / "limited").test_client())
    tries = [stranger.call("POST", "/api/session", {"login": "dora", "password": "x"}).status_code for _ in range(11)]
    assert tries == [401] * 10 + [429]


def test_answers_carry_the_headers_that_keep_strangers_out(desk: Callable[[str], Desk]) -> None:
    response = desk("analyst").call("GET", "/api/studies")
    policy = response.headers["Content-Security-Policy"]
    assert "default-src 'self'" in policy and "frame-ancestors 'none'" in policy and "'unsafe-eval'" not in policy
    assert "script-src 'self' 'wasm-unsafe-eval';" in policy
    assert (response.headers["X-Content-Type-Options"], response.headers["Cache-Control"]) == ("nosniff", "no-store")
    cookies = [
        c for c in desk("analyst").call("GET", "/api/session").headers.getlist("Set-Cookie") if c.startswith("skavo=")
    ]
    assert all("HttpOnly" in c and "SameSite=Strict" in c for c in cookies) and cookies


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "code"),
    [
        ("GET", "/api/nothing", None, 404, "not_found"),
        ("GET", "/api/studies/99", None, 404, "not_found"),
        ("POST", "/api/studies", {"titel": "x"}, 422, "wrong_request"),
        ("POST", "/api/studies", {"title": "x", "time_zone": "Mars/Olympus"}, 422, "unknown_time_zone"),
        ("GET", "/api/studies/1/interviews?sort=sideways", None, 422, "wrong_request"),
    ],
)
def test_every_error_is_a_problem_document(
    desk: Callable[[str], Desk], method: str, path: str, body: Any, status: int, code: str
) -> None:
    assert desk("data_manager").problem(method, path, body)[:2] == (status, code)


def test_an_error_names_the_place_and_never_the_value(desk: Callable[[str], Desk]) -> None:
    _, _, title = desk("data_manager").problem("POST", "/api/studies", {"title": "x" * 201, "purpose": PASSWORD})
    assert title.startswith("title: ") and PASSWORD not in title


def test_the_interface_describes_itself(app: Any) -> None:
    described = app.api_doc
    assert described["openapi"].startswith("3.1")
    assert "/api/questionnaires/{questionnaire_id}/script" in described["paths"]
