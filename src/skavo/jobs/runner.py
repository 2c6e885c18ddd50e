"""Runs jobs in the server's own process, from a queue that survives a restart."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from huey import SqliteHuey
from huey.consumer import Consumer
from sqlalchemy import select

from skavo.core.errors import SkavoError
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.models import Job, now


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


class _QuietConsumer(Consumer):  # type: ignore[misc]
    """Leaves the signals to the server that it lives in."""

    def _set_signal_handlers(self) -> None:
        pass


class Jobs:
    """`works` gives for each kind of job the function that does it."""

    def __init__(self, store: Store, data_sets: DataSets, folder: Path, works: dict[str, Work]) -> None:
        self.store, self.data_sets, self.works = store, data_sets, works
        self._huey = SqliteHuey("skavo", filename=str(folder / "jobs.db"))
        self._run = self._huey.task()(self.run)
        self._consumer: Consumer | None = None

    def order(self, study_id: int, kind: str, order: dict[str, Any], by: str) -> int:
        """Put a job into the queue and return its id."""
        with self.store.session() as session:
            job = Job(study_id=study_id, kind=kind, order=order, created_by=by)
            session.add(job)
            session.flush()
            job_id = job.id
        self._run(job_id)
        return job_id

    def run(self, job_id: int) -> None:
        """Do one job now; what goes wrong is written down in the job."""
        with self.store.session() as session:
            job = session.get_one(Job, job_id)
            # Taken once: neither a cancelled job nor one that is under way elsewhere is begun.
            if job.state != "waiting":
                return
            job.state = "running"
            kind, order = job.kind, job.order
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

    def _end(self, job_id: int, state: str, *, result: dict[str, Any] | None = None, problem: str = "") -> None:
        with self.store.session() as session:
            job = session.get_one(Job, job_id)
            job.state, job.result, job.problem, job.ended_at = state, result, problem, now()
            if state == "done":
                job.progress = 1.0

    def start(self) -> None:
        """Begin working on the queue in threads of this process; what a stopped server left half done is ended."""
        with self.store.session() as session:
            for job in session.scalars(select(Job).where(Job.state == "running")):
                job.state, job.ended_at = "failed", now()
                job.problem = "The server was stopped meanwhile. Order it again."
        self._consumer = _QuietConsumer(self._huey, workers=1, periodic=False, initial_delay=0.05, max_delay=0.5)
        self._consumer.start()

    def stop(self) -> None:
        if self._consumer is not None:
            self._consumer.stop(graceful=True)
