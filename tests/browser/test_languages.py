"""Languages in the browser: one more, side by side, out of date when the source changes, spoken by the phone."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.webdriver.common.keys import Keys

from skavo.server import Server
from skavo.store.models import Questionnaire
from skavo.web.pages import STATIC
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.browser.typing import keys

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def open_languages(screen: Screen, demo: Server) -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent")
    screen.find(".script-row.line")
    screen.press("English · Français")
    screen.press("Languages and translations")
    screen.find(".translations")


def kept(demo: Server) -> tuple[dict[str, Any], dict[str, Any]]:
    """The script as it is kept, and what is out of date in it."""
    with demo.store.reading() as session:
        questionnaire = session.get_one(Questionnaire, 1)
        return questionnaire.script, questionnaire.outdated


def row(key: str, language: str) -> str:
    return f'.translation-row[data-key="{key}"] textarea[lang={language}]'


def test_a_language_is_added_and_translated_beside_the_others(screen: Screen, demo: Server) -> None:
    open_languages(screen, demo)
    screen.press("Add a language")
    keys(screen, *"swahi", Keys.ENTER)
    screen.type_into(row("part/p_consent/wording", "sw"), "Naweza kukuuliza?")
    screen.until(lambda: kept(demo)[0]["languages"] == ["en", "fr", "sw"])
    screen.type_into(".translation-tools input[type=text]", "Don’t know")
    screen.type_into(row("phone/interview.dont_know", "sw"), "Sijui")
    screen.until(lambda: kept(demo)[0]["phone_words"] == {"sw": {"interview.dont_know": "Sijui"}})
    assert violations(screen) == []


def test_a_source_that_changes_dates_it_until_it_is_found_to_be_right(screen: Screen, demo: Server) -> None:
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent")
    wording = screen.find('.line[data-part="p_consent"] textarea[data-column="wording.en"]')
    wording.send_keys(" Now?")
    key = "part/p_consent/wording"
    screen.until(lambda: set(kept(demo)[1].get(key, {})) == {"fr", "sw"})
    open_languages(screen, demo)
    screen.press("Out of date")
    screen.until(lambda: screen.count(".translation-row[data-key]") == 1)
    assert "May I ask you some questions about this workshop?" in screen.find(".translation.outdated").text
    screen.press("Still right")
    screen.until(lambda: len(kept(demo)[1].get(key, {})) == 1)
    screen.type_into(".translation.outdated textarea", " !")
    screen.until(lambda: kept(demo)[1] == {})
    screen.until(lambda: "There is nothing here." in screen.find(".translation-table").text)


def test_the_phone_speaks_the_words_of_the_questionnaire(screen: Screen, demo: Server) -> None:
    open_languages(screen, demo)
    screen.type_into(".translation-tools input[type=text]", "Next")
    screen.type_into(row("phone/interview.next", "sw"), "Mbele")
    screen.until(lambda: kept(demo)[0]["phone_words"]["sw"].get("interview.next") == "Mbele")
    screen.browser.get(f"{demo.address}studies/1/questionnaire?part=p_consent&pane=phone")
    screen.until(lambda: "Next" in screen.find(".phone-foot .next").text)
    screen.press("Yes")
    screen.press("Kiswahili")
    screen.until(lambda: "Mbele" in screen.find(".phone-foot .next").text)
    assert "Naweza kukuuliza?" in screen.find(".phone .question-wording").text
    assert screen.count(".phone .choice.on") == 1
