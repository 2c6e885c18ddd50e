"""A server with the demo's questionnaire, and the data manager signed in at the desk, one for each file of tests."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from selenium.webdriver.common.keys import Keys

from skavo.demo.build import add_desk_work, build_study, run_fleet
from skavo.demo.people import PASSWORD
from skavo.server import Server
from tests.browser.chromium import DESK, errors_in, open_chromium
from tests.browser.screen import Screen
from tests.workshop import workshop_script


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """The demo's people, questionnaire and release, without interviews."""
    served = Server(tmp_path_factory.mktemp("demo"), "127.0.0.1", 0, limits=False)
    build_study(served.store, workshop_script())
    served.start()
    yield served
    served.stop()


@pytest.fixture(scope="module")
def screen(demo: Server) -> Iterator[Screen]:
    """The desk's browser; a page that complained in its console fails the file."""
    opened = signed_in(demo, "dora")
    yield opened
    assert errors_in(opened.browser) == []
    opened.browser.quit()


@pytest.fixture(scope="module")
def whole_demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """The demo with its register and sample, without interviews."""
    served = Server(tmp_path_factory.mktemp("whole"), "127.0.0.1", 0, limits=False)
    build_study(served.store)
    served.start()
    yield served
    served.stop()


@pytest.fixture(scope="module")
def worked_demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """The demo with forty interviews, and what the desk did with them."""
    served = Server(tmp_path_factory.mktemp("worked"), "127.0.0.1", 0, limits=False)
    build_study(served.store)
    served.start()
    run_fleet(served.store, 1, served.address, interviews=40, say=lambda _: None)
    add_desk_work(served.store, 1)
    yield served
    served.stop()


@pytest.fixture(scope="module")
def worked_desk(worked_demo: Server) -> Iterator[Screen]:
    """The data manager's browser over it."""
    opened = signed_in(worked_demo, "dora")
    yield opened
    opened.browser.quit()


@pytest.fixture
def planner(whole_demo: Server) -> Iterator[Screen]:
    """The data manager's browser over it; a page that complained in its console fails the test."""
    opened = signed_in(whole_demo, "dora")
    yield opened
    assert errors_in(opened.browser) == []
    opened.browser.quit()


def signed_in(server: Server, login: str) -> Screen:
    opened = Screen(open_chromium(DESK))
    opened.browser.get(server.address)
    opened.type_into("input[autocomplete=username]", login)
    opened.type_into("input[type=password]", PASSWORD + Keys.ENTER)
    opened.find(".study-line")
    return opened
