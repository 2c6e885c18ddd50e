"""Long work as the desk sees it: its progress, its end before time, the file it made."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from flask import Response, current_app
from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.permissions import Permission
from skavo.jobs.laying import KIND as LAYING_OUT
from skavo.jobs.runner import Jobs
from skavo.store.files import read_file
from skavo.store.models import Job
from skavo.web.guard import caller
from skavo.web.problems import Problem, not_found
from skavo.web.routing import Resource, attachment, sees_sensitive, store
from skavo.web.seen import noted
from skavo.web.shapes import StudyPath

api = Resource("jobs")
# Who may order, stop and fetch each kind of job.
NEEDS: dict[str, Permission] = {
    "extract": "extract.make",
    "rehearsal": "script.write",
    "proof": "script.write",
    LAYING_OUT: "interview.review",
}


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


class JobPath(BaseModel):
    job_id: int


class JobsQuery(BaseModel):
    """`kind` is one of NEEDS; without it jobs of every kind are told."""

    kind: str = ""


def order_job(study_id: int, kind: str, order: dict[str, Any]) -> JobOut:
    """Put a job into the queue and tell it as it is now."""
    jobs: Jobs = current_app.extensions["skavo_jobs"]
    job_id = jobs.order(study_id, kind, order, caller().name, caller().person_id)
    with store().reading() as session:
        return _out(_job_or_404(session, job_id))


def _out(job: Job) -> JobOut:
    return JobOut.model_validate(job, from_attributes=True)


def _job_or_404(session: Session, job_id: int) -> Job:
    job = session.get(Job, job_id)
    if job is None:
        raise not_found("job")
    return job


def _allowed(job: Job) -> None:
    if not caller().may(NEEDS[job.kind]):
        raise Problem("not_allowed", "This is not yours to do. Ask the data manager.")


@api.route_for("get", "/studies/<int:study_id>/jobs", needs="job.read", returns=list[JobOut])
def list_all(path: StudyPath, query: JobsQuery) -> list[JobOut]:
    with store().reading() as session:
        wanted = select(Job).where(Job.study_id == path.study_id)
        if query.kind:
            wanted = wanted.where(Job.kind == query.kind)
        return [_out(job) for job in session.scalars(wanted.order_by(Job.id.desc()).limit(50))]


@api.route_for("get", "/jobs/<int:job_id>", needs="job.read", returns=JobOut)
def show(path: JobPath) -> JobOut:
    with store().reading() as session:
        return _out(_job_or_404(session, path.job_id))


@api.route_for("post", "/jobs/<int:job_id>/cancel", needs="job.read", returns=JobOut)
def cancel(path: JobPath) -> JobOut:
    with store().session() as session:
        job = _job_or_404(session, path.job_id)
        _allowed(job)
        if job.state in ("waiting", "running"):
            job.state = "cancelled"
        return _out(job)


@api.route_for("get", "/jobs/<int:job_id>/file", needs="job.read")
def take_out(path: JobPath) -> Response:
    with store().reading() as session:
        job = _job_or_404(session, path.job_id)
        _allowed(job)
        if job.state != "done" or not job.result or "file" not in job.result:
            raise Problem("not_ready", "There is no file yet.")
        if job.kind == "extract" and not job.order["options"]["masked"] and not sees_sensitive():
            raise Problem("not_allowed", "This extract holds sensitive variables. Make one of your own without them.")
        result, study_id = job.result, job.study_id
    if job.kind == "extract":
        noted("extract", study_id, name=result["name"], masked=job.order["options"]["masked"])
    headers = attachment(result["name"])
    return Response(read_file(store().files, result["file"]), mimetype="application/octet-stream", headers=headers)
