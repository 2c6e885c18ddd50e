"""Units over the wire: what a phone is told to hold, what it hands in with its picture, and who sees that at the desk."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Callable
from io import BytesIO
from typing import Any

import pytest
from PIL import Image

from skavo.store.models import now
from tests.web.conftest import Desk
from tests.web.test_files import Device


def picture() -> bytes:
    made = BytesIO()
    Image.new("RGB", (400, 300), "teal").save(made, "JPEG")
    return made.getvalue()


PHOTO = picture()
HASH = hashlib.sha256(PHOTO).hexdigest()


class Workshops:
    """A kind of unit with a photo, one unit of it, carried by every phone."""

    def __init__(self, person: Desk) -> None:
        self.person = person
        kind = person.answer("POST", "/api/studies/1/unit-kinds", {"title": "Premises", "ready": "premises"})
        settings = {**kind["settings"], "on_phones": "change"}
        self.kind = person.answer(
            "PUT", f"/api/unit-kinds/{kind['id']}", {"settings": settings, "version": kind["version"]}
        )
        self.unit = person.answer("POST", "/api/studies/1/units", {"kind_id": kind["id"], "key": "A", "answers": {}})
        person.answer("PUT", "/api/studies/1/branch-shares", {"unit_id": 0, "all": True})
        self.photo = next(field for field in self.kind["fields"] if field["kind"] == "photo")


@pytest.fixture
def shops(desk: Callable[[str], Desk]) -> Workshops:
    return Workshops(desk("data_manager"))


def carried(phone: Device, pieces: dict[str, str] | None = None) -> dict[str, Any]:
    sent = phone.client.post("/api/field/units", json={"pieces": pieces or {}}, headers=phone.headers)
    assert sent.status_code == 200, sent.get_json()
    found: dict[str, Any] = sent.get_json()
    return found


def hand_in(phone: Device, shops: Workshops, answers: dict[str, Any]) -> str:
    held = carried(phone)
    (kind,), (unit,) = held["kinds"], [unit for piece in held["pieces"] for unit in piece["units"]]
    document = {
        "format": "skavo-interview-5", "uuid": str(uuid.uuid4()), "release": kind["release"], "release_hash": kind["hash"],
        "answers": answers, "about": {"identity": unit["unit"], "before": unit["answers"]},
        "paradata": {"started": now().isoformat(), "ended": now().isoformat(), "enumerator": "Ilse Varn"},
    }  # fmt: skip
    assert phone.put(document["uuid"], PHOTO, HASH, kind="photo").status_code == 200
    sent = phone.client.put(
        f"/api/field/interviews/{document['uuid']}", data=json.dumps(document), headers=phone.headers
    )
    assert (sent.status_code, sent.get_json()["outcome"]) == (200, "arrived")
    return str(document["uuid"])


def test_the_profile_tells_whether_a_phone_holds_the_units_that_it_should(
    app: Any, desk: Callable[[str], Desk], shops: Workshops
) -> None:
    phone = Device(app, desk)
    told = phone.client.post("/api/field/profile", json={"in_hand": 0, "packed": 0}, headers=phone.headers).get_json()
    held = carried(phone)
    assert told["units"] == held["mark"] != ""
    assert carried(phone, {piece["name"]: piece["mark"] for piece in held["pieces"]})["pieces"] == []
    # The fields of a kind are no questionnaire that anybody begins an interview with.
    assert [line["questionnaire_id"] for line in told["releases"]] == [1]


def test_a_picture_of_a_unit_is_seen_at_the_desk_by_whoever_may(
    app: Any, desk: Callable[[str], Desk], shops: Workshops
) -> None:
    phone = Device(app, desk)
    reference = {"file": HASH, "name": "front.jpg", "type": "image/jpeg", "bytes": len(PHOTO)}
    hand_in(phone, shops, {shops.photo["variable"]: reference})
    address = f"/api/units/{shops.unit['id']}/files/{HASH}"
    analyst = desk("analyst")
    for person in (shops.person, analyst):
        assert person.call("GET", address).data == PHOTO
        assert Image.open(BytesIO(person.call("GET", f"{address}/preview").data)).format == "JPEG"
    assert desk("keyer").call("GET", address).status_code == 403
    # Another unit does not have it, and a field that nobody may see hides it.
    other = shops.person.answer(
        "POST", "/api/studies/1/units", {"kind_id": shops.kind["id"], "key": "B", "answers": {}}
    )
    assert shops.person.call("GET", f"/api/units/{other['id']}/files/{HASH}").status_code == 404
    hide(shops)
    assert (shops.person.call("GET", address).status_code, analyst.call("GET", address).status_code) == (200, 404)


def hide(shops: Workshops) -> None:
    draft = shops.person.answer("GET", f"/api/questionnaires/{shops.kind['questionnaire_id']}")
    parts = [{**part, "sensitive": part["kind"] == "photo"} for part in draft["script"]["parts"]]
    body = {"script": {**draft["script"], "parts": parts}, "version": draft["version"]}
    shops.person.answer("PUT", f"/api/questionnaires/{shops.kind['questionnaire_id']}/script", body)


def test_a_change_of_a_unit_is_no_interview_and_is_counted_as_none(
    app: Any, desk: Callable[[str], Desk], shops: Workshops
) -> None:
    phone = Device(app, desk)
    hand_in(phone, shops, {})
    assert shops.person.answer("GET", "/api/studies/1/logbook")["account"]["arrived"] == 0
    tally = phone.client.post("/api/field/profile", json={"in_hand": 0, "packed": 0}, headers=phone.headers).get_json()
    assert tally["tally"]["all"] == 0
