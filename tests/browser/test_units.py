"""Units on a phone: changed, added and closed without a network, picked and gone over in an interview, home at the desk."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from selenium.webdriver.common.by import By
from sqlalchemy import select

from skavo.demo.build import pairing_code
from skavo.demo.questionnaire import questionnaire_of
from skavo.server import Server
from skavo.store.models import Interview, Unit, UnitChange
from tests.browser.chromium import PHONE, cut_network, errors_in, open_chromium
from tests.browser.pairing import pair, unlock
from tests.browser.screen import Screen
from tests.samples import code_list, part, script
from tests.store.study import release_in

pytestmark = pytest.mark.browser
SHOP = "LU3X_383414"
BENCHES = script(
    part(1, "unit", "shop", register_name="workshop", wording={"en": "Which workshop is this?"}),
    part(
        1, "roster", "bench", repeated="for each unit under shop", register_name="bench",
        wording={"en": "{bench}"},
    ),
    part(
        2, "single answer", "state", code_list="state", fills="unit.condition",
        wording={"en": "How is {unit.label} of {shop.label}?"},
    ),
    part(1, "unit", "tool", register_name="tool", wording={"en": "Which tool is used most?"}),
    lists=(code_list("state", "good", "fair", "poor", "broken"),),
)  # fmt: skip


@pytest.fixture(scope="module")
def asking(whole_demo: Server) -> Server:
    """The demo with a short questionnaire about benches."""
    with whole_demo.store.reading() as session:
        questionnaire = questionnaire_of(session, 1).id
    release_in(whole_demo.store, questionnaire, BENCHES, 9)
    return whole_demo


@pytest.fixture
def phone(asking: Server) -> Iterator[Screen]:
    opened = Screen(open_chromium(PHONE))
    opened.browser.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["geolocation"]})
    here = {"latitude": -47.018, "longitude": -122.312, "accuracy": 9}
    opened.browser.execute_cdp_cmd("Emulation.setGeolocationOverride", here)
    pair(opened, asking.address, pairing_code(asking.store, 1, "Ilse Varn"))
    opened.until(lambda: opened.count("nav a[href='/field/units']") == 1, "the register is here")
    yield opened
    assert errors_in(opened.browser) == []
    opened.browser.quit()


def open_shop(phone: Screen) -> None:
    phone.click("nav a[href='/field/units']")
    phone.type_into("input[type=search]", SHOP)
    phone.until(lambda: phone.find(".line .line-text b").text == "Anchor Joinery", "found")
    phone.click(".line")
    phone.sees("Condition of the building")


def field(phone: Screen, name: str) -> str:
    return phone.find(".unit-field").find_element(
        By.XPATH, f"//*[@class='unit-field'][span[.='{name}']]/b"
    ).text  # fmt: skip


def answers_of(server: Server, key: str) -> dict[str, Any]:
    with server.store.reading() as session:
        return session.scalars(select(Unit).where(Unit.key == key)).one().answers


def home_again(phone: Screen) -> None:
    cut_network(phone.browser, False)
    phone.browser.refresh()
    unlock(phone)


def test_what_is_changed_and_added_without_a_network_comes_home(phone: Screen, whole_demo: Server) -> None:
    open_shop(phone)
    cut_network(phone.browser, True)
    phone.press("Condition of the building")
    phone.press("Poor")
    phone.press("Keep it")
    phone.sees("What you changed waits to be sent")
    assert field(phone, "Condition of the building") == "Poor"
    phone.press("Add under it")
    phone.press("Bench")
    phone.type_into(".chooser input", "NEW-1")
    phone.press("Go on")
    phone.type_into("input[type=text], textarea", "Corner bench")
    phone.press("Keep it")
    phone.until(lambda: "Corner bench" in phone.find("h1").text, "the new one")
    # What was changed once is changed again, and left as it was.
    phone.press("Change")
    phone.press("Leave")
    phone.sees("A change of this is in hand")
    phone.press("Leave it as it was")
    phone.until(lambda: "is in hand" not in phone.browser.find_element(By.TAG_NAME, "body").text, "dropped")
    phone.press("No longer there")
    phone.type_into(".what-happened input", "Sold")
    phone.press("It is gone")
    phone.until(lambda: "Anchor Joinery" in phone.find("h1").text, "back at the workshop")
    home_again(phone)

    def arrived() -> bool:
        with whole_demo.store.reading() as session:
            bench = session.scalars(select(Unit).where(Unit.key == "NEW-1")).one()
            assert bench.closed_why == "Sold"
            changes = session.scalars(select(UnitChange)).all()
            return {change.standing for change in changes} == {"taken"} and len(changes) == 3

    phone.until(arrived, "all three changes are at the office")
    assert "poor" in answers_of(whole_demo, SHOP).values()
    open_shop(phone)
    phone.until(lambda: "waits to be sent" not in phone.browser.find_element(By.TAG_NAME, "body").text, "told back")


def test_an_interview_picks_a_unit_goes_over_what_lies_below_and_fills_it(
    phone: Screen, planner: Screen, whole_demo: Server
) -> None:
    cut_network(phone.browser, True)
    phone.press("Start an interview")
    phone.sees("Which workshop is this?")
    phone.type_into("input[type=search]", SHOP)
    phone.press("Anchor Joinery")
    phone.click(".fill-foot .next")
    phone.sees("of Anchor Joinery?")
    first = phone.find(".question-wording").text
    while "of Anchor Joinery?" in phone.find(".question-wording").text:
        here = phone.find(".question-wording").text
        phone.press("Broken" if here == first else "Good")
        phone.click(".fill-foot .next")
        phone.until(lambda here=here: phone.find(".question-wording").text != here, "the next one")
    phone.sees("Which tool is used most?")
    phone.type_into("input[type=search]", SHOP)
    phone.until(lambda: phone.count(".choices button, .choices label") > 3, "tools of this workshop")
    phone.browser.find_elements(By.CSS_SELECTOR, ".choices button, .choices label")[0].click()
    phone.click(".fill-foot .next")
    phone.press("Pack the interview")
    phone.sees("Waiting to be sent")
    home_again(phone)

    def handed_in() -> bool:
        with whole_demo.store.reading() as session:
            return session.scalars(select(Interview)).one().problem == ""

    phone.until(handed_in, "the interview is at the office")
    with whole_demo.store.reading() as session:
        interview = session.scalars(select(Interview)).one()
        assert interview.differs is False
    planner.browser.get(f"{whole_demo.address}studies/1/interviews/{interview.id}")
    planner.sees("Anchor Joinery")
    planner.press("Accept")
    planner.until(lambda: _is_broken(whole_demo), "the first bench is broken in the register too")


def _is_broken(server: Server) -> bool:
    with server.store.reading() as session:
        shop = session.scalars(select(Unit).where(Unit.key == SHOP)).one()
        benches = session.scalars(select(Unit).where(Unit.above_id == shop.id, Unit.key.startswith(f"{SHOP}-"))).all()
        return [value for bench in benches for value in bench.answers.values()].count("broken") >= 1
