"""Findings in the browser: hints lead to their place, are set aside with a reason, follow the standard of the study."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

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
def open_findings(screen: Screen, demo: Server) -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent&pane=findings")


def test_a_hint_leads_to_its_place_and_is_set_aside(screen: Screen) -> None:
    screen.until(lambda: "3 hints from practice" in screen.find(".findings").text)
    assert violations(screen) == []
    screen.press("Somebody may have an answer in mind")
    screen.until(lambda: screen.count('.script-row.line.active[data-part="p_second_problem"]') == 1)
    screen.press("Findings")
    screen.press("Set aside …")
    keys(screen, *"Phones take it", Keys.ENTER)
    screen.until(lambda: "1 set aside" in screen.find(".findings").text)
    screen.press("1 set aside")
    assert "“Phones take it” Dora Maine" in screen.find(".finding.aside").text
    screen.press("Take it up again")
    screen.until(lambda: "3 hints from practice" in screen.find(".findings").text)


def test_the_standard_of_the_study_gives_hints(screen: Screen) -> None:
    screen.press("Names and units of the study")
    screen.type_into(".standard input[role=spinbutton]", "10")
    screen.click(".ant-modal .ant-btn-primary")
    screen.until(lambda: "“phone_number” has 12 characters" in screen.find(".findings").text)
