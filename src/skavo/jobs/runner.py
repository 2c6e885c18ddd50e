"""Runs jobs in the server's own process. The table of jobs is the queue: an order and its place in it are one transaction."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from typing import Any

from sqlalchemy import select

from skavo.core.errors import SkavoError
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.models import Job, now

log = logging.getLogger("skavo")
# A job that takes the server down with it is not begun for ever.
MOST_TRIES = 3
_LOOKS_EVERY_SECONDS = 1.0


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


class Jobs:
    """`works` gives for each kind of job the function that does it; one that broke off is begun again."""

    def __init__(self, store: Store, data_sets: DataSets, works: dict[str, Work]) -> None:
        self.store, self.data_sets, self.works = store, data_sets, works
        self._ordered = threading.Event()
        self._ending = threading.Event()
        self._thread: threading.Thread | None = None

    def order(self, study_id: int, kind: str, order: dict[str, Any], by: str, by_id: int | None = None) -> int:
        """Put a job into the queue and return its id."""
        with self.store.session() as session:
            job = Job(study_id=study_id, kind=kind, order=order, created_by=by, created_by_id=by_id)
            session.add(job)
            session.flush()
            job_id = job.id
        self._ordered.set()
        return job_id

    def run(self, job_id: int) -> None:
        """Do one job now, if it is still waiting; what goes wrong is written down in the job."""
        taken = self._take(job_id)
        if taken is None:
            return
        kind, order = taken
        try:
            result = self.works[kind](self.store, self.data_sets, order, Progress(self.store, job_id))
            self._end(job_id, "done", result=result)
        except Cancelled:
            self._end(job_id, "cancelled")
        except SkavoError as error:
            self._end(job_id, "failed", problem=error.message)
        except Exception as error:
            self._end(job_id, "failed", problem=f"Something went wrong ({type(error).__name__}). Try again.")
            raise

    def _take(self, job_id: int) -> tuple[str, dict[str, Any]] | None:
        """Taken once: neither a cancelled job nor one that is under way elsewhere is begun."""
        with self.store.session() as session:
            job = session.get_one(Job, job_id)
            if job.state != "waiting":
                return None
            job.state, job.tries = "running", job.tries + 1
            return job.kind, job.order

    def _end(self, job_id: int, state: str, *, result: dict[str, Any] | None = None, problem: str = "") -> None:
        with self.store.session() as session:
            job = session.get_one(Job, job_id)
            job.state, job.result, job.problem, job.ended_at = state, result, problem, now()
            if state == "done":
                job.progress = 1.0

    def start(self) -> None:
        """Begin working in a thread of this process: first on what a stopped server left, begun or waiting."""
        with self.store.session() as session:
            for job in session.scalars(select(Job).where(Job.state == "running")):
                if job.tries < MOST_TRIES:
                    job.state, job.progress, job.saying = "waiting", 0.0, ""
                else:
                    job.state, job.ended_at = "failed", now()
                    job.problem = f"The server stopped {job.tries} times while this was under way. Order less of it."
        self._ending.clear()
        self._thread = threading.Thread(target=self._work, name="jobs", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """End after the job under way."""
        self._ending.set()
        self._ordered.set()
        if self._thread is not None:
            self._thread.join()

    def _work(self) -> None:
        while not self._ending.is_set():
            self._ordered.clear()
            try:
                with self.store.reading() as session:
                    waiting = select(Job.id).where(Job.state == "waiting").order_by(Job.id).limit(1)
                    job_id = session.scalar(waiting)
                if job_id is None:
                    self._ordered.wait(_LOOKS_EVERY_SECONDS)
                else:
                    self.run(job_id)
            except Exception:
                # A full disk or a locked database passes; the queue has to outlive it.
                log.exception("a job ended unforeseen")
                self._ending.wait(_LOOKS_EVERY_SECONDS)
