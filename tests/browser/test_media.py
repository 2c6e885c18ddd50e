"""The media shelf in the browser: brought in, shown by a line and by a code, on the desk's phone pane and on a phone."""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image
from selenium.webdriver.common.keys import Keys

from skavo.server import Server
from skavo.store.models import Questionnaire
from skavo.web.pages import STATIC
from tests.browser.chromium import cut_network
from tests.browser.pairing import unlock
from tests.browser.screen import Screen
from tests.browser.test_kinds import Phone
from tests.browser.test_views import violations
from tests.browser.typing import keys

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def open_shelf(screen: Screen, demo: Server) -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent")
    screen.find(".script-row.line")
    screen.click('.script-bar button[aria-label="More"]')
    screen.press("Media shelf")
    screen.find(".media")


def test_files_are_brought_in_and_described(screen: Screen, demo: Server, tmp_path: Path) -> None:
    for name, colour in (("plate.en.png", "teal"), ("plate.fr.png", "olive"), ("vice.png", "brown")):
        Image.new("RGB", (900, 600), colour).save(tmp_path / name)
    open_shelf(screen, demo)
    assert "The shelf is empty" in screen.find(".media").text
    paths = "\n".join(str(tmp_path / name) for name in ("plate.en.png", "plate.fr.png", "vice.png"))
    screen.find(".media input[type=file]").send_keys(paths)
    screen.until(lambda: screen.count(".media-card") == 3)
    screen.press("vice.png")
    screen.type_into('.media-shown input[aria-label$="English"]', "A bench vice" + Keys.TAB)
    screen.until(lambda: "used nowhere" in screen.find(".media-shown").text)
    assert violations(screen) == []


def consent_media(demo: Server) -> list[str]:
    with demo.store.reading() as session:
        parts = session.get_one(Questionnaire, 1).script["parts"]
    return next(part["media"] for part in parts if part["id"] == "p_consent")


def test_a_line_shows_the_file_of_its_language(screen: Screen, demo: Server) -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent")
    screen.click(".media-field .ant-select")
    keys(screen, *"plate.png", Keys.ENTER, *"lost.png", Keys.ENTER, Keys.ESCAPE)
    screen.until(lambda: consent_media(demo) == ["plate.png", "lost.png"])
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent&pane=phone")
    shown = screen.find(".phone .media-beside img")
    screen.until(lambda: int(shown.get_property("naturalWidth") or 0) == 900)
    english = shown.get_property("src")
    screen.press("Français")
    screen.until(lambda: screen.find(".phone .media-beside img").get_property("src") != english)
    screen.press("Findings")
    screen.until(lambda: "The media shelf has no file “lost.png”." in screen.find(".script-pane").text)
    open_shelf(screen, demo)
    assert "lost.png" in screen.find(".media-card.lacking").text


def test_a_phone_fetches_it_and_shows_it_without_a_network(screen: Screen, demo: Server) -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent")
    screen.press("Release 2")
    screen.until(lambda: "2 pictures, sounds and films go along" in screen.find(".ant-modal").text)
    screen.click(".ant-modal .ant-btn-primary")
    screen.until(lambda: "release 2" in screen.find(".script-bar").text)
    phone = Phone(demo)
    phone.next_to("May I ask")
    image = phone.screen.find(".media-beside img")
    phone.screen.until(lambda: int(image.get_property("naturalWidth") or 0) == 900)
    assert str(image.get_property("src")).startswith("blob:")
    cut_network(phone.browser, True)
    phone.browser.refresh()
    unlock(phone.screen)
    phone.next_to("May I ask")
    shown = phone.screen.find(".media-beside img")
    phone.screen.until(lambda: int(shown.get_property("naturalWidth") or 0) == 900)
    phone.browser.quit()
