"""Releases through the HTTP interface: read again, held against the draft, withdrawn from phones and given out again."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tests.web.conftest import Desk

DRAFT = "/api/questionnaires/1"


def change(person: Desk, wording: str) -> None:
    draft = person.answer("GET", DRAFT)
    next(p for p in draft["script"]["parts"] if p["id"] == "p_consent")["wording"]["en"] = wording
    person.answer("PUT", f"{DRAFT}/script", {"version": draft["version"], "script": draft["script"]})


def release(person: Desk) -> Any:
    version = person.answer("GET", DRAFT)["version"]
    return person.answer("POST", f"{DRAFT}/releases", {"version": version, "remark": "Asked otherwise"})


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


def phone(app: Any, person: Desk) -> Callable[[], dict[str, Any]]:
    client = app.test_client()
    code = person.code_for("Field Tester")
    token = client.post("/api/field/pair", json={"code": code, "device": "phone 1"}).get_json()["token"]
    headers = {"Authorization": f"Bearer {token}"}

    def profile() -> dict[str, Any]:
        found: dict[str, Any] = client.post(
            "/api/field/profile", json={"in_hand": 0, "packed": 0}, headers=headers
        ).get_json()
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
