"""Simulated phones in the field: a fleet for any study, and the demo's own phones that go on handing in."""

from __future__ import annotations

import logging
import random
import threading
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy import select

from skavo.core.errors import DataError
from skavo.demo.build import TITLE, ZONE, one_interview, pairing_code
from skavo.demo.people import ENUMERATORS
from skavo.standins.fleet import Fieldwork, HandedIn, go_out
from skavo.standins.phone import Phone
from skavo.store.database import Store
from skavo.store.interview_document import zone_named
from skavo.store.links import newest_release
from skavo.store.models import Interview, Membership, Questionnaire, Study, now

log = logging.getLogger("skavo.fleet")
_EVERY_SECONDS = 20.0


def send_out(
    store: Store, study_id: int, address: str, *, phones: int, days: int, a_day: int, seed: int,
    last: datetime | None = None, say: Callable[[str], None] = print,
) -> HandedIn:  # fmt: skip
    """Pair `phones` phones with a study and let each do its days; its enumerators share them out between them.

    `last` is a moment of the last day; today where it is None.
    """
    with store.reading() as session:
        study = session.get(Study, study_id)
        if study is None:
            raise DataError("not_found", f"There is no study {study_id} in this folder.")
        asked = session.scalars(
            select(Questionnaire.id).where(Questionnaire.study_id == study_id, Questionnaire.describes == "interviews")
        )
        if not any(newest_release(session, questionnaire) for questionnaire in asked):
            raise DataError("no_release", f"Nothing is released in “{study.title}”: there is nothing to ask.")
        last = (last or now()).astimezone(zone_named(study.time_zone))
        known = (Membership.study_id == study_id, Membership.left_at.is_(None))
        names = [m.name for m in session.scalars(select(Membership).where(*known)) if "enumerator" in m.roles]
    say(f"Pairing {phones} phones with “{study.title}” …")
    carriers = [names[n % len(names)] if names else f"Enumerator {n + 1}" for n in range(phones)]
    paired = [
        Phone(address, pairing_code(store, study_id, name), f"fleet {n:03d}")
        for n, name in enumerate(carriers, start=1)
    ]
    return go_out(paired, Fieldwork(days, a_day, last, seed), say)


def go_live(store: Store, address: str, every_seconds: float = _EVERY_SECONDS) -> Callable[[], None]:
    """Let the demo's phones hand in one interview after the other in the background; call what is returned to end that."""
    with store.reading() as session:
        study_id = session.scalars(select(Study.id).where(Study.title == TITLE)).one()
    ending = threading.Event()
    thread = threading.Thread(target=_live, args=(store, study_id, address, every_seconds, ending), daemon=True)
    thread.start()

    def end() -> None:
        ending.set()
        thread.join()

    return end


def _live(store: Store, study_id: int, address: str, every_seconds: float, ending: threading.Event) -> None:
    phones = [(e, Phone(address, pairing_code(store, study_id, e.name), f"{e.device} live")) for e in ENUMERATORS]
    while not ending.is_set():
        with store.reading() as session:
            numbers = select(Interview.number).where(Interview.study_id == study_id).order_by(Interview.number.desc())
            number = session.scalars(numbers.limit(1)).first() or 0
        enumerator, phone = phones[number % len(phones)]
        first_day = now().astimezone(ZoneInfo(ZONE)) - timedelta(days=number // len(phones) * 12 // 20, hours=9)
        try:
            visit = _next_visit(phone)
            plate, door = ("", None) if visit is None else (visit["key"], visit["place"])
            rng = random.Random(f"live {number}")
            _visit_live(phone, visit, one_interview(rng, enumerator, phone, number, first_day, plate, door))
            phone.tell()
        except OSError:
            log.warning("a simulated phone could not hand in; it tries again")
        ending.wait(every_seconds)


def _next_visit(phone: Phone) -> dict[str, Any] | None:
    """The first visit of a phone's person at which nobody was asked yet."""
    held = phone.visits()
    ending = {one["code"] for one in held["outcomes"] if one["ends"]}
    return next((v for v in held["visits"] if not ending & {a["outcome"] for a in v["attempts"]}), None)


def _visit_live(phone: Phone, visit: dict[str, Any] | None, document: dict[str, Any]) -> None:
    """Hand in an interview on a visit, and tell that it was made."""
    if visit is not None:
        document |= {"visit": visit["visit"], "known": visit["known"]}
    phone.hand_in(document)
    if visit is not None:
        phone.attempt(
            visit["visit"], "completed", now(), rng=random.Random(document["uuid"]), interview=document["uuid"]
        )
