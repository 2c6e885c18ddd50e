"""Map sheets: brought in whole or not at all, named by profiles, fetched by the phones of their study in ranges."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests.formats.test_tiles import mbtiles
from tests.web.conftest import Desk
from tests.web.test_files import Device as Phone
from tests.web.test_phones import ask

AT = "/api/studies/1/map-sheets"
SQUARE = [[-122.31234567, -47], [-122.2, -47], [-122.2, -46.9], [-122.31234567, -47]]


def isle(name: str = "Kesk") -> bytes:
    geometry = {"type": "Polygon", "coordinates": [SQUARE]}
    return json.dumps({"type": "Feature", "properties": {"kind": "land", "name": name}, "geometry": geometry}).encode()


def give_to_phones(person: Desk, *sheets: int) -> None:
    (ordinary, *_) = person.answer("GET", "/api/studies/1/field-profiles")
    settings = {**ordinary["settings"], "map_sheets": list(sheets)}
    body = {"name": ordinary["name"], "settings": settings, "teams": [], "version": ordinary["version"]}
    person.answer("PUT", f"/api/studies/1/field-profiles/{ordinary['id']}", body)


def test_shapes_go_from_the_desk_to_the_phones_that_are_to_hold_them(app: Any, desk: Callable[[str], Desk]) -> None:
    person, phone = desk("data_manager"), Phone(app, desk)
    sheet = person.answer("POST", f"{AT}?name=Isles", isle())
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
    sheet = person.answer("POST", f"{AT}?name=Tiles", mbtiles(tmp_path / "isles.mbtiles").read_bytes())
    assert (sheet["form"], sheet["kind"], sheet["min_zoom"], sheet["max_zoom"]) == ("tiles", "pictures", 0, 3)
    assert sheet["attribution"] == "Bureau of Crafts"
    assert person.call("GET", f"/api/map-sheets/{sheet['id']}/content").data[:7] == b"PMTiles"


def test_what_is_no_map_is_refused_and_nothing_is_kept(app: Any, desk: Callable[[str], Desk]) -> None:
    person = desk("data_manager")
    for content, code in ((b"", "empty_file"), (b"\x00\x01", "not_geojson"), (b"PMTiles\x03cut", "damaged_map")):
        assert person.problem("POST", f"{AT}?name=Odd", content)[1] == code
    assert person.answer("GET", AT) == []
    person.answer("POST", f"{AT}?name=Isles", isle())
    assert person.problem("POST", f"{AT}?name=%20Isles", isle("Luma"))[1] == "name_taken"


def test_a_map_is_renamed_and_taken_away_from_profiles_and_phones(app: Any, desk: Callable[[str], Desk]) -> None:
    person, phone = desk("data_manager"), Phone(app, desk)
    first, second = (person.answer("POST", f"{AT}?name={name}", isle(name))["id"] for name in ("Kesk", "Luma"))
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
    sheet = person.answer("POST", "/api/studies/2/map-sheets?name=Isles", isle())
    address = f"/api/field/map-sheets/{sheet['hash']}"
    assert phone.client.get(address, headers=phone.headers).status_code == 404
    assert desk("supervisor").problem("GET", f"/api/map-sheets/{sheet['id']}/content")[0] == 404
