"""What was made up is tabulated and opened again; test interviews by hand are kept beside those of the proof."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.interview.formats import INTERVIEW
from skavo.store.models import Job, Questionnaire, Release
from tests.web.conftest import Desk
from tests.web.test_files import Device
from tests.web.test_rules import line, saved

AT = "/api/questionnaires/1"
NOON = "2027-05-10T12:00:00+00:00"


@pytest.fixture
def person(desk: Callable[[str], Desk]) -> Desk:
    return desk("data_manager")


def rehearsed(app: Any, person: Desk, **wanted: Any) -> int:
    job = person.answer("POST", f"{AT}/rehearsals", {"interviews": 30, "seed": 5, **wanted})
    app.extensions["skavo_jobs"].run(job["id"])
    number: int = job["id"]
    return number


def test_made_up_data_is_tabulated_and_never_counted(app: Any, person: Desk, desk: Callable[[str], Desk]) -> None:
    job = rehearsed(app, person)
    analyst = desk("analyst")
    told = analyst.answer("GET", f"{AT}/rehearsals")
    assert [(r["id"], r["interviews"], r["seed"]) for r in told] == [(job, 30, 5)]
    variables = {v["variable"]: v for v in analyst.answer("GET", f"{AT}/rehearsals/{job}/variables")}
    asked = variables["consent"]
    assert asked["values"] + sum(asked["missing"].values()) == 30
    table = analyst.answer("POST", f"{AT}/rehearsals/{job}/table", {"show": "share", "variable": "consent"})
    assert table["interviews"] == 30
    assert sum(row[0]["count"] for row in table["cells"]) == asked["values"]
    figure = {"request": table["request"], "row": table["rows"][0]["value"], "column": "*"}
    behind = analyst.answer("POST", f"{AT}/rehearsals/{job}/table/behind", figure)
    assert behind["interviews"] == table["cells"][0][0]["count"] and behind["wording"].startswith("May I ask")
    number = int(behind["numbers"][0])
    opened = person.answer("GET", f"{AT}/rehearsals/{job}/interviews/{number}")
    assert opened["answers"]["consent"] is (table["rows"][0]["value"] == "yes")
    assert person.answer("GET", "/api/studies/1")["interviews"] == 0


def test_what_is_no_rehearsal_of_this_questionnaire_is_not_found(app: Any, person: Desk) -> None:
    job = rehearsed(app, person, interviews=3)
    assert person.problem("GET", f"{AT}/rehearsals/{job}/interviews/4")[0] == 404
    assert person.problem("GET", f"{AT}/rehearsals/{job}/interviews/0")[0] == 404
    assert person.problem("GET", f"{AT}/rehearsals/{job + 1}/variables")[0] == 404
    other = person.answer("POST", "/api/studies/1/questionnaires", {"title": "Call-back", "languages": ["en"]})["id"]
    assert person.problem("GET", f"/api/questionnaires/{other}/rehearsals/{job}/variables")[0] == 404
    assert person.answer("GET", f"/api/questionnaires/{other}/rehearsals") == []
    proof = person.answer("POST", f"{AT}/proofs")["id"]
    assert person.problem("GET", f"{AT}/rehearsals/{proof}/variables")[0] == 404


def test_a_rehearsal_of_an_earlier_version_is_not_offered(app: Any, person: Desk) -> None:
    job = rehearsed(app, person, interviews=2)
    with app.extensions["skavo_store"].session() as session:
        kept = session.get_one(Job, job)
        kept.result = {name: value for name, value in (kept.result or {}).items() if name != "kept"}
    assert person.answer("GET", f"{AT}/rehearsals") == []
    assert person.problem("GET", f"{AT}/rehearsals/{job}/variables")[0] == 404


def test_a_table_prepared_with_made_up_data_waits_for_real_ones(app: Any, person: Desk) -> None:
    job = rehearsed(app, person, interviews=5)
    body = {"title": "Consent", "request": {"show": "share", "variable": "consent"}}
    person.answer("POST", f"{AT}/rehearsals/{job}/tables", body)
    assert [t["title"] for t in person.answer("GET", "/api/data-sets/1/tables")] == ["Consent"]
    wrong = {"title": "No", "request": {"show": "share", "variable": "nothing_such"}}
    assert person.problem("POST", f"{AT}/rehearsals/{job}/tables", wrong)[0] == 422


def kept(person: Desk, name: str, answers: dict[str, Any], **more: Any) -> Any:
    body = {"name": name, "answers": answers, "language": "en", "now": NOON, "started": NOON, **more}
    return person.answer("POST", f"{AT}/tests", body)


def test_a_test_by_hand_tells_what_a_change_does_until_it_is_meant(person: Desk) -> None:
    told = kept(person, " nobody consents ", {"consent": False, "come_again": "2027-05-12"})
    assert [(t["name"], t["by"] != "", t["answers"], t["changed"]) for t in told["tests"]] == [
        ("nobody consents", True, 2, None)
    ]
    saved(person, lambda s: setattr(line(s, "come_again"), "asked_when", "consent is yes"))
    changed = person.answer("GET", f"{AT}/tests")["tests"][0]["changed"]
    assert "come_again" in changed["no_longer_asked"]
    accepted = person.answer("POST", f"{AT}/tests/accepted?name=nobody%20consents")
    assert (accepted["tests"][0]["changed"], accepted["tests"][0]["answers"]) == (None, 1)


def test_a_test_is_opened_as_it_was_kept_and_removed(person: Desk) -> None:
    kept(person, "yes / no?", {"consent": True}, earlier={"workers": 4})
    opened = person.answer("GET", f"{AT}/tests/opened?name=yes%20%2F%20no%3F")
    assert (opened["answers"], opened["language"]) == ({"consent": True}, "en")
    assert (opened["outside"]["now"], opened["outside"]["earlier"]) == (NOON, {"workers": 4})
    assert person.answer("DELETE", f"{AT}/tests?name=yes%20%2F%20no%3F")["tests"] == []
    assert person.problem("DELETE", f"{AT}/tests?name=yes%20%2F%20no%3F")[0] == 404
    assert person.problem("GET", f"{AT}/tests/opened?name=gone")[0] == 404


def test_a_name_stands_for_one_test(person: Desk) -> None:
    kept(person, "first", {"consent": True})
    body = {"name": "first", "answers": {"consent": False}, "language": "en", "now": NOON, "started": NOON}
    assert person.problem("POST", f"{AT}/tests", body)[1] == "name_taken"
    told = kept(person, "first", {"consent": False}, replaces=True)
    assert len(told["tests"]) == 1
    assert person.answer("GET", f"{AT}/tests/opened?name=first")["answers"] == {"consent": False}
    assert person.problem("POST", f"{AT}/tests", {**body, "name": "  "})[1] == "wrong_name"


def test_the_proof_replaces_its_own_tests_and_no_others(app: Any, person: Desk) -> None:
    kept(person, "by hand", {"consent": True})
    for _ in range(2):
        app.extensions["skavo_jobs"].run(person.answer("POST", f"{AT}/proofs")["id"])
    told = person.answer("GET", f"{AT}/tests")["tests"]
    assert [t["name"] for t in told if t["by"]] == ["by hand"]
    names = [t["name"] for t in told]
    assert len(names) > 3 and len(set(names)) == len(names)
    first = next(t["name"] for t in told if not t["by"])
    body = {"name": first, "answers": {}, "language": "en", "now": NOON, "started": NOON, "replaces": True}
    assert person.problem("POST", f"{AT}/tests", body)[1] == "name_taken"


def test_nothing_is_kept_while_the_script_has_errors(app: Any, person: Desk) -> None:
    saved(person, lambda s: setattr(line(s, "paid"), "asked_when", "wrokers > 2"))
    body = {"name": "x", "answers": {}, "language": "en", "now": NOON, "started": NOON}
    assert person.problem("POST", f"{AT}/tests", body)[1] == "has_errors"
    with app.extensions["skavo_store"].reading() as session:
        assert session.get_one(Questionnaire, 1).tests == []


def test_a_test_with_answers_to_what_is_not_there_is_kept_without_them(person: Desk) -> None:
    told = kept(person, "odd", {"consent": True, "no_such": 3, "staff/1/age": 40, "workers": "seven"})
    assert told["tests"][0]["name"] == "odd"
    assert "no_such" not in person.answer("GET", f"{AT}/tests/opened?name=odd")["answers"]


def test_questions_are_timed_in_the_interviews_of_those_who_may_know_of_them(
    app: Any, person: Desk, desk: Callable[[str], Desk]
) -> None:
    assert person.answer("GET", f"{AT}/timing")["interviews"] == 0
    phone = Device(app, desk)
    phone.hand_in(app, "0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a11", consent=True)
    with app.extensions["skavo_store"].reading() as session:
        release = session.scalars(select(Release)).one()
    at = [f"2027-03-14T10:00:{second:02d}Z" for second in (0, 5, 12)]
    events = [
        {"kind": "seen", "path": path, "at": when} for path, when in zip(("consent", "island", "gone"), at, strict=True)
    ]
    document = {
        "format": INTERVIEW.newest, "uuid": "0b6b6e1e-7c3c-4b4e-9d5a-3f6f2c1d0a12", "release": release.identity,
        "release_hash": release.hash, "answers": {"consent": True}, "practice": True, "paradata": {"events": events},
    }  # fmt: skip
    sent = phone.client.put(f"/api/field/interviews/{document['uuid']}", json=document, headers=phone.headers)
    assert sent.status_code == 200
    told = person.answer("GET", f"{AT}/timing")
    assert (told["interviews"], told["practice"]) == (1, 1)
    assert {m["part"]: m["seconds"] for m in told["parts"]} == {"p_consent": 5, "p_island": 7}
    assert {m["part"]: m["seconds"] for m in told["blocks"]} == {"p_arrival": 5, "p_workshop": 7}
