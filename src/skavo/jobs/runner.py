"""Runs jobs in the server's own process. The table of jobs is the queue: an order and its place in it are one transaction."""

from __future__ import annotations

import errno
import logging
import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy import or_, select
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from skavo.core.errors import SkavoError
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.models import Job, now

log = logging.getLogger("skavo")
# A job that takes the server down with it, or meets the same trouble again and again, is not begun for ever.
MOST_TRIES = 3
_LOOKS_EVERY_SECONDS = 1.0
_LOOKS_AGAIN_SECONDS = 0.05
_FIRST_WAIT = timedelta(minutes=1)
SERVER = "Skavo"


class Cancelled(Exception):
    """Raised inside a job whose owner no longer wants it."""


class Progress:
    """What a job uses to say how far it is; doing so is also where it learns that it was cancelled."""

    def __init__(self, store: Store, job_id: int) -> None:
        self.store = store
        self.job_id = job_id

    def say(self, fraction: float, words: str) -> None:
        with self.store.session() as session:
            job = session.get_one(Job, self.job_id)
            if job.state == "cancelled":
                raise Cancelled
            job.progress, job.saying = fraction, words


Work = Callable[[Store, DataSets, dict[str, Any], Progress], dict[str, Any]]


@dataclass(frozen=True)
class Kind:
    """A kind of job: what does it, whether somebody `waits` for it, and how often it comes round by itself.

    Jobs that somebody waits for and those in the background have a thread each, so that neither holds the other up.
    """

    work: Work
    waits: bool = True
    every: timedelta | None = None


class Jobs:
    """`kinds` names every kind of job there is; one that broke off is begun again."""

    def __init__(self, store: Store, data_sets: DataSets, kinds: Mapping[str, Kind]) -> None:
        self.store, self.data_sets, self.kinds = store, data_sets, kinds
        self._ordered = threading.Condition()
        self._ending = threading.Event()
        self._threads: list[threading.Thread] = []

    def order(
        self,
        study_id: int | None,
        kind: str,
        order: dict[str, Any],
        by: str,
        by_id: int | None = None,
        *,
        not_before: datetime | None = None,
    ) -> int:
        """Put a job into the queue and return its id; it is begun when it is its turn, and not before `not_before`."""
        with self.store.session() as session:
            job = Job(
                study_id=study_id, kind=kind, order=order, created_by=by, created_by_id=by_id, not_before=not_before
            )
            session.add(job)
            session.flush()
            job_id = job.id
        self._wake()
        return job_id

    def run(self, job_id: int) -> None:
        """Do one job now, if it is still waiting; what goes wrong is written down in the job."""
        taken = self._take(job_id)
        if taken is None:
            return
        kind, order, tries = taken
        try:
            result = self.kinds[kind].work(self.store, self.data_sets, order, Progress(self.store, job_id))
            self._end(job_id, "done", result=result)
        except Cancelled:
            self._end(job_id, "cancelled")
        except SkavoError as error:
            self._end(job_id, "failed", problem=error.message)
        except Exception as error:
            trouble = passing_trouble(error)
            if trouble and tries < MOST_TRIES:
                self._put_back(job_id, trouble, _FIRST_WAIT * 4 ** (tries - 1))
                return
            self._end(job_id, "failed", problem=trouble or f"Something went wrong ({type(error).__name__}). Try again.")
            raise

    def see_through(self, job_id: int) -> None:
        """Do one job now, or wait for whoever has taken it already; raise SkavoError where it failed."""
        self.run(job_id)
        while True:
            with self.store.reading() as session:
                job = session.get_one(Job, job_id)
                if job.state == "done":
                    return
                if job.state in ("failed", "cancelled"):
                    raise SkavoError("job_failed", job.problem or "It was cancelled.")
            time.sleep(_LOOKS_AGAIN_SECONDS)

    def _take(self, job_id: int) -> tuple[str, dict[str, Any], int] | None:
        """Taken once: neither a cancelled job nor one that is under way elsewhere is begun."""
        with self.store.session() as session:
            job = session.get_one(Job, job_id)
            if job.state != "waiting":
                return None
            job.state, job.tries = "running", job.tries + 1
            return job.kind, job.order, job.tries

    def _put_back(self, job_id: int, trouble: str, wait: timedelta) -> None:
        with self.store.session() as session:
            job = session.get_one(Job, job_id)
            if job.state == "running":
                job.state, job.progress, job.not_before = "waiting", 0.0, now() + wait
                job.saying = f"{trouble} It is tried again in {wait.seconds // 60} min."

    def _end(self, job_id: int, state: str, *, result: dict[str, Any] | None = None, problem: str = "") -> None:
        with self.store.session() as session:
            job = session.get_one(Job, job_id)
            job.state, job.result, job.problem, job.ended_at = state, result, problem, now()
            if state == "done":
                job.progress = 1.0
            every = self.kinds[job.kind].every
            if every is not None:
                session.add(_again(job.kind, now() + every))

    def start(self) -> None:
        """Begin working in threads of this process: first on what a stopped server left, begun or waiting."""
        with self.store.session() as session:
            for job in session.scalars(select(Job).where(Job.state == "running")):
                if job.tries < MOST_TRIES:
                    job.state, job.progress, job.saying = "waiting", 0.0, ""
                else:
                    job.state, job.ended_at = "failed", now()
                    job.problem = f"The server stopped {job.tries} times while this was under way. Order less of it."
            self._order_recurring(session)
        self._ending.clear()
        for waits, name in ((True, "jobs that somebody waits for"), (False, "jobs in the background")):
            kinds = [kind for kind, about in self.kinds.items() if about.waits is waits]
            self._threads.append(threading.Thread(target=self._work, args=(kinds,), name=name, daemon=True))
        for thread in self._threads:
            thread.start()

    def _order_recurring(self, session: Session) -> None:
        waiting = set(session.scalars(select(Job.kind).where(Job.state == "waiting")))
        for kind, about in self.kinds.items():
            if about.every is not None and kind not in waiting:
                session.add(_again(kind, now()))

    def stop(self) -> None:
        """End after the jobs under way."""
        self._ending.set()
        self._wake()
        for thread in self._threads:
            thread.join()
        self._threads.clear()

    def _wake(self) -> None:
        with self._ordered:
            self._ordered.notify_all()

    def _work(self, kinds: list[str]) -> None:
        while not self._ending.is_set():
            try:
                job_id = self._next(kinds)
                if job_id is not None:
                    self.run(job_id)
                    continue
            except Exception:
                # A full disk or a locked database passes; the queue has to outlive it.
                log.exception("a job ended unforeseen")
            with self._ordered:
                if not self._ending.is_set():
                    self._ordered.wait(_LOOKS_EVERY_SECONDS)

    def _next(self, kinds: list[str]) -> int | None:
        due = or_(Job.not_before.is_(None), Job.not_before <= now())
        waiting = select(Job.id).where(Job.state == "waiting", Job.kind.in_(kinds), due)
        with self.store.reading() as session:
            return session.scalar(waiting.order_by(Job.id).limit(1))


def _again(kind: str, not_before: datetime) -> Job:
    return Job(study_id=None, kind=kind, order={}, created_by=SERVER, not_before=not_before)


def passing_trouble(error: Exception) -> str:
    """What kept a job from being done that may be gone in a while, in words; "" where trying again would not help."""
    if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
        return "The server’s disk is full."
    if isinstance(error, OperationalError):
        return "The database was busy or its disk full."
    return ""
