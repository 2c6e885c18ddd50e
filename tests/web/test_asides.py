"""Findings set aside and the standard of a study, through the HTTP interface; what the proof found among the findings."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tests.web.conftest import Desk

DRAFT = "/api/questionnaires/1"


def findings(person: Desk) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = person.answer("GET", DRAFT)["findings"]
    return found


def test_a_hint_is_set_aside_with_a_reason_and_taken_up_again(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    hint = next(f for f in findings(person) if f["code"] == "no_place")
    draft = person.answer("POST", f"{DRAFT}/set-aside", {"finding": hint, "reason": " Phones take it by themselves. "})
    assert "no_place" not in [f["code"] for f in draft["findings"]]
    (aside,) = person.answer("GET", DRAFT)["set_aside"]
    assert (aside["reason"], aside["by"], aside["finding"]) == ("Phones take it by themselves.", "Dora Maine", hint)
    again = person.answer("POST", f"{DRAFT}/set-aside", {"finding": hint, "reason": " "})
    assert again["set_aside"] == [] and "no_place" in [f["code"] for f in again["findings"]]


def test_an_error_cannot_be_set_aside(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    error = {**findings(person)[0], "severity": "error"}
    assert person.problem("POST", f"{DRAFT}/set-aside", {"finding": error, "reason": "x"})[:2] == (422, "is_error")


def test_the_standard_of_the_study_gives_hints_in_its_questionnaires(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    path = "/api/studies/1/standard"
    assert person.answer("GET", path) == {"longest": None, "pattern": "", "by_section": False, "units": []}
    person.answer("PUT", path, {"longest": 10, "pattern": "", "by_section": False, "units": []})
    assert next(f["message"] for f in findings(person) if f["code"] == "other_name").startswith("“bought_tool” has 11")
    assert (
        person.call("PUT", path, {"longest": 10, "pattern": "(", "by_section": False, "units": []}).status_code == 422
    )


def test_what_the_proof_found_is_told_while_the_script_is_the_same(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    draft = person.answer("GET", DRAFT)
    part = next(p for p in draft["script"]["parts"] if p["id"] == "p_second_problem")
    part["asked_when"] = "workers > 30 and workers < 20"
    person.answer("PUT", f"{DRAFT}/script", {"version": draft["version"], "script": draft["script"]})
    job = person.answer("POST", f"{DRAFT}/proofs", {})
    app.extensions["skavo_jobs"].run(job["id"])
    told = {f["part_id"]: f["message"] for f in findings(person) if f["code"] == "never_asked"}
    assert set(told) == {"p_second_problem"} and told["p_second_problem"].startswith("This is never asked: ")
    flow = person.answer("GET", f"{DRAFT}/flow")
    assert [n["variable"] for n in flow["never"]] == ["second_problem"] and flow["proved"]
    draft = person.answer("GET", DRAFT)
    next(p for p in draft["script"]["parts"] if p["id"] == "p_remarks")["asked_when"] = "workers > 1"
    person.answer("PUT", f"{DRAFT}/script", {"version": draft["version"], "script": draft["script"]})
    assert not [f for f in findings(person) if f["code"] == "never_asked"]
