"""A phone that never finds a network: another one carries its file to the office, and the receipts back."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement

from skavo.web.pages import STATIC
from tests.browser.chromium import PHONE, errors_in, open_chromium
from tests.browser.pairing import pair
from tests.browser.screen import Screen
from tests.browser.test_profile import set_profile
from tests.browser.test_without_network import Field

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "field.html").exists(), reason="the pages are not built: make build"),
]


@pytest.fixture
def field(tmp_path: Path) -> Iterator[Field]:
    made = Field(tmp_path)
    set_profile(made, sends="by hand")
    yield made
    made.end()


def saves_to(phone: Screen, folder: Path) -> None:
    folder.mkdir()
    phone.browser.execute_cdp_cmd("Page.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(folder)})


def saved(phone: Screen, folder: Path, ending: str) -> str:
    phone.until(lambda: list(folder.glob(f"*{ending}")), f"a file that ends on {ending}")
    return str(next(folder.glob(f"*{ending}")))


def file_input(phone: Screen, words: str) -> WebElement:
    found: WebElement = phone.until(
        lambda: phone.browser.find_element(By.XPATH, f"//label[contains(., '{words}')]/input"), words
    )
    return found


def test_what_one_phone_cannot_send_another_carries(field: Field, tmp_path: Path) -> None:
    field.pair()
    far = field.phone
    saves_to(far, tmp_path / "far")
    field.begin("North well")
    field.next()
    field.finish("12")
    far.press("Me")
    far.press("Save all interviews to a file")
    file = saved(far, tmp_path / "far", ".skavo.zip")

    near = Screen(open_chromium(PHONE))
    saves_to(near, tmp_path / "near")
    pair(near, f"{field.server.address}/", field.code(), "phone 02")
    near.press("Me")
    half = tmp_path / "half.skavo.zip"
    half.write_bytes(Path(file).read_bytes()[:-100])
    file_input(near, "Take a colleague’s file along").send_keys(str(half))
    near.sees("This is no whole file from a phone.")
    field.server.kill()
    file_input(near, "Take a colleague’s file along").send_keys(file)
    near.sees("Waits for a network")
    near.press("Send and fetch now")
    near.until(lambda: near.find(".stack .wide-button").is_enabled(), "tried in vain")
    near.sees("Waits for a network")
    field.server.start()
    near.press("Send and fetch now")
    near.sees("At the office. Interviews of Ilse Varn: 1")
    assert field.arrived() == [("North well", 12)]
    near.press("Save the receipts for Ilse Varn")
    receipts = saved(near, tmp_path / "near", ".json")
    near.press("Put away")
    near.until(lambda: near.count(".carried") == 0, "put away")

    file_input(far, "Read in receipts").send_keys(receipts)
    far.press("Interviews")
    far.sees("▲ handed in · 1")
    assert errors_in(far.browser) == []
    near.browser.quit()
