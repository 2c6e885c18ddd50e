"""Rehearsal and proof as jobs, and the test interviews that are kept with the questionnaire."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import read_script
from skavo.core.rehearsal.replay import Replayed, replay
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.jobs import JobOut, order_job
from skavo.services.refusals import Refused
from skavo.store.models import Questionnaire

MOST_INTERVIEWS = 5_000


class RehearsalIn(BaseModel):
    model_config = ConfigDict(extra="forbid")

    interviews: int = Field(default=200, ge=1, le=MOST_INTERVIEWS)
    seed: int = 1
    day: date | None = Field(default=None, description="The day the interviews are made on; today if it is left out.")


class TestsOut(BaseModel):
    """The test interviews kept with a questionnaire, and what has changed for each in the present draft.

    `replayed` is None while the draft has errors.
    """

    tests: int
    replayed: list[Replayed] | None


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
    if compile_script(read_script(questionnaire.script)).release is None:
        raise Refused("has_errors", "The script has errors. Mend them first; they are listed under Findings.")
    return questionnaire.study_id


def show_tests(desk: Desk, questionnaire_id: int) -> TestsOut:
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
    compiled = compile_script(read_script(questionnaire.script)).release
    replayed = _replayed(questionnaire, Release(compiled)) if compiled is not None else None
    return TestsOut(tests=len(questionnaire.tests), replayed=replayed)


def _replayed(questionnaire: Questionnaire, release: Release) -> list[Replayed]:
    """What has changed for the kept test interviews in `release`; unchanged ones are left out."""
    return [r for r in replay(release, questionnaire.tests) if not r.is_unchanged]
