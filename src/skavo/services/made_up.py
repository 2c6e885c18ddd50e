"""What rehearsals have made up: the data set that would come out, tabulated before anybody was asked, and its interviews."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache
from pathlib import Path
from typing import Any

from pydantic import BaseModel
from sqlalchemy import func, select

from skavo.core.dataset.layout import label_in
from skavo.core.estimation.tables import ResultTable, TableRequest, interviews_behind, make_table
from skavo.formats.kept_rehearsal import KeptRehearsal, read_kept
from skavo.services.cleaning import VariableOut, variables_of
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import not_found
from skavo.services.tables import Figure, SavedOut, keep_table
from skavo.store.files import read_file
from skavo.store.models import Job
from skavo.store.recipes import own_set

MOST_REHEARSALS = 20
MOST_NUMBERS = 24


class RehearsalOut(BaseModel):
    """A rehearsal whose interviews are kept; `id` is that of its job."""

    id: int
    interviews: int
    seed: int
    day: str
    made_at: datetime
    made_by: str


class MadeUpBehind(BaseModel):
    """The made-up interviews behind a figure, the first of them by number, and the wording that they were asked."""

    interviews: int
    numbers: list[str]
    wording: str


class OpenedInterview(BaseModel):
    """An interview to be opened in the phone pane, with the moments and the earlier round that it was made with."""

    answers: dict[str, Any]
    language: str
    outside: dict[str, Any]


def list_rehearsals(desk: Desk, questionnaire_id: int) -> list[RehearsalOut]:
    """The newest rehearsals of a questionnaire that made any interview."""
    # Results are large: only what is told is read of them.
    made, kept = Job.result["made"].as_integer(), Job.result["kept"].as_string()
    facts = (Job.id, made, Job.result["seed"].as_integer(), Job.result["day"].as_string())
    with desk.store.reading() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        mine = (Job.study_id == study_id, Job.order["questionnaire_id"].as_integer() == questionnaire_id)
        done = (Job.kind == "rehearsal", Job.state == "done", kept.is_not(None), made > 0)
        wanted = select(*facts, func.coalesce(Job.ended_at, Job.created_at), Job.created_by).where(*mine, *done)
        rows = session.execute(wanted.order_by(Job.id.desc()).limit(MOST_REHEARSALS)).all()
    return [
        RehearsalOut(id=job, interviews=interviews, seed=seed, day=day, made_at=at, made_by=by)
        for job, interviews, seed, day, at, by in rows
    ]


def made_up_variables(desk: Desk, questionnaire_id: int, rehearsal_id: int) -> list[VariableOut]:
    return variables_of(_kept(desk, questionnaire_id, rehearsal_id).data)


def made_up_table(desk: Desk, questionnaire_id: int, rehearsal_id: int, request: TableRequest) -> ResultTable:
    return make_table(_kept(desk, questionnaire_id, rehearsal_id).data, request)


def prepare_table(desk: Desk, questionnaire_id: int, rehearsal_id: int, title: str, request: TableRequest) -> SavedOut:
    """Save a sentence that gives a table of what was made up, for what will be collected."""
    made_up_table(desk, questionnaire_id, rehearsal_id, request)
    with desk.store.reading() as session:
        begun = own_set(session, questionnaire_id).id
    return keep_table(desk, begun, title, request)


def behind_made_up(desk: Desk, questionnaire_id: int, rehearsal_id: int, figure: Figure) -> MadeUpBehind:
    kept = _kept(desk, questionnaire_id, rehearsal_id)
    numbers = sorted(interviews_behind(kept.data, figure.request, figure.row, figure.column))
    columns = (c for table in kept.data.values() for c in table.layout.columns)
    label = next((c.label for c in columns if c.variable == figure.request.variable), {})
    return MadeUpBehind(
        interviews=len(numbers), numbers=numbers[:MOST_NUMBERS], wording=label_in(label, figure.request.language)
    )


def open_made_up(desk: Desk, questionnaire_id: int, rehearsal_id: int, number: int) -> OpenedInterview:
    """The interview of that number, counted from one."""
    interviews = _kept(desk, questionnaire_id, rehearsal_id).interviews
    if not 1 <= number <= len(interviews):
        raise not_found("interview")
    interview = interviews[number - 1]
    return OpenedInterview(answers=interview.answers, language=interview.language, outside=interview.outside)


def _kept(desk: Desk, questionnaire_id: int, rehearsal_id: int) -> KeptRehearsal:
    with desk.store.reading() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        job = session.get(Job, rehearsal_id)
    if job is None or job.study_id != study_id or not job.result or "kept" not in job.result:
        raise not_found("rehearsal")
    if job.order["questionnaire_id"] != questionnaire_id:
        raise not_found("rehearsal")
    return _read(desk.store.files, job.result["kept"])


@lru_cache(maxsize=4)
def _read(files: Path, digest: str) -> KeptRehearsal:
    return read_kept(read_file(files, digest))
