"""Every main view opens with the demo study, complains of nothing, and can be used by everyone (axe-core, WCAG 2.2 AA)."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.keys import Keys

from skavo.core.questionnaire.script import Part, Script
from skavo.demo.build import pairing_code
from skavo.server import Server
from skavo.store.models import Questionnaire
from skavo.web.pages import STATIC
from tests.browser.chromium import PHONE, errors_in, open_chromium
from tests.browser.pairing import choose_pin
from tests.browser.screen import Screen

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]
AXE = Path(__file__).resolve().parents[2] / "node_modules" / "axe-core" / "axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


@pytest.fixture(scope="module")
def demo(worked_demo: Server) -> Server:
    return worked_demo


@pytest.fixture(scope="module")
def desk(worked_desk: Screen) -> Screen:
    return worked_desk


def violations(screen: Screen, *, outdoors: bool = False) -> list[str]:
    """What axe-core finds wrong with the page as it stands: rule, and the first place of each.

    `outdoors` asks for a contrast of 7:1 (WCAG 2.2, 1.4.6) in place of 4.5:1.
    """
    if not screen.browser.execute_script("return 'axe' in window"):
        screen.browser.execute_script(AXE.read_text(encoding="utf-8"))
    run = "const done = arguments[0]; axe.run(document, %s).then(done, (e) => done({violations: [{id: String(e), nodes: []}]}))"
    asked = {
        "runOnly": RULES + (["wcag2aaa"] if outdoors else []),
        "rules": {"color-contrast-enhanced": {"enabled": outdoors}},
    }
    found: dict[str, Any] = screen.browser.execute_async_script(run % json.dumps(asked))
    return [f"{v['id']}: {v['nodes'][0]['html'][:160] if v['nodes'] else ''}" for v in found["violations"]]


VIEWS = {
    "logbook": ("", ".matter"),
    "plan": ("/plan", "form"),
    "script": ("/questionnaire?part=w_workers", ".detail"),
    "findings": ("/questionnaire?part=w_workers&pane=findings", ".pane-body"),
    "flow": ("/questionnaire?part=w_workers&pane=flow", ".flow-self"),
    "phone pane": ("/questionnaire?part=w_outcome&pane=phone", ".phone .choice"),
    "field": ("/field", ".listing tbody tr"),
    "ledger": ("/interviews", ".ant-table-row"),
    "reading": ("/interviews/2", ".reading-line"),
    "checks": ("/checks", ".ant-table-row"),
    "clean": ("/clean", ".steps li"),
    "combine": ("/combine", ".join-figure"),
    "shares": ("/analyse?variable=trades&across=island", ".figures"),
    "means": ("/analyse?table=1", ".figures"),
    "hand over": ("/hand-over", ".formats"),
}


@pytest.mark.parametrize("view", list(VIEWS))
def test_a_view_of_the_desk_opens_without_complaint_and_for_everyone(demo: Server, desk: Screen, view: str) -> None:
    address, ready = VIEWS[view]
    desk.browser.get(f"{demo.address}studies/1{address}")
    desk.find(ready)
    assert violations(desk) == []
    assert errors_in(desk.browser) == []


def swipe(phone: Screen, start: int, end: int) -> None:
    """A finger drawn across the middle of the screen."""
    for kind, points in (
        ("touchStart", [start]),
        ("touchMove", [(start + end) // 2]),
        ("touchMove", [end]),
        ("touchEnd", []),
    ):
        touch = {"type": kind, "touchPoints": [{"x": x, "y": 500} for x in points]}
        phone.browser.execute_cdp_cmd("Input.dispatchTouchEvent", touch)


def test_the_phone_is_for_everyone(demo: Server) -> None:
    browser = open_chromium(PHONE)
    phone = Screen(browser)
    browser.get(f"{demo.address}field/#pair={pairing_code(demo.store, 1, 'Ilse Varn')}")
    phone.find("input[name=device]")
    assert violations(phone) == []
    phone.press("Pair")
    phone.sees("Choose a PIN")
    assert violations(phone) == []
    choose_pin(phone)
    phone.find(".frame-action .wide-button")
    assert violations(phone) == []
    phone.press("Start an interview")
    first = phone.find(".question-wording").text
    swipe(phone, 300, 60)
    phone.until(lambda: phone.find(".question-wording").text != first, "on by a swipe")
    assert violations(phone) == []
    swipe(phone, 60, 300)
    phone.until(lambda: phone.find(".question-wording").text == first, "back by a swipe")
    browser.quit()


def start_of_the_engine(desk: Screen) -> dict[str, Any]:
    """What a fresh worker answers when it is asked to start."""
    worker = next((STATIC / "field" / "assets").glob("worker-*.js")).name
    start = """const done = arguments[0]; const worker = new Worker('/field/assets/%s', {type: 'module'});
        worker.onmessage = (event) => done(event.data); worker.postMessage({id: 1, call: 'start', args: []});"""
    answer: dict[str, Any] = desk.browser.execute_async_script(start % worker)
    return answer


def test_the_engine_starts_from_the_snapshot_of_memory(demo: Server, desk: Screen) -> None:
    desk.browser.get(demo.address)
    assert start_of_the_engine(desk) == {"id": 1, "result": {"fromSnapshot": True}}


def test_the_ordinary_start_takes_over_where_the_snapshot_cannot_be_loaded(demo: Server, desk: Screen) -> None:
    """The engine's folder without its snapshot, as when a phone could not fetch all of it."""
    snapshot = next((STATIC / "field" / "engine").glob("*/snapshot.packed"))
    aside = snapshot.with_suffix(".aside")
    desk.browser.get(demo.address)
    desk.browser.execute_cdp_cmd("Network.clearBrowserCache", {})
    snapshot.rename(aside)
    try:
        assert start_of_the_engine(desk) == {"id": 1, "result": {"fromSnapshot": False}}
    finally:
        aside.rename(snapshot)


def test_a_thousand_lines_open_and_only_those_in_view_are_in_the_page(demo: Server, desk: Screen) -> None:
    parts = [
        Part(id=f"n{i}", kind="whole number", variable=f"n{i}", wording={"en": f"Number {i}", "fr": f"Nombre {i}"})
        for i in range(1000)
    ]
    script = Script(name="large", title={"en": "Large"}, languages=["en", "fr"], parts=parts)
    with demo.store.session() as session:
        questionnaire = session.get_one(Questionnaire, 1)
        before = questionnaire.script
        questionnaire.script = script.model_dump(mode="json")
    try:
        desk.browser.get(f"{demo.address}studies/1/questionnaire?part=n990")
        desk.until(lambda: desk.browser.find_element("css selector", "[data-part=n990]").is_displayed(), "line 990")
        assert desk.count(".script-row.line") < 80
    finally:
        with demo.store.session() as session:
            session.get_one(Questionnaire, 1).script = before


def test_the_back_button_and_the_finder_lead_where_they_say(demo: Server, desk: Screen) -> None:
    desk.browser.get(f"{demo.address}studies/1/interviews")
    desk.click(".ant-table-row")
    desk.find(".reading-line")
    desk.browser.back()
    desk.find(".ant-table-row")
    desk.find("body").send_keys(Keys.CONTROL, "k")
    desk.type_into("input[aria-label='Find or do anything']", "unit_code")
    desk.sees("Unit code on the door plate")
    desk.type_into("input[aria-label='Find or do anything']", Keys.ENTER)
    desk.until(lambda: "w_unit_code" in desk.browser.current_url, "the question")
    desk.browser.back()
    desk.find(".ant-table-row")


def test_an_empty_study_says_what_goes_where(demo: Server, desk: Screen) -> None:
    desk.browser.get(demo.address)
    desk.press("New study")
    desk.type_into("#title", "Empty" + Keys.ENTER)
    desk.sees("Languages, the first one first")
    study = desk.browser.current_url.split("/studies/")[1].split("/")[0]
    for station in ("", "/field", "/interviews", "/checks", "/clean", "/combine", "/analyse", "/hand-over"):
        desk.browser.get(f"{demo.address}studies/{study}{station}")
        desk.find(".empty")
        assert errors_in(desk.browser) == []


def test_a_study_with_two_questionnaires_says_which_one_a_station_is_about(demo: Server, desk: Screen) -> None:
    desk.browser.get(demo.address)
    desk.press("New study")
    desk.type_into("#title", "Household" + Keys.ENTER)
    desk.sees("Languages, the first one first")
    desk.press("Begin")
    desk.find(".script-sheet, [role=grid], .ant-tabs")
    study = desk.until(lambda: desk.browser.current_url.split("/studies/")[1].split("/")[0])
    desk.click(".top-menu")
    desk.press("Another questionnaire …")
    desk.type_into("#title", "Village")
    desk.press("Begin")

    def chosen() -> str:
        return str(desk.find(".top-choice .clip").text)

    desk.until(lambda: chosen() == "Village", "the new one")
    for station in ("clean", "analyse"):
        desk.browser.get(f"{demo.address}studies/{study}/{station}")
        desk.until(lambda: chosen() == "Village", "the one worked on last")
    desk.click(".top-choice")
    desk.press("Household")
    desk.until(lambda: chosen() == "Household", "the one chosen")
    assert desk.browser.current_url.split("?")[0].endswith("/analyse")
    shared = desk.browser.current_url
    desk.browser.execute_script("localStorage.clear()")
    desk.browser.get(shared.replace("questionnaire=", "questionnaire=0"))
    desk.until(lambda: chosen() == "Household", "the first, where the address names none")
    desk.browser.get(f"{demo.address}studies/{study}/interviews")
    desk.find(".empty")
    assert desk.count(".top-choice") == 0
    assert violations(desk) == []
    assert errors_in(desk.browser) == []
