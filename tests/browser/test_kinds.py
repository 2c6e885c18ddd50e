"""Every kind of answer on the phone, by touch, to the office; rehearsal, proof, comparison and help at the desk."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from sqlalchemy import select

from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.script import Script, UnitList, UnitOfMeasure
from skavo.demo.build import build_study, pairing_code
from skavo.demo.people import PASSWORD
from skavo.server import Server
from skavo.store.files import read_file
from skavo.store.models import Interview, Questionnaire, Release, Revision
from skavo.web.pages import STATIC
from tests.browser.chromium import DESK, PHONE, errors_in, open_chromium
from tests.browser.pairing import pair
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.samples import code_list, part, script
from tests.workshop import workshop_script

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def kinds_script() -> Script:
    sample = script(
        part(1, "section", "start", wording={"en": "Kinds"}),
        part(2, "single answer", "ward", code_list="ward"),
        part(2, "quantity", "scrap", unit="scrap_unit", most=400, answer_needed="yes"),
        part(2, "ranking", "worst", code_list="problem", most=3),
        part(2, "date-time", "visited"),
        part(2, "point", "door", must=["accuracy(door) <= 12"]),
        part(2, "area", "yard"),
        part(2, "photo", "front"),
        part(2, "signature", "signed"),
        part(2, "instrument", "scale", unit="kg"),
        part(2, "unit", "bench", register_name="benches"),
        part(2, "text", "story", most=500),
        part(2, "scanned code", "tag", mask="AA999"),
        part(2, "whole number", "workers", must=["workers between 1 and 9"]),
        part(2, "read-back", "workers_ok", reads_back="workers", answer_needed="yes"),
        part(2, "roster", "staff", repeated="workers times"),
        part(3, "text", "name", wording={"en": "Name of {row}"}),
        lists=(code_list("ward", "harbour", "hill"), code_list("problem", "parts", "rent", "power", "customers")),
    )
    sack = UnitOfMeasure(
        unit="sack", dimension="mass", factor="if ward is harbour then 40 else 50", label={"en": "sacks"}
    )
    kilogram = UnitOfMeasure(unit="kg", dimension="mass", label={"en": "kilos"})
    sample.unit_lists = [UnitList(name="scrap_unit", units=[kilogram, sack])]
    return sample


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    made = Server(tmp_path_factory.mktemp("kinds"), "127.0.0.1", 0, limits=False)
    build_study(made.store, workshop_script())
    made.start()
    yield made
    made.stop()


class Phone:
    def __init__(self, server: Server) -> None:
        self.screen = Screen(open_chromium(PHONE))
        self.browser = self.screen.browser
        self.browser.get(server.address + "field/")
        self.browser.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["geolocation"]})
        pair(self.screen, server.address, pairing_code(server.store, 1, "Ilse Varn"))
        self.screen.until(lambda: self.screen.count(".note") == 0, "ready")
        self.screen.press("Start an interview")

    def next_to(self, words: str) -> None:
        """On to the question with these words."""

        def there() -> bool:
            if words in self.screen.find(".question-wording").text:
                return True
            self.screen.click(".fill-foot .next")
            time.sleep(0.4)
            return words in self.screen.find(".question-wording").text

        self.screen.until(there, words)

    def stand_at(self, latitude: float, longitude: float, accuracy: float) -> None:
        place = {"latitude": latitude, "longitude": longitude, "accuracy": accuracy}
        self.browser.execute_cdp_cmd("Emulation.setGeolocationOverride", place)

    def put(self, selector: str, value: str) -> None:
        self.browser.execute_script(
            """const input = document.querySelector(arguments[0]);
            Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(input, arguments[1]);
            input.dispatchEvent(new Event('input', { bubbles: true }));""",
            selector, value,
        )  # fmt: skip


def release(server: Server, sample: Script) -> None:
    compiled = compile_script(sample).release
    assert compiled is not None
    with server.store.session() as session:
        if session.scalar(select(Release).where(Release.number == 2)) is not None:
            return
        session.add(
            Release(
                questionnaire_id=1, number=2, hash=content_hash(compiled), compiled=compiled,
                script=sample.model_dump(mode="json"),
            )
        )  # fmt: skip


def raw_of(server: Server, interview: Interview) -> bytes:
    with server.store.reading() as session:
        return session.scalars(select(Revision.raw).where(Revision.interview_id == interview.id)).one()


def test_every_kind_of_answer_is_given_by_touch_and_reaches_the_office(server: Server, tmp_path: Path) -> None:
    release(server, kinds_script())
    phone = Phone(server)
    screen = phone.screen
    screen.press("Harbour")
    phone.next_to("Wording of scrap")
    screen.type_into(".typed", "11")
    screen.press("sacks")
    screen.sees("The most is 400 kg.")
    phone.put(".typed", "3")
    phone.next_to("Wording of worst")
    for words in ("Rent", "Parts"):
        screen.press(words)
        time.sleep(0.3)
    phone.next_to("Wording of visited")
    phone.put("input[type=datetime-local]", "2027-03-10T09:30")
    phone.next_to("Wording of door")
    phone.stand_at(0.5, 6.5, 40)
    screen.press("Take the position")
    screen.press("Keep it with ±40 m")
    screen.sees("This cannot be right")
    phone.stand_at(0.5, 6.5, 6)
    screen.press("Take it again")
    screen.sees("±6 m")
    phone.next_to("Wording of yard")
    for north, east in ((0.0, 0.0), (0.001, 0.0), (0.001, 0.001)):
        count = screen.count(".sketch circle")
        phone.stand_at(0.5 + north, 6.5 + east, 6)
        screen.press("Add the point")
        screen.until(lambda seen=count: screen.count(".sketch circle") == seen + 1, "another point")
    phone.next_to("Wording of front")
    photo = tmp_path / "front.png"
    photo.write_bytes(b"\x89PNG made up")
    screen.find("input[type=file]").send_keys(str(photo))
    screen.sees("front.png")
    phone.next_to("Wording of signed")
    canvas = screen.find("canvas")
    strokes = ActionChains(phone.browser).move_to_element_with_offset(canvas, -80, 20).click_and_hold()
    strokes.move_by_offset(120, -30).move_by_offset(10, 40).release().perform()
    screen.sees("Remove")
    phone.next_to("Wording of scale")
    screen.type_into(".typed", "2.5")
    screen.type_into(".typed.small", "scale 4")
    phone.next_to("Wording of bench")
    screen.type_into(".typed", "b-12")
    phone.next_to("Wording of story")
    screen.type_into("textarea", "A long story")
    phone.next_to("Wording of tag")
    screen.type_into(".typed", "12")
    screen.sees("Write it like this: KB204")
    phone.put(".typed", "AB123")
    phone.next_to("Wording of workers")
    screen.type_into(".typed", "3")
    phone.next_to("Wording of workers_ok")
    screen.sees("3")
    screen.press("That is right")
    phone.next_to("Name of 1")
    for row, name in ((1, "Bo"), (2, "Edda"), (3, "Fenn")):
        phone.next_to(f"Name of {row}")
        screen.type_into(".typed", name)
    screen.click(".fill-foot .back")
    screen.until(lambda: "Name of 2" in screen.find(".question-wording").text, "row 2")
    screen.press("Remove this row")
    screen.press("Remove this row?")
    screen.until(lambda: "Name of 1" in screen.find(".question-wording").text, "the row before")
    phone.next_to("Name of 2")
    assert screen.find(".typed").get_attribute("value") == "Fenn"
    screen.click(".fill-head button")

    def to_the_read_back() -> bool:
        next(e for e in phone.browser.find_elements(By.CSS_SELECTOR, ".line") if "workers_ok" in e.text).click()
        return True

    screen.until(to_the_read_back, "the read-back in the list of all questions")
    screen.sees("2")
    screen.press("That is right")
    screen.click(".fill-foot .next")
    for _ in range(4):
        if screen.count(".fill-foot .next") and "Pack" not in phone.browser.find_element(By.TAG_NAME, "body").text:
            screen.click(".fill-foot .next")
            time.sleep(0.6)
    screen.press("Pack the interview")

    def handed_in() -> Any:
        with server.store.reading() as session:
            return session.scalars(select(Interview)).first()

    found = screen.until(handed_in, "handed in")
    answers = json.loads(raw_of(server, found))["answers"]
    assert (found.differs, found.hard_findings) == (False, 0)
    assert answers["scrap"] == {"amount": 3, "unit": "sack"}
    assert answers["worst"] == ["rent", "parts"]
    assert answers["visited"].startswith("2027-03-10T09:30")
    assert len(answers["yard"]["points"]) == 3
    assert (answers["workers"], answers["staff"], answers["staff/3/name"]) == (2, {"removed": [2]}, "Fenn")
    assert "staff/2/name" not in answers
    assert read_file(server.store.files, answers["front"]["file"]) == b"\x89PNG made up"
    assert read_file(server.store.files, answers["signed"]["file"])[:4] == b"\x89PNG"
    assert errors_in(phone.browser) == []
    phone.browser.quit()


@pytest.fixture(scope="module")
def desk(server: Server) -> Iterator[Screen]:
    screen = Screen(open_chromium(DESK))
    screen.browser.get(server.address)
    screen.type_into("input[autocomplete=username]", "dora")
    screen.type_into("input[type=password]", PASSWORD + Keys.ENTER)
    screen.find(".study-line")
    yield screen
    screen.browser.quit()


def drawer_button(screen: Screen, words: str) -> None:
    def click() -> bool:
        found = [b for b in screen.browser.find_elements(By.CSS_SELECTOR, ".ant-drawer button") if b.text == words]
        found[0].click()
        return True

    screen.until(click, words)


def test_a_questionnaire_is_rehearsed_and_proved_at_the_desk(server: Server, desk: Screen) -> None:
    desk.browser.get(f"{server.address}studies/1/questionnaire?part=p_workers")
    desk.find(".rule-words")
    desk.press("Rehearse")
    desk.click(".order-line .ant-btn-primary")
    desk.sees("200 of 200")
    desk.sees("Asked in")
    assert violations(desk) == []
    desk.press("Prove")
    desk.sees("questions can be reached")
    assert violations(desk) == []
    desk.press("All figures …")
    desk.sees("How often each rule")
    desk.press("Test interviews")
    desk.sees("test interviews go through the draft")
    assert violations(desk) == []
    assert errors_in(desk.browser) == []


def test_what_changed_is_told_and_leads_to_its_place(server: Server, desk: Screen) -> None:
    with server.store.session() as session:
        questionnaire = session.get_one(Questionnaire, 1)
        released = questionnaire.script
        changed = json.loads(json.dumps(released))
        next(p for p in changed["parts"] if p["variable"] == "hours")["must_hold"][0]["rule"] = "hours between 0 and 90"
        questionnaire.script, questionnaire.version = changed, questionnaire.version + 1
        for made in session.scalars(select(Release)):
            made.script = released
    desk.browser.get(f"{server.address}studies/1/questionnaire")
    desk.click("button[aria-label=More]")
    desk.press("Compare with release")
    desk.sees("hours between 0 and 112")
    assert violations(desk) == []
    desk.click(".change .plain-link")
    desk.until(lambda: "part=p_hours" in desk.browser.current_url, "the line of hours")
    desk.browser.get(f"{server.address}studies/1/questionnaire")
    desk.click("button[aria-label=More]")
    desk.press("The rule language")
    desk.type_into("input[aria-label='Search the rule language']", "between")
    desk.sees("days_open between 0 and 7")
    assert violations(desk) == []
