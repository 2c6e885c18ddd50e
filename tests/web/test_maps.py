"""Map sheets: brought in whole or not at all, named by profiles, fetched by the phones of their study in ranges."""

from __future__ import annotations

import hashlib
import json
import secrets
from collections.abc import Callable
from pathlib import Path
from typing import Any

from skavo.demo.people import PASSWORD
from tests.formats.test_tiles import mbtiles
from tests.web.conftest import Desk
from tests.web.test_files import Device as Phone
from tests.web.test_phones import ask

AT = "/api/studies/1/map-sheets"
FILES = "/api/studies/1/map-files"
SQUARE = [[-122.31234567, -47], [-122.2, -47], [-122.2, -46.9], [-122.31234567, -47]]


def isle(name: str = "Kesk") -> bytes:
    geometry = {"type": "Polygon", "coordinates": [SQUARE]}
    return json.dumps({"type": "Feature", "properties": {"kind": "land", "name": name}, "geometry": geometry}).encode()


def bring(person: Desk, name: str, content: bytes, study: int = 1) -> Any:
    """Whole, in one piece."""
    at = f"/api/studies/{study}/map-files/{secrets.token_hex(32)}"
    return person.answer("PUT", f"{at}?name={name}", content)["sheet"]


def give_to_phones(person: Desk, *sheets: int) -> None:
    (ordinary, *_) = person.answer("GET", "/api/studies/1/field-profiles")
    settings = {**ordinary["settings"], "map_sheets": list(sheets)}
    body = {"name": ordinary["name"], "settings": settings, "teams": [], "version": ordinary["version"]}
    person.answer("PUT", f"/api/studies/1/field-profiles/{ordinary['id']}", body)


def test_shapes_go_from_the_desk_to_the_phones_that_are_to_hold_them(app: Any, desk: Callable[[str], Desk]) -> None:
    person, phone = desk("data_manager"), Phone(app, desk)
    sheet = bring(person, "Isles", isle())
    assert (sheet["form"], sheet["counts"], sheet["phones"]) == ("shapes", {"Polygon": 1}, 0)
    assert sheet["bounds"] == [-122.31234567, -47, -122.2, -46.9]
    assert ask(phone).get_json()["sheets"] == []
    give_to_phones(person, sheet["id"])
    (line,) = ask(phone).get_json()["sheets"]
    assert (line["name"], line["bytes"]) == ("Isles", sheet["bytes"])

    address = f"/api/field/map-sheets/{line['hash']}"
    pieces = []
    for start in range(0, line["bytes"], 60):
        answered = phone.client.get(address, headers=phone.headers | {"Range": f"bytes={start}-{start + 59}"})
        assert answered.status_code == 206
        pieces.append(answered.data)
    content = b"".join(pieces)
    assert hashlib.sha256(content).hexdigest() == line["hash"]
    # Finer than a tenth of a metre is of no use on a phone.
    assert json.loads(content)["features"][0]["geometry"]["coordinates"][0][0] == [-122.312346, -47]
    assert person.call("GET", f"/api/map-sheets/{sheet['id']}/content").data == content

    ask(phone, sheets=[line["hash"]])
    (told,) = person.answer("GET", AT)
    assert (told["phones"], told["profiles"]) == (1, ["ordinary"])


def test_tiles_are_brought_into_one_form(app: Any, desk: Callable[[str], Desk], tmp_path: Path) -> None:
    person = desk("data_manager")
    sheet = bring(person, "Tiles", mbtiles(tmp_path / "isles.mbtiles").read_bytes())
    assert (sheet["form"], sheet["kind"], sheet["min_zoom"], sheet["max_zoom"]) == ("tiles", "pictures", 0, 3)
    assert sheet["attribution"] == "Bureau of Crafts"
    assert person.call("GET", f"/api/map-sheets/{sheet['id']}/content").data[:7] == b"PMTiles"


def test_what_is_no_map_is_refused_and_nothing_is_kept(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    for content, code in ((b"", "empty_file"), (b"\x00\x01", "not_geojson"), (b"PMTiles\x03cut", "damaged_map")):
        assert person.problem("PUT", f"{FILES}/{'a' * 64}?name=Odd", content)[1] == code
    assert person.answer("GET", AT) == []
    bring(person, "Isles", isle())
    assert person.problem("PUT", f"{FILES}/{'a' * 64}?name=%20Isles", isle("Luma"))[1] == "name_taken"


def test_a_map_is_renamed_and_taken_away_from_profiles_and_phones(app: Any, desk: Callable[[str], Desk]) -> None:
    person, phone = desk("data_manager"), Phone(app, desk)
    first, second = (bring(person, name, isle(name))["id"] for name in ("Kesk", "Luma"))
    assert person.problem("PUT", f"/api/map-sheets/{first}", {"name": "Luma"})[1] == "name_taken"
    assert person.answer("PUT", f"/api/map-sheets/{first}", {"name": "Kesk and wards"})["name"] == "Kesk and wards"
    give_to_phones(person, first, second)
    assert person.call("DELETE", f"/api/map-sheets/{first}").status_code == 204
    assert [line["name"] for line in ask(phone).get_json()["sheets"]] == ["Luma"]
    (ordinary, *_) = person.answer("GET", "/api/studies/1/field-profiles")
    assert ordinary["settings"]["map_sheets"] == [second]
    settings = {**ordinary["settings"], "map_sheets": [first]}
    body = {"name": ordinary["name"], "settings": settings, "teams": [], "version": ordinary["version"]}
    assert person.problem("PUT", f"/api/studies/1/field-profiles/{ordinary['id']}", body)[1] == "unknown_map"


def test_another_study_has_none_of_it(app: Any, desk: Callable[[str], Desk]) -> None:
    person, phone = desk("data_manager"), Phone(app, desk)
    person.answer("POST", "/api/studies", {"title": "Another"})
    sheet = bring(person, "Isles", isle(), study=2)
    address = f"/api/field/map-sheets/{sheet['hash']}"
    assert phone.client.get(address, headers=phone.headers).status_code == 404
    assert desk("supervisor").problem("GET", f"/api/map-sheets/{sheet['id']}/content")[0] == 404


def test_a_map_comes_in_pieces_and_goes_on_where_it_broke_off(
    app: Any, desk: Callable[[str], Desk], tmp_path: Path
) -> None:
    person, other = desk("data_manager"), desk("supervisor")
    content = mbtiles(
        tmp_path / "isles.mbtiles", {(5, x, y): b"x" * 900 for x in range(9) for y in range(9)}
    ).read_bytes()
    address = f"{FILES}/{'b' * 64}"

    def piece(start: int, end: int) -> Any:
        headers = {"X-CSRFToken": person.token, "Content-Range": f"bytes {start}-{end - 1}/{len(content)}"}
        return person.client.put(f"{address}?name=Isles", data=content[start:end], headers=headers).get_json()

    assert piece(0, 5000) == {"received": 5000, "sheet": None}
    assert piece(0, 5000)["code"] == "wrong_place"
    assert person.answer("GET", address)["received"] == 5000
    assert other.answer("GET", address)["received"] == 0, "what one person sends is no other's"
    assert person.answer("GET", AT) == []
    sheet = piece(5000, len(content))["sheet"]
    assert (sheet["form"], sheet["counts"]) == ("tiles", {"tiles": 81})
    assert person.answer("GET", address)["received"] == 0, "nothing is left lying about"


def test_whoever_supervises_some_teams_changes_no_map_of_the_study(app: Any, desk: Callable[[str], Desk]) -> None:
    sheet = bring(desk("data_manager"), "Isles", isle())
    limited = Desk(app.test_client())
    answer = limited.call("POST", "/api/session", {"login": "orrin", "password": PASSWORD})
    limited.token = answer.get_json()["csrf_token"]
    assert [one["name"] for one in limited.answer("GET", AT)] == ["Isles"]
    assert limited.problem("PUT", f"{FILES}/{'a' * 64}?name=Mine", isle())[1] == "not_allowed"
    assert limited.problem("DELETE", f"/api/map-sheets/{sheet['id']}")[1] == "not_allowed"
    assert limited.problem("PUT", f"/api/map-sheets/{sheet['id']}", {"name": "Mine"})[1] == "not_allowed"
