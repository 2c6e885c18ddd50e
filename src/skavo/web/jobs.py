"""Long work as the desk sees it: its progress, its end before time, the file it made."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from skavo.services import jobs
from skavo.services.jobs import JobOut
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import StudyPath

api = Resource("jobs")


class JobPath(BaseModel):
    job_id: int


class JobsQuery(BaseModel):
    """`kind` is one of core.permissions.OF_JOB; without it jobs of every kind are told."""

    kind: str = ""


@api.route_for("get", "/studies/<int:study_id>/jobs", needs="job.read", returns=list[JobOut])
def list_all(path: StudyPath, query: JobsQuery) -> list[JobOut]:
    return jobs.list_jobs(desk(), path.study_id, query.kind)


@api.route_for("get", "/jobs/<int:job_id>", needs="job.read", returns=JobOut)
def show(path: JobPath) -> JobOut:
    return jobs.show_job(desk(), path.job_id)


@api.route_for("post", "/jobs/<int:job_id>/cancel", needs="that of the job", returns=JobOut)
def cancel(path: JobPath) -> JobOut:
    return jobs.cancel_job(desk(), path.job_id)


@api.route_for("get", "/jobs/<int:job_id>/file", needs="that of the job")
def take_out(path: JobPath) -> Response:
    name, content = jobs.file_of_job(desk(), path.job_id)
    return Response(content, mimetype="application/octet-stream", headers=attachment(name))
