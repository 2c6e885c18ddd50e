"""The register and samples over HTTP: what is sent, ordered and fetched; and that kinds of unit are asked of nobody."""

from __future__ import annotations

import json
import secrets
from collections.abc import Callable
from typing import Any

import pytest
from sqlalchemy import select

from skavo.services import unit_files
from skavo.store.database import Store
from skavo.store.models import Release
from tests.web.conftest import Desk
from tests.web.test_files import Device as Phone
from tests.web.test_phones import ask

AT = "/api/studies/1"
COLUMNS = {"kind": "#kind", "key": "#key", "above": "#above", "name": "name"}
ROLL = "kind,key,above,name\nward,LM,,Luma Mid\n" + "".join(f"shop,S{n},LM,Shop {n}\n" for n in range(20))


@pytest.fixture
def manager(desk: Callable[[str], Desk]) -> Desk:
    """Somebody who has made wards and shops under them."""
    person = desk("data_manager")
    ward = person.answer("POST", f"{AT}/unit-kinds", {"title": "Ward", "ready": "area"})
    person.answer("POST", f"{AT}/unit-kinds", {"title": "Shop", "ready": "premises", "under": [ward["id"]]})
    return person


def sent(person: Desk, content: bytes, at: str = "unit-files") -> Any:
    return person.answer("PUT", f"{AT}/{at}/{secrets.token_hex(32)}?called=roll.csv", content)["file"]


def done(app: Any, person: Desk, job: Any) -> Any:
    app.extensions["skavo_jobs"].run(job["id"])
    told = person.answer("GET", f"/api/jobs/{job['id']}")
    assert told["state"] == "done", told["problem"]
    return told["result"]


def brought_in(app: Any, person: Desk) -> Any:
    file = sent(person, ROLL.encode())
    order = {"file": file["file"], "name": "roll.csv", "columns": COLUMNS, "trial": False}
    return done(app, person, person.answer("POST", f"{AT}/unit-arrivals", order))


def test_a_file_is_sent_looked_at_brought_in_and_taken_out(app: Any, manager: Desk) -> None:
    file = sent(manager, ROLL.encode())
    assert {column["heading"]: column["what"] for column in file["columns"]} == COLUMNS
    assert file["columns"][3]["samples"] == ["Luma Mid", "Shop 0", "Shop 1"]
    assert brought_in(app, manager)["made"] == 21
    tree = manager.answer("GET", f"{AT}/units")
    assert [(line["label"], line["below"]) for line in tree["lines"]] == [("Luma Mid", 20)]
    narrowing = json.dumps({"words": "shop 1", "closed": False})
    found = manager.answer("GET", f"{AT}/units?deep=true&narrowing={narrowing}")
    assert (found["deep"], found["meant"]) == (True, 11)
    job = manager.answer("POST", f"{AT}/unit-extracts", {"format": "csv", "narrowing": {"words": "shop 19"}})
    done(app, manager, job)
    lines = manager.call("GET", f"/api/jobs/{job['id']}/file").data.decode("utf-8-sig").splitlines()
    assert len(lines) == 2 and lines[1].startswith("shop,S19,LM,")


def test_a_large_file_goes_on_where_it_broke_off_and_is_not_lost_to_a_full_disk(
    manager: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    content, address = ROLL.encode(), f"{AT}/unit-files/{'c' * 64}"

    def piece(start: int, end: int) -> Any:
        headers = {"X-CSRFToken": manager.token, "Content-Range": f"bytes {start}-{end - 1}/{len(content)}"}
        return manager.client.put(f"{address}?called=roll.csv", data=content[start:end], headers=headers)

    assert piece(0, 100).get_json() == {"received": 100, "file": None}

    def full(*_: object) -> str:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as disk:
        disk.setattr(unit_files, "keep_file", full)
        assert piece(100, len(content)).status_code >= 500
    # The same piece again, once there is room: nothing has to be sent from the beginning.
    assert manager.answer("GET", address)["received"] == len(content)
    assert piece(100, len(content)).get_json()["file"]["rows"] == 21
    assert manager.answer("GET", address)["received"] == 0


BROKEN = [
    (b"kind,key\n", "empty_file"), (b"kind,kind\na,b\n", "double_heading"), (b"\xff\xfe\x00", "wrong_encoding"),
    (b'{"type": "Nothing"}', "not_geojson"), (b"PK\x03\x04 no workbook", "not_a_workbook"),
]  # fmt: skip


@pytest.mark.parametrize(("content", "code"), BROKEN)
def test_a_file_that_cannot_be_read_says_why_and_leaves_nothing(manager: Desk, content: bytes, code: str) -> None:
    address = f"{AT}/unit-files/{'d' * 64}"
    assert manager.problem("PUT", f"{address}?called=roll.csv", content)[1] == code
    assert manager.answer("GET", address)["received"] == 0


def test_a_kind_of_unit_is_given_to_no_phone_no_link_and_no_batch(
    app: Any, desk: Callable[[str], Desk], manager: Desk
) -> None:
    phone, kind = Phone(app, desk), manager.answer("GET", f"{AT}/unit-kinds")[0]
    assert kind["questionnaire_id"] not in [line["questionnaire_id"] for line in ask(phone).get_json()["releases"]]
    (study,) = manager.answer("GET", "/api/studies")
    assert [line["id"] for line in study["questionnaires"]] == [1]
    link = {"title": "L", "entry": "open", "most": 5, "questionnaire_id": kind["questionnaire_id"]}
    assert manager.problem("POST", f"{AT}/links", link)[1] == "not_found"
    batch = {"name": "B", "received": 1, "language": "en", "questionnaire_id": kind["questionnaire_id"]}
    assert manager.problem("POST", f"{AT}/batches", batch)[1] == "not_found"


def test_an_interview_led_with_a_kind_of_unit_is_kept_and_not_in_any_data_set(
    app: Any, desk: Callable[[str], Desk], manager: Desk
) -> None:
    phone, kind = Phone(app, desk), manager.answer("GET", f"{AT}/unit-kinds")[0]
    store: Store = app.extensions["skavo_store"]
    with store.reading() as session:
        mine = select(Release).where(Release.questionnaire_id == kind["questionnaire_id"])
        release = session.scalars(mine).one()
    moment = "2027-03-14T10:00:00+00:00"
    document = {
        "format": "skavo-interview-3", "uuid": "7d9a3a52-0000-4000-8000-000000000001", "release": release.identity,
        "release_hash": release.hash, "basis": "", "answers": {"name": "x"},
        "paradata": {"started": moment, "ended": moment},
    }  # fmt: skip
    raw = json.dumps(document).encode()
    answered = phone.client.put(f"/api/field/interviews/{document['uuid']}", data=raw, headers=phone.headers)
    assert answered.get_json()["outcome"] == "arrived"
    (line,) = manager.answer("GET", f"{AT}/interviews?findings=not_laid_out")["lines"]
    assert line["questionnaire_id"] is None and line["problem"] != ""


def test_how_many_and_what_so_many_can_tell(manager: Desk) -> None:
    asked = {"of": "share", "response": 0.9, "answers": 385}
    assert manager.answer("POST", "/api/sample-sizes", asked) == {
        "answers": 385, "drawn": 428, "tells": pytest.approx(0.04995, abs=1e-5),
    }  # fmt: skip
    assert manager.answer("POST", "/api/sample-sizes", {**asked, "groups": 4})["answers"] == 1540
    both = {"of": "difference", "share": 0.5, "other": 0.4, "response": 1}
    assert manager.answer("POST", "/api/sample-sizes", both)["answers"] == 2 * 388
    assert manager.problem("POST", "/api/sample-sizes", {"of": "share", "margin": 2})[1] == "wrong_size"


def test_a_sample_is_tried_out_and_drawn_by_whoever_plans_and_read_by_the_others(
    app: Any, desk: Callable[[str], Desk], manager: Desk
) -> None:
    brought_in(app, manager)
    shop = manager.answer("GET", f"{AT}/unit-kinds")[1]
    body = {
        "name": "Round 1", "frame": {"units": {"kind": shop["id"], "narrowing": {}, "rule": ""}},
        "plan": {"by": "simple", "size": 5, "seed": 3},
    }  # fmt: skip
    assert manager.answer("POST", f"{AT}/sample-trials", body)["weights"] == 20
    sample = manager.answer("POST", f"{AT}/samples", body)
    analyst = desk("analyst")
    assert analyst.answer("GET", f"/api/samples/{sample['id']}/again")["same"] is True
    assert len(analyst.answer("GET", f"/api/samples/{sample['id']}/units")["lines"]) == 5
    file = analyst.call("GET", f"/api/samples/{sample['id']}/file")
    assert file.headers["Content-Disposition"].startswith('attachment; filename="Round 1.csv"')
    assert len(file.data.splitlines()) == 6
    assert analyst.problem("POST", f"{AT}/samples", {**body, "name": "Mine"})[1] == "not_allowed"
    assert analyst.problem("DELETE", f"/api/samples/{sample['id']}")[1] == "not_allowed"


def test_a_frame_is_sent_as_a_file(manager: Desk) -> None:
    file = sent(manager, b"plate,ward\nA1,x\nA2,y\n", "frame-files")
    assert (file["rows"], file["columns"]) == (2, ["plate", "ward"])
    frame = {"table": {"file": file["file"], "name": "roll.csv", "key": "plate"}}
    assert manager.answer("POST", f"{AT}/sample-frames", frame)["count"] == 2
    assert manager.problem("POST", f"{AT}/sample-frames", {})[1] == "no_frame"
