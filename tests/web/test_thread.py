"""The whole job through the HTTP interface: study, questionnaire, release, phone, interviews, cleaning, figures, files."""

from __future__ import annotations

import io
import json
import random
import time
from collections.abc import Callable, Iterator
from datetime import datetime
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import openpyxl
import pytest

from skavo.demo.build import add_desk_work, build_study, run_fleet
from skavo.formats.workbook.write import write_workbook
from skavo.server import Server
from skavo.standins.phone import Phone
from skavo.store.models import Job
from skavo.web.app import create_app
from tests.outside_files import sent_over_http
from tests.samples import part, script, staff_script
from tests.web.conftest import Desk
from tests.workshop import workshop_script

JSON = dict[str, Any]


def plain(sample: Any) -> JSON:
    dumped: JSON = sample.model_dump(mode="json")
    return dumped


def made(person: Desk, languages: tuple[str, ...] = ("en",)) -> JSON:
    study = person.answer("POST", "/api/studies", {"title": "Wells"})
    draft: JSON = person.answer(
        "POST", f"/api/studies/{study['id']}/questionnaires", {"title": "Well visit", "languages": list(languages)}
    )
    return draft


def test_a_script_is_kept_with_its_faults_and_released_once_they_are_mended(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    draft = made(person)
    address = f"/api/questionnaires/{draft['id']}"
    broken = plain(script(part(1, "whole number", "depth", must=["dpeth > 3"])))
    saved = person.answer("PUT", f"{address}/script", {"version": draft["version"], "script": broken})
    faults = [f for f in saved["findings"] if f["severity"] == "error"]
    assert [(f["field"], f["mend"]) for f in faults] == [("must_hold.0.rule", "Did you mean depth?")]
    assert saved["release_hash"] is None
    refused = person.call("POST", f"{address}/releases", {"version": saved["version"]})
    assert (refused.status_code, refused.get_json()["code"]) == (409, "has_errors")
    assert refused.get_json()["details"]["findings"][0]["code"] == "unknown_name"
    mended = plain(script(part(1, "whole number", "depth", must=["depth > 3"])))
    saved = person.answer("PUT", f"{address}/script", {"version": saved["version"], "script": mended})
    first = person.answer("POST", f"{address}/releases", {"version": saved["version"], "remark": "first"})
    assert (first["number"], first["hash"], first["questions"]) == (1, saved["release_hash"], 1)
    assert person.problem("POST", f"{address}/releases", {"version": saved["version"]})[:2] == (422, "nothing_changed")


def test_a_second_writer_does_not_overwrite_the_first(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    draft = made(person)
    body = {"version": draft["version"], "script": plain(staff_script())}
    person.answer("PUT", f"/api/questionnaires/{draft['id']}/script", body)
    status, code, _ = person.problem("PUT", f"/api/questionnaires/{draft['id']}/script", body)
    assert (status, code) == (409, "changed_meanwhile")


def test_a_workbook_is_compared_before_it_replaces_anything(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    taken = person.call("GET", "/api/questionnaires/1/workbook")
    assert openpyxl.load_workbook(io.BytesIO(taken.data)).sheetnames == ["Script", "Code lists", "About"]
    changed = workshop_script()
    changed.parts = [p for p in changed.parts if p.variable != "remarks"]
    changed.parts[2].wording["en"] = "Shall we begin?"
    found = person.answer("POST", "/api/questionnaires/1/workbook", write_workbook(changed))
    changes = {(c["what"], c["variable"], c["effect"]) for c in found["comparison"]["changes"]}
    assert changes == {("removed", "remarks", "none"), ("re-worded", "consent", "none")}
    assert found["faults"] == []
    assert person.answer("GET", "/api/questionnaires/1")["script"]["parts"][-1]["variable"] == "remarks"
    assert found["script"]["parts"][2]["id"] == "p_consent"


def test_a_pairing_code_works_once(app: Any, desk: Callable[[str], Desk]) -> None:
    code = desk("supervisor").code_for("Ilse Varn")
    phone = app.test_client()
    assert (
        phone.post("/api/field/pair", json={"code": code.lower().replace("-", " "), "device": "p"}).status_code == 200
    )
    again = phone.post("/api/field/pair", json={"code": code, "device": "p"})
    assert (again.status_code, "used already" in again.get_json()["title"]) == (422, True)
    unknown = phone.post("/api/field/pair", json={"code": "ABCD-EFGH", "device": "p"})
    assert "is not known" in unknown.get_json()["title"]


@pytest.fixture(scope="module")
def worked(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Any]:
    """The demo study with 40 interviews and the desk's work on them."""
    folder: Path = tmp_path_factory.mktemp("worked")
    server = Server(folder, "127.0.0.1", 0, limits=False)
    build_study(server.store)
    server.start()
    run_fleet(server.store, 1, server.address, interviews=40, say=lambda _: None)
    add_desk_work(server.store, 1)
    yield create_app(folder, limits=False)
    server.stop()


@pytest.fixture
def manager(worked: Any) -> Desk:
    return Desk(worked.test_client()).sign_in("data_manager")


def test_a_cut_off_device_hands_in_nothing_more_until_it_is_given_back(server: Server) -> None:
    person = Desk(server.app.test_client()).sign_in("data_manager")
    code = person.code_for("Ilse Varn")
    phone = Phone(server.address, code, "phone 09")
    rng = random.Random(3)
    sent = phone.interview(lambda *_: None, rng=rng, started=datetime.now().astimezone(), minutes=5)
    device = person.answer("GET", "/api/studies/1/devices")[0]
    person.answer("POST", f"/api/devices/{device['id']}/cut-off")
    with pytest.raises(Exception, match="403"):
        phone.hand_in(sent)
    person.answer("DELETE", f"/api/devices/{device['id']}/cut-off")
    assert phone.hand_in(sent)["outcome"] == "arrived"


def test_the_ledger_filters_sorts_and_counts(manager: Desk) -> None:
    everything = manager.answer("GET", "/api/studies/1/interviews?limit=500")
    assert (everything["total"], everything["everything"], len(everything["lines"])) == (40, 40, 40)
    one = manager.answer("GET", "/api/studies/1/interviews?enumerator=Osk%20Perrin&sort=minutes&descending=false")
    minutes = [line["minutes"] for line in one["lines"]]
    assert one["total"] == 5 and minutes == sorted(minutes)
    page = manager.answer("GET", "/api/studies/1/interviews?sort=number&descending=false&offset=10&limit=5")
    assert [line["key"] for line in page["lines"]] == ["0011", "0012", "0013", "0014", "0015"]
    some = manager.answer("GET", "/api/studies/1/interviews?keys=0003,0007")
    assert sorted(line["key"] for line in some["lines"]) == ["0003", "0007"]


def test_reading_an_interview_shows_its_answers_and_marks_it_as_read(manager: Desk) -> None:
    line = manager.answer("GET", "/api/studies/1/interviews?keys=0002")["lines"][0]
    reading = manager.answer("GET", f"/api/interviews/{line['id']}")
    asked = [a["variable"] for a in reading["answers"]]
    assert asked[:4] == ["visit", "arrived", "position", "outcome"] and "come_again" not in asked
    assert asked.index("paid") + 1 == asked.index("full_time") < asked.index("tools")
    assert {a["variable"]: a["answer"] for a in reading["answers"]}["consent"] == "Yes"
    assert (reading["previous"], reading["next"], len(reading["paradata"]) > 10) == (1, 3, True)
    assert manager.answer("GET", "/api/studies/1/interviews?keys=0002")["lines"][0]["unread"] is False


def test_whoever_lacks_the_right_sees_no_sensitive_answer_anywhere(worked: Any, manager: Desk) -> None:
    full = manager.answer("GET", "/api/interviews/2")
    names = {a["answer"] for a in full["answers"] if a["variable"] in ("name", "phone_number") and a["answer"]}
    assert names
    analyst = Desk(worked.test_client()).sign_in("analyst")
    told = json.dumps(analyst.answer("GET", "/api/interviews/2"), ensure_ascii=False)
    assert "•••" in told and not [name for name in names if name in told]
    ledger = json.dumps(analyst.answer("GET", "/api/studies/1/interviews?limit=500"), ensure_ascii=False)
    assert not [name for name in names if f"{name} " in ledger]
    assert "name" not in [v["variable"] for v in analyst.answer("GET", "/api/questionnaires/1/plan/variables")]
    table = "/api/data-sets/1/table"
    assert analyst.problem("POST", table, {"variable": "name"})[1] == "unknown_variable"
    assert analyst.problem("POST", table, {"variable": "role", "where": 'name is "Bo"'})[1] == "unknown_name"
    assert analyst.problem("POST", "/api/data-sets/1/extracts", {"options": {"masked": False}})[:2] == (
        403,
        "not_allowed",
    )


def test_an_interview_is_sent_back_only_with_a_remark_and_every_decision_can_be_taken_back(manager: Desk) -> None:
    assert manager.problem("POST", "/api/interviews/3/state", {"state": "sent back"})[1] == "no_remark"
    manager.answer("POST", "/api/interviews/3/state", {"state": "sent back", "remark": "Ask the age again"})
    manager.answer("POST", "/api/interviews/3/state", {"state": "accepted"})
    events = manager.answer("GET", "/api/interviews/3")["events"]
    assert [e["kind"] for e in events][-2:] == ["sent back", "accepted"]
    assert events[-2]["detail"]["remark"] == "Ask the age again"


def test_a_cleaned_value_can_say_who_when_why_from_what(manager: Desk) -> None:
    step = {
        "kind": "correct",
        "variable": "workers",
        "interview": "0004",
        "row": [],
        "value": "7",
        "reason": "Counted again",
    }
    preview = manager.answer("POST", "/api/questionnaires/1/plan/preview", {"step": step})
    assert (preview["cells"], preview["changes"][0]["after"]) == (1, "7")
    before = len(manager.answer("GET", "/api/questionnaires/1/plan")["steps"])
    plan = manager.answer("POST", "/api/questionnaires/1/plan/steps", {"step": step})
    assert len(plan["steps"]) == before + 1
    edits = next(a for a in manager.answer("GET", "/api/interviews/4")["answers"] if a["variable"] == "workers")[
        "edits"
    ]
    assert [(e["after"], e["by"], e["reason"]) for e in edits] == [("7", "Dora Maine", "Counted again")]
    kept = plan["steps"][-1]["id"]
    out = manager.answer("DELETE", f"/api/questionnaires/1/plan/steps/{kept}")
    assert (
        next(a for a in manager.answer("GET", "/api/interviews/4")["answers"] if a["variable"] == "workers")["edits"]
        == []
    )
    manager.answer("POST", "/api/questionnaires/1/plan/undo", {"state": out["state"]})
    assert len(manager.answer("GET", "/api/questionnaires/1/plan")["steps"]) == before + 1


def test_a_step_with_a_wrong_rule_says_where(manager: Desk) -> None:
    step = {"kind": "mark_missing", "variable": "earnings", "rule": "earnigs > 5", "missing": "refused"}
    response = manager.call("POST", "/api/questionnaires/1/plan/preview", {"step": step}).get_json()
    assert response["title"] == "There is no variable “earnigs”. Did you mean earnings?"
    assert response["details"] == {"field": "rule", "start": 0, "length": 7}


def test_a_table_from_outside_is_joined_and_can_be_analysed(manager: Desk) -> None:
    roll, prices = manager.answer("GET", "/api/questionnaires/1/joins")
    report = roll["report"]
    assert report["matched"] + report["unmatched_count"] <= report["rows"] == 40
    assert (prices["join"]["into"], prices["report"]["variables"]) == ("trade", ["usual_prix_habituel"])
    assert report["variables"] == ["licence_licensed_since", "licence_fee_class"]
    table = manager.answer("POST", "/api/data-sets/1/table", {"variable": "licence_fee_class"})
    assert sum(row[0]["count"] for row in table["cells"]) == report["matched"]
    assert manager.problem("DELETE", f"/api/questionnaires/1/outside/{roll['outside_id']}")[1] == "still_joined"


def test_a_file_that_is_no_table_leaves_nothing_behind(manager: Desk) -> None:
    before = len(manager.answer("GET", "/api/questionnaires/1/outside"))
    body = {"file": sent_over_http(manager, b"a,b\n1,2,3,4\n"), "file_name": "x.csv"}
    status, code, title = manager.problem("POST", "/api/questionnaires/1/outside", body)
    assert (status, code) == (422, "too_many_cells") and "Row 2 of x.csv" in title
    assert len(manager.answer("GET", "/api/questionnaires/1/outside")) == before


def test_every_figure_leads_to_the_interviews_that_it_counts(manager: Desk) -> None:
    request = {"show": "share", "variable": "trades", "across": "island"}
    table = manager.answer("POST", "/api/data-sets/1/table", request)
    for r, row in enumerate(table["rows"]):
        for c, column in enumerate(table["columns"]):
            figure = {"request": request, "row": row["value"], "column": column["value"]}
            behind = manager.answer("POST", "/api/data-sets/1/table/behind", figure)
            address = urlencode({"figure": json.dumps({"data_set_id": 1, **figure}), "limit": 1})
            ledger = manager.answer("GET", f"/api/studies/1/interviews?{address}")
            assert behind["interviews"] == ledger["total"] == table["cells"][r][c]["count"]


def test_a_broken_check_leads_to_its_interviews(manager: Desk) -> None:
    for check in manager.answer("GET", "/api/studies/1/checks")["checks"]:
        ledger = manager.answer("GET", f"/api/studies/1/interviews?{urlencode({'check': check['id']})}")
        assert ledger["total"] == check["interviews"] > 0


def test_an_address_that_names_no_figure_is_refused(manager: Desk) -> None:
    assert manager.problem("GET", "/api/studies/1/interviews?figure=x")[:2] == (422, "wrong_figure")


def test_setting_an_interview_aside_takes_it_out_of_the_figures(manager: Desk) -> None:
    request = {"variable": "consent"}
    before = manager.answer("POST", "/api/data-sets/1/table", request)["interviews"]
    manager.answer("POST", "/api/interviews/9/state", {"state": "set aside"})
    assert manager.answer("POST", "/api/data-sets/1/table", request)["interviews"] == before - 1
    manager.answer("POST", "/api/interviews/9/state", {"state": "arrived"})
    assert manager.answer("POST", "/api/data-sets/1/table", request)["interviews"] == before


def ended(person: Desk, job: int) -> JSON:
    """A job once the server in the background has ended it."""
    deadline = time.monotonic() + 120
    while time.monotonic() < deadline:
        found: JSON = person.answer("GET", f"/api/jobs/{job}")
        if found["state"] not in ("waiting", "running"):
            return found
        time.sleep(0.1)
    raise AssertionError("the job has not ended")


@pytest.mark.parametrize("form", ["xlsx", "csv", "sav"])
def test_an_extract_is_made_as_a_job_and_fetched(manager: Desk, form: str) -> None:
    job = manager.answer("POST", "/api/data-sets/1/extracts", {"options": {"format": form}})
    done = ended(manager, job["id"])
    assert (done["state"], done["progress"]) == ("done", 1.0)
    content = manager.call("GET", f"/api/jobs/{job['id']}/file").data
    assert len(content) == done["result"]["bytes"]


def test_a_cancelled_job_gives_no_file(worked: Any, manager: Desk) -> None:
    with worked.extensions["skavo_store"].session() as session:
        job = Job(study_id=1, kind="extract", order={"options": {"masked": True}}, state="cancelled", created_by="x")
        session.add(job)
        session.flush()
        number = job.id
    assert manager.answer("POST", f"/api/jobs/{number}/cancel")["state"] == "cancelled"
    assert manager.problem("GET", f"/api/jobs/{number}/file")[1] == "not_ready"


def test_the_logbook_says_what_waits_and_where(manager: Desk) -> None:
    logbook = manager.answer("GET", "/api/studies/1/logbook")
    stations = manager.answer("GET", "/api/studies/1/stations")["stations"]
    unread = next((m for m in logbook["matters"] if m["kind"] == "unread"), None)
    assert (unread["count"] if unread else 0) == stations["interviews"]["waiting"]
    assert sum(e["arrived"] for e in logbook["enumerators"]) == logbook["interviews"] == 40
    assert logbook["account"] == {"arrived": 40, "in_data_set": 40, "not_laid_out": 0, "set_aside": 0}


def test_checks_tell_who_works_in_a_hurry(manager: Desk) -> None:
    checks = manager.answer("GET", "/api/studies/1/checks")
    hasty = [e["enumerator"] for e in checks["enumerators"] if e["median_minutes"] < checks["median_minutes"] / 2]
    assert hasty == ["Osk Perrin"]


def test_saved_tables_are_listed_and_removed(manager: Desk) -> None:
    made_table = manager.answer(
        "POST", "/api/data-sets/1/tables", {"title": "Consent", "request": {"variable": "consent"}}
    )
    assert "Consent" in [t["title"] for t in manager.answer("GET", "/api/data-sets/1/tables")]
    manager.answer("DELETE", f"/api/data-sets/1/tables/{made_table['id']}")
    assert "Consent" not in [t["title"] for t in manager.answer("GET", "/api/data-sets/1/tables")]
