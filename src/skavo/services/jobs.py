"""Long work as the desk sees it: ordered, its progress, its end before time, the file it made."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy import select

from skavo.jobs.registers import TAKING_OUT
from skavo.services.desk import Desk
from skavo.services.found import the_job
from skavo.services.refusals import Refused
from skavo.store.files import read_file
from skavo.store.models import Job


class JobOut(BaseModel):
    id: int
    kind: str
    state: str
    progress: float
    saying: str
    problem: str
    order: dict[str, Any]
    result: dict[str, Any] | None
    created_at: datetime
    created_by: str
    ended_at: datetime | None


def order_job(desk: Desk, study_id: int, kind: str, order: dict[str, Any]) -> JobOut:
    """Put a job into the queue and tell it as it is now."""
    return show_job(desk, desk.jobs.order(study_id, kind, order, desk.name, desk.person_id))


def _out(job: Job) -> JobOut:
    return JobOut.model_validate(job, from_attributes=True)


def list_jobs(desk: Desk, study_id: int, kind: str = "") -> list[JobOut]:
    """The newest fifty, of one kind or of every kind."""
    wanted = select(Job).where(Job.study_id == study_id)
    if kind:
        wanted = wanted.where(Job.kind == kind)
    with desk.store.reading() as session:
        return [_out(job) for job in session.scalars(wanted.order_by(Job.id.desc()).limit(50))]


def show_job(desk: Desk, job_id: int) -> JobOut:
    with desk.store.reading() as session:
        return _out(the_job(session, job_id))


def cancel_job(desk: Desk, job_id: int) -> JobOut:
    """End a job before time; one that has ended already stays as it is."""
    with desk.store.session() as session:
        job = the_job(session, job_id)
        if job.state in ("waiting", "running"):
            job.state = "cancelled"
        return _out(job)


def file_of_job(desk: Desk, job_id: int) -> tuple[str, bytes]:
    """The name and content of the file that a job made; extracts are put on record."""
    with desk.store.reading() as session:
        job = the_job(session, job_id)
    if job.state != "done" or not job.result or "file" not in job.result:
        raise Refused("not_ready", "There is no file yet.")
    if job.kind == "extract" and job.study_id is not None:
        masked = job.order["options"]["masked"]
        if not masked and not desk.sees_sensitive:
            raise Refused("not_allowed", "This extract holds sensitive variables. Make one of your own without them.")
        desk.note("extract", job.study_id, name=job.result["name"], masked=masked)
    if job.kind == TAKING_OUT and not job.order["masked"] and not desk.sees_sensitive:
        raise Refused("not_allowed", "This file holds sensitive fields. Take one out of your own.")
    return job.result["name"], read_file(desk.store.files, job.result["file"])
