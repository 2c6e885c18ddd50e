"""The stand-in for a mail server, and the letters that go through it."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from skavo.demo.build import build_study
from skavo.jobs.mail import Mail
from skavo.server import Server
from skavo.standins.mailbox import Mailbox
from tests.web.conftest import Desk
from tests.workshop import workshop_script


@pytest.fixture
def mailbox() -> Iterator[Mailbox]:
    running = Mailbox()
    yield running
    running.stop()


def test_a_letter_arrives_as_it_was_sent(mailbox: Mailbox) -> None:
    assert Mail(mailbox.host, mailbox.port).send("ilse@crafts.example", "Grüße", "Liebe Ilse,\n\nfrom the isles.\n")
    letter = mailbox.letters[0]
    assert (letter.to, letter.subject) == ("ilse@crafts.example", "Grüße")
    assert letter.text.splitlines() == ["Liebe Ilse,", "", "from the isles."]


def test_a_server_that_is_not_there_takes_no_letter_and_stops_nobody() -> None:
    assert Mail("127.0.0.1", 9).send("ilse@crafts.example", "x", "y") is False
    assert Mail().send("ilse@crafts.example", "x", "y") is False


def test_an_invitation_by_letter_leads_in(tmp_path: Path) -> None:
    server = Server(tmp_path, "127.0.0.1", 0, limits=False, mailbox=Mailbox())
    build_study(server.store, workshop_script())
    dora = Desk(server.app.test_client()).sign_in("data_manager")
    new = {"name": "Runa Feld", "login": "runa", "email": "runa@crafts.example", "roles": ["analyst"]}
    people = dora.answer("POST", "/api/studies/1/people", new)["people"]
    member = next(p for p in people if p["name"] == "Runa Feld")
    made = dora.answer("POST", f"/api/studies/1/people/{member['id']}/invitation")
    assert made["mailed_to"] == "runa@crafts.example"
    for _ in range(50):
        letters = dora.answer("GET", "/api/server/letters")["letters"]
        if letters:
            break
        time.sleep(0.1)
    secret = letters[0]["text"].split("way-in#")[1].split()[0]
    guest = Desk(server.app.test_client())
    assert guest.answer("POST", "/api/way-in/link", {"secret": secret})["name"] == "Runa Feld"
    server.stop()


def test_where_no_stand_in_runs_there_are_no_letters_to_read(server: Server) -> None:
    dora = Desk(server.app.test_client()).sign_in("data_manager")
    assert dora.answer("GET", "/api/server/letters") == {"letters": None}
