"""Rehearsal and proof as jobs, and the test interviews that are kept with the questionnaire."""

from __future__ import annotations

from datetime import date

from pydantic import BaseModel, Field

from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import read_script
from skavo.core.rehearsal.replay import Replayed, replay
from skavo.store.models import Questionnaire
from skavo.web.jobs import JobOut, order_job
from skavo.web.problems import Problem
from skavo.web.questionnaires import questionnaire_or_404
from skavo.web.routing import Resource, store
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("rehearsals")
MOST_INTERVIEWS = 5_000


class RehearsalIn(Body):
    interviews: int = Field(default=200, ge=1, le=MOST_INTERVIEWS)
    seed: int = 1
    day: date | None = Field(default=None, description="The day the interviews are made on; today if it is left out.")


class TestsOut(BaseModel):
    """The test interviews kept with a questionnaire, and what has changed for each in the present draft.

    `replayed` is None while the draft has errors.
    """

    tests: int
    replayed: list[Replayed] | None


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/rehearsals", needs="script.write", returns=JobOut, status=202
)
def rehearse(path: QuestionnairePath, body: RehearsalIn) -> JobOut:
    """Make interviews up with the draft as it is saved."""
    order = body.model_dump(mode="json")
    return order_job(
        _study_of(path.questionnaire_id), "rehearsal", {"questionnaire_id": path.questionnaire_id, **order}
    )


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/proofs", needs="script.write", returns=JobOut, status=202
)
def prove(path: QuestionnairePath) -> JobOut:
    """Prove the draft as it is saved; the test interviews found are kept with the questionnaire."""
    return order_job(_study_of(path.questionnaire_id), "proof", {"questionnaire_id": path.questionnaire_id})


def _study_of(questionnaire_id: int) -> int:
    with store().reading() as session:
        questionnaire = questionnaire_or_404(session, questionnaire_id)
        if compile_script(read_script(questionnaire.script)).release is None:
            raise Problem("has_errors", "The script has errors. Mend them first; they are listed under Findings.")
        return questionnaire.study_id


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/tests", needs="script.read", returns=TestsOut)
def tests(path: QuestionnairePath) -> TestsOut:
    with store().reading() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        compiled = compile_script(read_script(questionnaire.script)).release
        kept = questionnaire.tests
        replayed = replay_tests(questionnaire, Release(compiled)) if compiled is not None else None
        return TestsOut(tests=len(kept), replayed=replayed)


def replay_tests(questionnaire: Questionnaire, release: Release) -> list[Replayed]:
    """What has changed for the kept test interviews in `release`; unchanged ones are left out."""
    return [r for r in replay(release, questionnaire.tests) if not r.is_unchanged]
