"""A day's work without any network: the server's process ended, the browser's caches emptied, the browser killed."""

from __future__ import annotations

import shutil
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.by import By

from skavo.core.questionnaire.script import write_script
from skavo.demo.build import pairing_code
from skavo.store.database import Store, open_store
from skavo.store.models import Interview, Questionnaire, Release, Study
from skavo.web.pages import STATIC
from tests.browser.builds import MARK, next_build
from tests.browser.chromium import PHONE, errors_in, kill, open_chromium
from tests.browser.pairing import pair, unlock
from tests.browser.screen import Screen
from tests.samples import part, script
from tests.served import Served
from tests.store.study import release_in

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "field.html").exists(), reason="the pages are not built: make build"),
]

WORDS = "The rope is worn and the wheel does not turn any more"
WEEKS = 21 * 24 * 3_600_000


def wells() -> Any:
    return script(
        part(1, "text", "place", wording={"en": "Which well is it?"}),
        part(1, "whole number", "users", wording={"en": "How many use it?"}, must=["users between 1 and 99"]),
        part(1, "text", "remarks", wording={"en": "Anything else?"}),
    )


class Field:
    """A server that can be ended, and one phone that can be killed; both keep what they keep."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.store: Store = open_store(folder / "store")
        with self.store.session() as session:
            session.add(Study(title="Wells of the isles"))
            session.flush()
            session.add(Questionnaire(study_id=1, title="Wells", script=write_script(wells())))
        release_in(self.store, 1, wells(), 1)
        self.server = Served(folder / "store")
        self.server.start()
        self.phone = self.switch_on()

    def switch_on(self, clock_ahead: int = 0) -> Screen:
        browser = open_chromium(PHONE, profile=self.folder / "phone")
        if clock_ahead:
            moved = f"(() => {{ const D = Date, by = {clock_ahead}; Date = class extends D {{ constructor(...a) {{ if (a.length) super(...a); else super(D.now() + by); }} static now() {{ return D.now() + by; }} }}; }})()"
            browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": moved})
        return Screen(browser)

    def pair(self) -> None:
        pair(self.phone, f"{self.server.address}/", self.code())
        self.ready()

    def code(self) -> str:
        return pairing_code(self.store, 1, "Ilse Varn")

    def ready(self) -> None:
        self.phone.until(lambda: "network needs" not in self.text() and "Trying out" not in self.text(), "ready")
        self.phone.until(
            lambda: self.phone.browser.execute_script("return localStorage.getItem('skavo-engine-started-from')")
        )

    def text(self) -> str:
        return str(self.phone.browser.find_element(By.TAG_NAME, "body").text)

    def kill_phone(self, *, clock_ahead: int = 0) -> None:
        """The battery dies; what the browser could fetch again from its own caches is gone."""
        self.phone.browser.execute_cdp_cmd("Network.clearBrowserCache", {})
        kill(self.phone.browser)
        for cache in ("Cache", "Code Cache", "GPUCache"):
            shutil.rmtree(self.folder / "phone" / "Default" / cache, ignore_errors=True)
        self.phone = self.switch_on(clock_ahead)

    def today(self) -> None:
        self.phone.browser.get(f"{self.server.address}/field/")
        unlock(self.phone)

    def begin(self, place: str) -> None:
        self.phone.press("Start an interview")
        self.shows("Which well is it?")
        self.phone.type_into(".typed", place)

    def shows(self, words: str) -> None:
        self.phone.until(lambda: words in self.phone.find(".question-wording").text, words)

    def next(self) -> None:
        self.phone.click(".fill-foot .next")

    def finish(self, users: str) -> None:
        """From the second question to the packed interview."""
        self.shows("How many use it?")
        self.phone.type_into(".typed", users)
        self.next()
        self.shows("Anything else?")
        self.next()
        self.phone.press("Pack the interview")
        self.phone.sees("Waiting to be sent")

    def arrived(self) -> list[tuple[str, int]]:
        with self.store.reading() as session:
            rows = session.query(Interview).order_by(Interview.number).all()
            return [(i.laid_out["interviews"][0]["values"]["id_place"], i.laid_out["interviews"][0]["values"]["id_users"]) for i in rows]  # fmt: skip

    def releases(self) -> list[int]:
        """The number of the release that each interview was made with."""
        with self.store.reading() as session:
            rows = session.query(Release.number).join(Interview, Interview.release_id == Release.id)
            return [number for (number,) in rows.order_by(Interview.number)]

    def end(self) -> None:
        self.phone.browser.quit()
        self.server.kill()


@pytest.fixture
def field(tmp_path: Path) -> Iterator[Field]:
    made = Field(tmp_path)
    made.pair()
    yield made
    made.end()


def kept(field: Field) -> None:
    """The screen that is shown is on the disk as well: nothing is written any more."""
    turns = """
      const done = arguments[0];
      const asked = indexedDB.open('skavo-field');
      asked.onsuccess = () => {
        const all = asked.result.transaction('interviews').objectStore('interviews').getAll();
        all.onsuccess = () => { done(all.result.map((row) => row.turn)); asked.result.close(); };
      };
    """

    def is_still() -> bool:
        before = field.phone.browser.execute_async_script(turns)
        time.sleep(0.5)
        return bool(before == field.phone.browser.execute_async_script(turns))

    field.phone.until(is_still, "kept")


def test_an_interview_goes_on_and_another_is_begun_without_server_and_caches(field: Field) -> None:
    field.begin("North well")
    field.next()
    field.shows("How many use it?")
    kept(field)
    field.server.kill()
    field.kill_phone()
    field.today()
    field.phone.press("North well")
    field.finish("12")
    field.begin("South well")
    field.next()
    field.shows("How many use it?")
    kept(field)
    field.kill_phone(clock_ahead=WEEKS)
    field.today()
    field.phone.press("South well")
    field.finish("7")
    assert [e for e in errors_in(field.phone.browser) if "ERR_CONNECTION_REFUSED" not in e] == []
    field.server.start()
    field.today()
    field.phone.until(lambda: "■ 0" in field.text(), "sent")
    assert field.arrived() == [("North well", 12), ("South well", 7)]


def test_killed_in_the_middle_of_a_word_at_most_that_word_is_gone(field: Field) -> None:
    field.begin("North well")
    field.next()
    field.shows("How many use it?")
    field.phone.type_into(".typed", "12")
    field.next()
    field.shows("Anything else?")
    field.phone.type_into(".typed", WORDS)
    # At once: nobody waits until it is kept.
    field.kill_phone()
    field.today()
    field.phone.press("North well")
    field.shows("Anything else?")
    assert WORDS.startswith(str(field.phone.find(".typed").get_attribute("value")))
    for value, wording in (("12", "How many use it?"), ("North well", "Which well is it?")):
        field.phone.click(".fill-foot .back")
        field.shows(wording)
        assert field.phone.find(".typed").get_attribute("value") == value


def test_an_update_waits_for_its_moment_and_what_is_in_hand_goes_on_in_it(field: Field, tmp_path: Path) -> None:
    field.begin("North well")
    field.next()
    field.shows("How many use it?")
    kept(field)
    field.server.kill()
    field.server.pages = next_build(STATIC, tmp_path / "next")
    # The office has released a new wording meanwhile as well.
    newer = wells()
    newer.parts[0].wording["en"] = "What is the well called?"
    release_in(field.store, 1, newer, 2)
    field.server.start()
    registration = "return navigator.serviceWorker.getRegistration('/field/').then((r) => r.update()).then(() => true)"
    assert field.phone.browser.execute_script(registration)
    waiting = "return navigator.serviceWorker.getRegistration('/field/').then((r) => r.waiting !== null)"
    field.phone.until(lambda: field.phone.browser.execute_script(waiting), "the new build waits")
    # The open page keeps its own engine, though the server has none of its files any more.
    field.phone.type_into(".typed", "200")
    field.next()
    field.phone.sees("This cannot be right")
    field.phone.find(".typed").clear()
    field.phone.type_into(".typed", "20")
    field.phone.press("Leave")
    field.phone.sees("A newer Skavo is on this phone")
    field.phone.press("Change over now")
    field.phone.until(lambda: MARK in field.phone.browser.page_source, "the next build")
    unlock(field.phone)
    field.ready()
    field.server.kill()
    field.kill_phone()
    field.today()
    assert MARK in field.phone.browser.page_source
    field.phone.press("North well")
    field.shows("How many use it?")
    assert field.phone.find(".typed").get_attribute("value") == "20"
    field.next()
    field.shows("Anything else?")
    field.next()
    field.phone.press("Pack the interview")
    field.phone.sees("Waiting to be sent")
    field.server.start()
    field.today()
    field.phone.until(lambda: "■ 0" in field.text(), "sent")
    assert field.arrived() == [("North well", 20)]
    assert field.releases() == [1]
    field.phone.press("Start an interview")
    field.shows("What is the well called?")


def test_ready_goes_when_a_file_is_lost_and_comes_back_once_it_is_mended(field: Field) -> None:
    lose = """
      const names = await caches.keys();
      const cache = await caches.open(names.find((n) => n.includes('precache')));
      const keys = await cache.keys();
      await cache.delete(keys.find((k) => k.url.endsWith('python_stdlib.zip')));
      return keys.length;
    """
    assert field.phone.browser.execute_script(f"return (async () => {{ {lose} }})()") > 20
    field.server.kill()
    field.today()
    field.phone.sees("Still fetching what work without a network needs")
    field.server.start()
    field.ready()


def test_a_nearly_full_storage_says_so_and_loses_no_answer(field: Field) -> None:
    field.begin("North well")
    field.next()
    field.shows("How many use it?")
    kept(field)
    fill = """
      const broken = () => Promise.reject(new DOMException('full', 'QuotaExceededError'));
      window.realPut = IDBObjectStore.prototype.put;
      IDBObjectStore.prototype.put = function () { throw new DOMException('full', 'QuotaExceededError'); };
    """
    field.phone.browser.execute_script(fill)
    field.phone.type_into(".typed", "3")
    field.phone.sees("The phone’s storage is full")
    field.phone.type_into(".typed", "4")
    field.next()
    field.shows("Anything else?")
    field.phone.browser.execute_script("IDBObjectStore.prototype.put = window.realPut;")
    field.phone.until(lambda: "storage is full" not in field.text(), "kept again")
    field.kill_phone()
    field.today()
    field.phone.press("North well")
    field.shows("Anything else?")
    field.phone.click(".fill-foot .back")
    field.shows("How many use it?")
    assert field.phone.find(".typed").get_attribute("value") == "34"


def test_a_second_tab_on_the_same_interview_is_told_to_wait(field: Field) -> None:
    field.begin("North well")
    address = field.phone.browser.current_url
    first = field.phone.browser.current_window_handle
    field.phone.browser.switch_to.new_window("tab")
    field.phone.browser.get(address)
    unlock(field.phone)
    field.phone.sees("This interview is open in another tab.")
    second = field.phone.browser.current_window_handle
    field.phone.browser.switch_to.window(first)
    field.phone.press("Leave")
    field.phone.sees("Go on")
    field.phone.browser.switch_to.window(second)
    field.phone.press("Try again")
    field.shows("Which well is it?")


def test_a_clock_that_was_set_back_is_said(field: Field) -> None:
    field.begin("North well")
    field.next()
    kept(field)
    field.kill_phone(clock_ahead=-3 * 3_600_000)
    field.today()
    field.phone.sees("clock is 3 hours behind the office")
    field.phone.press("North well")
    field.phone.sees("Set the clock right before going on")


def test_a_browser_that_refuses_to_keep_anything_is_told_what_to_do(tmp_path: Path) -> None:
    server = Served(tmp_path / "store")
    server.start()
    phone = Screen(open_chromium(PHONE))
    refusing = "IDBFactory.prototype.open = () => { throw new DOMException('no', 'SecurityError'); };"
    phone.browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": refusing})
    phone.browser.get(f"{server.address}/field/")
    phone.sees("This browser does not let Skavo keep anything")
    phone.browser.quit()
    server.kill()
