"""Modules: the shelf of a study, taking them into a questionnaire, bringing them up to date."""

from __future__ import annotations

from pydantic import BaseModel, Field

from skavo.core.questionnaire.script import Script
from skavo.services import modules
from skavo.services.modules import ModuleIn, ModuleOut, UpdateOut
from skavo.services.writing import GraftedOut
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, QuestionnairePath, StudyPath

api = Resource("modules")


class ModulePath(BaseModel):
    module_id: int


class ModuleChange(ModuleIn):
    """`version` is that of the module that was changed."""

    version: int


class TakingIn(Body):
    """`at` is the line that the module is put in before."""

    script: Script
    name: str = Field(min_length=1, max_length=64)
    at: int = Field(ge=0)
    level: int = Field(default=1, ge=1, le=12)


class UpdatingIn(Body):
    script: Script
    name: str = Field(min_length=1, max_length=64)


@api.route_for("get", "/studies/<int:study_id>/modules", needs="script.read", returns=list[ModuleOut])
def shelf(path: StudyPath) -> list[ModuleOut]:
    return modules.shelf_of(desk(), path.study_id)


@api.route_for("post", "/studies/<int:study_id>/modules", needs="script.write", returns=ModuleOut, status=201)
def save(path: StudyPath, body: ModuleIn) -> ModuleOut:
    return modules.save_module(desk(), path.study_id, body)


@api.route_for("put", "/modules/<int:module_id>", needs="script.write", returns=ModuleOut)
def replace(path: ModulePath, body: ModuleChange) -> ModuleOut:
    wanted = ModuleIn(**body.model_dump(exclude={"version"}))
    return modules.replace_module(desk(), path.module_id, wanted, body.version)


@api.route_for("delete", "/modules/<int:module_id>", needs="script.write", status=204)
def remove(path: ModulePath) -> None:
    modules.remove_module(desk(), path.module_id)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/modules", needs="script.write", returns=GraftedOut)
def take(path: QuestionnairePath, body: TakingIn) -> GraftedOut:
    return modules.take_module(desk(), path.questionnaire_id, body.script, body.name, body.at, body.level)


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/modules/updating", needs="script.write", returns=UpdateOut
)
def update(path: QuestionnairePath, body: UpdatingIn) -> UpdateOut:
    return modules.update_module(desk(), path.questionnaire_id, body.script, body.name)
