"""Code lists through the HTTP interface: nothing is kept, and what cannot be done is said."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from skavo.core.lists.from_table import MOST_CODES
from tests.outside_files import brought_in_over_http
from tests.web.conftest import Desk
from tests.workshop import workshop_script

BASE = "/api/questionnaires/1/lists"


def script() -> dict[str, Any]:
    return workshop_script().model_dump(mode="json")


def listed(script: dict[str, Any], name: str) -> dict[str, Any]:
    found: dict[str, Any] = next(entry for entry in script["code_lists"] if entry["name"] == name)
    return found


def test_ready_lists_have_a_glance_and_come_in_the_scripts_languages(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    shown = {entry["name"]: entry for entry in person.answer("GET", "/api/ready-lists")}
    assert shown["agreement"]["codes"] == 5 and shown["agreement"]["shown"][0] == "Strongly agree"
    assert all(entry["source"] for entry in shown.values())
    taken = person.answer("POST", f"{BASE}/ready", {"name": "sex", "languages": ["fr", "en"]})
    assert taken["codes"][0]["label"] == {"fr": "Masculin", "en": "Male"} and taken["source"] == "ISO/IEC 5218"
    assert person.problem("POST", f"{BASE}/ready", {"name": "planets", "languages": ["en"]})[0] == 404


def test_the_draft_says_how_its_lists_hang_together(desk: Callable[[str], Desk]) -> None:
    draft = desk("data_manager").answer("GET", "/api/questionnaires/1")
    assert draft["hanging"] == [{"code_list": "ward", "attribute": "island", "under": "island"}]


def test_a_code_called_otherwise_takes_its_rules_along(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    body = {"script": script(), "code_list": "island", "codes": {"kesk": "k"}}
    made = person.answer("POST", f"{BASE}/codes", body)["script"]
    assert listed(made, "island")["codes"][0]["code"] == "k"
    assert {c["attributes"]["island"] for c in listed(made, "ward")["codes"]} == {"k", "luma", "tarrow", "vint"}
    assert person.problem("POST", f"{BASE}/codes", {**body, "codes": {"kesk": "luma"}})[:2] == (422, "double_code")
    assert person.problem("POST", f"{BASE}/codes", {**body, "code_list": "isle"})[0] == 404


def test_merging_shows_its_plan_before_it_is_taken(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    body = {"script": script(), "stays": "trade", "goes": "tool"}
    made = person.answer("POST", f"{BASE}/merging", body)
    other = next(row for row in made["plan"] if row["code"] == "other")
    assert (other["why"], other["becomes"], other["label_there"]) == ("clash", "other_2", "Something else")
    decided = person.answer("POST", f"{BASE}/merging", {**body, "becomes": {"other": "other"}})["script"]
    assert [c["code"] for c in listed(decided, "trade")["codes"]].count("other") == 1
    assert not [entry for entry in decided["code_lists"] if entry["name"] == "tool"]
    assert person.problem("POST", f"{BASE}/merging", {**body, "goes": "trade"})[:2] == (422, "same_list")
    assert person.problem("POST", f"{BASE}/merging", {**body, "goes": "x"})[0] == 404


def read(person: Desk, content: str, languages: str = "en,fr") -> dict[str, Any]:
    found: dict[str, Any] = person.answer("POST", f"{BASE}/file?name=wards.csv&languages={languages}", content.encode())
    return found


def test_columns_of_a_file_are_known_by_their_headings(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    table = read(person, "id;Label [fr];name;island\nk1;Port;Harbour;kesk\n")
    assert table["table"] == {"name": "", "code": "id", "labels": {"en": "name", "fr": "Label [fr]"}, "attributes": []}
    assert table["rows"] == [["k1", "Port", "Harbour", "kesk"]]
    assert read(person, "ward,isle\nHarbour,kesk\n")["table"]["labels"] == {"en": "ward"}


def test_a_list_is_brought_up_to_date_and_a_column_that_is_gone_is_told(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    table = read(person, "code,label\nkesk,Kesk\nmoor,Moor\n")
    body = {"present": listed(script(), "island"), "columns": table["columns"], "rows": table["rows"]}
    told = person.answer("POST", f"{BASE}/updating", {**body, "table": table["table"]})
    assert (told["added"], told["missing"]) == (["moor"], ["luma", "tarrow", "vint"])
    assert told["code_list"]["table"] is None
    gone = {**table["table"], "labels": {"en": "name"}}
    status, code, message = person.problem("POST", f"{BASE}/updating", {**body, "table": gone})
    assert (status, code) == (422, "no_such_column") and "“name”" in message


def test_an_outside_table_gives_a_list_to_those_who_may_see_it(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    content = b"code,label,holder\nk1,Harbour,Someone\n"
    brought_in_over_http(person, "office list.csv", content)
    (named,) = person.answer("GET", f"{BASE}/tables")
    assert (named["name"], named["rows"]) == ("office_list", 1)
    table = person.answer("POST", f"{BASE}/outside", {"name": "office_list", "languages": ["en"]})
    assert table["table"]["name"] == "office_list" and table["rows"] == [["k1", "Harbour", "Someone"]]
    present = {"name": "ward", "codes": [], "source": "", "table": None}
    body = {"present": present, "columns": table["columns"], "rows": table["rows"], "table": table["table"]}
    assert person.answer("POST", f"{BASE}/updating", body)["code_list"]["table"]["name"] == "office_list"
    assert person.problem("POST", f"{BASE}/outside", {"name": "gone", "languages": ["en"]})[0] == 404


def test_a_tree_of_lists_comes_from_rows(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    table = read(person, "isle,ward\nKesk,Harbour\nKesk,Hill\n")
    levels = [{"name": "isle", "label": "isle", "code": ""}, {"name": "place", "label": "ward", "code": ""}]
    body = {"columns": table["columns"], "rows": table["rows"], "levels": levels, "language": "en"}
    isles, wards = person.answer("POST", f"{BASE}/levels", body)
    assert [c["attributes"] for c in wards["codes"]] == [{"isle": "kesk"}] * 2 and isles["name"] == "isle"


def test_a_file_with_more_rows_than_codes_are_taken_is_refused_in_words(desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    content = "code\n" + "\n".join(str(n) for n in range(MOST_CODES + 1))
    path = f"{BASE}/file?name=x.csv"
    assert person.problem("POST", path, content.encode())[:2] == (422, "too_many_codes")
    assert person.problem("POST", path, b"PK\x03\x04 no")[:2] == (422, "not_a_workbook")
