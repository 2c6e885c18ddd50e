"""A questionnaire answered through a link: kept while typing, by keyboard alone, sent once, also in Arabic on a phone."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys
from sqlalchemy import select

from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.script import Script
from skavo.demo.build import build_study
from skavo.server import Server
from skavo.store.models import Interview, Link, Release, Revision
from skavo.web.pages import STATIC
from tests.browser.chromium import DESK, PHONE, cut_network, errors_in, kill, open_chromium
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.samples import code_list, part, script
from tests.workshop import workshop_script

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "answer.html").exists(), reason="the pages are not built: make build"),
]
SECRET = "a-link-for-tests"


def link_script() -> Script:
    return script(
        part(1, "section", "about", wording={"en": "About you", "ar": "عنك"}),
        part(2, "text", "name", answer_needed="yes", wording={"en": "Your name", "ar": "اسمك"}),
        part(2, "whole number", "hands", must=["hands < 5"], wording={"en": "How many help you?", "ar": "كم يساعدك؟"}),
        part(1, "section", "views", wording={"en": "What you think", "ar": "رأيك"}),
        part(2, "grid", "about_rent", code_list="view", wording={"en": "How is it with these?", "ar": "كيف هذه؟"}),
        part(3, "single answer", "rent", code_list="view", wording={"en": "The rent", "ar": "الإيجار"}),
        part(3, "single answer", "light", code_list="view", wording={"en": "The light", "ar": "الضوء"}),
        part(1, "roster", "helper", repeated="hands times", wording={"en": "Those who help", "ar": "المساعدون"}),
        part(2, "text", "helper_name", wording={"en": "Name of the {row}.", "ar": "اسم {row}"}),
        lists=(code_list("view", "good", "bad"),),
        languages=("en", "ar"),
    )  # fmt: skip


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    made = Server(tmp_path / "served", "127.0.0.1", 0, limits=False)
    build_study(made.store, workshop_script())
    compiled = compile_script(link_script())
    assert compiled.release is not None, compiled.errors
    with made.store.session() as session:
        session.add(
            Release(
                questionnaire_id=1, number=2, hash=content_hash(compiled.release), compiled=compiled.release,
                script=link_script().model_dump(mode="json"),
            )
        )  # fmt: skip
        session.add(
            Link(
                study_id=1, questionnaire_id=1, title="The web", entry="open", secret=SECRET, once=True,
                created_by="Dora Maine", texts={"ar": {"thanks": "وصلت، شكرًا"}},
            )
        )  # fmt: skip
    made.start()
    yield made
    made.stop()


def arrived(server: Server) -> list[dict[str, Any]]:
    with server.store.reading() as session:
        rows = session.scalars(select(Revision.raw).join(Interview, Interview.id == Revision.interview_id))
        return [json.loads(raw)["answers"] for raw in rows]


def open_link(server: Server, size: tuple[int, int], profile: Path | None = None) -> Screen:
    screen = Screen(open_chromium(size, profile=profile))
    screen.browser.get(f"{server.address}answer/{SECRET}")
    return screen


def test_answers_outlive_the_browser_and_the_network_and_are_given_by_keyboard(server: Server, tmp_path: Path) -> None:
    profile = tmp_path / "browser"
    screen = open_link(server, DESK, profile)
    screen.sees("Begin")
    assert violations(screen) == []
    screen.press("Begin")
    screen.type_into(".typed", "Ada" + Keys.TAB + "7" + Keys.TAB)
    screen.sees("This cannot be right")
    screen.press("Go on")
    assert screen.find(".answering-section").text == "About you"
    screen.find(".typed", 1).clear()
    screen.type_into(".typed:invalid, .asked:nth-of-type(2) .typed", "2" + Keys.TAB)
    screen.until(lambda: screen.count(".note.must") == 0, "in order")
    time.sleep(0.5)
    kill(screen.browser)

    screen = open_link(server, DESK, profile)
    screen.sees("Your answers are still in this browser")
    screen.press("Go on")
    screen.until(lambda: screen.find(".typed").get_attribute("value") == "Ada", "what was typed")
    screen.press("Go on")
    screen.find(".grid-question input")
    assert violations(screen) == []
    screen.find(".grid-question input").send_keys(Keys.SPACE)
    screen.find(".grid-question input", 3).send_keys(Keys.SPACE)
    screen.until(lambda: screen.count(".grid-question input:checked") == 2, "both lines")
    screen.press("Go on")
    screen.type_into(".typed", "Bo")
    screen.press("Go on")
    screen.sees("row 2 of 2")
    screen.browser.back()
    screen.sees("row 1 of 2")
    assert screen.find(".typed").get_attribute("value") == "Bo"
    screen.press("Go on")
    screen.sees("row 2 of 2")
    screen.press("Go on")
    screen.sees("Everything is answered")
    screen.press("Back")
    screen.sees("row 2 of 2")
    screen.browser.back()
    screen.sees("row 1 of 2")
    screen.browser.forward()
    screen.browser.forward()
    screen.sees("Everything is answered")
    assert violations(screen) == []
    cut_network(screen.browser, True)
    screen.press("Send my answers")
    screen.sees("The office cannot be reached")
    assert arrived(server) == []
    cut_network(screen.browser, False)
    ActionChains(screen.browser).double_click(screen.find(".answering-end .wide-button")).perform()
    screen.sees("Your answers have arrived")
    (answers,) = arrived(server)
    assert {answers[path] for path in answers} >= {"Ada", "good", "bad", "Bo"}
    screen.browser.refresh()
    screen.sees("Your answers have arrived")
    assert screen.count(".wide-button") == 0
    assert errors_in(screen.browser) == []
    screen.browser.quit()


def test_on_a_phone_in_arabic_what_was_begun_can_be_forgotten(server: Server) -> None:
    screen = open_link(server, PHONE)
    screen.find(".door-language select").send_keys(Keys.ARROW_DOWN)
    screen.sees("ابدأ")
    assert screen.browser.execute_script("return document.documentElement.dir") == "rtl"
    screen.press("ابدأ")
    screen.sees("اسمك")
    assert violations(screen) == []
    wide = screen.browser.execute_script("return document.documentElement.scrollWidth")
    assert wide <= PHONE[0]
    screen.type_into(".typed", "عدنان" + Keys.TAB)
    time.sleep(0.5)
    screen.browser.back()
    screen.press("تابع")
    screen.until(lambda: screen.find(".typed").get_attribute("value") == "عدنان", "what was typed")
    for _ in range(2):
        screen.click(".answering-page > .plain-button")
    screen.press("ابدأ")
    screen.until(lambda: screen.find(".typed").get_attribute("value") == "", "nothing is left")
    screen.browser.quit()
