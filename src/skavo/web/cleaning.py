"""The clean station: the cleaning plan, its states, and what it changed."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel, Field

from skavo.core.cleaning.steps import Step
from skavo.services import cells, cleaning, near_copies, plans, profiling
from skavo.services.cells import CellHistoryOut, CellQuery
from skavo.services.cleaning import ChangesOut, ChangesQuery, Preview, ValuesOut, VariableOut
from skavo.services.near_copies import CopiesOut, CopyDecision, SearchIn
from skavo.services.plans import DataDifference, PlanOut, StateOut
from skavo.services.profiling import VariableProfile
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("cleaning", "/questionnaires/<int:questionnaire_id>/plan")


class StepIn(Body):
    """`after` is the step behind which this one stands; at the end without it."""

    step: Step
    after: int | None = None


class TriedStep(StepIn):
    """`instead_of` is the step whose place it would take."""

    instead_of: int | None = None


class StepChange(Body):
    """What is to be otherwise about a step: only what is given."""

    step: Step | None = None
    off: bool | None = None
    remark: str | None = Field(default=None, max_length=2000)


class Move(Body):
    """`after` is the step behind which it goes; None puts it first."""

    after: int | None = None


class SeenState(Body):
    """The number of the state of the plan that was seen."""

    state: int


class ValuesQuery(BaseModel):
    variable: str = Field(max_length=64)
    like: str = Field(default="", max_length=200)


class StepPath(BaseModel):
    questionnaire_id: int
    step_id: int


class Two(BaseModel):
    before: int
    after: int


@api.route_for("get", "/variables", needs="analyse.read", returns=list[VariableOut])
def variables(path: QuestionnairePath) -> list[VariableOut]:
    return cleaning.list_variables(desk(), path.questionnaire_id)


@api.route_for("get", "/values", needs="analyse.read", returns=ValuesOut)
def values(path: QuestionnairePath, query: ValuesQuery) -> ValuesOut:
    return cleaning.list_values(desk(), path.questionnaire_id, query.variable, query.like)


@api.route_for("get", "/profile", needs="analyse.read", returns=list[VariableProfile])
def profile(path: QuestionnairePath) -> list[VariableProfile]:
    return profiling.show_profile(desk(), path.questionnaire_id)


@api.route_for("get", "", needs="analyse.read", returns=PlanOut)
def show(path: QuestionnairePath) -> PlanOut:
    return plans.show_plan(desk(), path.questionnaire_id)


@api.route_for("post", "/preview", needs="clean.write", returns=Preview)
def preview(path: QuestionnairePath, body: TriedStep) -> Preview:
    return cleaning.preview_step(desk(), path.questionnaire_id, body.step, body.after, body.instead_of)


@api.route_for("post", "/steps", needs="clean.write", returns=PlanOut, status=201)
def keep(path: QuestionnairePath, body: StepIn) -> PlanOut:
    return plans.keep_step(desk(), path.questionnaire_id, body.step, body.after)


@api.route_for("patch", "/steps/<int:step_id>", needs="clean.write", returns=PlanOut)
def change(path: StepPath, body: StepChange) -> PlanOut:
    """Another step in its place, off or on, another remark: one of them."""
    if body.step is not None:
        return plans.change_step(desk(), path.questionnaire_id, path.step_id, body.step)
    if body.off is not None:
        return plans.switch_step(desk(), path.questionnaire_id, path.step_id, off=body.off)
    return plans.remark_step(desk(), path.questionnaire_id, path.step_id, body.remark or "")


@api.route_for("post", "/steps/<int:step_id>/move", needs="clean.write", returns=PlanOut)
def move(path: StepPath, body: Move) -> PlanOut:
    return plans.move_step(desk(), path.questionnaire_id, path.step_id, body.after)


@api.route_for("delete", "/steps/<int:step_id>", needs="clean.write", returns=PlanOut)
def take_out(path: StepPath) -> PlanOut:
    return plans.take_out(desk(), path.questionnaire_id, path.step_id)


@api.route_for("post", "/undo", needs="clean.write", returns=PlanOut)
def undo(path: QuestionnairePath, body: SeenState) -> PlanOut:
    return plans.undo(desk(), path.questionnaire_id, body.state)


@api.route_for("post", "/redo", needs="clean.write", returns=PlanOut)
def redo(path: QuestionnairePath, body: SeenState) -> PlanOut:
    return plans.redo(desk(), path.questionnaire_id, body.state)


@api.route_for("get", "/states", needs="analyse.read", returns=list[StateOut])
def states(path: QuestionnairePath) -> list[StateOut]:
    return plans.list_states(desk(), path.questionnaire_id)


@api.route_for("get", "/difference", needs="analyse.read", returns=DataDifference)
def compare(path: QuestionnairePath, query: Two) -> DataDifference:
    return plans.compare_states(desk(), path.questionnaire_id, query.before, query.after)


@api.route_for("get", "/text", needs="analyse.read")
def text(path: QuestionnairePath) -> Response:
    return Response(plans.plan_as_text(desk(), path.questionnaire_id), mimetype="text/plain")


@api.route_for("get", "/changes", needs="analyse.read", returns=ChangesOut)
def changes(path: QuestionnairePath, query: ChangesQuery) -> ChangesOut:
    return cleaning.list_changes(desk(), path.questionnaire_id, query)


@api.route_for("post", "/copies/search", needs="analyse.read", returns=CopiesOut)
def search_copies(path: QuestionnairePath, body: SearchIn) -> CopiesOut:
    """Interviews that are nearly the same; nothing is kept."""
    return near_copies.search_copies(desk(), path.questionnaire_id, body)


@api.route_for("post", "/copies", needs="clean.write", returns=PlanOut)
def decide_copy(path: QuestionnairePath, body: CopyDecision) -> PlanOut:
    """Say of two interviews whether they are the same; the plan holds it."""
    return near_copies.decide_copy(desk(), path.questionnaire_id, body)


@api.route_for("get", "/cell", needs="analyse.read", returns=CellHistoryOut)
def cell(path: QuestionnairePath, query: CellQuery) -> CellHistoryOut:
    """Everything that happened to one cell."""
    return cells.show_cell(desk(), path.questionnaire_id, query)


@api.route_for("get", "/changes.csv", needs="analyse.read")
def changes_file(path: QuestionnairePath, query: ChangesQuery) -> Response:
    content = cleaning.changes_file(desk(), path.questionnaire_id, query)
    return Response(content, mimetype="text/csv", headers=attachment("changes.csv"))
