"""The way back of an interview: sent back with remarks at its questions, corrected on a phone, held against the first."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skavo.core.questionnaire.script import write_script
from skavo.demo.build import pairing_code
from skavo.demo.people import PASSWORD, STAFF
from skavo.server import Server
from skavo.store.models import Interview, Person, Questionnaire, Release, Revision, Study
from skavo.store.people import join
from skavo.web.pages import STATIC
from skavo.web.passphrases import hash_passphrase
from tests.browser.chromium import DESK, PHONE, errors_in, open_chromium
from tests.browser.pairing import pair
from tests.browser.screen import Screen
from tests.samples import part, script
from tests.store.study import release_in

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "field.html").exists(), reason="the pages are not built: make build"),
]


@pytest.fixture
def served(tmp_path: Path) -> Iterator[Server]:
    server = Server(tmp_path / "store", "127.0.0.1", 0, limits=False)
    wells = script(
        part(1, "text", "place", wording={"en": "Which well is it?"}),
        part(1, "photo", "front", wording={"en": "A photo of it"}),
        part(1, "whole number", "users", wording={"en": "How many use it?"}),
    )
    with server.store.session() as session:
        login, name, role = STAFF[0]
        person = Person(login=login, name=name, is_administrator=True, password_hash=hash_passphrase(PASSWORD))
        session.add_all([person, Study(title="Wells of the isles")])
        session.flush()
        join(session, 1, person, [role])
        session.add(Questionnaire(study_id=1, title="Wells", script=write_script(wells)))
    release_in(server.store, 1, wells, 1)
    server.start()
    yield server
    server.stop()


@pytest.fixture
def desk(served: Server) -> Iterator[Screen]:
    browser = open_chromium(DESK)
    screen = Screen(browser)
    browser.get(served.address)
    screen.type_into("input[autocomplete=username]", STAFF[0][0])
    screen.type_into("input[type=password]", PASSWORD + Keys.ENTER)
    screen.sees("Wells of the isles")
    yield screen
    browser.quit()


@pytest.fixture
def phone(served: Server) -> Iterator[Screen]:
    screen = paired(served, "phone 01")
    yield screen
    screen.browser.quit()


def paired(served: Server, name: str) -> Screen:
    browser = open_chromium(PHONE)
    screen = Screen(browser)
    pair(screen, served.address, pairing_code(served.store, 1, "Ilse Varn"), name)
    return screen


def picture(path: Path) -> str:
    from PIL import Image

    Image.effect_noise((640, 480), 90).convert("RGB").save(path)
    return str(path)


def shows(phone: Screen, words: str) -> None:
    phone.until(lambda: words in phone.find(".question-wording").text, words)


def go_on(phone: Screen) -> None:
    phone.click(".fill-foot .next")


def hold_an_interview(phone: Screen, place: str, users: str, photo: str) -> None:
    phone.press("Start an interview")
    shows(phone, "Which well")
    phone.type_into(".typed", place)
    go_on(phone)
    shows(phone, "A photo of it")
    phone.find("input[type=file]").send_keys(photo)
    phone.sees("Take another photo")
    go_on(phone)
    shows(phone, "How many use it?")
    phone.type_into(".typed", users)
    go_on(phone)
    phone.press("Pack the interview")
    phone.until(lambda: "▲ 1" in phone.find("body").text, "handed in")


def send_and_fetch(phone: Screen) -> None:
    phone.press("Me")
    phone.press("Send and fetch now")
    phone.until(lambda: "Asking the office" not in phone.find("body").text, "fetched")
    phone.press("Today")


def test_an_interview_goes_back_with_a_remark_is_corrected_and_counts(
    served: Server, desk: Screen, phone: Screen, tmp_path: Path
) -> None:
    hold_an_interview(phone, "North well", "900", picture(tmp_path / "well.jpg"))
    desk.browser.get(f"{served.address}studies/1/interviews/1")
    shown = desk.find("img.reading-photo")
    desk.until(lambda: desk.browser.execute_script("return arguments[0].naturalWidth", shown) == 640, "the photo")
    line = desk.find("#at-users")
    desk.browser.execute_script("arguments[0].querySelector('.remark-add').click()", line)
    desk.type_into("input[aria-label='Remark on users']", "Nine hundred? Ask again.")
    desk.press("Send back with 1 remark")
    desk.click(".ant-modal-footer .ant-btn-primary")
    desk.sees("sent back")

    send_and_fetch(phone)
    phone.sees("Sent back by the office")
    phone.press("Nine hundred? Ask again.")
    shows(phone, "How many use it?")
    assert "Nine hundred? Ask again." in phone.find(".remarks").text
    assert phone.find(".typed").get_attribute("value") == "900"
    phone.find(".typed").clear()
    phone.type_into(".typed", "90")
    go_on(phone)
    phone.press("Pack the interview")
    phone.until(lambda: "▲ 1" in phone.find("body").text, "handed in again")
    assert errors_in(phone.browser) == []

    desk.browser.get(f"{served.address}studies/1/interviews/1")
    desk.until(lambda: desk.find("#at-users b").text == "90", "the corrected answer")
    desk.find("img.reading-photo")
    desk.press("compare")
    desk.until(
        lambda: [e.text for e in desk.browser.find_elements(By.CSS_SELECTOR, ".compared td")][1:] == ["900", "90"]
    )
    assert errors_in(desk.browser) == []
    with served.store.reading() as session:
        assert session.query(Interview).one().counting == 2


def test_corrected_at_the_desk_and_on_another_phone_it_waits_for_a_person(
    served: Server, desk: Screen, phone: Screen, tmp_path: Path
) -> None:
    hold_an_interview(phone, "North well", "900", picture(tmp_path / "well.jpg"))
    desk.browser.get(f"{served.address}studies/1/interviews/1")
    desk.press("Send back")
    desk.type_into(".ant-modal textarea", "Please look at the number again")
    desk.click(".ant-modal-footer .ant-btn-primary")
    desk.sees("sent back")
    other = paired(served, "phone 02")
    send_and_fetch(other)
    other.press("Please look at the number again")
    shows(other, "Which well")
    for _ in range(2):
        go_on(other)
        time.sleep(0.6)
    shows(other, "How many use it?")
    other.find(".typed").clear()
    other.type_into(".typed", "80")
    with served.store.session() as session:
        from skavo.core.cleaning.steps import STEP
        from skavo.store.models import PlanStep

        edit = {"kind": "correct", "variable": "users", "interview": "0001", "row": [], "value": 75, "reason": "Phoned"}
        session.add(PlanStep(questionnaire_id=1, body=STEP.write(edit), created_by="Dora Maine"))
    go_on(other)
    other.press("Pack the interview")
    other.until(lambda: "▲ 1" in other.find("body").text, "handed in")
    other.browser.quit()
    desk.browser.get(f"{served.address}studies/1")
    desk.press("Interviews with a revision that waits for a decision")
    desk.click(".ant-table-row")
    desk.press("Compare and decide")
    desk.sees("“Phoned” (Dora Maine)")
    desk.press("Let revision 2 count")
    desk.until(lambda: desk.find("#at-users b").text == "80", "the phone's correction")
    with served.store.reading() as session:
        interview = session.query(Interview).one()
        assert (interview.counting, interview.waiting, interview.state) == (2, False, "arrived")


def draw_on_the_photo(phone: Screen) -> None:
    """What is drawn becomes part of the picture, whose red it had not before."""
    phone.press("Draw on it")
    canvas = phone.find("canvas.drawing")
    phone.until(lambda: int(canvas.get_property("width")) == 640, "the photo is laid under")
    stroke = ActionChains(phone.browser).move_to_element_with_offset(canvas, -60, 0).click_and_hold()
    stroke.move_by_offset(50, -30).move_by_offset(60, 40).release().perform()
    phone.press("Keep the drawing")
    reds = """
      const image = document.querySelector('img.answer-photo');
      if (!image || !image.complete || image.naturalWidth === 0) return 0;
      const canvas = new OffscreenCanvas(image.naturalWidth, image.naturalHeight);
      const context = canvas.getContext('2d');
      context.drawImage(image, 0, 0);
      const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
      let count = 0;
      for (let at = 0; at < data.length; at += 4)
        if (data[at] > 170 && data[at + 1] < 90 && data[at + 2] < 90) count += 1;
      return count;
    """
    phone.until(lambda: phone.browser.execute_script(reds) > 100, "the stroke is in the picture")


def test_a_phones_file_is_read_in_at_the_desk(served: Server, desk: Screen, phone: Screen, tmp_path: Path) -> None:
    """In hand, with its photo: saved on the phone without the engine's help and read in byte for byte."""
    phone.press("Start an interview")
    shows(phone, "Which well")
    phone.type_into(".typed", "North well")
    go_on(phone)
    phone.find("input[type=file]").send_keys(picture(tmp_path / "well.jpg"))
    phone.sees("Take another photo")
    draw_on_the_photo(phone)
    phone.press("Leave")
    down = tmp_path / "down"
    down.mkdir()
    phone.browser.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(down)})
    phone.press("Me")
    phone.press("Save all interviews to a file")
    phone.sees("Interviews in phone-01-")
    (saved,) = phone.until(lambda: list(down.glob("*.skavo.zip")), "the file")
    desk.browser.get(f"{served.address}studies/1/interviews")
    desk.until(lambda: desk.browser.find_element(By.CSS_SELECTOR, "input[type=file]")).send_keys(str(saved))
    desk.sees("Arrived: 1.")
    desk.press("OK")
    desk.click(".ant-table-row")
    desk.sees("Packed unfinished: Read in from a file before it was packed")
    desk.find("img.reading-photo")
    spoiled = tmp_path / "spoiled.zip"
    spoiled.write_bytes(saved.read_bytes()[:-200])
    desk.browser.get(f"{served.address}studies/1/interviews")
    desk.until(lambda: desk.browser.find_element(By.CSS_SELECTOR, "input[type=file]")).send_keys(str(spoiled))
    desk.sees("The file was not read")
    with served.store.reading() as session:
        assert session.query(Revision).count() == 1 and session.query(Release).count() == 1
