"""Killed (SIGKILL) at random moments: hand-ins, backups, restores and jobs lose nothing that was confirmed."""

from __future__ import annotations

import hashlib
import json
import os
import random
import shutil
import signal
import subprocess
import sys
import threading
import time
import uuid
from collections.abc import Callable
from http.client import HTTPException
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import func, select

from skavo.core.errors import DataError
from skavo.core.interview.formats import INTERVIEW
from skavo.demo.build import build_study, pairing_code
from skavo.standins.phone import Phone
from skavo.store.backup import half_of, restore_backup, write_backup
from skavo.store.database import Store, open_store
from skavo.store.files import keep_file
from skavo.store.models import Interview, Job, Revision
from tests.served import Served
from tests.workshop import workshop_script

# By hand more: SKAVO_HAND_INS=2000.
HAND_INS = int(os.environ.get("SKAVO_HAND_INS", "300"))
KILLS = HAND_INS // 100


def document(phone: Phone, number: int) -> dict[str, Any]:
    return {
        "format": INTERVIEW.newest, "uuid": str(uuid.uuid4()), "release": phone.identity, "release_hash": phone.hash,
        "answers": {"consent": True, "workers": number % 9, "remarks": "word " * (number % 50)},
        "paradata": {"started": "2026-11-14T09:00:00+01:00", "ended": "2026-11-14T09:20:30+01:00", "enumerator": "Ilse Varn"},
    }  # fmt: skip


def test_every_interview_with_a_receipt_is_there_exactly_once_byte_for_byte(tmp_path: Path) -> None:
    folder = tmp_path / "store"
    store = open_store(folder)
    build_study(store, workshop_script())
    code = pairing_code(store, 1, "Ilse Varn")
    served = Served(folder)
    served.start()
    phone = Phone(served.address, code, "phone 01")
    sent = {d["uuid"]: json.dumps(d).encode() for d in (document(phone, n) for n in range(HAND_INS))}
    waiting, receipts, lock = list(sent), dict[str, str](), threading.Lock()

    def hand_in() -> None:
        while True:
            with lock:
                if not waiting:
                    return
                identity = waiting.pop()
            try:
                answer = phone._call("PUT", f"/api/field/interviews/{identity}", sent[identity])
                with lock:
                    receipts[identity] = answer["hash"]
            except (OSError, HTTPException, ValueError):
                # Whatever a killed server leaves of its answer: nothing, half a head, half a body.
                with lock:
                    waiting.append(identity)
                time.sleep(0.05)

    threads = [threading.Thread(target=hand_in) for _ in range(4)]
    for thread in threads:
        thread.start()
    chance = random.Random(7)
    for _ in range(KILLS):
        time.sleep(chance.uniform(0.2, 1.0))
        served.kill()
        served.start()
    for thread in threads:
        thread.join()
    served.kill()
    with open_store(folder).reading() as session:
        kept = session.execute(select(Interview.uuid, Revision.hash, Revision.raw).join(Revision)).all()
        numbers = list(session.scalars(select(Interview.number).order_by(Interview.number)))
    assert len(receipts) == HAND_INS == len(kept) and numbers == list(range(1, HAND_INS + 1))
    for identity, digest, raw in kept:
        assert (raw, digest) == (sent[identity], receipts[identity])


@pytest.fixture
def full(tmp_path: Path) -> Store:
    """A store that takes a while to back up."""
    store = open_store(tmp_path / "full")
    build_study(store, workshop_script())
    chance = random.Random(3)
    for _ in range(12):
        keep_file(store.files, chance.randbytes(2_000_000))
    return store


def run(*arguments: str) -> subprocess.Popen[bytes]:
    code = f"import sys; from skavo.cli import main; sys.exit(main({list(arguments)!r}))"
    return subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def killed_at_random(chance: random.Random, seconds: float, *arguments: str) -> bool:
    """Run a command and kill it somewhere within `seconds`; say whether it was killed before its end."""
    process = run(*arguments)
    try:
        process.wait(chance.uniform(0.0, seconds))
    except subprocess.TimeoutExpired:
        process.send_signal(signal.SIGKILL)
    return process.wait() != 0


def killed_once(begun: Callable[[], bool], *arguments: str) -> bool:
    """Run a command and kill it as soon as its work has visibly `begun`; say whether it was killed before its end."""
    process = run(*arguments)
    while process.poll() is None and not begun():
        time.sleep(0.0005)
    process.send_signal(signal.SIGKILL)
    return process.wait() != 0


def took(*arguments: str) -> float:
    begun = time.monotonic()
    assert run(*arguments).wait() == 0
    return time.monotonic() - begun


def contents(folder: Path) -> dict[str, str]:
    return {
        str(p.relative_to(folder)): hashlib.sha256(p.read_bytes()).hexdigest()
        for p in (folder / "files").rglob("*")
        if p.is_file()
    }


def test_a_killed_backup_leaves_the_one_that_was_there(full: Store, tmp_path: Path) -> None:
    folder, target = full.files.parent, tmp_path / "b.zip"
    seconds = took("backup", str(target), "--folder", str(folder))
    before = target.read_bytes()
    chance = random.Random(1)
    killed = [
        killed_at_random(chance, seconds, "backup", str(target), "--folder", str(folder))
        for _ in range(5)
        if target.read_bytes() == before or restore_is_whole(target, tmp_path, folder)
    ]
    assert len(killed) == 5
    assert restore_is_whole(target, tmp_path, folder)


def restore_is_whole(target: Path, tmp_path: Path, folder: Path) -> bool:
    again = tmp_path / "again"
    shutil.rmtree(again, ignore_errors=True)
    restore_backup(target, again)
    return contents(again) == contents(folder)


def test_a_killed_restore_is_whole_or_not_there_and_goes_on(full: Store, tmp_path: Path) -> None:
    folder, target = full.files.parent, tmp_path / "b.zip"
    write_backup(folder, target)
    seconds = took("restore", str(target), "--folder", str(tmp_path / "timed"))
    chance = random.Random(2)
    broke_off = 0
    for number in range(20):
        again = tmp_path / f"again{number}"
        command = ("restore", str(target), "--folder", str(again))
        # Some at any time, then one in the middle of the work, however fast this machine is.
        if killed_at_random(chance, seconds, *command) if number < 5 else killed_once(half_of(again).exists, *command):
            if half_of(again).exists():
                broke_off += 1
                assert not again.exists()
                with pytest.raises(DataError, match="broke off"):
                    open_store(again)
            if not again.exists():
                restore_backup(target, again)
        assert contents(again) == contents(folder)
        assert not half_of(again).exists()
        with open_store(again).reading() as session:
            assert session.scalar(select(func.count(Job.id))) == 0
        if number >= 5 and broke_off:
            break
    assert broke_off


def test_what_waited_when_the_server_died_goes_on(tmp_path: Path) -> None:
    folder = tmp_path / "store"
    store = open_store(folder)
    build_study(store, workshop_script())
    options = {"format": "csv", "masked": True}
    served = Served(folder)
    served.start()
    chance = random.Random(5)
    ordered = 0
    for _ in range(3):
        with store.session() as session:
            for _ in range(2):
                order = {"questionnaire_id": 1, "options": options, "cleaned": True}
                session.add(Job(study_id=1, kind="extract", order=order, created_by="x"))
                ordered += 1
        time.sleep(chance.uniform(0.0, 0.6))
        served.kill()
        served.start()
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        with store.reading() as session:
            states = list(session.scalars(select(Job.state).where(Job.kind == "extract")))
        if set(states) == {"done"}:
            break
        time.sleep(0.1)
    served.kill()
    assert states == ["done"] * ordered
