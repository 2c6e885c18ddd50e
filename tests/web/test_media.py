"""The media shelf through the HTTP interface: brought in, replaced wherever it is used, in releases and on phones."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any

import pytest
from PIL import Image

from skavo.formats.packing import pack
from tests.web.conftest import Desk

SHELF = "/api/studies/1/media"


def picture(colour: str = "red", size: tuple[int, int] = (60, 40)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "PNG")
    return out.getvalue()


@pytest.fixture
def person(desk: Callable[[str], Desk]) -> Desk:
    return desk("data_manager")


def put(person: Desk, name: str, content: bytes) -> Any:
    return person.answer("POST", f"{SHELF}?name={name}", content)


def files(person: Desk) -> dict[str, Any]:
    return {file["name"]: file for file in person.answer("GET", SHELF)["files"]}


def show(person: Desk, *names: str) -> None:
    """Let the consent of the demo's draft show these files."""
    draft = person.answer("GET", "/api/questionnaires/1")
    next(p for p in draft["script"]["parts"] if p["id"] == "p_consent")["media"] = list(names)
    person.answer("PUT", "/api/questionnaires/1/script", {"version": draft["version"], "script": draft["script"]})


def test_a_file_is_brought_in_and_replaced_wherever_it_is_used(person: Desk) -> None:
    told = put(person, "vice.png", picture())
    assert told == {"added": ["vice.png"], "replaced": [], "same": [], "refused": []}
    assert put(person, "vice.png", picture())["same"] == ["vice.png"]
    show(person, "vice.png", "lost.png")
    shelf = person.answer("GET", SHELF)
    (file,) = shelf["files"]
    assert (file["type"], file["width"], file["height"], file["created_by"]) == ("image/png", 60, 40, "Dora Maine")
    assert [(use["place"], use["part_id"]) for use in file["uses"]] == [("consent", "p_consent")]
    assert [(m["name"], m["languages"]) for m in shelf["missing"]] == [("lost.png", ["en", "fr"])]
    before = person.answer("GET", "/api/questionnaires/1")["release_hash"]
    assert put(person, "vice.png", picture("blue"))["replaced"] == ["vice.png"]
    assert person.answer("GET", "/api/questionnaires/1")["release_hash"] != before


def test_what_is_said_of_it_survives_a_replacement_and_is_changed_by_one_at_a_time(person: Desk) -> None:
    put(person, "vice.png", picture())
    file = files(person)["vice.png"]
    body = {"said": {"en": " A vice ", "fr": " "}, "version": file["version"]}
    assert person.call("PUT", f"/api/media/{file['id']}", body).status_code == 204
    assert person.problem("PUT", f"/api/media/{file['id']}", body)[:2] == (409, "changed_meanwhile")
    put(person, "vice.png", picture("blue"))
    assert files(person)["vice.png"]["said"] == {"en": "A vice"}


def test_a_zip_brings_what_can_be_taken_and_says_what_cannot(person: Desk) -> None:
    told = put(person, "all.zip", pack({"a.png": picture(), "note.txt": b"hello", "b.png": picture("blue")}))
    assert told["added"] == ["a.png", "b.png"]
    assert len(told["refused"]) == 1 and told["refused"][0].startswith("note.txt is no picture")
    out = person.call("GET", f"{SHELF}.zip")
    assert put(person, "again.zip", out.data)["same"] == ["a.png", "b.png"]


def test_what_is_no_media_is_refused(person: Desk) -> None:
    assert person.problem("POST", f"{SHELF}?name=a.svg", b"<svg/>")[:2] == (422, "wrong_media")
    assert person.problem("POST", f"{SHELF}?name=a;b.png", picture())[:2] == (422, "wrong_media_name")


def test_a_removed_file_is_gone_and_its_name_free(person: Desk) -> None:
    put(person, "vice.png", picture())
    number = files(person)["vice.png"]["id"]
    assert person.call("DELETE", f"/api/media/{number}").status_code == 204
    assert files(person) == {}
    for method, path in (("GET", "/content"), ("DELETE", "")):
        assert person.problem(method, f"/api/media/{number}{path}")[0] == 404
    assert put(person, "vice.png", picture())["added"] == ["vice.png"]


def test_content_comes_whole_or_as_on_phones_and_cannot_run(person: Desk) -> None:
    whole = picture(size=(3000, 2000))
    put(person, "large.png", whole)
    path = f"/api/media/{files(person)['large.png']['id']}/content"
    answer = person.call("GET", path)
    assert answer.data == whole and answer.content_type == "image/png"
    assert "default-src 'none'" in answer.headers["Content-Security-Policy"]
    with Image.open(io.BytesIO(person.call("GET", f"{path}?size=phone").data)) as small:
        assert small.size == (1280, 853)


def test_a_release_carries_it_to_phones_of_its_study_only(app: Any, person: Desk) -> None:
    put(person, "vice.png", picture())
    show(person, "vice.png")
    draft = person.answer("GET", "/api/questionnaires/1")
    person.answer("POST", "/api/questionnaires/1/releases", {"version": draft["version"], "remark": ""})
    assert person.answer("GET", "/api/questionnaires/1")["same_as_newest"]
    client = app.test_client()
    code = person.code_for("Field Tester")
    token = client.post("/api/field/pair", json={"code": code, "device": "phone 1"}).get_json()["token"]
    headers = {"Authorization": f"Bearer {token}"}
    profile = client.post("/api/field/profile", json={"in_hand": 0, "packed": 0}, headers=headers).get_json()
    release = client.get(f"/api/field/releases/{profile['releases'][0]['identity']}", headers=headers).get_json()
    held = release["compiled"]["media"]["vice.png"]["en"]
    answer = client.get(f"/api/field/media/{held['hash']}", headers=headers)
    assert answer.status_code == 200 and len(answer.data) == held["bytes"]
    # A release that holds it keeps it, whatever becomes of the shelf.
    put(person, "vice.png", picture("blue"))
    assert client.get(f"/api/field/media/{held['hash']}", headers=headers).data == answer.data
    assert client.get(f"/api/field/media/{'0' * 64}", headers=headers).status_code == 404
    assert client.get(f"/api/field/media/{held['hash']}").status_code == 401
