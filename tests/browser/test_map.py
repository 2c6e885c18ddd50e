"""The map on a phone: there without any network, and what is set on it reaches the office."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver import ActionChains
from sqlalchemy import select

from skavo.core.permissions import granted
from skavo.core.questionnaire.script import write_script
from skavo.jobs.runner import Jobs
from skavo.services.desk import Desk
from skavo.services.maps import bring_in_sheet
from skavo.store.datasets import DataSets
from skavo.store.models import Interview, Questionnaire, Revision
from skavo.web.pages import STATIC
from tests.browser.chromium import errors_in
from tests.browser.test_profile import set_profile
from tests.browser.test_views import violations
from tests.browser.test_without_network import Field, kept
from tests.formats.test_tiles import mbtiles
from tests.samples import part, script
from tests.store.study import release_in
from tests.web.test_maps import isle

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "field.html").exists(), reason="the pages are not built: make build"),
]


# Latitude and longitude of whoever holds the phone, on the isle.
HERE = (-46.9712, -122.2543)


def yards() -> Any:
    return script(
        part(1, "text", "place", wording={"en": "Which yard is it?"}),
        part(1, "point", "door", wording={"en": "Where is its door?"}),
        part(1, "area", "yard", wording={"en": "Where does it end?"}),
    )


@pytest.fixture
def field(tmp_path: Path) -> Iterator[Field]:
    made = Field(tmp_path)
    with made.store.session() as session:
        session.get_one(Questionnaire, 1).script = write_script(yards())
    release_in(made.store, 1, yards(), 2)
    sets = DataSets(made.store.files)
    desk = Desk(made.store, sets, Jobs(made.store, sets, {}), "Dora", None, granted(["data_manager"]))
    (tmp_path / "isle").write_bytes(isle())
    shapes = bring_in_sheet(desk, 1, "Isles", tmp_path / "isle")
    tiles = bring_in_sheet(desk, 1, "Chart", mbtiles(tmp_path / "chart.mbtiles"))
    set_profile(made, map_sheets=[shapes.id, tiles.id])
    yield made
    made.end()


def set_at(field: Field, dx: int, dy: int) -> None:
    """A tap on the map, so far from its middle."""
    ActionChains(field.phone.browser).move_to_element_with_offset(
        field.phone.find("dialog .map"), dx, dy
    ).click().perform()


def test_what_is_set_on_the_map_without_a_network_reaches_the_office(field: Field) -> None:
    field.pair()
    phone = field.phone
    phone.press("Me")
    phone.sees("Isles, 0.1 MB")
    phone.sees("Chart, 0.1 MB")
    field.server.kill()
    field.kill_phone()
    phone = field.phone
    phone.browser.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["geolocation"]})
    place = {"latitude": HERE[0], "longitude": HERE[1], "accuracy": 9}
    phone.browser.execute_cdp_cmd("Emulation.setGeolocationOverride", place)
    field.today()
    phone.press("Map")
    phone.sees("±9 m")
    phone.find(".map canvas")
    phone.until(lambda: phone.find(".map-name.land").get_attribute("textContent") == "Kesk", "the name of the land")
    assert violations(phone) == []
    phone.press("Today")
    phone.press("Start an interview")
    field.shows("Which yard is it?")
    phone.type_into(".typed", "Harbour yard")
    field.next()
    field.shows("Where is its door?")
    phone.press("Set it on the map")
    phone.find("dialog .map canvas")
    assert violations(phone) == []
    phone.press("Set it where the cross is")
    phone.press("Keep")
    phone.until(lambda: phone.count("dialog") == 0, "set")
    field.next()
    field.shows("Where does it end?")
    phone.press("Draw it on the map")
    phone.find("dialog .map canvas")
    time.sleep(0.5)
    for number, (dx, dy) in enumerate(((-90, -90), (90, -90), (90, 90), (-90, 90), (0, 0)), start=1):
        set_at(field, dx, dy)
        phone.until(lambda n=number: phone.count(".map-corner") == n, "another corner")
    phone.press("Remove the last point")
    phone.until(lambda: phone.count(".map-corner") == 4, "the last corner is gone")
    corner = phone.find(".map-corner", 3)
    ActionChains(phone.browser).drag_and_drop_by_offset(corner, -20, 20).perform()
    phone.press("Keep")
    phone.until(lambda: phone.count(".sketch circle") == 4, "drawn")
    kept(field)
    field.next()
    phone.press("Pack the interview")
    phone.sees("Waiting to be sent")
    field.server.start()
    field.today()
    phone.until(lambda: "■ 0" in field.text(), "sent")
    with field.store.reading() as session:
        raw = session.scalars(select(Revision.raw).join(Interview)).one()
    answers = json.loads(raw)["answers"]
    door, corners = answers["door"], answers["yard"]["points"]
    # The map opens where one stands; what is set on it is as sure as the map, which nobody knows.
    assert (round(door["latitude"], 4), round(door["longitude"], 4)) == HERE
    assert door["accuracy"] is None
    west, north = min(c["longitude"] for c in corners), max(c["latitude"] for c in corners)
    assert west < door["longitude"] < max(c["longitude"] for c in corners)
    assert min(c["latitude"] for c in corners) < door["latitude"] < north
    # The last corner was dragged to the west, below the others.
    assert corners[3]["longitude"] == west < corners[0]["longitude"]
    assert [e for e in errors_in(phone.browser) if "ERR_CONNECTION_REFUSED" not in e] == []
