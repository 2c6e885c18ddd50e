"""The script sheet with 1,000 questions in headless Chromium: opening it, and letters typed with each pane beside it."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from benchmarks.questionnaire import large_script
from benchmarks.result import Result
from skavo.core.questionnaire.script import write_script
from skavo.server import Server
from skavo.store.models import Membership, Person, Questionnaire, Study
from skavo.web.passphrases import hash_passphrase
from tests.browser.chromium import DESK, open_chromium
from tests.browser.screen import Screen

LETTERS = 60
PANES = ["details", "phone", "flow", "findings", "rehearsal"]
_PASSPHRASE = "wells under the tarn"
# From the key until what it changed has been drawn.
_WATCH = """
window.keys = [];
document.addEventListener('keydown', (event) => {
  const began = event.timeStamp;
  requestAnimationFrame(() => setTimeout(() => window.keys.push(performance.now() - began)));
}, true);
"""
_OPENED = """
const done = arguments[0];
const look = () => document.querySelectorAll('.line').length > 10 ? done(performance.now()) : requestAnimationFrame(look);
look();
"""


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), "127.0.0.1", 0, limits=False)
        with server.store.session() as session:
            person = Person(
                login="dora", name="Dora", is_administrator=True, password_hash=hash_passphrase(_PASSPHRASE)
            )
            study = Study(title="Large")
            session.add_all([person, study])
            session.flush()
            session.add(Membership(study_id=study.id, person_id=person.id, name="Dora", roles=["data_manager"]))
            session.add(Questionnaire(study_id=study.id, title="Large", script=write_script(large_script(1000))))
        server.start()
        browser = open_chromium(DESK)
        screen = Screen(browser)
        browser.get(server.address)
        screen.type_into("input[autocomplete=username]", "dora")
        screen.type_into("input[type=password]", _PASSPHRASE + Keys.ENTER)
        screen.until(lambda: screen.count("input[type=password]") == 0)
        address = f"{server.address}studies/1/questionnaire?questionnaire=1"
        browser.get(address)
        screen.find(".line")
        opened = []
        for _ in range(5):
            browser.get(address)
            opened.append(browser.execute_async_script(_OPENED))
        yield Result("opening a script of 1,000 questions", sorted(opened)[2], 1000, "median of five", "ms")
        for pane in PANES:
            browser.get(f"{address}&pane={pane}")
            screen.find(".line")
            browser.execute_script(_WATCH)
            screen.click(".line [data-column='wording.en']", 5)
            # The pane has what it shows of the line before the first letter.
            time.sleep(3)
            for _ in range(LETTERS):
                ActionChains(browser, duration=0).send_keys("a").perform()
                time.sleep(0.03)
            times = sorted(browser.execute_script("return window.keys"))
            slow = times[int(0.95 * len(times))]
            yield Result(
                f"a key in a wording of it, until drawn, beside the pane {pane}", slow, 50, "95th percentile", "ms"
            )
        browser.quit()
        server.stop()
