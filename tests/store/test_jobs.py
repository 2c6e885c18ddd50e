"""Long work: its progress, its failures, its end before time."""

from __future__ import annotations

import errno
import os
import threading
import time
from datetime import timedelta
from pathlib import Path
from threading import Event
from typing import Any

import pytest
from sqlalchemy import func, select
from sqlalchemy.exc import OperationalError

from skavo.core.errors import DataError, SkavoError
from skavo.jobs.mail import Mail
from skavo.jobs.runner import MOST_TRIES, Jobs, Kind, Progress
from skavo.jobs.works import kinds_of
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.files import ARRIVING
from skavo.store.models import Job, OneTimeLink, PairingCode, Person, SignedInSession, Study, now


def jobs_of(store: Store, tmp_path: Path, work: Any) -> Jobs:
    with store.session() as session:
        session.add(Study(title="Sample"))
    return Jobs(store, DataSets(store.files), {"work": Kind(work), "behind": Kind(work, waits=False)})


def state_of(store: Store, job_id: int) -> Job:
    with store.reading() as session:
        return session.get_one(Job, job_id)


def test_a_job_tells_how_far_it_is_and_what_it_made(store: Store, tmp_path: Path) -> None:
    seen: list[tuple[float, str]] = []

    def work(store: Store, _sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
        progress.say(0.5, "Half of it")
        half = state_of(store, progress.job_id)
        seen.append((half.progress, half.saying))
        return {"made": order["what"]}

    jobs = jobs_of(store, tmp_path, work)
    job = jobs.order(1, "work", {"what": 3}, "Dora Maine")
    assert state_of(store, job).state == "waiting"
    jobs.run(job)
    done = state_of(store, job)
    assert seen == [(0.5, "Half of it")]
    assert (done.state, done.progress, done.result, done.ended_at is not None) == ("done", 1.0, {"made": 3}, True)


def test_a_job_is_seen_through_whoever_has_taken_it(store: Store, tmp_path: Path) -> None:
    """The threads of a server may be quicker than whoever ordered it."""
    go_on = threading.Event()

    def work(_store: Store, _sets: DataSets, order: dict[str, Any], _progress: Progress) -> dict[str, Any]:
        go_on.wait(30)
        if order["what"] == "fails":
            raise SkavoError("spoilt", "The file is spoilt.")
        return {}

    jobs = jobs_of(store, tmp_path, work)
    taken = jobs.order(1, "work", {"what": "done"}, "x")
    elsewhere = threading.Thread(target=jobs.run, args=(taken,))
    elsewhere.start()
    while state_of(store, taken).state == "waiting":
        pass
    threading.Timer(0.2, go_on.set).start()
    jobs.see_through(taken)
    assert state_of(store, taken).state == "done"
    elsewhere.join()
    with pytest.raises(SkavoError, match="The file is spoilt"):
        jobs.see_through(jobs.order(1, "work", {"what": "fails"}, "x"))


def test_a_job_that_is_cancelled_stops_at_its_next_word(store: Store, tmp_path: Path) -> None:
    reached: list[str] = []

    def work(store: Store, _sets: DataSets, _order: dict[str, Any], progress: Progress) -> dict[str, Any]:
        with store.session() as session:
            session.get_one(Job, progress.job_id).state = "cancelled"
        progress.say(0.2, "Going on")
        reached.append("the end")
        return {}

    jobs = jobs_of(store, tmp_path, work)
    job = jobs.order(1, "work", {}, "Dora Maine")
    jobs.run(job)
    assert (state_of(store, job).state, reached) == ("cancelled", [])


def test_a_job_is_done_once_however_often_it_is_taken(store: Store, tmp_path: Path) -> None:
    done: list[int] = []

    def work(*_: Any) -> dict[str, Any]:
        done.append(1)
        return {}

    jobs = jobs_of(store, tmp_path, work)
    job = jobs.order(1, "work", {}, "Dora Maine")
    jobs.run(job)
    jobs.run(job)
    assert (done, state_of(store, job).state) == ([1], "done")


def test_a_job_cancelled_while_it_waits_is_never_begun(store: Store, tmp_path: Path) -> None:
    done: list[int] = []
    jobs = jobs_of(store, tmp_path, lambda *_: done.append(1))
    job = jobs.order(1, "work", {}, "Dora Maine")
    with store.session() as session:
        session.get_one(Job, job).state = "cancelled"
    jobs.run(job)
    assert (done, state_of(store, job).state) == ([], "cancelled")


def wait_until_idle(store: Store) -> None:
    for _ in range(600):
        with store.reading() as session:
            states = set(session.scalars(select(Job.state)))
        if not states & {"waiting", "running"}:
            return
        time.sleep(0.05)


def test_what_a_stopped_server_left_half_done_or_waiting_goes_on_at_the_next_start(
    store: Store, tmp_path: Path
) -> None:
    done: list[int] = []

    def work(_store: Store, _sets: DataSets, order: dict[str, Any], _progress: Progress) -> dict[str, Any]:
        done.append(order["what"])
        return {}

    jobs = jobs_of(store, tmp_path, work)
    with store.session() as session:
        for what, state in ((1, "running"), (2, "waiting"), (3, "done"), (4, "waiting")):
            session.add(Job(study_id=1, kind="work", order={"what": what}, state=state, created_by="x", tries=1))
    jobs.start()
    wait_until_idle(store)
    jobs.stop()
    assert done == [1, 2, 4]


def test_a_job_that_takes_the_server_down_is_not_begun_for_ever(store: Store, tmp_path: Path) -> None:
    jobs = jobs_of(store, tmp_path, lambda *_: {})
    with store.session() as session:
        session.add(Job(study_id=1, kind="work", order={}, state="running", created_by="x", tries=MOST_TRIES))
    jobs.start()
    wait_until_idle(store)
    jobs.stop()
    assert (state_of(store, 1).state, "stopped 3 times" in state_of(store, 1).problem) == ("failed", True)


def test_the_queue_outlives_a_job_that_ends_unforeseen(store: Store, tmp_path: Path) -> None:
    def work(_store: Store, _sets: DataSets, order: dict[str, Any], _progress: Progress) -> dict[str, Any]:
        if order["fails"]:
            raise OSError("no room")
        return {}

    jobs = jobs_of(store, tmp_path, work)
    ordered = [jobs.order(1, "work", {"fails": fails}, "x") for fails in (True, False)]
    jobs.start()
    wait_until_idle(store)
    jobs.stop()
    assert [state_of(store, job).state for job in ordered] == ["failed", "done"]


def test_a_job_says_why_it_failed(store: Store, tmp_path: Path) -> None:
    def work(*_: Any) -> dict[str, Any]:
        raise DataError("file_missing", "This file is no longer in the store.")

    jobs = jobs_of(store, tmp_path, work)
    job = jobs.order(1, "work", {}, "Dora Maine")
    jobs.run(job)
    failed = state_of(store, job)
    assert (failed.state, failed.problem) == ("failed", "This file is no longer in the store.")


def test_an_unforeseen_failure_is_written_down_without_its_details(store: Store, tmp_path: Path) -> None:
    def work(*_: Any) -> dict[str, Any]:
        raise ZeroDivisionError("an answer was 0")

    jobs = jobs_of(store, tmp_path, work)
    job = jobs.order(1, "work", {}, "Dora Maine")
    with pytest.raises(ZeroDivisionError):
        jobs.run(job)
    failed = state_of(store, job)
    assert failed.state == "failed" and "an answer" not in failed.problem


def test_ordered_jobs_are_worked_on_in_the_background(store: Store, tmp_path: Path) -> None:
    worked = Event()

    def work(*_: Any) -> dict[str, Any]:
        worked.set()
        return {}

    jobs = jobs_of(store, tmp_path, work)
    jobs.start()
    try:
        jobs.order(1, "work", {}, "Dora Maine")
        assert worked.wait(30)
    finally:
        jobs.stop()


def test_somebody_who_waits_does_not_wait_for_what_goes_on_in_the_background(store: Store, tmp_path: Path) -> None:
    begun, go_on = Event(), Event()

    def work(_store: Store, _sets: DataSets, order: dict[str, Any], _progress: Progress) -> dict[str, Any]:
        if order["long"]:
            begun.set()
            assert go_on.wait(60)
        return {}

    jobs = jobs_of(store, tmp_path, work)
    long = jobs.order(1, "behind", {"long": True}, "Skavo")
    jobs.start()
    try:
        assert begun.wait(60)
        short = jobs.order(1, "work", {"long": False}, "Dora Maine")
        for _ in range(1200):
            if state_of(store, short).state == "done":
                break
            time.sleep(0.05)
        assert (state_of(store, short).state, state_of(store, long).state) == ("done", "running")
    finally:
        go_on.set()
        jobs.stop()


def test_a_job_waits_for_its_time(store: Store, tmp_path: Path) -> None:
    jobs = jobs_of(store, tmp_path, lambda *_: {})
    later = jobs.order(1, "work", {}, "x", not_before=now() + timedelta(hours=1))
    due = jobs.order(1, "work", {}, "x", not_before=now() - timedelta(hours=1))
    jobs.start()
    for _ in range(1200):
        if state_of(store, due).state == "done":
            break
        time.sleep(0.05)
    jobs.stop()
    assert (state_of(store, due).state, state_of(store, later).state) == ("done", "waiting")


@pytest.mark.parametrize(
    ("trouble", "words"),
    [
        (OSError(errno.ENOSPC, "no room"), "disk is full"),
        (OperationalError("x", {}, Exception("locked")), "database was busy"),
    ],
)
def test_what_may_pass_is_tried_again_in_a_while_and_not_for_ever(
    store: Store, tmp_path: Path, trouble: Exception, words: str
) -> None:
    def work(*_: Any) -> dict[str, Any]:
        raise trouble

    jobs = jobs_of(store, tmp_path, work)
    job = jobs.order(1, "work", {}, "Dora Maine")
    waits = []
    for _ in range(MOST_TRIES - 1):
        before = now()
        jobs.run(job)
        found = state_of(store, job)
        assert found.state == "waiting" and words in found.saying and found.not_before is not None
        waits.append(round((found.not_before - before).total_seconds() / 60))
    with pytest.raises(type(trouble)):
        jobs.run(job)
    assert waits == [1, 4]
    failed = state_of(store, job)
    assert failed.state == "failed" and words in failed.problem


def test_what_comes_round_by_itself_is_ordered_once_and_again_when_it_has_ended(store: Store, tmp_path: Path) -> None:
    jobs = Jobs(store, DataSets(store.files), {"daily": Kind(lambda *_: {}, waits=False, every=timedelta(days=1))})
    for _ in range(2):
        jobs.start()
        for _ in range(1200):
            with store.reading() as session:
                if session.scalar(select(Job.id).where(Job.state == "done")):
                    break
            time.sleep(0.05)
        jobs.stop()
    with store.reading() as session:
        done, next_one = session.scalars(select(Job).order_by(Job.id))
    assert (done.state, next_one.state, next_one.study_id) == ("done", "waiting", None)
    assert timedelta(hours=23) < next_one.not_before - done.created_at < timedelta(hours=25)


def test_tidying_puts_away_what_has_ended_long_ago_and_nothing_else(store: Store, tmp_path: Path) -> None:
    old, recent = now() - timedelta(days=100), now() - timedelta(days=10)
    with store.session() as session:
        session.add(Study(title="Sample"))
        person = Person(name="Dora Maine")
        session.add(person)
        session.flush()
        for at in (old, recent):
            session.add(OneTimeLink(person_id=person.id, kind="invitation", secret_hash=f"l{at}", expires_at=at))
            session.add(PairingCode(study_id=1, code_hash=f"c{at}", enumerator="x", expires_at=at))
            session.add(SignedInSession(person_id=person.id, secret_hash=f"e{at}", ended_at=at))
            session.add(SignedInSession(person_id=person.id, secret_hash=f"u{at}", used_at=at))
    arriving = store.files / ARRIVING
    arriving.mkdir(parents=True)
    for name, days in (("old", 130), ("recent", 50)):
        (arriving / name).write_bytes(b"half")
        os.utime(arriving / name, (time.time() - days * 86400,) * 2)
    jobs = Jobs(store, DataSets(store.files), kinds_of(Mail))
    job = jobs.order(None, "tidying", {}, "Skavo")
    jobs.run(job)
    assert state_of(store, job).result == {"links": 1, "pairing_codes": 1, "sessions": 2, "half_files": 1}
    assert [half.name for half in arriving.iterdir()] == ["recent"]
    with store.reading() as session:
        left = [
            session.scalar(select(func.count()).select_from(m)) for m in (OneTimeLink, PairingCode, SignedInSession)
        ]
    assert left == [1, 1, 2]
