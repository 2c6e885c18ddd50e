"""A client for each role, over the demo's study without a browser or a socket."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from skavo.demo.build import build_study
from skavo.demo.people import PASSWORD, STAFF
from skavo.web.app import create_app
from tests.workshop import workshop_script

# The first of each role.
LOGINS = {role: login for login, _, role in reversed(STAFF)}


class Desk:
    """Asks the server as one person would; `answer` is the JSON of a good answer, `problem` that of a refused one."""

    def __init__(self, client: FlaskClient) -> None:
        self.client = client
        self.token = client.get("/api/session").get_json()["csrf_token"]

    def call(self, method: str, path: str, body: Any = None, *, csrf: bool = True) -> Any:
        headers = {"X-CSRFToken": self.token} if csrf else {}
        more: dict[str, Any] = {"data": body} if isinstance(body, bytes) else {"json": body}
        return self.client.open(path, method=method, headers=headers, **({} if body is None else more))

    def sign_in(self, role: str) -> Desk:
        response = self.call("POST", "/api/session", {"login": LOGINS[role], "password": PASSWORD})
        assert response.status_code == 200, response.get_json()
        self.token = response.get_json()["csrf_token"]
        return self

    def answer(self, method: str, path: str, body: Any = None) -> Any:
        response = self.call(method, path, body)
        assert response.status_code < 300, response.get_json()
        return response.get_json()

    def code_for(self, enumerator: str, study_id: int = 1) -> str:
        """A pairing code for a phone of an enumerator, who is added where the study has none of that name."""
        path = f"/api/studies/{study_id}"
        found = [p for p in self.answer("GET", f"{path}/people")["people"] if p["name"] == enumerator]
        if not found:
            body = {"name": enumerator, "roles": ["enumerator"]}
            people = self.answer("POST", f"{path}/people", body)["people"]
            found = [p for p in people if p["name"] == enumerator]
        code: str = self.answer("POST", f"{path}/pairing-codes", {"member_ids": [found[0]["id"]]})[0]["code"]
        return code

    def problem(self, method: str, path: str, body: Any = None) -> tuple[int, str, str]:
        response = self.call(method, path, body)
        assert response.content_type == "application/problem+json", response.data[:200]
        found = response.get_json()
        return response.status_code, found["code"], found["title"]


@pytest.fixture
def app(tmp_path: Path) -> Any:
    made = create_app(tmp_path / "web", limits=False)
    build_study(made.extensions["skavo_store"], workshop_script())
    return made


@pytest.fixture
def desk(app: Any) -> Callable[[str], Desk]:
    return lambda role: Desk(app.test_client()).sign_in(role)
