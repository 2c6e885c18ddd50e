"""Paper questionnaires keyed without a mouse and faster than the engine answers, twice, and settled."""

from __future__ import annotations

import json
from collections.abc import Iterator

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys
from sqlalchemy import select

from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.script import Script
from skavo.demo.build import build_study
from skavo.demo.people import PASSWORD
from skavo.server import Server
from skavo.store.models import Release, Revision
from skavo.web.pages import STATIC
from tests.browser.chromium import DESK, errors_in, open_chromium
from tests.browser.screen import Screen
from tests.browser.test_views import violations
from tests.samples import code_list, part, script
from tests.workshop import workshop_script

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "office.html").exists(), reason="the pages are not built: make build"),
]


def paper_script() -> Script:
    return script(
        part(1, "section", "about", wording={"en": "About the workshop"}),
        part(2, "single answer", "ward", code_list="ward"),
        part(2, "yes/no", "works"),
        part(2, "multiple answer", "trades", code_list="trade", asked_when="works"),
        part(2, "date", "opened"),
        part(2, "photo", "front"),
        part(2, "whole number", "hands", must=["hands < 5"]),
        part(1, "roster", "helper", repeated="hands times", wording={"en": "Helpers"}),
        part(2, "text", "called"),
        lists=(code_list("ward", "harbour", "hill", "inland"), code_list("trade", "clocks", "boats", "shoes")),
    )


@pytest.fixture
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    made = Server(tmp_path_factory.mktemp("keying"), "127.0.0.1", 0, limits=False)
    build_study(made.store, workshop_script())
    compiled = compile_script(paper_script())
    assert compiled.release is not None, compiled.errors
    with made.store.session() as session:
        session.add(
            Release(
                questionnaire_id=1, number=2, hash=content_hash(compiled.release), compiled=compiled.release,
                script=paper_script().model_dump(mode="json"),
            )
        )  # fmt: skip
    made.start()
    yield made
    made.stop()


def sign_in(server: Server, login: str) -> Screen:
    screen = Screen(open_chromium(DESK))
    screen.browser.get(server.address)
    screen.type_into("input[autocomplete=username]", login)
    screen.type_into("input[type=password]", PASSWORD + Keys.ENTER)
    screen.find(".study-line")
    return screen


def typed(screen: Screen, *keys: str) -> None:
    """Everything at once, faster than anybody types."""
    ActionChains(screen.browser).send_keys(*keys).perform()


def test_a_paper_is_keyed_twice_by_keyboard_alone_and_its_difference_settled(server: Server) -> None:
    manager = sign_in(server, "dora")
    manager.browser.get(f"{server.address}studies/1/field/paper")
    manager.press("New batch")
    manager.type_into(".ant-modal #name", "North 1")
    manager.type_into(".ant-modal #received", "2")
    manager.click(".ant-modal-footer .ant-btn-primary")
    manager.press("North 1")
    manager.press("Key papers")
    manager.type_into(".take-paper input", "17" + Keys.TAB + "Ilse Varn" + Keys.TAB + "20112026" + Keys.ENTER)
    manager.find(".keying input")
    assert violations(manager) == []
    typed(manager, "2", "1", "1 3", Keys.ENTER, "14032019", Keys.ENTER, "9", Keys.ENTER, "7")
    manager.sees("This cannot be right")
    assert manager.browser.switch_to.active_element.get_attribute("data-key") == "hands"
    typed(manager, "2", Keys.ENTER, "Bo", Keys.ENTER, "Cy", Keys.ENTER)
    manager.sees("That was the last question")
    typed(manager, Keys.ENTER)
    manager.sees("Somebody else keys it again")

    keyer = sign_in(server, "kip")
    keyer.browser.get(f"{server.address}studies/1/field")
    keyer.press("North 1")
    keyer.press("Key papers")
    keyer.type_into(".take-paper input", "17")
    keyer.sees("Keyed by Dora Maine")
    typed(keyer, Keys.ENTER)
    keyer.find(".keying input")
    assert keyer.find(".keying input").get_attribute("value") == ""
    typed(keyer, "9")
    keyer.press("Go on later")
    keyer.type_into(".take-paper input", "17" + Keys.ENTER)
    keyer.find(".keying input")
    typed(keyer, "9", Keys.ENTER)
    keyer.sees("No such code")
    typed(keyer, "hill", Keys.ENTER, "1", "1 3", Keys.ENTER, "14 3 2019", Keys.ENTER, "2", Keys.ENTER)
    typed(keyer, "Bob", Keys.ENTER, "Cy", Keys.ENTER)
    keyer.sees("That was the last question")
    typed(keyer, Keys.ENTER)
    keyer.sees("It differs from the first keying in one answer")
    assert errors_in(keyer.browser) == []
    keyer.browser.quit()

    manager.browser.get(f"{server.address}studies/1/field/paper/1")
    manager.press("Settle")
    manager.sees("Bob")
    assert violations(manager) == []
    typed(manager, "3")
    manager.type_into(".settle input", "Bobbin" + Keys.ENTER)
    manager.sees("the paper has become an interview")
    with server.store.reading() as session:
        (raw,) = session.scalars(select(Revision.raw))
    assert json.loads(raw)["answers"] == {
        "ward": "hill", "works": True, "trades": ["clocks", "shoes"], "opened": "2019-03-14", "hands": 2,
        "helper/1/called": "Bobbin", "helper/2/called": "Cy",
    }  # fmt: skip
    manager.press("Close")
    manager.press("Batches")
    manager.sees("How often keyers are wrong")
    assert errors_in(manager.browser) == []
    manager.browser.quit()
