"""Rehearsal and proof as jobs, what was made up, and the test interviews that are kept with the questionnaire."""

from __future__ import annotations

from pydantic import BaseModel

from skavo.core.estimation.tables import ResultTable, TableRequest
from skavo.services import kept_tests, made_up
from skavo.services.cleaning import VariableOut
from skavo.services.jobs import JobOut
from skavo.services.kept_tests import TestIn, TestsOut
from skavo.services.made_up import MadeUpBehind, OpenedInterview, RehearsalOut
from skavo.services.rehearsals import RehearsalIn, order_proof, order_rehearsal
from skavo.services.tables import Figure, SavedOut
from skavo.services.timing import TimingOut, show_timing
from skavo.web.analysis import SavedIn
from skavo.web.routing import Resource, desk
from skavo.web.shapes import QuestionnairePath

api = Resource("rehearsals", "/questionnaires/<int:questionnaire_id>")


class RehearsalPath(BaseModel):
    questionnaire_id: int
    rehearsal_id: int


class InterviewOfRehearsal(RehearsalPath):
    number: int


class TestQuery(BaseModel):
    __test__ = False  # not a test of pytest

    name: str


@api.route_for("post", "/rehearsals", needs="script.write", returns=JobOut, status=202)
def rehearse(path: QuestionnairePath, body: RehearsalIn) -> JobOut:
    return order_rehearsal(desk(), path.questionnaire_id, body)


@api.route_for("get", "/rehearsals", needs="analyse.read", returns=list[RehearsalOut])
def rehearsals(path: QuestionnairePath) -> list[RehearsalOut]:
    return made_up.list_rehearsals(desk(), path.questionnaire_id)


@api.route_for("get", "/rehearsals/<int:rehearsal_id>/variables", needs="analyse.read", returns=list[VariableOut])
def variables(path: RehearsalPath) -> list[VariableOut]:
    return made_up.made_up_variables(desk(), path.questionnaire_id, path.rehearsal_id)


@api.route_for("post", "/rehearsals/<int:rehearsal_id>/table", needs="analyse.read", returns=ResultTable)
def table(path: RehearsalPath, body: TableRequest) -> ResultTable:
    return made_up.made_up_table(desk(), path.questionnaire_id, path.rehearsal_id, body)


@api.route_for("post", "/rehearsals/<int:rehearsal_id>/tables", needs="analyse.write", returns=SavedOut, status=201)
def prepare(path: RehearsalPath, body: SavedIn) -> SavedOut:
    return made_up.prepare_table(desk(), path.questionnaire_id, path.rehearsal_id, body.title, body.request)


@api.route_for("post", "/rehearsals/<int:rehearsal_id>/table/behind", needs="analyse.read", returns=MadeUpBehind)
def behind(path: RehearsalPath, body: Figure) -> MadeUpBehind:
    return made_up.behind_made_up(desk(), path.questionnaire_id, path.rehearsal_id, body)


@api.route_for(
    "get", "/rehearsals/<int:rehearsal_id>/interviews/<int:number>", needs="script.read", returns=OpenedInterview
)
def interview(path: InterviewOfRehearsal) -> OpenedInterview:
    return made_up.open_made_up(desk(), path.questionnaire_id, path.rehearsal_id, path.number)


@api.route_for("get", "/timing", needs="interview.read", returns=TimingOut)
def timing(path: QuestionnairePath) -> TimingOut:
    return show_timing(desk(), path.questionnaire_id)


@api.route_for("post", "/proofs", needs="script.write", returns=JobOut, status=202)
def prove(path: QuestionnairePath) -> JobOut:
    return order_proof(desk(), path.questionnaire_id)


@api.route_for("get", "/tests", needs="script.read", returns=TestsOut)
def tests(path: QuestionnairePath) -> TestsOut:
    return kept_tests.show_tests(desk(), path.questionnaire_id)


@api.route_for("post", "/tests", needs="script.write", returns=TestsOut, status=201)
def keep(path: QuestionnairePath, body: TestIn) -> TestsOut:
    return kept_tests.keep_test(desk(), path.questionnaire_id, body)


@api.route_for("delete", "/tests", needs="script.write", returns=TestsOut)
def remove(path: QuestionnairePath, query: TestQuery) -> TestsOut:
    return kept_tests.remove_test(desk(), path.questionnaire_id, query.name)


@api.route_for("get", "/tests/opened", needs="script.read", returns=OpenedInterview)
def opened(path: QuestionnairePath, query: TestQuery) -> OpenedInterview:
    return kept_tests.open_test(desk(), path.questionnaire_id, query.name)


@api.route_for("post", "/tests/accepted", needs="script.write", returns=TestsOut)
def accept(path: QuestionnairePath, query: TestQuery) -> TestsOut:
    return kept_tests.accept_test(desk(), path.questionnaire_id, query.name)
