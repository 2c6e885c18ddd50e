"""Doors that stood open once without a test noticing: pairing, hand-in, downloads, practice, what is masked."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import func, select, update

from skavo.core.permissions import ROLES, granted
from skavo.demo.build import build_study
from skavo.store.database import Store
from skavo.store.files import keep_file
from skavo.store.models import Device, Interview, Job, PairingCode, Person, Revision, now
from skavo.store.people import join
from skavo.store.secrets import hash_of
from skavo.web.app import create_app
from tests.store.study import SmallStudy, small_study
from tests.web.conftest import Desk
from tests.workshop import workshop_script


def paired(app: Any, code: str) -> Any:
    return app.test_client().post("/api/field/pair", json={"code": code, "device": "p"})


@pytest.mark.parametrize(("moved", "status"), [(timedelta(seconds=-1), 422), (timedelta(minutes=1), 200)])
def test_a_pairing_code_is_good_until_its_time(
    app: Any, desk: Callable[[str], Desk], moved: timedelta, status: int
) -> None:
    store: Store = app.extensions["skavo_store"]
    code = desk("supervisor").code_for("Ilse Varn")
    with store.session() as session:
        session.execute(update(PairingCode).values(expires_at=now() + moved))
    answer = paired(app, code)
    assert answer.status_code == status
    if status == 422:
        assert "is too old" in answer.get_json()["title"]
        with store.reading() as session:
            assert session.scalar(select(func.count()).select_from(Device)) == 0


def test_a_new_pairing_code_ends(app: Any, desk: Callable[[str], Desk]) -> None:
    desk("supervisor").code_for("Ilse Varn")
    with app.extensions["skavo_store"].reading() as session:
        ends = session.scalars(select(PairingCode.expires_at)).one()
    assert now() < ends <= now() + timedelta(days=7)


def test_pairing_codes_cannot_be_guessed_at_will(tmp_path: Path) -> None:
    app = create_app(tmp_path / "limited")
    build_study(app.extensions["skavo_store"], workshop_script())
    tries = [paired(app, "ABCD-EFGH").status_code for _ in range(22)]
    assert tries == [422] * 20 + [429] * 2


def token_of(store: Store, study: SmallStudy) -> dict[str, str]:
    with store.session() as session:
        session.execute(update(Device).where(Device.id == study.device_id).values(token_hash=hash_of("theirs")))
    return {"Authorization": "Bearer theirs"}


def test_an_interview_of_another_studys_release_gets_no_release_from_here(app: Any) -> None:
    """It is kept, as whatever arrives is, in the study of the device, and laid out by none of another study's releases."""
    store: Store = app.extensions["skavo_store"]
    here, there = small_study(store), small_study(store)
    document = here.document()
    answer = app.test_client().put(
        f"/api/field/interviews/{document['uuid']}", json=document, headers=token_of(store, there)
    )
    assert answer.status_code == 200
    with store.reading() as session:
        (kept,) = session.scalars(select(Interview).where(Interview.uuid == document["uuid"]))
    assert (kept.study_id, kept.release_id, kept.problem) == (there.study_id, None, "unknown_release")


def test_the_same_identity_in_another_study_is_another_interview(app: Any) -> None:
    store: Store = app.extensions["skavo_store"]
    here, there = small_study(store), small_study(store)
    document = here.document()
    here.arrive(document)
    raw = json.dumps({**document, "release": there.release, "release_hash": there.release_hash})
    answer = app.test_client().put(
        f"/api/field/interviews/{document['uuid']}", data=raw, headers=token_of(store, there)
    )
    assert (answer.status_code, answer.get_json()["outcome"]) == (200, "arrived")
    assert here.interview().revisions == 1


def test_the_document_names_the_interview_of_its_address(app: Any) -> None:
    store: Store = app.extensions["skavo_store"]
    study = small_study(store)
    answer = app.test_client().put(
        f"/api/field/interviews/{uuid.uuid4()}", json=study.document(), headers=token_of(store, study)
    )
    assert (answer.status_code, answer.get_json()["code"]) == (422, "wrong_document")
    with store.reading() as session:
        assert session.scalar(select(func.count()).select_from(Revision)) == 0


def test_practice_is_in_no_figure_of_the_checks(app: Any, desk: Callable[[str], Desk]) -> None:
    store: Store = app.extensions["skavo_store"]
    study = small_study(store)
    with store.session() as session:
        dora = session.scalars(select(Person).where(Person.login == "dora")).one()
        join(session, study.study_id, dora, ["data_manager"])
    address, manager = f"/api/studies/{study.study_id}/checks", desk("data_manager")
    broken = {"consent": True, "workers": -1}
    study.arrive(study.document(answers=broken))
    before = manager.answer("GET", address)
    assert before["interviews"] == before["enumerators"][0]["interviews"] == 1 and before["checks"]
    study.arrive(study.document(answers=broken, practice=True))
    assert study.interview(2).practice
    assert manager.answer("GET", address) == before
    study.arrive(study.document(answers=broken))
    assert manager.answer("GET", address)["interviews"] == 2


def extract_in(store: Store, study_id: int, *, masked: bool) -> int:
    with store.session() as session:
        job = Job(
            study_id=study_id, kind="extract", state="done", created_by="x",
            order={"questionnaire_id": 1, "cleaned": True, "options": {"format": "csv", "masked": masked}},
            result={"file": keep_file(store.files, b"cells"), "name": "x.csv.zip", "bytes": 5, "rows": {}},
        )  # fmt: skip
        session.add(job)
        session.flush()
        return job.id


@pytest.mark.parametrize("role", list(ROLES))
@pytest.mark.parametrize("masked", [True, False])
def test_an_extract_with_sensitive_columns_goes_to_whoever_may_read_them(
    app: Any, desk: Callable[[str], Desk], role: str, masked: bool
) -> None:
    number = extract_in(app.extensions["skavo_store"], 1, masked=masked)
    response = desk(role).call("GET", f"/api/jobs/{number}/file")
    may = granted([role])
    allowed = "extract.make" in may and (masked or "sensitive.read" in may)
    assert (response.status_code == 200, response.data == b"cells") == (allowed, allowed)
    if not allowed:
        assert (response.status_code, response.get_json()["code"]) == (403, "not_allowed")


def test_an_extract_with_sensitive_columns_is_ordered_by_whoever_may_read_them(desk: Callable[[str], Desk]) -> None:
    body = {"options": {"format": "csv", "masked": False}}
    assert desk("analyst").problem("POST", "/api/data-sets/1/extracts", body)[:2] == (403, "not_allowed")
