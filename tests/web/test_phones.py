"""Phones of a study: codes for a team, profiles, what is amiss, orders, lost ones and their successors."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.interview.formats import INTERVIEW
from skavo.store.models import Device, Interview, Release, now
from tests.web.conftest import Desk
from tests.web.test_files import Device as Phone

AT = "/api/studies/1"


def members(person: Desk, *names: str) -> list[int]:
    people = person.answer("GET", f"{AT}/people")["people"]
    return [p["id"] for name in names for p in people if p["name"] == name]


def paired(app: Any, code: str, name: str) -> Any:
    return app.test_client().post("/api/field/pair", json={"code": code, "device": name})


def ask(phone: Phone, **about: Any) -> Any:
    body = {"in_hand": 0, "packed": 0, **about}
    return phone.client.post("/api/field/profile", json=body, headers=phone.headers)


def listed(person: Desk, name: str) -> dict[str, Any]:
    found: dict[str, Any] = next(p for p in person.answer("GET", f"{AT}/devices") if p["name"] == name)
    return found


def device(app: Any, name: str, **changes: Any) -> None:
    with app.extensions["skavo_store"].session() as session:
        row = session.scalars(select(Device).where(Device.name == name)).one()
        for field, value in changes.items():
            setattr(row, field, value)


def test_a_sheet_of_codes_names_each_carrier_and_each_works_once(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    ids = members(person, "Mira Tole", "Ilse Varn")
    codes = person.answer("POST", f"{AT}/pairing-codes", {"member_ids": ids, "minutes": 24 * 60})
    assert [code["enumerator"] for code in codes] == ["Ilse Varn", "Mira Tole"]
    assert all(f"#pair={code['code']}&key=" in code["address"] and code["qr"].startswith("M") for code in codes)
    assert [c["enumerator"] for c in person.answer("GET", f"{AT}/pairing-codes")] == ["Ilse Varn", "Mira Tole"]
    assert paired(app, codes[0]["code"], "p").get_json()["enumerator"] == "Ilse Varn"
    assert paired(app, codes[0]["code"], "p").get_json()["details"] == {"why": "used"}
    (left,) = person.answer("GET", f"{AT}/pairing-codes")
    assert person.answer("POST", f"{AT}/pairing-codes/withdrawal", {"ids": [left["id"]]}) == []
    assert paired(app, codes[1]["code"], "p").get_json()["details"] == {"why": "withdrawn"}


def test_codes_are_for_enumerators_of_this_study_only(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    wrong = members(person, "Anna Rolt")
    assert person.problem("POST", f"{AT}/pairing-codes", {"member_ids": wrong})[1] == "wrong_role"
    assert person.problem("POST", f"{AT}/pairing-codes", {"member_ids": [10**6]})[1] == "wrong_role"
    assert person.problem("POST", f"{AT}/pairing-codes", {"member_ids": []})[1] == "wrong_request"


def test_a_phone_obeys_the_profile_of_its_team_from_its_next_contact(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("supervisor")
    phone = Phone(app, desk)
    ordinary, _outer = person.answer("GET", f"{AT}/field-profiles")
    assert ask(phone).get_json()["settings"] == ordinary["settings"]
    team = next(t["id"] for t in person.answer("GET", f"{AT}/people")["teams"] if t["name"] == "Kesk and Luma")
    settings = {**ordinary["settings"], "sends": "by hand", "languages": ["fr"]}
    profiles = person.answer("POST", f"{AT}/field-profiles", {"name": "rain", "settings": settings, "teams": [team]})
    rain = next(p for p in profiles if p["name"] == "rain")
    assert ask(phone).get_json()["settings"]["sends"] == "by hand"
    at = f"{AT}/field-profiles/{rain['id']}"
    change = {"name": "rain", "settings": {**settings, "sends": "unmetered"}, "teams": [team], "version": 1}
    person.answer("PUT", at, change)
    assert ask(phone).get_json()["settings"]["sends"] == "unmetered"
    assert person.problem("PUT", at, change)[1] == "changed_meanwhile"
    person.answer("DELETE", at)
    assert ask(phone).get_json()["settings"]["sends"] == ordinary["settings"]["sends"]


def test_profiles_that_cannot_be_are_refused(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    ordinary, outer = person.answer("GET", f"{AT}/field-profiles")
    at = f"{AT}/field-profiles"
    body = {"name": "rain", "settings": {}, "teams": []}
    assert person.problem("POST", at, {**body, "name": outer["name"]})[1] == "name_taken"
    assert person.problem("POST", at, {**body, "settings": {"languages": ["sw"]}})[1] == "unknown_language"
    assert person.problem("POST", at, {**body, "teams": [10**6]})[1] == "not_found"
    assert person.problem("DELETE", f"{at}/{ordinary['id']}")[1] == "last_profile"
    assert [p["name"] for p in person.answer("GET", at)] == [ordinary["name"], outer["name"]]


def test_the_list_says_what_is_amiss_the_most_pressing_first(app: Any, desk: Callable[[str], Desk]) -> None:
    phone, person = Phone(app, desk), desk("supervisor")
    name = "phone of Ilse Varn"
    assert listed(person, name)["doubts"] == []
    ahead = (now() + timedelta(hours=26)).isoformat()
    ask(
        phone, in_hand=2, packed=3, files=7, clock=ahead, storage_used=93, storage_quota=100, persisted=False, battery=38,
        build="field-old",
    )  # fmt: skip
    told = listed(person, name)
    assert [(d["kind"], d["figure"]) for d in told["doubts"]][:2] == [
        ("clock", pytest.approx(93_600, abs=30)),
        ("full", 93),
    ]
    assert "may be cleared" in [d["kind"] for d in told["doubts"]]
    assert (told["in_hand"], told["packed"], told["files"], told["battery"], told["storage"]) == (2, 3, 7, 38, 0.93)
    device(app, name, last_heard=now() - timedelta(days=5))
    assert next((d["kind"], d["figure"]) for d in listed(person, name)["doubts"]) == ("silent", 5)
    device(app, name, cut_off_at=now())
    assert listed(person, name)["doubts"] == []


def test_an_older_release_is_told_by_its_number(app: Any, desk: Callable[[str], Desk]) -> None:
    phone, person = Phone(app, desk), desk("data_manager")
    release = ask(phone).get_json()["releases"][0]
    ask(phone, releases={release["hash"]: 0})
    assert (listed(person, "phone of Ilse Varn")["release"], listed(person, "phone of Ilse Varn")["doubts"]) == (1, [])
    draft = person.answer("GET", "/api/questionnaires/1")
    script = draft["script"]
    script["parts"][1]["wording"]["en"] += " Please."
    saved = person.answer("PUT", "/api/questionnaires/1/script", {"version": draft["version"], "script": script})
    person.answer("POST", "/api/questionnaires/1/releases", {"version": saved["version"]})
    assert [(d["kind"], d["figure"]) for d in listed(person, "phone of Ilse Varn")["doubts"]] == [("older release", 1)]


def test_a_phone_that_is_to_be_wiped_does_nothing_else_and_says_when_it_has(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    phone, person = Phone(app, desk), desk("supervisor")
    name = "phone of Ilse Varn"

    def wiped() -> Any:
        return phone.client.post("/api/field/wiped", json={}, headers=phone.headers)

    assert wiped().get_json()["code"] == "not_ordered"
    at = f"/api/devices/{listed(person, name)['id']}"
    person.answer("POST", f"{at}/wipe")
    assert ask(phone).get_json()["code"] == "wipe_ordered"
    person.answer("DELETE", f"{at}/wipe")
    assert ask(phone).status_code == 200
    person.answer("POST", f"{at}/wipe")
    assert wiped().status_code == 204
    told = listed(person, name)
    assert told["wiped_at"] is not None and told["cut_off_at"] is not None
    assert ask(phone).get_json()["code"] == "not_allowed"
    assert person.problem("DELETE", f"{at}/wipe")[1] == "wiped_already"
    assert person.problem("DELETE", f"{at}/cut-off")[1] == "wiped_already"


def test_a_new_phone_takes_the_place_of_a_lost_one(app: Any, desk: Callable[[str], Desk]) -> None:
    lost, person = Phone(app, desk), desk("supervisor")
    of = listed(person, "phone of Ilse Varn")["id"]
    body = {"member_ids": members(person, "Ilse Varn"), "replaces_id": of}
    two = {**body, "member_ids": members(person, "Ilse Varn", "Mira Tole")}
    assert person.problem("POST", f"{AT}/pairing-codes", two)[1] == "one_phone"
    (code,) = person.answer("POST", f"{AT}/pairing-codes", body)
    assert ask(lost).status_code == 200
    assert paired(app, code["code"], "phone 12").status_code == 200
    assert ask(lost).get_json()["code"] == "not_allowed"
    assert listed(person, "phone 12")["replaces"] == "phone of Ilse Varn"


def test_an_interview_left_at_the_office_goes_on_on_one_other_phone_of_the_same_person(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    first, second, stranger = Phone(app, desk), Phone(app, desk), Phone(app, desk, "Mira Tole")
    uuid = "0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a11"
    content = json.dumps({"uuid": uuid, "answers": {"owner": "Anselm"}}).encode()

    def leave(phone: Phone) -> Any:
        return phone.client.put(f"/api/field/left/{uuid}?label=Kettle%20Corner", data=content, headers=phone.headers)

    def take(phone: Phone) -> Any:
        return phone.client.post(f"/api/field/left/{uuid}/taking", json={}, headers=phone.headers)

    assert leave(first).status_code == leave(first).status_code == 200
    assert [left["label"] for left in ask(second).get_json()["left"]] == ["Kettle Corner"]
    assert ask(stranger).get_json()["left"] == []
    assert (take(stranger).status_code, leave(stranger).get_json()["code"]) == (404, "taken_up")
    assert take(second).data == take(second).data == content
    assert take(first).get_json()["code"] == "taken_up"
    assert ask(first).get_json()["left"] == []
    # The answer may have been lost on its way: the phone that took it up is told of it still.
    assert [left["uuid"] for left in ask(second).get_json()["left"]] == [uuid]
    second.hand_in(app, uuid)
    assert leave(second).get_json()["code"] == "arrived_already"
    assert take(second).status_code == 404


def test_what_a_lost_phone_had_taken_up_goes_on_on_another(app: Any, desk: Callable[[str], Desk]) -> None:
    first, second, person = Phone(app, desk), Phone(app, desk), desk("supervisor")
    uuid = "0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a11"
    first.client.put(f"/api/field/left/{uuid}", data=b"{}", headers=first.headers)
    second.client.post(f"/api/field/left/{uuid}/taking", json={}, headers=second.headers)
    assert ask(first).get_json()["left"] == []
    with app.extensions["skavo_store"].reading() as session:
        lost = session.scalars(select(Device.id).order_by(Device.id.desc())).first()
    person.answer("POST", f"/api/devices/{lost}/cut-off")
    assert [left["uuid"] for left in ask(first).get_json()["left"]] == [uuid]
    taken = first.client.post(f"/api/field/left/{uuid}/taking", json={}, headers=first.headers)
    assert (taken.status_code, taken.data) == (200, b"{}")


def test_counts_and_receipts_are_of_the_person_from_all_their_phones(app: Any, desk: Callable[[str], Desk]) -> None:
    first, second, stranger = Phone(app, desk), Phone(app, desk), Phone(app, desk, "Mira Tole")
    identities = [f"0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a1{n}" for n in range(3)]
    for phone, identity in zip((first, second, stranger), identities, strict=True):
        phone.hand_in(app, identity)
    with app.extensions["skavo_store"].session() as session:
        mine = session.scalars(select(Interview).where(Interview.uuid == identities[0])).one()
        mine.state, mine.arrived_at = "accepted", now() - timedelta(days=2)
    assert ask(first).get_json()["tally"] == {"today": 1, "all": 2, "accepted": 1, "sent_back": 0}
    got = second.client.get("/api/field/receipts", headers=second.headers).get_json()
    assert [(line["uuid"], line["state"]) for line in got] == [(identities[1], "arrived"), (identities[0], "accepted")]
    earlier = second.client.get(f"/api/field/receipts?before={got[0]['number']}", headers=second.headers).get_json()
    assert [line["uuid"] for line in earlier] == [identities[0]]


def test_test_interviews_written_by_hand_are_exercises_and_what_came_of_them_is_told(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    manager, phone = desk("data_manager"), Phone(app, desk)
    assert [line["exercises"] for line in ask(phone).get_json()["releases"]] == [""]
    moment = now().isoformat()
    kept = {"name": "A smith", "answers": {"consent": True, "island": "kesk"}, "language": "en", "now": moment}
    manager.answer("POST", "/api/questionnaires/1/tests", {**kept, "started": moment})
    (line,) = ask(phone).get_json()["releases"]
    at = f"/api/field/releases/{line['identity']}/exercises"
    (exercise,) = phone.client.get(at, headers=phone.headers).get_json()
    assert (exercise["name"], exercise["answers"]["island"], len(line["exercises"])) == ("A smith", "kesk", 16)
    assert phone.client.get(at.replace(line["identity"], "0" * 32), headers=phone.headers).status_code == 404
    with app.extensions["skavo_store"].reading() as session:
        release = session.scalars(select(Release)).one()
    for differences in (3, 1):
        identity = str(uuid.uuid4())
        document = {
            "format": INTERVIEW.newest, "uuid": identity, "release": release.identity, "release_hash": release.hash,
            "answers": {}, "practice": True,
            "paradata": {"started": moment, "exercise": {"name": "A smith", "differences": differences}},
        }  # fmt: skip
        sent = phone.client.put(f"/api/field/interviews/{identity}", data=json.dumps(document), headers=phone.headers)
        assert sent.status_code == 200
    (practised,) = manager.answer("GET", f"{AT}/practised")
    assert (practised["exercise"], practised["times"], practised["first"], practised["newest"]) == ("A smith", 2, 3, 1)
    assert manager.answer("GET", f"{AT}/interviews")["total"] == 0
