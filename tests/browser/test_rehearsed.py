"""Rehearsal beside the lines, tests written on the phone pane, made-up data in Analyse, paper, releases for practice."""

from __future__ import annotations

import pytest

from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.screen import Screen
from tests.browser.test_views import violations

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]

SCRIPT = "studies/1/questionnaire?questionnaire=1"


def test_reach_and_minutes_stand_beside_the_lines(demo: Server, screen: Screen) -> None:
    screen.browser.get(f"{demo.address}{SCRIPT}&part=p_tool_cost")
    screen.find(".script-row.line")
    screen.press("Rehearse")
    screen.click(".order-line .ant-btn-primary")
    screen.sees("200 of 200")
    screen.sees("Minutes by section")
    screen.until(lambda: screen.count(".script-reach i") > 10, "shares beside the lines")
    assert screen.sees("bought_tool is yes")
    assert violations(screen) == []
    screen.click(".block-times button", 4)
    screen.until(lambda: "part=p_closing" in screen.browser.current_url, "the line of the section")


def test_made_up_data_is_analysed_and_never_mistaken(demo: Server, screen: Screen) -> None:
    screen.browser.get(f"{demo.address}{SCRIPT}&pane=rehearsal")
    screen.press("Open the made-up data in Analyse")
    screen.sees("Made up: 200 interviews")
    screen.click(".figure-cell", 1)
    screen.sees("made-up interviews")
    assert violations(screen) == []
    screen.click(".behind a")
    screen.sees("Made-up interview")
    screen.find(".phone-screen .question")


def test_a_test_is_written_on_the_phone_and_told_of_until_it_is_meant(demo: Server, screen: Screen) -> None:
    screen.browser.get(f"{demo.address}{SCRIPT}&pane=phone&part=p_consent")
    screen.find(".phone-screen .question")
    screen.click(".phone-screen .choice", 1)
    screen.press("Keep as a test")
    screen.type_into("input[aria-label='Name of the test']", "Nobody consents")
    screen.click(".keep-test button[type=submit]")
    screen.sees("Test “Nobody consents”")
    screen.browser.get(f"{demo.address}{SCRIPT}&pane=rehearsal")
    screen.press("Test interviews")
    screen.sees("Nobody consents")
    screen.sees("1 of 1")
    assert violations(screen) == []


def test_what_the_phone_notes_is_chosen_and_told(demo: Server, screen: Screen) -> None:
    screen.browser.get(f"{demo.address}{SCRIPT}")
    screen.click("button[aria-label=More]")
    screen.press("What the phone notes")
    screen.press("Where it begins")
    screen.press("Put a statement into the script")
    screen.sees("where it begins")
    assert violations(screen) == []
    screen.press("Go to the statement")
    screen.until(lambda: "note_on_recording" in screen.browser.page_source, "the statement's line")


def test_a_release_for_practice_is_made_and_told(demo: Server, screen: Screen) -> None:
    screen.browser.get(f"{demo.address}{SCRIPT}")
    screen.press("Release 2")
    screen.press("For practice only")
    assert violations(screen) == []
    screen.click(".ant-modal .ant-btn-primary")
    screen.sees("as release 2")
    screen.click("button[aria-label=More]")
    screen.press("Releases")
    screen.sees("for practice only")
    assert violations(screen) == []


def test_it_is_printed(demo: Server, screen: Screen) -> None:
    screen.browser.get(f"{demo.address}{SCRIPT}")
    screen.click("button[aria-label=More]")
    screen.press("Print on paper")
    screen.press("Make the PDF")
    screen.sees("Save it")
    assert violations(screen) == []
