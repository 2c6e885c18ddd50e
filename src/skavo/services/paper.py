"""The questionnaire on paper: a draft or a release, ordered as a PDF."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select

from skavo.core.paper.compose import BLANK_ROWS, MOST_BLANK_ROWS
from skavo.core.questionnaire.script import read_script
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.jobs import JobOut, order_job
from skavo.services.refusals import Refused, not_found
from skavo.store.knowing import compiled_script
from skavo.store.models import Release


class PaperIn(BaseModel):
    """`release` is its number, without it the draft; `rows` are left empty in tables of unknown length."""

    model_config = ConfigDict(extra="forbid")

    language: str
    release: int | None = Field(default=None, ge=1, le=2**31)
    rows: int = Field(default=BLANK_ROWS, ge=1, le=MOST_BLANK_ROWS)


def order_paper(desk: Desk, questionnaire_id: int, wanted: PaperIn) -> JobOut:
    """Print a draft or a release; refused while the draft has errors, and in a language that it does not speak."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        document = questionnaire.script
        has_errors = wanted.release is None and compiled_script(session, questionnaire) is None
        if wanted.release is not None:
            mine = (Release.questionnaire_id == questionnaire_id, Release.number == wanted.release)
            released = session.scalar(select(Release.script).where(*mine))
            if released is None:
                raise not_found("release")
            document = released
    script = read_script(document)
    if wanted.language not in script.languages:
        spoken = ", ".join(script.languages)
        raise Refused("unknown_language", f"It does not speak “{wanted.language}”. It speaks: {spoken}.")
    if has_errors:
        raise Refused("has_errors", "The script has errors. Mend them first; they are listed under Findings.")
    order = {"questionnaire_id": questionnaire_id, **wanted.model_dump()}
    return order_job(desk, questionnaire.study_id, "paper", order)
