"""The flow of the whole questionnaire in the browser: blocks, ways, what a question decides, the way back to its line."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from selenium.webdriver.common.keys import Keys

from skavo.demo.build import build_study, run_fleet
from skavo.demo.people import PASSWORD
from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.chromium import DESK, errors_in, open_chromium
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.browser.typing import keys

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


@pytest.fixture(scope="module")
def screen(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Screen]:
    server = Server(tmp_path_factory.mktemp("flow"), "127.0.0.1", 0, limits=False)
    build_study(server.store)
    server.start()
    run_fleet(server.store, 1, server.address, interviews=6)
    opened = Screen(open_chromium(DESK))
    opened.browser.get(server.address)
    opened.type_into("input[autocomplete=username]", "dora")
    opened.type_into("input[type=password]", PASSWORD + Keys.ENTER)
    opened.find(".study-line")
    opened.browser.get(f"{server.address}studies/1/questionnaire?part=p_workers&pane=flow")
    opened.press("The whole questionnaire")
    yield opened
    assert errors_in(opened.browser) == []
    opened.browser.quit()
    server.stop()


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
