"""What is taken rather than typed: codes by the live camera, sound and film, an order by dragging, an instrument."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator
from pathlib import Path

import pytest
import segno
from PIL import Image
from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from sqlalchemy import select

from skavo.core.questionnaire.script import Script, UnitList, UnitOfMeasure
from skavo.demo.build import build_study, pairing_code
from skavo.server import Server
from skavo.store.files import read_file
from skavo.store.models import Interview, Revision
from skavo.web.pages import STATIC
from tests.browser.chromium import PHONE, errors_in, open_chromium
from tests.browser.pairing import pair
from tests.browser.screen import Screen
from tests.browser.test_kinds import release
from tests.samples import code_list, part, script
from tests.workshop import workshop_script

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def taken_script() -> Script:
    sample = script(
        part(1, "section", "start", wording={"en": "Taken"}),
        part(2, "ranking", "worst", code_list="problem", most=3),
        part(2, "scanned code", "tag", mask="AA999"),
        part(2, "audio", "told"),
        part(2, "video", "shown"),
        part(2, "instrument", "scale", unit="kg"),
        lists=(code_list("problem", "parts", "rent", "power", "customers"),),
    )
    kilogram = UnitOfMeasure(unit="kg", dimension="mass", label={"en": "kilos"})
    sample.unit_lists = [UnitList(name="weight", units=[kilogram])]
    return sample


def film_of(text: str, path: Path) -> Path:
    """A film of one picture: a code on a label, as a camera sees it."""
    drawn = io.BytesIO()
    segno.make(text, error="m").save(drawn, kind="png", scale=8, border=4)
    code = Image.open(drawn).convert("RGB")
    seen = Image.new("RGB", (640, 480), (235, 230, 220))
    seen.paste(code, (200, 120))
    made = io.BytesIO()
    seen.save(made, "JPEG", quality=92)
    path.write_bytes(made.getvalue() * 4)
    return path


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    made = Server(tmp_path_factory.mktemp("taken"), "127.0.0.1", 0, limits=False)
    build_study(made.store, workshop_script())
    made.start()
    release(made, taken_script())
    yield made
    made.stop()


@pytest.fixture
def phone(server: Server, tmp_path: Path) -> Iterator[Screen]:
    screen = Screen(open_chromium(PHONE, sees=film_of("AB123", tmp_path / "label.mjpeg")))
    screen.browser.get(server.address + "field/")
    pair(screen, server.address, pairing_code(server.store, 1, "Ilse Varn"))
    screen.until(lambda: screen.count(".note") == 0, "ready")
    yield screen
    screen.browser.quit()


def on_to(phone: Screen, wording: str) -> None:
    phone.click(".fill-foot .next")
    phone.until(lambda: wording in phone.find(".question-wording").text, wording)


def order(phone: Screen) -> list[str]:
    return [label.text for label in phone.browser.find_elements(By.CSS_SELECTOR, ".ranked .mark + span")]


def dragged_to_the_top(phone: Screen, words: str) -> bool:
    """Whether it is there; dragged there where it is not yet: a busy machine may take the first drag for a tap."""
    at = order(phone).index(words)
    if at > 0:
        handle = phone.find(".ranked-handle", at)
        dragged = ActionChains(phone.browser, duration=120).move_to_element(handle).click_and_hold()
        dragged.move_by_offset(0, -30).move_by_offset(0, -100).pause(0.3).release().perform()
    return at == 0


def test_what_is_taken_reaches_the_office(server: Server, phone: Screen) -> None:
    phone.press("Start an interview")
    for number, words in enumerate(("Parts", "Rent", "Power"), start=1):
        phone.press(words)
        phone.until(lambda n=number: len(order(phone)) == n, words)
    assert not phone.find("button.choice").is_enabled(), "a fourth where three are the most"
    phone.until(lambda: dragged_to_the_top(phone, "Power"), "dragged to the top")
    assert order(phone) == ["Power", "Parts", "Rent"]
    phone.find(".ranked-handle", 2).send_keys(Keys.SPACE)
    phone.until(lambda: phone.count(".ranked.held") == 1, "lifted by keyboard")
    phone.find(".ranked-handle", 2).send_keys(Keys.ARROW_UP)
    phone.find(".ranked-handle", 2).send_keys(Keys.SPACE)
    phone.until(lambda: order(phone) == ["Power", "Rent", "Parts"], "moved by keyboard")
    phone.click(".ranked-out", 0)
    phone.until(lambda: order(phone) == ["Rent", "Parts"], "taken out")

    on_to(phone, "Wording of tag")
    phone.press("Scan the code")
    phone.until(lambda: phone.find(".typed").get_attribute("value") == "AB123", "the code before the camera")

    on_to(phone, "Wording of told")
    phone.press("Record")
    phone.until(lambda: "0:02" in phone.find(".recorder").text, "two seconds of sound")
    phone.press("Stop and keep")
    phone.until(lambda: phone.browser.execute_script("return document.querySelector('audio')?.duration > 0"), "heard")
    phone.press("Record again")
    phone.until(lambda: "0:01" in phone.find(".recorder").text, "a second of sound")
    # Left in the middle: what was recorded so far is kept, and leads nobody back.
    on_to(phone, "Wording of shown")
    phone.press("Record")
    phone.until(lambda: "0:01" in phone.find(".recorder").text, "a second of film")
    phone.press("Stop and keep")
    phone.find("video[controls]")
    assert "Wording of shown" in phone.find(".question-wording").text
    on_to(phone, "Wording of scale")
    assert "made-up" not in phone.find("main").text, "a made-up instrument in a real interview"
    phone.click(".fill-foot .next")
    phone.press("Pack the interview")

    def handed_in() -> Interview | None:
        with server.store.reading() as session:
            return session.scalars(select(Interview)).first()

    found = phone.until(handed_in, "handed in")
    with server.store.reading() as session:
        raw = session.scalars(select(Revision.raw).where(Revision.interview_id == found.id)).one()
    answers = json.loads(raw)["answers"]
    assert (answers["worst"], answers["tag"]) == (["rent", "parts"], "AB123")
    assert (answers["told"]["type"], answers["shown"]["type"]) == ("audio/webm", "video/webm")
    # The mark that Matroska and WebM files begin with (RFC 9559).
    for kind in ("told", "shown"):
        phone.until(lambda k=kind: read_file(server.store.files, answers[k]["file"])[:4] == b"\x1aE\xdf\xa3", kind)
    assert errors_in(phone.browser) == []


def test_a_made_up_instrument_is_read_in_practice_only(phone: Screen) -> None:
    phone.click(".more-button")
    phone.press("Practise")
    for wording in ("tag", "told", "shown", "scale"):
        on_to(phone, f"Wording of {wording}")
    phone.press("Read from the made-up instrument")
    phone.press("Take 12.4 kilos")
    assert [phone.find(".typed", n).get_attribute("value") for n in (0, 1)] == ["12.4", "made-up instrument"]
