"""What was sent back reaches the phones of its person, and nobody else's."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select

from skavo.store.models import Interview, Revision
from tests.web.conftest import Desk
from tests.web.test_files import Device

IDENTITY = "0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a11"


@pytest.fixture
def phone(app: Any, desk: Callable[[str], Desk]) -> Device:
    made = Device(app, desk)
    made.hand_in(app, IDENTITY, consent=True, workers=900)
    return made


def sent_back(phone: Device) -> list[dict[str, Any]]:
    body = {"in_hand": 0, "packed": 0}
    profile = phone.client.post("/api/field/profile", json=body, headers=phone.headers).get_json()
    found: list[dict[str, Any]] = profile["sent_back"]
    return found


def fetched(phone: Device) -> Any:
    return phone.client.get(f"/api/field/interviews/{IDENTITY}", headers=phone.headers)


def send_back(desk: Callable[[str], Desk]) -> None:
    body = {"state": "sent back", "remark": "Please", "remarks": [{"path": "workers", "text": "Nine hundred?"}]}
    desk("supervisor").answer("POST", "/api/interviews/1/state", body)


def test_it_is_told_with_its_remarks_and_fetched_byte_for_byte(
    app: Any, desk: Callable[[str], Desk], phone: Device
) -> None:
    assert (sent_back(phone), fetched(phone).status_code) == ([], 404)
    send_back(desk)
    with app.extensions["skavo_store"].reading() as session:
        raw, digest = session.execute(select(Revision.raw, Revision.hash)).one()
    (told,) = sent_back(phone)
    assert (told["uuid"], told["hash"], told["number"], told["by"]) == (IDENTITY, digest, 1, "Sela Brack")
    assert told["remarks"] == [{"path": "", "text": "Please"}, {"path": "workers", "text": "Nine hundred?"}]
    assert fetched(phone).data == raw


def test_another_phone_of_the_same_person_gets_it_and_nobody_elses(
    app: Any, desk: Callable[[str], Desk], phone: Device
) -> None:
    send_back(desk)
    assert fetched(Device(app, desk)).status_code == 200
    stranger = Device(app, desk, "Osk Perrin")
    assert (sent_back(stranger), fetched(stranger).status_code) == ([], 404)


def test_another_studys_phone_of_a_person_with_that_name_does_not_get_it(
    app: Any, desk: Callable[[str], Desk], phone: Device
) -> None:
    send_back(desk)
    other = desk("data_manager").answer("POST", "/api/studies", {"title": "Other"})["id"]
    code = desk("data_manager").code_for("Ilse Varn", other)
    client = app.test_client()
    token = client.post("/api/field/pair", json={"code": code, "device": "p"}).get_json()["token"]
    headers = {"Authorization": f"Bearer {token}"}
    assert client.get(f"/api/field/interviews/{IDENTITY}", headers=headers).status_code == 404


def test_what_waits_for_a_decision_does_not_go_out_again(app: Any, desk: Callable[[str], Desk], phone: Device) -> None:
    send_back(desk)
    phone.hand_in(app, IDENTITY, consent=True, workers=9)
    with app.extensions["skavo_store"].reading() as session:
        assert session.scalars(select(Interview)).one().waiting
    assert (sent_back(phone), fetched(phone).status_code) == ([], 404)
    status, code, _ = desk("supervisor").problem(
        "POST", "/api/interviews/1/state", {"state": "sent back", "remark": "x"}
    )
    assert (status, code) == (422, "revision_waits")


def test_who_decides_which_revision_counts_may_review(app: Any, desk: Callable[[str], Desk], phone: Device) -> None:
    phone.hand_in(app, IDENTITY, consent=True, workers=9)
    address = "/api/interviews/1/revisions/2"
    assert desk("analyst").call("POST", f"{address}/count", {}).status_code == 403
    compared = desk("supervisor").answer("GET", address)
    lines = {line["path"]: (line["before"], line["after"]) for line in compared["lines"]}
    assert lines["workers"] == ("900", "9")
    decided = desk("supervisor").answer("POST", f"{address}/count", {})
    assert [(r["number"], r["counts"], r["waits"]) for r in decided["revisions"]] == [(1, False, ""), (2, True, "")]
    assert desk("supervisor").problem("GET", "/api/interviews/1/revisions/7")[:2] == (404, "not_found")


def test_what_cannot_be_read_cannot_be_sent_back(app: Any, desk: Callable[[str], Desk], phone: Device) -> None:
    other = IDENTITY.replace("0b6b", "1b6b")
    phone.client.put(f"/api/field/interviews/{other}", data=b"cut off", headers=phone.headers)
    reading = desk("supervisor").answer("GET", "/api/interviews/2")
    assert (reading["problem"]["code"], reading["answers"], reading["release"]) == ("no_json", [], None)
    assert (
        desk("supervisor").problem("POST", "/api/interviews/2/state", {"state": "sent back", "remark": "x"})[1]
        == "not_laid_out"
    )
    ledger = desk("supervisor").answer("GET", "/api/studies/1/interviews?findings=not_laid_out")
    assert [(line["key"], line["problem"]) for line in ledger["lines"]] == [("0002", "no_json")]
    raw = desk("supervisor").call("GET", "/api/interviews/2/revisions/1/raw")
    assert (raw.data, raw.headers["Content-Disposition"][:10]) == (b"cut off", "attachment")
    assert desk("analyst").call("GET", "/api/interviews/2/revisions/1/raw").status_code == 403


@pytest.mark.parametrize("is_named", [True, False])
def test_what_came_in_a_phones_file_goes_back_to_its_person(
    app: Any, desk: Callable[[str], Desk], is_named: bool
) -> None:
    """The phone that saved the file is gone; another one of the same enumerator fetches what is sent back, also where an
    interview has no more than a name."""
    content = (Path(__file__).parents[1] / "museum" / "bundles" / "bundle-1.skavo.zip").read_bytes()
    with zipfile.ZipFile(io.BytesIO(content)) as packed:
        enumerator = json.loads(packed.read("bundle.json"))["enumerator"]
    person = desk("data_manager")
    code = person.code_for(enumerator)
    assert person.answer("PUT", f"/api/studies/1/bundle-files/{'b' * 64}", content)["told"]["arrived"] == 1
    token = app.test_client().post("/api/field/pair", json={"code": code, "device": "p"}).get_json()["token"]
    with app.extensions["skavo_store"].session() as session:
        interview = session.scalars(select(Interview)).one()
        assert interview.person_id is not None
        interview.state, uuid = "sent back", interview.uuid
        if not is_named:
            interview.person_id = None
    headers = {"Authorization": f"Bearer {token}"}
    assert app.test_client().get(f"/api/field/interviews/{uuid}", headers=headers).status_code == 200
