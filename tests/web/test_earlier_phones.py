"""Phones that still run an earlier build fetch, send and hand in as they always did."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from typing import Any

from sqlalchemy import select

from skavo.store.models import Interview, StoredFile
from tests.samples import part, script
from tests.web.conftest import Desk

IDENTITY = "0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a11"


def released_with_a_photo(person: Desk) -> str:
    """The hash of a release that asks for a photo."""
    asks = script(part(1, "photo", "front"), part(1, "whole number", "users")).model_dump(mode="json")
    draft = person.answer("GET", "/api/questionnaires/1")
    saved = person.answer("PUT", "/api/questionnaires/1/script", {"version": draft["version"], "script": asks})
    made = person.answer("POST", "/api/questionnaires/1/releases", {"version": saved["version"]})
    return str(made["hash"])


def test_what_version_one_sends_is_taken_in(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    release = released_with_a_photo(person)
    code = person.code_for("Ilse Varn")
    phone = app.test_client()
    token = phone.post("/api/field/pair", json={"code": code, "device": "p"}).get_json()["token"]
    headers = {"Authorization": f"Bearer {token}"}

    fetched = phone.get(f"/api/field/releases/{release}", headers=headers).get_json()
    assert (fetched["number"], fetched["compiled"]["parts"][0]["variable"]) == (2, "front")

    picture = b"\x89PNG\r\n\x1a\n and so on"
    digest = hashlib.sha256(picture).hexdigest()
    for _ in range(2):
        sent = phone.put(f"/api/field/files/{digest}", data=picture, headers=headers)
        assert sent.get_json()["hash"] == digest

    document = {
        "format": "skavo-interview-1", "uuid": IDENTITY, "release": release,
        "answers": {"front": {"file": digest, "name": "f.png", "type": "image/png", "bytes": len(picture)}, "users": 3},
        "derived": {}, "kept": {}, "language": "en", "practice": False, "unfinished": "",
        "paradata": {"started": "2026-11-14T09:00:00+01:00", "ended": "2026-11-14T09:20:30+01:00", "device": "p", "enumerator": "Ilse Varn", "events": []},
    }  # fmt: skip
    receipt = phone.put(f"/api/field/interviews/{IDENTITY}", data=json.dumps(document), headers=headers)
    assert receipt.get_json()["outcome"] == "arrived"
    with app.extensions["skavo_store"].reading() as session:
        interview = session.scalars(select(Interview)).one()
        files = [(f.interview_uuid, f.kind) for f in session.scalars(select(StoredFile).order_by(StoredFile.id))]
    assert (interview.problem, interview.differs) == ("", False)
    assert files == [("", "file"), (IDENTITY, "photo")]
    shown = next(a for a in person.answer("GET", "/api/interviews/1")["answers"] if a["variable"] == "front")
    assert (shown["file"]["there"], shown["file"]["type"]) == (True, "image/png")


def test_a_file_of_another_study_is_not_claimed_by_naming_its_hash(app: Any, desk: Callable[[str], Desk]) -> None:
    from skavo.store.files import keep_file

    person = desk("data_manager")
    release = released_with_a_photo(person)
    with app.extensions["skavo_store"].session() as session:
        secret = keep_file(app.extensions["skavo_store"].files, b"of another study")
        other = person.answer("POST", "/api/studies", {"title": "Other"})["id"]
        session.add(
            StoredFile(study_id=other, interview_uuid="x", hash=secret, bytes=16, kind="photo", type="image/png")
        )
    code = person.code_for("Ilse Varn")
    phone = app.test_client()
    token = phone.post("/api/field/pair", json={"code": code, "device": "p"}).get_json()["token"]
    document = {
        "uuid": IDENTITY, "release": release,
        "answers": {"front": {"file": secret, "name": "", "type": "image/png", "bytes": 16}},
        "paradata": {"started": "2026-11-14T09:00:00+01:00", "ended": "2026-11-14T09:20:30+01:00"},
    }  # fmt: skip
    headers = {"Authorization": f"Bearer {token}"}
    phone.put(f"/api/field/interviews/{IDENTITY}", data=json.dumps(document), headers=headers)
    shown = next(a for a in person.answer("GET", "/api/interviews/1")["answers"] if a["variable"] == "front")
    assert shown["file"]["there"] is False
    assert person.call("GET", f"/api/interviews/1/files/{secret}").status_code == 404
