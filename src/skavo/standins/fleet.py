"""A fleet of simulated phones: days of fieldwork in any study, made up by its own questionnaire and handed in over HTTP."""

from __future__ import annotations

import random
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from skavo.core.rehearsal.make_up import make_up
from skavo.core.rehearsal.reading import ReleaseReading
from skavo.standins.phone import Phone, Taken
from skavo.standins.recordings import bench_sound, front_photo, licence, signature

Say = Callable[[str], None]
_AT_ONCE = 8
_MOST_TRIES = 8
# So often a phone finds no network all day, and hands in with the next day's work.
_NO_NETWORK = 0.15
_TAKEN: dict[str, tuple[str, str, Callable[[random.Random], bytes]]] = {
    "photo": ("photo.jpg", "image/jpeg", front_photo),
    "signature": ("signature.png", "image/png", signature),
    "audio": ("sound.wav", "audio/wav", bench_sound),
    "file": ("licence.pdf", "application/pdf", lambda rng: licence("KE-0001", rng.randrange(1990, 2026))),
}


@dataclass(frozen=True)
class Fieldwork:
    """`a_day` interviews on each of `days` up to `last`, a moment on the last day, with an offset."""

    days: int
    a_day: int
    last: datetime
    seed: int = 1


@dataclass(frozen=True)
class HandedIn:
    """What the fleet has handed in; each interview has its receipt. `seconds` are of hand-ins, files included."""

    interviews: int
    days_without_network: int
    seconds: float


def go_out(phones: list[Phone], work: Fieldwork, say: Say = print) -> HandedIn:
    """Every phone does its days; a receipt that names other bytes than were sent is an error."""
    done: list[HandedIn] = []
    with ThreadPoolExecutor(_AT_ONCE) as pool:
        jobs = [pool.submit(_go_out, phone, work, random.Random(f"{work.seed} {n}")) for n, phone in enumerate(phones)]
        for number, job in enumerate(jobs, start=1):
            done.append(job.result())
            say(f"  {number} of {len(phones)} phones are back, {sum(d.interviews for d in done)} interviews handed in")
    return HandedIn(
        sum(d.interviews for d in done), sum(d.days_without_network for d in done), sum(d.seconds for d in done)
    )


def _go_out(phone: Phone, work: Fieldwork, rng: random.Random) -> HandedIn:
    reading = ReleaseReading(phone.release)
    packed: list[dict[str, Any]] = []
    count, without, seconds = 0, 0, 0.0
    for day in range(work.days):
        packed += _day(phone, reading, work, rng, day)
        if day + 1 < work.days and rng.random() < _NO_NETWORK:
            without += 1
            continue
        began = time.monotonic()
        for document in packed:
            phone.hand_in(document)
        seconds += time.monotonic() - began
        count += len(packed)
        packed = []
        phone.tell()
    return HandedIn(count, without, seconds)


def _day(
    phone: Phone, reading: ReleaseReading, work: Fieldwork, rng: random.Random, day: int
) -> Iterator[dict[str, Any]]:
    morning = work.last.replace(hour=8, minute=0) - timedelta(days=work.days - 1 - day)
    for number in range(work.a_day):
        started = morning + timedelta(minutes=number * 9 * 60 / work.a_day + rng.uniform(0, 20))
        yield made_up(phone, reading, rng, started)


def made_up(phone: Phone, reading: ReleaseReading, rng: random.Random, started: datetime) -> dict[str, Any]:
    """One interview that keeps every hard check where one can be made up so, with real files where files are asked."""
    outside = {"now": started, "interview.started": started, "enumerator.name": phone.enumerator}
    for _ in range(_MOST_TRIES):
        made = make_up(reading, rng, outside)
        if made.is_valid:
            break
    engine = made.engine
    for path, taken in list(_files(phone, engine.answers, rng)):
        engine.answer(path, None if taken is None else phone.keep(taken))
    minutes = max(4.0, rng.gauss(3 + 0.3 * len(engine.answers), 4))
    return phone.pack(engine, rng=rng, started=started, minutes=round(minutes, 1))


def _files(phone: Phone, answers: dict[str, Any], rng: random.Random) -> Iterator[tuple[str, Taken | None]]:
    """A file for each answer that names one; None where no such file can be made up."""
    for path, value in answers.items():
        kind = phone.kind_at(path)
        if isinstance(value, dict) and "file" in value:
            known = _TAKEN.get(kind)
            yield path, None if known is None else Taken(kind, known[0], known[1], known[2](rng))
