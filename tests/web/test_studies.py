"""Studies: their facts, their questionnaires, what waits at each station."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from skavo.store.models import Device, Event, now
from tests.outside_files import brought_in_over_http
from tests.samples import part, script
from tests.web.conftest import Desk
from tests.web.test_files import Device as Phone
from tests.web.test_phones import ask


def waiting_at(person: Desk) -> dict[str, int]:
    """How much waits at each station where something does."""
    stations = person.answer("GET", "/api/studies/1/stations")["stations"]
    return {name: station["waiting"] for name, station in stations.items() if station["state"] == "waiting"}


def test_a_stations_mark_tells_whether_it_is_empty_waits_or_is_in_order(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    stations = person.answer("GET", "/api/studies/1/stations")["stations"]
    in_order = [name for name, station in stations.items() if station["state"] == "in order"]
    assert (in_order, len(stations)) == (["plan", "questionnaire"], 9)
    assert {station["state"] for name, station in stations.items() if name not in in_order} == {"empty"}


def test_a_study_is_made_changed_and_listed(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    made = person.answer("POST", "/api/studies", {"title": "Wells", "time_zone": "Etc/GMT+8"})
    facts = {
        "title": "Wells and springs",
        "purpose": "Water",
        "population": "All wells",
        "time_zone": "UTC",
        "version": 1,
    }
    assert person.answer("PUT", f"/api/studies/{made['id']}", facts)["title"] == "Wells and springs"
    listed = {s["title"]: s for s in person.answer("GET", "/api/studies")}
    assert listed["Wells and springs"]["questionnaires"] == []
    assert listed["Mending Trades Survey"]["questionnaires"][0]["releases"] == 1


def test_a_study_needs_a_title(desk: Callable[[str], Desk]) -> None:
    assert desk("data_manager").problem("POST", "/api/studies", {"title": ""})[:2] == (422, "wrong_request")


def test_stations_count_errors_in_the_script(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    assert waiting_at(person) == {}
    draft = person.answer("GET", "/api/questionnaires/1")
    broken = script(part(1, "text", "a", asked_when="b is 3"), part(1, "text", "")).model_dump(mode="json")
    person.answer("PUT", "/api/questionnaires/1/script", {"version": draft["version"], "script": broken})
    assert waiting_at(person) == {"questionnaire": 2}
    matter = person.answer("GET", "/api/studies/1/logbook")["matters"][0]
    assert (matter["count"], matter["kind"]) == (2, "script_errors")


def test_a_device_that_is_silent_for_days_waits_in_the_logbook(app: Any, desk: Callable[[str], Desk]) -> None:
    with app.extensions["skavo_store"].session() as session:
        for name, days in (("phone 01", 4), ("phone 02", 1)):
            device = Device(
                study_id=1, name=name, enumerator="x", token_hash=name, last_heard=now() - timedelta(days=days)
            )
            session.add(device)
    person = desk("supervisor")
    assert waiting_at(person) == {"field": 1}
    matter = person.answer("GET", "/api/studies/1/logbook")["matters"][0]
    assert (matter["kind"], matter["names"]) == ("silent_devices", ["phone 01"])


def test_the_logbook_tells_the_newest_first_and_who(app: Any, desk: Callable[[str], Desk]) -> None:
    with app.extensions["skavo_store"].session() as session:
        session.add(Event(study_id=1, kind="table saved", by="Anna Rolt", detail={"title": "Hours"}))
    events = desk("data_manager").answer("GET", "/api/studies/1/logbook")["events"]
    assert [(e["kind"], e["by"]) for e in events][:3] == [
        ("table saved", "Anna Rolt"), ("released", "Dora Maine"), ("questionnaire made", "Dora Maine"),
    ]  # fmt: skip


def test_kinds_are_told_in_the_order_they_are_offered(desk: Callable[[str], Desk]) -> None:
    kinds = desk("analyst").answer("GET", "/api/kinds")
    assert [k["name"] for k in kinds][:3] == ["section", "roster", "grid"]
    assert {k["name"] for k in kinds if k["uses_codes"]} == {"single answer", "multiple answer", "ranking"}
    assert len({k["glyph"] for k in kinds}) == len(kinds)


def test_a_releases_remark_and_size_are_told(desk: Callable[[str], Desk]) -> None:
    release = desk("analyst").answer("GET", "/api/questionnaires/1/releases")[0]
    assert (release["number"], release["remark"], release["interviews"]) == (1, "For the first round", 0)


def test_an_outside_table_gets_a_name_of_its_own_and_keeps_its_card(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    address = "/api/questionnaires/1/outside"
    names = [brought_in_over_http(person, "Price list.csv", b"a,b\n1,2\n")["name"] for _ in range(2)]
    assert names == ["price_list", "price_list_2"]
    table = person.answer("GET", address)[0]
    said = {"collected_by": "The market office", "trust": "good", "handed_over": "no"}
    person.answer("PUT", f"{address}/{table['id']}/card", {**said, "version": 1})
    card = person.answer("GET", address)[0]["card"]
    assert {name: text for name, text in card.items() if text} == said
    person.call("DELETE", f"{address}/{table['id']}")
    assert [t["name"] for t in person.answer("GET", address)] == ["price_list_2"]


def test_every_station_of_a_study_without_a_release_opens(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    study = person.answer("POST", "/api/studies", {"title": "Wells"})["id"]
    draft = person.answer("POST", f"/api/studies/{study}/questionnaires", {"title": "Visit", "languages": ["en"]})["id"]
    logbook = person.answer("GET", f"/api/studies/{study}/logbook")
    assert logbook["account"] == {"arrived": 0, "in_data_set": 0, "not_laid_out": 0, "set_aside": 0}
    for page in ("stations", "interviews", "interviews?findings=not_laid_out", "checks", "devices", "jobs"):
        person.answer("GET", f"/api/studies/{study}/{page}")
    for page in ("plan", "plan/variables", "plan/changes", "outside", "releases"):
        person.answer("GET", f"/api/questionnaires/{draft}/{page}")
    (begun,) = person.answer("GET", f"/api/studies/{study}/data-sets")["sets"]
    for page in ("tables", "variables", "made", "rows?table=interviews"):
        person.answer("GET", f"/api/data-sets/{begun['id']}/{page}")


def test_rounds_are_kept_by_their_first_day_and_phones_are_told_todays(app: Any, desk: Callable[[str], Desk]) -> None:
    person, phone = desk("data_manager"), Phone(app, desk)
    today = datetime.now(ZoneInfo("UTC")).date()

    def plan(**more: Any) -> Any:
        facts = person.answer("GET", "/api/studies/1")
        kept = {name: facts[name] for name in ("title", "purpose", "population", "version")}
        return person.call("PUT", "/api/studies/1", {**kept, "time_zone": "UTC", **more})

    def at(name: str, days: int) -> dict[str, str]:
        return {"name": name, "begins": str(today + timedelta(days=days))}

    later, present, before = at("Round 3", 30), at("Round 2", -3), at("Round 1", -200)
    assert plan(rounds=[later, present, before]).get_json()["rounds"] == [before, present, later]
    assert ask(phone).get_json()["round"] == present
    # Whoever changes other facts only leaves them as they are.
    assert plan(purpose="To know").get_json()["rounds"] == [before, present, later]
    refused = plan(rounds=[present, at("Round 2", 5)])
    assert (refused.status_code, refused.get_json()["code"]) == (422, "twice")
    assert plan(rounds=[later]).status_code == 200
    assert ask(phone).get_json()["round"] is None
