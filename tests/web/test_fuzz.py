"""The interface fuzzed from its own description: nothing is answered with a 500, whatever is asked.

SKAVO_FUZZ=N tries N requests of each operation instead of a few (`make fuzz`).
"""

from __future__ import annotations

import json
import os
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st

from skavo.demo.build import build_study
from skavo.web.app import create_app
from tests.store.study import small_study
from tests.web.conftest import Desk
from tests.workshop import workshop_script

TRIES = int(os.environ.get("SKAVO_FUZZ", "4"))
# Signing out would leave the rest of the requests without a name.
_ENDS = {("delete", "/api/session"), ("delete", "/api/session/all/{session_id}")}


@pytest.fixture(scope="module")
def person(tmp_path_factory: pytest.TempPathFactory) -> Desk:
    """A data manager who administers the server, with one study, a release and an interview."""
    app = create_app(tmp_path_factory.mktemp("fuzzed"), limits=False)
    store = app.extensions["skavo_store"]
    build_study(store, workshop_script())
    study = small_study(store)
    study.arrive(study.document())
    return Desk(app.test_client()).sign_in("data_manager")


def description() -> dict[str, Any]:
    import tempfile
    from pathlib import Path

    with tempfile.TemporaryDirectory() as folder:
        described: dict[str, Any] = json.loads(json.dumps(create_app(Path(folder), limits=False).api_doc))
    return described


SCHEMA = schemathesis.openapi.from_dict(description())
OPERATIONS = [found.ok() for found in SCHEMA.get_all_operations()]


@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda o: f"{o.method.upper()} {o.path}")
def test_nothing_is_answered_with_a_fault_of_the_server(person: Desk, operation: Any) -> None:
    if (operation.method, operation.path) in _ENDS:
        return
    # Mostly what is there: else the guard answers everything.
    numbers = st.sampled_from([1, 1, 1, 2, 0, 2**63, 10**30])

    @settings(
        max_examples=TRIES, deadline=None, phases=[Phase.generate], suppress_health_check=[*HealthCheck],
        derandomize=True, database=None,
    )  # fmt: skip
    @schemathesis_given(operation, numbers)
    def try_one(case: Any, number: int) -> None:
        path = operation.path
        for name, value in (case.path_parameters or {}).items():
            path = path.replace(f"{{{name}}}", str(number) if name.endswith(("_id", "number")) else str(value))
        if "{" in path or not path.isascii():
            return
        query = {k: v for k, v in (case.query or {}).items() if isinstance(v, str | int | float | bool)}
        body = None if isinstance(case.body, schemathesis_unset()) else case.body
        headers = {"X-CSRFToken": person.token}
        more = {"json": body} if body is not None and not isinstance(body, bytes) else {"data": body or b""}
        response = person.client.open(
            path, method=operation.method.upper(), query_string=query, headers=headers, **more
        )
        assert response.status_code < 500, (path, query, body, response.text)

    try_one()


def schemathesis_given(operation: Any, numbers: st.SearchStrategy[int]) -> Any:
    from hypothesis import given

    return given(case=operation.as_strategy(), number=numbers)


def schemathesis_unset() -> type:
    from schemathesis.core import NotSet

    return NotSet
