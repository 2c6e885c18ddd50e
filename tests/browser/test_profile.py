"""What the desk has set for a team is what its phones do, from their next contact on."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.fieldwork.profile import FieldProfile
from skavo.store.models import Interview, Questionnaire, Revision
from skavo.store.phones import ordinary_profile
from skavo.web.pages import STATIC
from tests.browser.pairing import choose_pin
from tests.browser.test_without_network import Field

pytestmark = [
    pytest.mark.browser,
    pytest.mark.skipif(not (STATIC / "field.html").exists(), reason="the pages are not built: make build"),
]


@pytest.fixture
def field(tmp_path: Path) -> Iterator[Field]:
    made = Field(tmp_path)
    yield made
    made.end()


def set_profile(field: Field, **settings: Any) -> None:
    with field.store.session() as session:
        ordinary_profile(session, 1).settings = FieldProfile(**settings).model_dump()


def test_a_section_stands_on_one_page_and_what_is_sent_by_hand_waits_for_it(field: Field) -> None:
    set_profile(
        field,
        page="section",
        sends="by hand",
        practice=False,
        keeps="all",
        help_name="Sela Brack",
        help_phone="555 0100",
    )
    field.pair()
    phone = field.phone
    phone.press("Start an interview")
    phone.until(lambda: phone.count(".question-wording") == 3, "all three questions")
    phone.click(".fill-head button")
    phone.find(".find input")
    phone.browser.back()
    phone.until(lambda: phone.count(".question-wording") == 3, "back at the questions, still in the interview")

    def typed(number: int, text: str) -> None:
        phone.find(".typed", number).send_keys(text)

    typed(0, "North well")
    typed(1, "200")
    field.next()
    phone.sees("This cannot be right")
    phone.find(".typed", 1).clear()
    typed(1, "20")
    typed(2, "Deep")
    phone.until(lambda: phone.count(".note") == 0, "in order")
    phone.press("Remark …")
    phone.find(".remark textarea").send_keys("The chain is new")
    phone.click(".question-wording")
    time.sleep(0.5)
    field.next()
    phone.press("Pack the interview")
    phone.sees("Packed interviews are sent by hand.")
    assert field.arrived() == []
    phone.press("Interviews")
    phone.press("Send 1 now")
    phone.until(lambda: field.arrived() == [("North well", 20)], "sent by hand")
    phone.click("a.line[href$=read]")
    phone.sees("The chain is new")
    phone.sees("Deep")
    phone.click(".fill-head button")
    phone.press("Me")
    phone.sees("Sela Brack")
    with field.store.reading() as session:
        raw = session.scalars(select(Revision.raw)).one()
    assert list(json.loads(raw)["remarks"].values()) == ["The chain is new"]


def test_a_pin_that_is_asked_for_later_seals_what_was_kept_without_one(field: Field) -> None:
    set_profile(field, pin=False)
    code = field.code()
    field.phone.browser.get(f"{field.server.address}/field/#pair={code}")
    field.phone.type_into("input[name=device]", "phone 01")
    field.phone.press("Pair")
    field.phone.find(".frame-action .wide-button")
    field.begin("North well")
    field.next()
    field.phone.press("Leave")
    set_profile(field, pin=True)
    field.phone.press("Me")
    field.phone.press("Send and fetch now")
    choose_pin(field.phone)
    field.phone.press("Today")
    field.phone.press("North well")
    field.shows("How many use it?")
    generations = """
      const done = arguments[0];
      const asked = indexedDB.open('skavo-field');
      asked.onsuccess = () => {
        const all = asked.result.transaction('vault').objectStore('vault').getAllKeys();
        all.onsuccess = () => { done(all.result); };
      };
    """
    assert field.phone.browser.execute_async_script(generations) == [2]


def test_an_exercise_says_afterwards_what_was_entered_otherwise_and_counts_nowhere(field: Field) -> None:
    exercise = {
        "name": "A deep well", "by": "Dora Maine", "earlier": {}, "visits": [], "outcome": {}, "language": "en",
        "answers": {"place": "North well", "users": 30}, "now": "2027-03-01T09:00:00+00:00",
        "started": "2027-03-01T09:00:00+00:00",
    }  # fmt: skip
    with field.store.session() as session:
        session.scalars(select(Questionnaire)).one().tests = [exercise]
    field.pair()
    phone = field.phone
    phone.click(".more-button")
    phone.press("Exercise: A deep well")
    phone.sees("A deep well")
    phone.find(".typed").send_keys("North well")
    field.next()
    field.shows("How many use it?")
    phone.find(".typed").send_keys("20")
    field.next()
    time.sleep(0.5)
    field.next()
    phone.press("Pack the interview")
    phone.sees("Entered otherwise than meant: 1")
    assert "20" in phone.find(".practised dl").text and "30" in phone.find(".practised dl").text
    phone.press("Today")
    phone.until(lambda: len(field.arrived()) == 1, "handed in")
    with field.store.reading() as session:
        assert session.scalars(select(Interview)).one().exercise == {"name": "A deep well", "differences": 1}
