"""Releases through the HTTP interface: read again, held against the draft, withdrawn from phones and given out again."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from skavo.core.interview.formats import INTERVIEW
from skavo.store.models import Release
from tests.web.conftest import Desk
from tests.web.test_files import Device

DRAFT = "/api/questionnaires/1"


def change(person: Desk, wording: str) -> None:
    draft = person.answer("GET", DRAFT)
    next(p for p in draft["script"]["parts"] if p["id"] == "p_consent")["wording"]["en"] = wording
    person.answer("PUT", f"{DRAFT}/script", {"version": draft["version"], "script": draft["script"]})


def release(person: Desk, **more: Any) -> Any:
    version = person.answer("GET", DRAFT)["version"]
    return person.answer("POST", f"{DRAFT}/releases", {"version": version, "remark": "Asked otherwise", **more})


def test_the_script_of_every_release_can_be_read_again(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    first = person.answer("GET", DRAFT)["script"]
    change(person, "May I ask?")
    assert release(person)["number"] == 2
    change(person, "Or not?")
    for number, wording in ((1, "May I ask you some questions about this workshop?"), (2, "May I ask?")):
        script = person.answer("GET", f"{DRAFT}/releases/{number}/script")
        assert next(p for p in script["parts"] if p["id"] == "p_consent")["wording"]["en"] == wording
    assert person.answer("GET", f"{DRAFT}/releases/1/script") == first
    assert person.problem("GET", f"{DRAFT}/releases/3/script")[0] == 404
    changes = person.answer("GET", f"{DRAFT}/comparison?release=1")["comparison"]["changes"]
    assert [c["after"] for c in changes] == ["Or not?"]


def phone(app: Any, person: Desk, name: str = "phone 1") -> Callable[..., dict[str, Any]]:
    client = app.test_client()
    code = person.code_for("Field Tester")
    token = client.post("/api/field/pair", json={"code": code, "device": name}).get_json()["token"]
    headers = {"Authorization": f"Bearer {token}"}

    def profile(**held: int) -> dict[str, Any]:
        body = {"in_hand": 0, "packed": 0, "releases": held}
        found: dict[str, Any] = client.post("/api/field/profile", json=body, headers=headers).get_json()
        return found

    return profile


def test_phones_go_back_to_the_one_before_until_it_is_given_out_again(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    profile = phone(app, person)
    change(person, "May I ask?")
    release(person)
    (second,) = profile()["releases"]
    told = person.answer("POST", f"{DRAFT}/releases/2/withdrawal", {"why": " The wording is wrong. "})
    assert (told["withdrawn"]["why"], told["withdrawn"]["by"]) == ("The wording is wrong.", "Dora Maine")
    assert ([r["number"] for r in profile()["releases"]], profile()["withdrawn"]) == ([1], [second["hash"]])
    assert not person.answer("GET", DRAFT)["same_as_newest"]
    again = person.answer("POST", f"{DRAFT}/releases/2/withdrawal", {"why": ""})
    assert again["withdrawn"] is None and person.answer("GET", DRAFT)["same_as_newest"]
    assert ([r["number"] for r in profile()["releases"]], profile()["withdrawn"]) == ([2], [])


def test_the_same_content_may_go_out_anew_and_then_is_withdrawn_no_more(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    profile = phone(app, person)
    person.answer("POST", f"{DRAFT}/releases/1/withdrawal", {"why": "Too early"})
    assert profile()["releases"] == [] and len(profile()["withdrawn"]) == 1
    assert release(person)["number"] == 2
    assert ([r["number"] for r in profile()["releases"]], profile()["withdrawn"]) == ([2], [])


def test_who_may_not_release_may_not_withdraw(desk: Callable[[str], Desk]) -> None:
    analyst = desk("analyst")
    assert analyst.problem("POST", f"{DRAFT}/releases/1/withdrawal", {"why": "x"})[0] == 403
    person = desk("data_manager")
    assert person.problem("POST", f"{DRAFT}/releases/9/withdrawal", {"why": "x"})[0] == 404


def numbers(profile: dict[str, Any]) -> list[tuple[int, bool]]:
    return [(r["number"], r["practice"]) for r in profile["releases"]]


def test_a_release_for_practice_goes_along_until_one_for_the_field_follows(
    app: Any, desk: Callable[[str], Desk]
) -> None:
    person = desk("data_manager")
    profile = phone(app, person)
    change(person, "May I ask?")
    assert release(person, practice=True)["practice"]
    assert numbers(profile()) == [(1, False), (2, True)]
    change(person, "Could I ask?")
    release(person, practice=True)
    assert numbers(profile()) == [(1, False), (3, True)]
    draft = person.answer("GET", DRAFT)
    assert draft["same_as_newest"] and draft["newest_is_practice"]
    again = {"version": draft["version"], "practice": True}
    assert person.problem("POST", f"{DRAFT}/releases", again)[1] == "nothing_changed"
    assert not release(person)["practice"]
    assert numbers(profile()) == [(4, False)]


def test_no_interview_of_a_release_for_practice_ever_counts(app: Any, desk: Callable[[str], Desk]) -> None:
    person, analyst = desk("data_manager"), desk("analyst")
    change(person, "May I ask?")
    made = release(person, practice=True)
    field = Device(app, desk)
    with app.extensions["skavo_store"].reading() as session:
        pilot = session.get_one(Release, made["id"])
    # A phone of an earlier build takes it for a real one.
    document = {
        "format": INTERVIEW.newest, "uuid": "0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a11", "release": pilot.identity,
        "release_hash": pilot.hash, "answers": {"consent": True}, "practice": False, "paradata": {"enumerator": "Ilse Varn"},
    }  # fmt: skip
    sent = field.client.put(f"/api/field/interviews/{document['uuid']}", json=document, headers=field.headers)
    assert sent.status_code == 200
    assert person.answer("GET", "/api/studies/1")["interviews"] == 0
    assert person.answer("GET", "/api/interviews/1")["practice"] is True
    names = [v["variable"] for v in analyst.answer("GET", f"{DRAFT}/plan/variables")]
    assert "consent" in names
    assert all(v["values"] == 0 for v in analyst.answer("GET", f"{DRAFT}/plan/variables"))


def test_what_a_release_for_practice_renames_stays_in_the_data_set(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    person.answer(
        "POST", "/api/data-sets/1/tables", {"title": "T", "request": {"show": "share", "variable": "consent"}}
    )
    draft = person.answer("GET", DRAFT)
    next(p for p in draft["script"]["parts"] if p["id"] == "p_consent")["variable"] = "agreed"
    for part in draft["script"]["parts"]:
        part["asked_when"] = part["asked_when"].replace("consent", "agreed")
    person.answer("PUT", f"{DRAFT}/script", {"version": draft["version"], "script": draft["script"]})
    release(person, practice=True)
    assert [t["request"]["variable"] for t in person.answer("GET", "/api/data-sets/1/tables")] == ["consent"]
    release(person)
    assert [t["request"]["variable"] for t in person.answer("GET", "/api/data-sets/1/tables")] == ["agreed"]


def with_two_signatures(person: Desk, two_sign: bool = True) -> None:
    study = person.answer("GET", "/api/studies/1")
    facts = ("title", "purpose", "population", "time_zone", "strips_location", "tells_contact", "version")
    person.answer("PUT", "/api/studies/1", {**{f: study[f] for f in facts}, "two_sign": two_sign})


def test_a_release_goes_out_once_a_second_person_signs_it(app: Any, desk: Callable[[str], Desk]) -> None:
    person, second = desk("data_manager"), desk("supervisor")
    profile = phone(app, person)
    with_two_signatures(person)
    change(person, "May I ask?")
    made = release(person)
    assert (made["awaits"], made["may_sign"], person.answer("GET", DRAFT)["awaiting"]) == (True, False, 2)
    assert numbers(profile()) == [(1, False)]
    assert person.problem("POST", f"{DRAFT}/releases/2/signature", {})[1] == "own_release"
    assert desk("analyst").problem("POST", f"{DRAFT}/releases/2/signature", {})[0] == 403
    assert second.answer("GET", f"{DRAFT}/releases")[0]["may_sign"]
    signed = second.answer("POST", f"{DRAFT}/releases/2/signature", {"remark": " Compared. "})
    assert (signed["awaits"], signed["signed"]["by"], signed["signed"]["remark"]) == (False, "Sela Brack", "Compared.")
    assert numbers(profile()) == [(2, False)]
    assert person.answer("GET", DRAFT)["awaiting"] is None
    assert second.problem("POST", f"{DRAFT}/releases/2/signature", {})[1] == "nothing_awaited"


def test_one_that_nobody_waits_for_any_more_can_be_made_again(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    with_two_signatures(person)
    change(person, "May I ask?")
    release(person)
    version = person.answer("GET", DRAFT)["version"]
    assert person.problem("POST", f"{DRAFT}/releases", {"version": version})[1] == "nothing_changed"
    with_two_signatures(person, two_sign=False)
    assert not release(person)["awaits"]
    assert numbers(phone(app, person)()) == [(3, False)]


def test_one_for_practice_needs_no_second_signature(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    with_two_signatures(person)
    change(person, "May I ask?")
    assert not release(person, practice=True)["awaits"]
    assert numbers(phone(app, person)()) == [(1, False), (2, True)]


def test_it_is_told_which_phones_hold_which_release(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    first, second = phone(app, person, "phone 1"), phone(app, person, "phone 2")
    old = person.answer("GET", f"{DRAFT}/releases")[0]["hash"]
    change(person, "May I ask?")
    new = release(person)["hash"]
    first(**{old: 2, new: 0})
    second(**{new: 1, "no hash": 5})
    told = {r["number"]: r["holders"] for r in person.answer("GET", f"{DRAFT}/releases")}
    assert [(h["device"], h["interviews"]) for h in told[1]] == [("phone 1", 2)]
    assert [(h["device"], h["interviews"]) for h in told[2]] == [("phone 1", 0), ("phone 2", 1)]
    devices = person.answer("GET", "/api/studies/1/devices")
    person.answer("POST", f"/api/devices/{devices[0]['id']}/cut-off")
    told = {r["number"]: r["holders"] for r in person.answer("GET", f"{DRAFT}/releases")}
    assert len(told[2]) == 1
