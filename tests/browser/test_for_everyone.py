"""The phone in the sun, with a large thumb, in large letters, held upright or across, from left or from right."""

from __future__ import annotations

import time
from collections.abc import Iterator

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skavo.core.questionnaire.script import Script, ScriptCheck
from skavo.demo.build import build_study, pairing_code
from skavo.server import Server
from skavo.web.pages import STATIC
from tests.browser.chromium import PHONE, errors_in, open_chromium
from tests.browser.pairing import PIN
from tests.browser.screen import Screen
from tests.browser.test_kinds import kinds_script, release
from tests.browser.test_views import violations
from tests.workshop import workshop_script

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]

# Width and height, and how large letters are in percent.
LAYOUTS = {
    "as usual": (390, 844, 100),
    "small": (360, 640, 100),
    "large letters": (390, 844, 200),
    "across": (844, 390, 100),
}

MISFITS = """
// A page that is too wide is shown smaller by a phone, whose window tells of more room then.
const wide = arguments[0];
const found = [];
const shown = (e) => e.checkVisibility({visibilityProperty: true, opacityProperty: true});
const says = (e) => (e.getAttribute('aria-label') ?? e.innerText ?? '').trim().slice(0, 30) || e.className;
const sideways = document.scrollingElement.scrollWidth - wide;
if (sideways > 0) found.push(`the page is ${sideways} px too wide`);
for (const e of document.querySelectorAll('a[href], button, input, select, textarea, label:has(input[type=file]), .choice, summary')) {
  const hidden = e.matches('input') && e.closest('label, .choice') && getComputedStyle(e).opacity === '0';
  if (hidden || e.matches('.visually-hidden') || !shown(e)) continue;
  const target = e.matches('td input') ? e.closest('td') : e;
  const {width, height, left, right} = target.getBoundingClientRect();
  if (width < 47.5 || height < 47.5) found.push(`${says(e)} is ${Math.round(width)} × ${Math.round(height)}`);
  if (left < -1 || right > wide + 1) found.push(`${says(e)} goes over the edge`);
}
for (const e of document.querySelectorAll('body *')) {
  if (!shown(e) || e.matches('.visually-hidden, canvas, video, audio')) continue;
  const style = getComputedStyle(e);
  const holdsText = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim() !== '');
  if (!holdsText || [e, e.parentElement].some((one) => getComputedStyle(one).textOverflow === 'ellipsis')) continue;
  const {left, right} = e.getBoundingClientRect();
  if (left < -1 || right > wide + 1) found.push(`the words “${says(e)}” go over the edge`);
  const clips = style.overflowX !== 'visible' && e.scrollWidth > e.clientWidth + 1;
  const cutBelow = ['hidden', 'clip'].includes(style.overflowY) && e.scrollHeight > e.clientHeight + 1;
  if (clips || cutBelow) found.push(`the words “${says(e)}” are cut off`);
}
return [...new Set(found)];
"""


def lay_out(phone: Screen, layout: str) -> None:
    width, height, percent = LAYOUTS[layout]
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": True}
    phone.browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    phone.browser.execute_script("document.documentElement.style.fontSize = arguments[0]", f"{percent}%")


def check(phone: Screen, where: str) -> list[str]:
    """What does not fit or cannot be read on the page as it stands, in any layout."""
    # What is still moving or coming is not measured. At the end of a page nothing lies behind the bar at the bottom.
    time.sleep(0.3)
    phone.browser.execute_script("window.scrollTo(0, document.documentElement.scrollHeight)")
    found = [f"{where}: {one}" for one in violations(phone, outdoors=True)]
    for layout in LAYOUTS:
        lay_out(phone, layout)
        found += [f"{where}, {layout}: {one}" for one in phone.browser.execute_script(MISFITS, LAYOUTS[layout][0])]
    lay_out(phone, "as usual")
    return found


def spoken_script(language: str) -> Script:
    """Every kind of question, in one language, none of them needed; one answer is doubtful and one is wrong."""
    sample = kinds_script()
    sample.languages = [language]
    long = {"en": "of the workshop that was visited", "ar": "الورشة التي زارها الباحث اليوم"}[language]
    for part in sample.parts:
        part.wording = {language: f"{part.variable} {long}"}
        part.instruction = {language: long}
        part.answer_needed, part.must_hold = "", []
        if part.variable == "story":
            part.special_answers = ["dont_know", "refused"]
            part.should_hold = [ScriptCheck(rule="length(story) > 3", message={language: long})]
    sample.title = {language: long}
    for code in (code for code_list in sample.code_lists for code in code_list.codes):
        code.label = {language: code.label["en"]}
    for unit in (unit for units in sample.unit_lists for unit in units.units):
        unit.label = {language: unit.label["en"]}
    return sample


@pytest.fixture(params=["en", "ar"])
def spoken(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[Server, str]]:
    made = Server(tmp_path_factory.mktemp("everyone"), "127.0.0.1", 0, limits=False)
    build_study(made.store, workshop_script())
    made.start()
    release(made, spoken_script(request.param))
    yield made, request.param
    made.stop()


def speaks(phone: Screen, language: str) -> None:
    agent = {"userAgent": phone.browser.execute_script("return navigator.userAgent"), "acceptLanguage": language}
    phone.browser.execute_cdp_cmd("Emulation.setUserAgentOverride", agent)


def fill_in(phone: Screen) -> list[str]:
    """From the first question to the end of the interview, answering what a tap or a word answers; what is amiss."""
    found: list[str] = []
    seen: list[str] = []
    while phone.count(".fill-foot .next.wide") == 0:
        seen.append(phone.find(".question-wording").text)
        variable = seen[-1].split()[0]
        for selector in (".choice", ".remark-button"):
            for there in phone.browser.find_elements(By.CSS_SELECTOR, selector)[:1]:
                there.click()
                time.sleep(0.2)
        if variable in ("story", "tag"):
            phone.type_into("main .typed", "12")
            phone.find(".note")
        found += check(phone, variable)
        if variable == "tag":
            phone.find("main .typed").send_keys(Keys.BACKSPACE * 2)
            phone.until(lambda: phone.count(".note") == 0, "nothing is wrong any more")
        if variable == "story":
            phone.find(".note button").click()
            phone.type_into(".note form input", "12")
            found += check(phone, "a reason")
            phone.click(".note form button")
            phone.find(".note.kept")
        phone.click(".fill-foot .next")
        phone.until(
            lambda: phone.count(".fill-foot .next.wide") or phone.find(".question-wording").text != seen[-1],
            f"on from {seen[-1]}",
        )
    assert len(seen) == 14, seen
    return found


def test_every_page_of_the_phone_can_be_read_and_touched(spoken: tuple[Server, str]) -> None:
    server, language = spoken
    phone = Screen(open_chromium(PHONE))
    speaks(phone, language)
    phone.browser.get(f"{server.address}field/#pair={pairing_code(server.store, 1, 'Ilse Varn')}")
    phone.find("input[name=device]")
    assert phone.browser.execute_script("return document.documentElement.lang") == language
    found = check(phone, "pairing")
    phone.click("button[type=submit]")
    for number in (0, 1):
        phone.find("input[name=pin]", number).send_keys(PIN)
    found += check(phone, "choosing a PIN")
    phone.click("button[type=submit]")
    phone.find(".frame-action .wide-button")
    phone.until(lambda: phone.count(".note") == 0, "ready")
    found += check(phone, "today, empty")
    phone.click(".more-button")
    found += check(phone, "ways to start")
    phone.click(".chooser .wide-button:not(.secondary)")
    phone.find(".question-wording")
    found += fill_in(phone)
    found += check(phone, "the end")
    phone.click(".fill-foot .back")
    phone.click(".fill-head button")
    phone.find(".find")
    found += check(phone, "all questions")
    phone.click(".fill-head button")
    phone.find(".fill-middle .plain-button").click()
    phone.find(".line")
    found += check(phone, "today, one begun")
    for place, name in ((1, "interviews"), (2, "me")):
        phone.click(".places a", place)
        phone.until(lambda at=place: phone.find(".places a", at).get_attribute("class") == "on", name)
        found += check(phone, name)
    phone.click("a[href$=receipts]")
    found += check(phone, "receipts")
    phone.browser.refresh()
    phone.find("input[name=pin]")
    found += check(phone, "locked")
    assert errors_in(phone.browser) == []
    phone.browser.quit()
    assert not found, "\n".join(found)
