"""Deny by default, sessions, headers, errors."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from skavo.demo.people import PASSWORD
from skavo.web.app import create_app
from tests.web.conftest import Desk


def test_a_wrong_password_and_an_unknown_name_say_the_same(app: Any) -> None:
    stranger = Desk(app.test_client())
    wrong = stranger.problem("POST", "/api/session", {"login": "dora", "password": "guess"})
    unknown = stranger.problem("POST", "/api/session", {"login": "nobody", "password": "guess"})
    assert wrong == unknown == (401, "wrong_sign_in", "This name and passphrase do not go together.")


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
