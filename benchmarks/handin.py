"""Handing in over HTTP, four phones at once, against bare durable commits of the same bytes."""

from __future__ import annotations

import json
import multiprocessing
import socket
import sqlite3
import tempfile
import time
import uuid
from collections.abc import Iterator
from http.client import HTTPConnection
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from benchmarks.result import Result
from skavo.core.interview.formats import INTERVIEW
from skavo.core.questionnaire.script import Part, Script, ScriptCheck
from skavo.demo.build import pairing_code
from skavo.server import Server
from skavo.standins.phone import Phone
from skavo.store.models import Questionnaire, Study
from tests.store.study import release_in

PHONES, EACH, ANSWERS = 4, 60, 100


def script() -> Script:
    """ANSWERS whole numbers, each with a check."""
    checks = [ScriptCheck(rule=f"q{i} between 0 and 900") for i in range(ANSWERS)]
    parts = [
        Part(id=f"p{i}", kind="whole number", variable=f"q{i}", wording={"en": "Q"}, must_hold=[checks[i]])
        for i in range(ANSWERS)
    ]
    return Script(name="bench", languages=["en"], parts=parts)


def documents(phone: Phone) -> list[tuple[str, bytes]]:
    made: list[tuple[str, bytes]] = []
    for number in range(EACH):
        answers = {f"q{i}": (i + number) % 900 for i in range(ANSWERS)}
        identity = str(uuid.uuid4())
        document: dict[str, Any] = {
            "format": INTERVIEW.newest, "uuid": identity, "release": phone.identity, "release_hash": phone.hash,
            "answers": answers,
            "paradata": {"started": "2026-11-14T09:00:00+01:00", "ended": "2026-11-14T09:20:30+01:00"},
        }  # fmt: skip
        made.append((identity, json.dumps(document).encode()))
    return made


_barriers: list[Any] = []


def _meet(barrier: Any) -> None:
    _barriers.append(barrier)


def _hand_in(address: str, token: str, sent: list[tuple[str, bytes]]) -> tuple[float, float]:
    """One phone, over one connection, from the moment that all are ready; returns when it began and ended."""
    place = urlsplit(address)
    connection = HTTPConnection(place.hostname or "", place.port or 80)
    connection.connect()
    # As browsers do: head and body of a request are not held back for each other.
    connection.sock.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
    headers = {"Authorization": f"Bearer {token}", "Content-Type": "application/json"}
    _barriers[0].wait()
    begun = time.time()
    for identity, raw in sent:
        connection.request("PUT", f"/api/field/interviews/{identity}", raw, headers)
        answer = connection.getresponse()
        if answer.status != 200:
            raise RuntimeError(answer.read().decode())
        answer.read()
    return begun, time.time()


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder), "127.0.0.1", 0, limits=False)
        with server.store.session() as session:
            session.add(Study(title="Bench"))
            session.flush()
            session.add(Questionnaire(study_id=1, title="Bench", script={"name": "bench", "parts": []}))
        release_in(server.store, 1, script(), 1)
        server.start()
        phones = [Phone(server.address, pairing_code(server.store, 1, f"P{n}"), f"phone {n}") for n in range(PHONES)]
        work = [documents(phone) for phone in phones]
        # Phones are other machines: their work is not the server's.
        context = multiprocessing.get_context("spawn")
        with context.Pool(PHONES, _meet, [context.Barrier(PHONES)]) as machines:
            spans = machines.starmap(
                _hand_in, [(server.address, p.token, sent) for p, sent in zip(phones, work, strict=True)], 1
            )
        handed_in = PHONES * EACH / (max(end for _, end in spans) - min(begun for begun, _ in spans))
        server.stop()
        bare = _bare_commits(Path(folder) / "bare.db", [raw for sent in work for _, raw in sent])
    detail = f"{handed_in:.0f} a second against {bare:.0f} commits a second"
    yield Result("bare durable commits / hand-ins, each a second", bare / handed_in, 4.0, detail)


def _bare_commits(path: Path, raws: list[bytes]) -> float:
    """Single rows, each committed to the disk, a second."""
    with sqlite3.connect(path, isolation_level=None) as database:
        for setting in ("journal_mode=WAL", "synchronous=FULL"):
            database.execute(f"PRAGMA {setting}")
        database.execute("CREATE TABLE raw (id INTEGER PRIMARY KEY, content BLOB)")
        began = time.perf_counter()
        for raw in raws:
            database.execute("INSERT INTO raw (content) VALUES (?)", (raw,))
        return len(raws) / (time.perf_counter() - began)
