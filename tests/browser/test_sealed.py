"""What a phone keeps lies sealed on its disk: opened by the PIN, by the office for who forgot it, and wiped when ordered."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import select

from skavo.core.permissions import granted
from skavo.jobs.runner import Jobs
from skavo.services.desk import Desk
from skavo.services.rescue import let_in
from skavo.store.datasets import DataSets
from skavo.store.models import Device, Event, Interview, now
from skavo.web.pages import STATIC
from tests.browser.chromium import kill
from tests.browser.pairing import PIN, choose_pin, unlock
from tests.browser.test_without_network import Field, kept

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "field.html").exists(), reason="the pages are not built: make build"),
]

ANSWER = "Quillfeather well"


@pytest.fixture
def field(tmp_path: Path) -> Iterator[Field]:
    made = Field(tmp_path)
    made.pair()
    made.begin(ANSWER)
    made.next()
    made.shows("How many use it?")
    kept(made)
    yield made
    made.end()


def on_disk(profile: Path, text: str) -> list[str]:
    """The files of a browser's profile in which a text stands, in either of the two ways that browsers write texts."""
    wanted = [text.encode("utf-8"), text.encode("utf-16-le")]
    files = [path for path in profile.rglob("*") if path.is_file()]
    return [str(path.relative_to(profile)) for path in files if any(w in path.read_bytes() for w in wanted)]


def test_no_answer_can_be_read_from_the_browsers_profile(field: Field) -> None:
    kill(field.phone.browser)
    profile = field.folder / "phone"
    # What is not sealed is found by the same search.
    assert any("IndexedDB" in name for name in on_disk(profile, "Ilse Varn"))
    assert on_disk(profile, ANSWER) == []
    assert on_disk(profile, PIN) == []
    field.phone = field.switch_on()
    field.today()
    field.phone.press(ANSWER)
    field.shows("How many use it?")


def test_an_untouched_phone_locks_and_goes_on_where_it_was(field: Field) -> None:
    field.phone.type_into(".typed", "4")
    kept(field)
    field.phone.browser.execute_script("const real = Date.now; Date.now = () => real() + 6 * 60_000")
    field.phone.sees("This phone is locked")
    assert ANSWER not in field.phone.browser.page_source
    field.phone.find("input[name=pin]").send_keys("975310")
    field.phone.press("Unlock")
    field.phone.sees("This is not the PIN")
    unlock(field.phone)
    field.shows("How many use it?")
    assert field.phone.find(".typed").get_attribute("value") == "4"


def test_whoever_forgot_the_pin_is_let_in_by_the_office_and_nothing_is_lost(field: Field) -> None:
    field.kill_phone()
    field.phone.browser.get(f"{field.server.address}/field/")
    field.phone.press("Forgotten the PIN?")
    told = field.phone.find(".told").text
    with field.store.reading() as session:
        device = session.scalars(select(Device)).one()
    field.phone.until(lambda: asked(field), "the office has been asked")
    let_in(office(field), device.id, told)
    choose_pin(field.phone, "640291")
    field.kill_phone()
    field.phone.browser.get(f"{field.server.address}/field/")
    unlock(field.phone, "640291")
    field.phone.press(ANSWER)
    field.phone.type_into(".typed", "12")
    field.next()
    field.shows("Anything else?")
    field.next()
    field.phone.press("Pack the interview")
    field.phone.until(lambda: field.arrived() == [(ANSWER, 12)], "handed in")


def office(field: Field) -> Desk:
    sets = DataSets(field.store.files)
    return Desk(field.store, sets, Jobs(field.store, sets, {}), "Sela Brack", None, granted(["supervisor"]))


def asked(field: Field) -> bool:
    with field.store.reading() as session:
        return session.scalar(select(Event).where(Event.kind == "asked to be let in")) is not None


def test_a_phone_that_was_ordered_to_forgets_everything_at_its_next_contact(field: Field) -> None:
    with field.store.session() as session:
        session.scalars(select(Device)).one().wipe_at = now()
    field.phone.press("Leave")
    field.phone.press("Me")
    field.phone.press("Send and fetch now")
    field.phone.sees("The office has had this phone forget everything")
    databases = "const done = arguments[0]; indexedDB.databases().then((all) => { done(all.map((d) => d.name)); });"
    assert field.phone.browser.execute_async_script(databases) in ([], ["skavo-field"])
    count = """
      const done = arguments[0];
      const asked = indexedDB.open('skavo-field');
      asked.onsuccess = () => {
        const names = [...asked.result.objectStoreNames];
        if (names.length === 0) { done(0); return; }
        const all = asked.result.transaction('interviews').objectStore('interviews').count();
        all.onsuccess = () => { done(all.result); };
      };
    """
    assert field.phone.browser.execute_async_script(count) == 0
    with field.store.reading() as session:
        assert session.scalars(select(Device)).one().wiped_at is not None
        assert session.scalars(select(Interview)).all() == []
