"""A large table from elsewhere is looked at by a job: the page says how far it is, and shows what was seen."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from sqlalchemy import select

from skavo.store import looking
from skavo.store.models import Job
from tests.outside_files import sent_over_http
from tests.web.conftest import Desk

LOOK = "/api/questionnaires/1/outside/look"
ROLL = b"code,people\nkesk,2\nvint,many\n"


@pytest.fixture
def manager(desk: Callable[[str], Desk], monkeypatch: pytest.MonkeyPatch) -> Desk:
    """Somebody for whom every file is large, and every column long."""
    monkeypatch.setattr(looking, "MOST_BYTES", 10)
    monkeypatch.setattr(looking, "MOST_CELLS", 1)
    return desk("data_manager")


def _jobs(app: Any) -> list[Job]:
    with app.extensions["skavo_store"].reading() as session:
        return list(session.scalars(select(Job).where(Job.kind == looking.LOOKING).order_by(Job.id)))


def _waits(manager: Desk, body: dict[str, Any]) -> float:
    answer = manager.call("POST", LOOK, body)
    assert (answer.status_code, answer.get_json()["code"]) == (503, "being_prepared"), answer.get_json()
    return float(answer.get_json()["details"]["progress"])


def test_it_is_shown_once_the_job_has_looked(app: Any, manager: Desk) -> None:
    body: dict[str, Any] = {"file": sent_over_http(manager, ROLL), "file_name": "roll.csv"}
    assert [_waits(manager, body), _waits(manager, body)] == [0, 0]
    (job,) = _jobs(app)
    with app.extensions["skavo_store"].session() as session:
        session.get_one(Job, job.id).progress = 0.5
    assert _waits(manager, body) == 0.5
    app.extensions["skavo_jobs"].run(job.id)
    assert _jobs(app)[0].state == "done"
    found = manager.answer("POST", LOOK, body)
    assert [(one["column"]["read_as"], one["values"]) for one in found["columns"]] == [("text", 2), ("text", 2)]

    # Read otherwise, only what is new has to be looked at; and nothing has to be when it is brought in.
    said = {**body, "columns": [{"name": "people", "read_as": "number"}]}
    assert _waits(manager, said) == 0
    app.extensions["skavo_jobs"].run(_jobs(app)[-1].id)
    seen = manager.answer("POST", LOOK, said)
    assert seen["columns"][1]["unread_cells"] == ["row 2: many"]
    # The page says how it was read, once that was found out.
    table = manager.answer("POST", "/api/questionnaires/1/outside", {**said, "reading": seen["reading"]})
    assert table["rows"] == 2
    columns = f"/api/questionnaires/1/outside/{table['id']}/columns"
    assert manager.call("GET", columns).status_code == 503
    app.extensions["skavo_jobs"].run(_jobs(app)[-1].id)
    assert manager.answer("GET", columns)[1]["unread"] == 1
    assert len(_jobs(app)) == 3


def test_what_is_no_table_is_told_where_it_was_chosen(app: Any, manager: Desk) -> None:
    body = {"file": sent_over_http(manager, b"PAR1 and then nothing"), "file_name": "roll.parquet"}
    _waits(manager, body)
    app.extensions["skavo_jobs"].run(_jobs(app)[-1].id)
    assert _jobs(app)[-1].state == "failed"
    answer = manager.call("POST", LOOK, body)
    assert (answer.status_code, answer.get_json()["code"]) == (422, "not_a_table")
    assert len(_jobs(app)) == 1
