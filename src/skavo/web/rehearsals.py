"""Rehearsal and proof as jobs, and the test interviews that are kept with the questionnaire."""

from __future__ import annotations

from skavo.services.jobs import JobOut
from skavo.services.rehearsals import RehearsalIn, TestsOut, order_proof, order_rehearsal, show_tests
from skavo.web.routing import Resource, desk
from skavo.web.shapes import QuestionnairePath

api = Resource("rehearsals", "/questionnaires/<int:questionnaire_id>")


@api.route_for("post", "/rehearsals", needs="script.write", returns=JobOut, status=202)
def rehearse(path: QuestionnairePath, body: RehearsalIn) -> JobOut:
    return order_rehearsal(desk(), path.questionnaire_id, body)


@api.route_for("post", "/proofs", needs="script.write", returns=JobOut, status=202)
def prove(path: QuestionnairePath) -> JobOut:
    return order_proof(desk(), path.questionnaire_id)


@api.route_for("get", "/tests", needs="script.read", returns=TestsOut)
def tests(path: QuestionnairePath) -> TestsOut:
    return show_tests(desk(), path.questionnaire_id)
