"""Visits from the desk to a phone and back: given out, tried without a network, passed on, rated."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from sqlalchemy import select

from skavo.demo.build import pairing_code
from skavo.demo.questionnaire import questionnaire_of
from skavo.server import Server
from skavo.store.models import Interview, Person, Visit, VisitAttempt
from tests.browser.chromium import PHONE, cut_network, errors_in, open_chromium
from tests.browser.pairing import pair, unlock
from tests.browser.screen import Screen
from tests.samples import part, script
from tests.store.study import release_in

pytestmark = pytest.mark.browser
ROW = ".visit-table tbody tr"


@pytest.fixture
def desk(planner: Screen, whole_demo: Server) -> Screen:
    planner.browser.get(f"{whole_demo.address}studies/1/plan/visits")
    planner.find(ROW)
    return planner


@pytest.fixture
def phone(whole_demo: Server) -> Iterator[Screen]:
    """Ilse Varn's, at a place on Kesk, with a short questionnaire."""
    opened = Screen(open_chromium(PHONE))
    opened.browser.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["geolocation"]})
    here = {"latitude": -47.018, "longitude": -122.312, "accuracy": 9}
    opened.browser.execute_cdp_cmd("Emulation.setGeolocationOverride", here)
    short = script(part(1, "whole number", "workers", wording={"en": "How many work here?"}))
    with whole_demo.store.reading() as session:
        questionnaire = questionnaire_of(session, 1).id
    release_in(whole_demo.store, questionnaire, short, 9)
    pair(opened, whole_demo.address, pairing_code(whole_demo.store, 1, "Ilse Varn"))
    yield opened
    assert errors_in(opened.browser) == []
    opened.browser.quit()


def cells(desk: Screen, column: int) -> list[str]:
    found = desk.browser.find_elements(By.CSS_SELECTOR, f"{ROW} td:nth-child({column})")
    return [cell.text for cell in found]


def person(desk: Screen, name: str) -> str:
    """What stands beside the name of somebody who goes: done · open."""
    line = f"//*[contains(@class, 'visit-person-name')][.//span[.='{name}']]//*[@class='visit-load']"
    return desk.browser.find_element(By.XPATH, line).text


def test_visits_are_given_taken_back_and_shared_out(desk: Screen) -> None:
    nobody = int(person(desk, "Nobody"))
    desk.press("Nobody")
    desk.until(lambda: set(cells(desk, 3)) == {"Nobody"} and len(cells(desk, 3)) == nobody, "those of nobody")
    for row in (0, 1):
        desk.click(f"{ROW} input[type=checkbox]", row)
    desk.sees("2 chosen")
    desk.click("button[aria-label='Give 2 visits to Mira Tole']")
    desk.sees("2 visits given")
    desk.until(lambda: person(desk, "Nobody") == str(nobody - 2), "given")
    desk.press("Undo")
    desk.until(lambda: person(desk, "Nobody") == str(nobody), "taken back")
    desk.press("Share out what is open")
    desk.click(".visit-person input[type=checkbox][aria-label='Among them Osk Perrin']")
    desk.press("Try out")
    desk.until(lambda: desk.count(".visit-more") > 0, "what each would get")
    assert "+" not in person(desk, "Osk Perrin")
    told = [int(one.text.strip(" +")) for one in desk.browser.find_elements(By.CSS_SELECTOR, ".visit-more")]
    assert sum(told) == nobody
    desk.press("Give like that")
    desk.until(lambda: person(desk, "Nobody") == "0", "all given")


def test_an_attempt_is_entered_at_the_desk_and_taken_back(desk: Screen, whole_demo: Server) -> None:
    desk.click(f"{ROW} .visit-name")
    desk.press("Enter an attempt")
    desk.choose("How did it end?", "Gone")
    desk.press("Enter")
    desk.until(lambda: "Gone" in cells(desk, 4)[0], "it ended")
    desk.press("Rates")
    desk.sees("1\nof 200 done")
    desk.browser.back()
    desk.find(".attempts li")
    desk.click(".attempts li button")
    desk.click(".ant-popconfirm .ant-btn-primary")
    desk.until(lambda: "Not yet seen" in cells(desk, 4)[0], "it counts no more")
    desk.sees("taken back by Dora Maine")
    with whole_demo.store.session() as session:
        assert len(session.scalars(select(VisitAttempt)).all()) == 1


def test_outcomes_and_rules_are_the_studys_own(desk: Screen) -> None:
    desk.press("Rules and outcomes")
    desk.type_into("input[aria-label='code_of_a_new_one']", "asleep")
    desk.press("Add")
    desk.press("Keep the outcomes")
    desk.until(lambda: desk.count(".outcomes tbody tr") == 10, "added")
    desk.browser.refresh()
    desk.find(ROW)
    desk.press("Rules and outcomes")
    desk.until(lambda: desk.count(".outcomes tbody tr") == 10, "kept")


def test_a_day_without_a_network_comes_home(phone: Screen, whole_demo: Server) -> None:
    phone.until(lambda: phone.count(".line .outcome-mark") > 1, "visits")
    cut_network(phone.browser, True)
    first = phone.find(".line .line-text b").text
    phone.click(".line .line-text")
    phone.press("What happened")
    phone.press("Refused")
    phone.type_into(".what-happened input.typed", "Come never again")
    phone.press("Keep")
    phone.sees("somebody else goes")
    phone.sees("waits to be sent")
    # It is nobody's to make today any more; the next one is.
    phone.browser.back()
    phone.until(lambda: phone.find(".line .line-text b").text != first, "the next one")
    phone.click(".line .line-text")
    phone.press("Begin")
    phone.sees("How many work here?")
    phone.type_into(".typed", "4")
    phone.click(".fill-foot .next")
    phone.sees("The visit ends as")
    phone.press("Pack the interview")
    phone.sees("Waiting to be sent")
    cut_network(phone.browser, False)
    phone.browser.refresh()
    unlock(phone)

    def arrived() -> bool:
        with whole_demo.store.reading() as session:
            ilse = session.scalars(select(Person.id).where(Person.name == "Ilse Varn")).one()
            mine = select(Visit).where(Visit.person_id == ilse)
            done = session.scalars(mine.where(Visit.outcome == "completed")).all()
            lost = session.scalars(mine.where(Visit.outcome == "refused")).all()
            if len(done) != 1 or len(lost) != 1:
                return False
            assert lost[0].standing == "to pass on"
            interview = session.scalars(select(Interview)).one()
            assert (interview.visit_id, interview.unit_id) == (done[0].id, done[0].unit_id)
            told = session.scalars(select(VisitAttempt).where(VisitAttempt.outcome == "refused")).one()
            assert (told.remark, told.accuracy) == ("Come never again", 9)
            ended = session.scalars(select(VisitAttempt).where(VisitAttempt.outcome == "completed")).one()
            return ended.interview_uuid == interview.uuid

    phone.until(arrived, "both attempts and the interview are at the office")
    phone.until(lambda: "waits to be sent" not in phone.browser.find_element(By.TAG_NAME, "body").text)


def test_the_map_tells_apart_gathers_and_takes_a_lasso(planner: Screen, whole_demo: Server) -> None:
    planner.browser.get(f"{whole_demo.address}studies/1/plan/map?of=units&named=3")
    planner.sees("640 on the map")
    planner.sees("Cycles")
    planner.choose("Told apart by", "Condition of the building")
    planner.sees("not known")
    groups = planner.browser.find_elements(By.CSS_SELECTOR, ".ground-groups b")
    assert sum(int(one.text) for one in groups) == 640
    planner.press("not known")
    planner.until(lambda: "640 on the map" not in planner.find(".ground-side h2").text, "one group is left out")
    ground = planner.find(".ground-map .leaflet-container")
    planner.until(lambda: planner.count(".map-marks") == 1, "drawn")
    planner.press("Lasso")
    hand = ActionChains(planner.browser, duration=20)
    hand.move_to_element_with_offset(ground, -400, -250).click_and_hold()
    for east, south in ((400, -250), (400, 250), (-400, 250), (-400, -240)):
        hand.move_to_element_with_offset(ground, east, south)
    hand.release().perform()
    planner.sees("in the lasso")
    inside = int(planner.find(".ground-side h2").text.split()[0])
    counted = planner.browser.find_elements(By.CSS_SELECTOR, ".ground-groups button:not(.off) b")
    assert sum(int(one.text) for one in counted) == inside > 0
