"""The flow of the whole questionnaire in the browser: blocks, ways, what a question decides, the way back to its line."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from skavo.demo.build import run_fleet
from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.browser.typing import keys

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


@pytest.fixture(scope="module", autouse=True)
def open_flow(screen: Screen, demo: Server) -> None:
    run_fleet(demo.store, 1, demo.address, interviews=6)
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_workers&pane=flow")
    screen.press("The whole questionnaire")


def test_interviews_are_counted_on_their_ways(screen: Screen) -> None:
    screen.until(lambda: "6 interviews" in screen.find(".flow-bar").text)
    assert screen.count(".flow-block") == 5
    assert screen.find(".flow-map text").text == "100 %"
    assert violations(screen) == []


def test_a_question_says_what_it_decides_and_leads_to_its_line(screen: Screen) -> None:
    aside = screen.find(".flow-aside")
    screen.until(lambda: aside.text.startswith("workers"))
    assert "staff repeated" in aside.text and "paid wording" in aside.text
    assert screen.count('.flow-cell.read-by[data-part="p_paid"]') == 1
    screen.click('.flow-cell[data-part="p_workers"]')
    keys(screen, Keys.ARROW_RIGHT)
    screen.until(lambda: aside.text.startswith("name"))
    keys(screen, Keys.ENTER)
    screen.until(lambda: screen.count(".flow-view") == 0)
    screen.find('.script-row.line.active[data-part="p_name"]')
