"""Handing over: extracts as jobs, their progress, their files."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from flask import Response, current_app
from pydantic import BaseModel
from sqlalchemy import select

from skavo.formats.extract import ExtractOptions
from skavo.jobs.runner import Jobs
from skavo.store.files import read_file
from skavo.store.models import Event, Job
from skavo.web.problems import Problem, not_found
from skavo.web.questionnaires import questionnaire_or_404
from skavo.web.routing import Resource, sees_sensitive, store, who
from skavo.web.shapes import Body, QuestionnairePath, StudyPath

api = Resource("extracts")


class ExtractIn(Body):
    options: ExtractOptions
    cleaned: bool = True


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


def _jobs() -> Jobs:
    found: Jobs = current_app.extensions["skavo_jobs"]
    return found


def _out(job: Job) -> JobOut:
    return JobOut.model_validate(job, from_attributes=True)


def _job_or_404(session: Any, job_id: int) -> Job:
    job: Job | None = session.get(Job, job_id)
    if job is None:
        raise not_found("job")
    return job


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/extracts", needs="extract.make", returns=JobOut, status=202
)
def order(path: QuestionnairePath, body: ExtractIn) -> JobOut:
    if not body.options.masked and not sees_sensitive():
        raise Problem("not_allowed", "Sensitive variables stay out of your extracts. Ask the data manager.")
    with store().session() as session:
        study_id = questionnaire_or_404(session, path.questionnaire_id).study_id
        detail = {"format": body.options.format}
        session.add(Event(study_id=study_id, kind="extract ordered", by=who(), detail=detail))
    wanted = {"questionnaire_id": path.questionnaire_id, **body.model_dump(mode="json")}
    job_id = _jobs().order(study_id, "extract", wanted, who())
    with store().reading() as session:
        return _out(_job_or_404(session, job_id))


@api.route_for("get", "/studies/<int:study_id>/jobs", needs="job.read", returns=list[JobOut])
def list_all(path: StudyPath) -> list[JobOut]:
    with store().reading() as session:
        query = select(Job).where(Job.study_id == path.study_id).order_by(Job.id.desc()).limit(50)
        return [_out(job) for job in session.scalars(query)]


@api.route_for("get", "/jobs/<int:job_id>", needs="job.read", returns=JobOut)
def show(path: JobPath) -> JobOut:
    with store().reading() as session:
        return _out(_job_or_404(session, path.job_id))


@api.route_for("post", "/jobs/<int:job_id>/cancel", needs="extract.make", returns=JobOut)
def cancel(path: JobPath) -> JobOut:
    with store().session() as session:
        job = _job_or_404(session, path.job_id)
        if job.state in ("waiting", "running"):
            job.state = "cancelled"
        return _out(job)


@api.route_for("get", "/jobs/<int:job_id>/file", needs="extract.make")
def take_out(path: JobPath) -> Response:
    with store().reading() as session:
        job = _job_or_404(session, path.job_id)
        if job.state != "done" or not job.result:
            raise Problem("not_ready", "This extract is not ready yet.")
        if not job.order["options"]["masked"] and not sees_sensitive():
            raise Problem("not_allowed", "This extract holds sensitive variables. Make one of your own without them.")
        result = job.result
    headers = {"Content-Disposition": f'attachment; filename="{result["name"]}"'}
    return Response(read_file(store().files, result["file"]), mimetype="application/octet-stream", headers=headers)
