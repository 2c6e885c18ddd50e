"""Takes the pictures in docs/screenshots, from the demo study: python -m tests.browser.pictures [NAME …]."""

from __future__ import annotations

import json
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from sqlalchemy import select

from skavo.demo.build import add_desk_work, build_study, pairing_code, run_fleet
from skavo.demo.people import PASSWORD
from skavo.server import Server
from skavo.standins.phone import Phone
from skavo.store.models import Interview, Revision
from tests.browser.chromium import DESK, PHONE, cut_network, open_chromium
from tests.browser.pairing import pair
from tests.browser.screen import Screen

FOLDER = Path(__file__).resolve().parents[2] / "docs" / "screenshots"
SETTLE_SECONDS = 1.2


def main(names: list[str]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), "127.0.0.1", 0, limits=False)
        build_study(server.store)
        server.start()
        run_fleet(server.store, 1, server.address)
        add_desk_work(server.store, 1)
        correct_again(server)
        take = Pictures(server, names)
        take.desk()
        take.phone()
        server.stop()


def rehearse(screen: Screen) -> None:
    screen.click(".order-line .ant-btn-primary")
    screen.sees("Minutes by section")
    screen.press("Prove")
    screen.sees("questions can be reached")


def unfold(screen: Screen) -> None:
    """The tree down to a bench, with a workshop that has a yard in hand."""
    screen.type_into(".register-look input[type=search]", "KE1X_298959")
    screen.until(lambda: screen.count(".unit-line[aria-level='3']") == 1, "found")
    screen.click(".unit-line[aria-level='3']")
    screen.sees("What became of it")
    screen.press("Show all")
    screen.find(".unit-line.chosen[aria-expanded=false]")
    screen.click(".unit-line.chosen .twist")
    screen.find(".unit-line.chosen + .unit-line[aria-level='4']")


def nearer(screen: Screen) -> None:
    """One island of the map: what is gathered there comes apart when it is pressed."""
    ground = screen.find(".ground-map .leaflet-container")
    screen.until(lambda: screen.count(".map-marks") == 1, "drawn")
    ActionChains(screen.browser).move_to_element_with_offset(ground, 76, 9).click().perform()


def tried(screen: Screen) -> None:
    """A visit in hand that somebody has been to."""
    screen.click(".visit-table tbody tr:has(.visit-next:not(:empty)) .visit-name")
    screen.find(".attempts li")


def correct_again(server: Server) -> None:
    """An interview comes in again from another phone, after the desk has worked on it: it waits for a decision."""
    with server.store.reading() as session:
        interview = session.get_one(Interview, 21)
        raw = session.scalars(select(Revision.raw).where(Revision.interview_id == interview.id)).one()
    document = json.loads(raw)
    document["answers"] |= {"workers": 6, "opened": 1998}
    document["basis"] = interview.hash
    Phone(server.address, pairing_code(server.store, 1, interview.enumerator), "phone 11").hand_in(document)


class Pictures:
    def __init__(self, server: Server, names: list[str]) -> None:
        self.server = server
        self.names = names

    def shot(self, screen: Screen, name: str) -> None:
        if not self.names or name in self.names:
            time.sleep(SETTLE_SECONDS)
            screen.browser.save_screenshot(str(FOLDER / f"{name}.png"))

    def desk(self) -> None:
        screen = Screen(open_chromium(DESK))
        screen.browser.get(self.server.address)
        screen.type_into("input[autocomplete=username]", "dora")
        screen.type_into("input[type=password]", PASSWORD + Keys.ENTER)
        screen.find(".study-line")
        pages: dict[str, tuple[str, str, Callable[[], object] | None]] = {
            "logbook": ("", ".matter", None),
            "register": ("plan/registers", ".unit-line", lambda: unfold(screen)),
            "samples": ("plan/samples", ".strata tbody tr", None),
            "visits": ("plan/visits?area=Tarrow+Fen", ".visit-table tbody tr", lambda: tried(screen)),
            "map": ("plan/map?of=interviews&named=1&by=distance", ".ground-groups li", lambda: nearer(screen)),
            "script": ("questionnaire?part=w_paid&pane=rehearsal", ".order-line", lambda: rehearse(screen)),
            "people": ("people", ".ant-table-row", None),
            "field": ("field", ".listing tbody tr", None),
            "ledger": ("interviews?findings=should", ".ant-table-row", None),
            "checks": ("checks", ".ant-table-row", None),
            "clean": ("clean?variable=earnings", ".steps li", None),
            "combine": ("combine", ".join-figure", None),
            "analyse": ("analyse?table=1", ".figures", lambda: screen.click(".figure-cell", 3)),
        }
        for name, (address, ready, act) in pages.items():
            screen.browser.get(f"{self.server.address}studies/1/{address}")
            screen.find(ready)
            if act is not None:
                time.sleep(SETTLE_SECONDS)
                act()
            self.shot(screen, name)
        self.drawers(screen)
        screen.browser.get(f"{self.server.address}studies/1/interviews?findings=should")
        screen.click(".ant-table-row")
        screen.find(".reading-line")
        self.shot(screen, "reading")
        screen.browser.quit()

    def drawers(self, screen: Screen) -> None:
        """What opens over the script: the flow."""
        address = f"{self.server.address}studies/1/questionnaire?part=w_workers&pane=flow"
        screen.browser.get(address)
        screen.press("The whole questionnaire")
        screen.find(".flow-block")
        self.shot(screen, "flow")

    def phone(self) -> None:
        screen = Screen(open_chromium(PHONE))
        screen.browser.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["geolocation"]})
        here = {"latitude": -47.0195, "longitude": -122.3105, "accuracy": 9}
        screen.browser.execute_cdp_cmd("Emulation.setGeolocationOverride", here)
        code = pairing_code(self.server.store, 1, "Ilse Varn")
        pair(screen, self.server.address, code)
        screen.until(lambda: screen.count(".note") == 0, "ready")
        screen.find(".line .outcome-mark")
        screen.press("Map")
        screen.find(".map-next")
        self.shot(screen, "phone-map")
        screen.press("Today")
        cut_network(screen.browser, True)
        screen.press("Start an interview")
        for _ in ("visit", "arrived", "position"):
            self.next(screen)
        screen.press("Somebody in charge is here")
        for _ in ("outcome", "greeting", "noted"):
            self.next(screen)
        screen.press("Yes")
        for _ in ("consent", "signed"):
            self.next(screen)
        for words in ("Kesk", "Kesk Hill", "Lantern Row"):
            screen.press(words)
            self.next(screen)
        screen.type_into(".typed", "2004")
        self.next(screen)
        screen.type_into(".typed", "KE4X_201761")
        self.next(screen)
        self.shot(screen, "phone-check")
        screen.find(".typed").clear()
        screen.type_into(".typed", "KE4X_201716")
        for _ in ("unit_code", "plate"):
            self.next(screen)
        screen.press("No")
        for _ in ("licensed", "opens_at", "closes_at"):
            self.next(screen)
        for _ in ("yard", "delivers"):
            screen.press("No")
            self.next(screen)
        self.next(screen)
        for answer in ("4", "Anselm"):
            screen.type_into(".typed", answer)
            self.next(screen)
        screen.press("Skilled mender")
        self.shot(screen, "phone-question")
        screen.click(".fill-head button")
        screen.find(".line")
        screen.click(".fill-head button")
        screen.press("Leave")
        self.shot(screen, "phone-today")
        screen.browser.quit()

    def next(self, screen: Screen) -> None:
        time.sleep(0.4)
        screen.click(".fill-foot .next")
        time.sleep(0.4)


if __name__ == "__main__":
    FOLDER.mkdir(parents=True, exist_ok=True)
    main(sys.argv[1:])
