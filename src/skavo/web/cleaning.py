"""The clean station: the cleaning plan and what it changed."""

from __future__ import annotations

from pydantic import BaseModel

from skavo.core.cleaning.plan import Step
from skavo.services import cleaning
from skavo.services.cleaning import ChangeOut, PlanOut, Preview, VariableOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("cleaning", "/questionnaires/<int:questionnaire_id>/plan")


class StepIn(Body):
    step: Step


class StepPath(BaseModel):
    questionnaire_id: int
    step_id: int


@api.route_for("get", "/variables", needs="analyse.read", returns=list[VariableOut])
def variables(path: QuestionnairePath) -> list[VariableOut]:
    return cleaning.list_variables(desk(), path.questionnaire_id)


@api.route_for("get", "", needs="analyse.read", returns=PlanOut)
def show(path: QuestionnairePath) -> PlanOut:
    return cleaning.show_plan(desk(), path.questionnaire_id)


@api.route_for("post", "/preview", needs="clean.write", returns=Preview)
def preview(path: QuestionnairePath, body: StepIn) -> Preview:
    return cleaning.preview_step(desk(), path.questionnaire_id, body.step)


@api.route_for("post", "/steps", needs="clean.write", returns=PlanOut, status=201)
def keep(path: QuestionnairePath, body: StepIn) -> PlanOut:
    return cleaning.keep_step(desk(), path.questionnaire_id, body.step)


@api.route_for("delete", "/steps/<int:step_id>", needs="clean.write", returns=PlanOut)
def take_back(path: StepPath) -> PlanOut:
    return cleaning.switch_step(desk(), path.questionnaire_id, path.step_id, removed=True)


@api.route_for("post", "/steps/<int:step_id>/restore", needs="clean.write", returns=PlanOut)
def restore(path: StepPath) -> PlanOut:
    return cleaning.switch_step(desk(), path.questionnaire_id, path.step_id, removed=False)


@api.route_for("get", "/changes", needs="analyse.read", returns=list[ChangeOut])
def changes(path: QuestionnairePath) -> list[ChangeOut]:
    return cleaning.list_changes(desk(), path.questionnaire_id)
