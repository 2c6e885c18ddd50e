"""What comes to the demo study besides phones: links, whom one was sent to, and a batch of papers half keyed."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import polars as pl
from sqlalchemy import select

from skavo.core.permissions import granted
from skavo.demo.people import STAFF
from skavo.demo.questionnaire import questionnaire_of
from skavo.jobs.runner import Jobs
from skavo.services.addressees import bring_in_addressees
from skavo.services.batches import BatchIn, make_batch
from skavo.services.desk import Desk
from skavo.services.keying import FormIn, KeyingContent, KeyingIn, keep_keying, take_form
from skavo.services.links import LinkIn, make_link
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.models import Person, now

_OWNERS = [
    ("Bram Osk", "en"), ("Lise Varo", "fr"), ("Tolly Wick", "en"), ("Marit Sund", "en"), ("Yann Corel", "fr"),
    ("Dessa Plum", "en"),
]  # fmt: skip
_ADDRESS = "http://127.0.0.1/"
# Papers of workshops where nobody was met: number, enumerator, what the first keyer typed, and the second one, if any.
_PAPERS: list[tuple[str, str, dict[str, Any], dict[str, Any] | None]] = [
    ("T-101", "Brann Ode", {"visit": 1, "outcome": "absent"}, {"visit": 2, "outcome": "absent"}),
    ("T-102", "Brann Ode", {"visit": 2, "outcome": "later"}, None),
    ("T-103", "Joss Arrel", {"visit": 1, "outcome": "closed"}, None),
]


def add_links_and_papers(store: Store, study_id: int) -> None:
    """An open link, a personal one with addressees, and a batch of papers: one to settle, two for a second keyer."""
    with store.reading() as session:
        asked = questionnaire_of(session, study_id).id
    manager = _desk(store, "dora")
    make_link(
        manager, study_id, LinkIn(title="Notice at the licence office", questionnaire_id=asked, entry="open", most=200),
        _ADDRESS,
    )  # fmt: skip
    closes = (now() + timedelta(days=21)).replace(hour=20, minute=0, second=0, microsecond=0)
    letters = make_link(
        manager, study_id, LinkIn(title="Owners by letter", questionnaire_id=asked, entry="personal", closes_at=closes),
        _ADDRESS,
    )  # fmt: skip
    names = [name for name, _ in _OWNERS]
    emails = [f"{name.split()[0].lower()}@workshops.example" for name in names]
    frame = pl.DataFrame({"name": names, "e-mail": emails, "language": [language for _, language in _OWNERS]})
    bring_in_addressees(manager, letters.id, frame)
    _key_papers(store, study_id, asked)


def _key_papers(store: Store, study_id: int, asked: int) -> None:
    wanted = BatchIn(name="Tarrow 1", received=24, questionnaire_id=asked, language="en")
    batch = make_batch(_desk(store, "dora"), study_id, wanted)
    for number, enumerator, first, second in _PAPERS:
        paper = FormIn(number=number, enumerator=enumerator, held_on=date.today() - timedelta(days=6))
        for login, answers in (("kip", first), ("sela", second)):
            if answers is not None:
                desk = _desk(store, login)
                taken = take_form(desk, batch.id, paper)
                content = KeyingContent(answers=answers)
                keep_keying(desk, taken.form_id, KeyingIn(turn=taken.turn, content=content, seconds=95, ended=True))


def _desk(store: Store, login: str) -> Desk:
    """The desk of one of the staff."""
    with store.reading() as session:
        person = session.scalars(select(Person).where(Person.login == login)).one()
    _, name, role = next(one for one in STAFF if one[0] == login)

    sets = DataSets(store.files)
    return Desk(store, sets, Jobs(store, sets, {}), name, person.id, granted([role]))
