"""Rules, rehearsal, proof and comparison through the HTTP interface; files of interviews."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from typing import Any

from skavo.store.models import Event, Questionnaire
from tests.web.conftest import Desk
from tests.workshop import workshop_script


def saved(person: Desk, edit: Callable[[Any], object]) -> None:
    """The demo's draft, changed and saved."""
    script = workshop_script()
    edit(script)
    version = person.answer("GET", "/api/questionnaires/1")["version"]
    body = {"version": version, "script": script.model_dump(mode="json")}
    person.answer("PUT", "/api/questionnaires/1/script", body)


def line(script: Any, variable: str) -> Any:
    return next(p for p in script.parts if p.variable == variable)


def test_the_help_tells_every_form(desk: Callable[[str], Desk]) -> None:
    topics = desk("analyst").answer("GET", "/api/rule-help")
    assert {"Comparing", "Quantities", "Rosters"} <= {t["title"] for t in topics}
    assert all(t["examples"] for t in topics)


def test_a_rule_is_explained_in_words_and_by_answers(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    body = {"part_id": "p_tool_cost", "text": "consent is yes and trade is bicycle"}
    told = person.answer("POST", "/api/questionnaires/1/explanations", body)
    assert (told["words"], told["steps"]) == ("consent is yes and trade is “Bicycles”.", [])
    told = person.answer("POST", "/api/questionnaires/1/explanations", {**body, "answers": {"consent": True}})
    assert [(s["text"], s["outcome"], s["because"]) for s in told["steps"]] == [
        ("consent is yes and trade is bicycle", "unknown", ""),
        ("consent is yes", "yes", "consent is Yes"),
        ("trade is bicycle", "unknown", "trade has no answer yet"),
    ]
    filtered = {"part_id": "p_ward", "text": "ward.island is island", "list_filtered": True}
    assert (
        person.answer("POST", "/api/questionnaires/1/explanations", filtered)["words"]
        == "The island of the code is island."
    )
    refused = person.problem("POST", "/api/questionnaires/1/explanations", {"part_id": "p_ward", "text": "a >"})
    assert refused[:2] == (422, "unfinished")
    assert person.problem("POST", "/api/questionnaires/1/explanations", {"part_id": "x", "text": "1 > 0"})[0] == 404


def test_a_rehearsal_is_a_job_with_its_files(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    job = person.answer("POST", "/api/questionnaires/1/rehearsals", {"interviews": 25, "seed": 3})
    app.extensions["skavo_jobs"].run(job["id"])
    done = person.answer("GET", f"/api/jobs/{job['id']}")
    assert (done["state"], done["result"]["made"], done["result"]["unmet"]) == ("done", 25, [])
    packed = zipfile.ZipFile(io.BytesIO(person.call("GET", f"/api/jobs/{job['id']}/file").data))
    assert {"rehearsal.json", "reach.csv", "rules.csv", "data/interviews.csv", "data/staff.csv"} <= set(
        packed.namelist()
    )
    kinds = {j["kind"] for j in person.answer("GET", "/api/studies/1/jobs?kind=extract")}
    assert kinds == set()
    assert desk("analyst").problem("GET", f"/api/jobs/{job['id']}/file")[:2] == (403, "not_allowed")
    assert person.answer("GET", "/api/studies/1")["interviews"] == 0


def test_a_proof_keeps_test_interviews_that_tell_what_later_changes_do(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    job = person.answer("POST", "/api/questionnaires/1/proofs")
    app.extensions["skavo_jobs"].run(job["id"])
    result = person.answer("GET", f"/api/jobs/{job['id']}")["result"]
    assert (result["unreachable"], result["contradictions"], result["undecided"]) == ([], [], [])
    kept = person.answer("GET", "/api/questionnaires/1/tests")
    assert len(kept["tests"]) == len(result["tests"])
    assert kept["ran"] and all(test["changed"] is None for test in kept["tests"])
    saved(person, lambda s: setattr(line(s, "come_again"), "asked_when", "consent is yes"))
    told = person.answer("GET", "/api/questionnaires/1/tests")["tests"]
    changed = [test["changed"] for test in told if test["changed"]]
    assert any("come_again" in [*r["newly_asked"], *r["no_longer_asked"]] for r in changed)
    version = person.answer("GET", "/api/questionnaires/1")["version"]
    person.answer("POST", "/api/questionnaires/1/releases", {"version": version})
    with app.extensions["skavo_store"].reading() as session:
        event = session.query(Event).filter(Event.kind == "released").order_by(Event.id.desc()).first()
        assert event.detail["tests"] == len(kept["tests"]) and event.detail["tests_changed"] == len(changed)


def test_a_script_with_errors_is_neither_rehearsed_nor_proved(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    saved(person, lambda s: setattr(line(s, "paid"), "asked_when", "wrokers > 2"))
    for what in ("rehearsals", "proofs"):
        assert (
            person.problem("POST", f"/api/questionnaires/1/{what}", {} if what == "rehearsals" else None)[1]
            == "has_errors"
        )
    assert person.answer("GET", "/api/questionnaires/1/tests")["ran"] is False


def test_a_job_of_another_role_is_not_stopped(desk: Callable[[str], Desk]) -> None:
    job = desk("data_manager").answer("POST", "/api/questionnaires/1/rehearsals", {"interviews": 5})
    assert desk("supervisor").problem("POST", f"/api/jobs/{job['id']}/cancel")[:2] == (403, "not_allowed")
    assert desk("data_manager").answer("POST", f"/api/jobs/{job['id']}/cancel")["state"] == "cancelled"


def test_the_draft_is_held_against_the_release(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    assert person.answer("GET", "/api/questionnaires/1/comparison")["comparison"]["changes"] == []

    def edit(script: Any) -> None:
        line(script, "hours").must_hold[0].rule = "hours between 0 and 100"
        line(script, "remarks").wording["en"] = "Is there anything that was left out?"

    saved(person, edit)
    found = person.answer("GET", "/api/questionnaires/1/comparison")
    assert (found["release"], found["interviews"]) == (1, 0)
    assert {(c["variable"], c["what"], c["effect"]) for c in found["comparison"]["changes"]} == {
        ("hours", "rule", "narrower"), ("remarks", "re-worded", "none"),
    }  # fmt: skip
    assert person.problem("GET", "/api/questionnaires/1/comparison?release=9")[0] == 404


def test_the_workbook_is_taken_out_as_csv_files_and_brought_in_again(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    taken = person.call("GET", "/api/questionnaires/1/workbook?form=csv").data
    assert set(zipfile.ZipFile(io.BytesIO(taken)).namelist()) == {"Script.csv", "Code lists.csv", "About.csv"}
    found = person.answer("POST", "/api/questionnaires/1/workbook", taken)
    assert (found["faults"], found["comparison"]["changes"]) == ([], [])


def test_tests_of_an_older_database_are_none(app: Any) -> None:
    with app.extensions["skavo_store"].reading() as session:
        assert session.get_one(Questionnaire, 1).tests == []


def test_a_rehearsal_is_made_as_if_on_a_day(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    saved(person, lambda s: setattr(line(s, "remarks"), "asked_when", "today >= 2027-05-10"))
    asked = {}
    for day in ("2027-05-09", "2027-05-10"):
        job = person.answer("POST", "/api/questionnaires/1/rehearsals", {"interviews": 3, "day": day})
        app.extensions["skavo_jobs"].run(job["id"])
        result = person.answer("GET", f"/api/jobs/{job['id']}")["result"]
        asked[result["day"]] = next(r["asked"] for r in result["reach"] if r["variable"] == "remarks")
    assert asked["2027-05-09"] == 0 < asked["2027-05-10"]
    wrong = {"interviews": 3, "day": "2027-02-30"}
    assert person.problem("POST", "/api/questionnaires/1/rehearsals", wrong)[0] == 422
