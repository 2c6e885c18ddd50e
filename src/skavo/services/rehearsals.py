"""Rehearsal and proof, ordered as jobs."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel, ConfigDict, Field

from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.jobs import JobOut, order_job
from skavo.services.refusals import Refused
from skavo.store.knowing import compiled_script

MOST_INTERVIEWS = 5_000


class RehearsalIn(BaseModel):
    model_config = ConfigDict(extra="forbid")

    interviews: int = Field(default=200, ge=1, le=MOST_INTERVIEWS)
    seed: int = 1
    day: date | None = Field(default=None, description="The day the interviews are made on; today if it is left out.")


def order_rehearsal(desk: Desk, questionnaire_id: int, wanted: RehearsalIn) -> JobOut:
    """Make interviews up with the draft as it is saved."""
    study_id = _study_of(desk, questionnaire_id)
    return order_job(
        desk, study_id, "rehearsal", {"questionnaire_id": questionnaire_id, **wanted.model_dump(mode="json")}
    )


def order_proof(desk: Desk, questionnaire_id: int) -> JobOut:
    """Prove the draft as it is saved; the test interviews found are kept with the questionnaire."""
    return order_job(desk, _study_of(desk, questionnaire_id), "proof", {"questionnaire_id": questionnaire_id})


def _study_of(desk: Desk, questionnaire_id: int) -> int:
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        compiled = compiled_script(session, questionnaire)
    if compiled is None:
        raise Refused("has_errors", "The script has errors. Mend them first; they are listed under Findings.")
    return questionnaire.study_id
