"""Data sets by their recipes."""

from __future__ import annotations

from skavo.core.recipes.propose import StackProposal
from skavo.core.recipes.recipe import Recipe
from skavo.services import data_sets
from skavo.services.data_sets import (
    DataSetChange,
    DataSetIn,
    DataSetOut,
    DataSetsOut,
    MadeOut,
    ProposeIn,
    SetRowsOut,
    SetRowsQuery,
)
from skavo.web.routing import Resource, desk
from skavo.web.shapes import Body, DataSetPath, StudyPath

api = Resource("data sets")


class RemovedPath(StudyPath):
    """A data set that was taken away is named by its number within its study."""

    removed_id: int


class TryIn(Body):
    recipe: Recipe


@api.route_for("get", "/studies/<int:study_id>/data-sets", needs="analyse.read", returns=DataSetsOut)
def list_all_sets(path: StudyPath) -> DataSetsOut:
    return data_sets.list_data_sets(desk(), path.study_id)


@api.route_for("post", "/studies/<int:study_id>/data-sets", needs="combine.write", returns=DataSetOut, status=201)
def add_set(path: StudyPath, body: DataSetIn) -> DataSetOut:
    return data_sets.add_data_set(desk(), path.study_id, body)


@api.route_for("post", "/studies/<int:study_id>/data-sets/try", needs="combine.write", returns=MadeOut)
def try_set(path: StudyPath, body: TryIn) -> MadeOut:
    """What a recipe would make; nothing of it is kept."""
    return data_sets.try_recipe(desk(), path.study_id, body.recipe)


@api.route_for("post", "/studies/<int:study_id>/data-sets/propose", needs="combine.write", returns=StackProposal)
def propose_for_set(path: StudyPath, body: ProposeIn) -> StackProposal:
    """How the last source goes under those before it."""
    return data_sets.propose_source(desk(), path.study_id, body)


@api.route_for(
    "post", "/studies/<int:study_id>/data-sets/<int:removed_id>/bring-back", needs="combine.write", returns=DataSetOut
)
def bring_back_set(path: RemovedPath) -> DataSetOut:
    return data_sets.bring_back_data_set(desk(), path.study_id, path.removed_id)


@api.route_for("get", "/data-sets/<int:data_set_id>/made", needs="analyse.read", returns=MadeOut)
def made_set(path: DataSetPath) -> MadeOut:
    return data_sets.show_made(desk(), path.data_set_id)


@api.route_for("get", "/data-sets/<int:data_set_id>/rows", needs="analyse.read", returns=SetRowsOut)
def set_rows(path: DataSetPath, query: SetRowsQuery) -> SetRowsOut:
    return data_sets.show_set_rows(desk(), path.data_set_id, query)


@api.route_for("put", "/data-sets/<int:data_set_id>", needs="combine.write", returns=DataSetOut)
def change_set(path: DataSetPath, body: DataSetChange) -> DataSetOut:
    return data_sets.change_data_set(desk(), path.data_set_id, body)


@api.route_for("delete", "/data-sets/<int:data_set_id>", needs="combine.write")
def remove_set(path: DataSetPath) -> None:
    data_sets.remove_data_set(desk(), path.data_set_id)
