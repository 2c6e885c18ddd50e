"""Visits at the desk: lists of them, who goes, attempts, outcomes, rates."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from skavo.services import ground, saved_layers, visit_giving, visit_lists, visit_rates, visits
from skavo.services.ground import GroundOut, GroundQuery
from skavo.services.saved_layers import LayerIn, LayerOut
from skavo.services.visit_giving import GiveIn, Given, SharesProposed, SharesWanted
from skavo.services.visit_lists import (
    OutcomesIn,
    OutcomesOut,
    ReservesIn,
    VisitListChange,
    VisitListIn,
    VisitListLine,
    VisitListOut,
)
from skavo.services.visit_rates import RatesOut, RatesQuery
from skavo.services.visits import AttemptIn, TakenBack, VisitChange, VisitLines, VisitOut, VisitPoints, VisitsQuery
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import StudyPath

api = Resource("visits")


class VisitListPath(BaseModel):
    list_id: int


class VisitPath(BaseModel):
    visit_id: int


class AttemptPath(BaseModel):
    attempt_id: int


@api.route_for("get", "/studies/<int:study_id>/visit-lists", needs="field.read", returns=list[VisitListLine])
def list_lists(path: StudyPath) -> list[VisitListLine]:
    return visit_lists.list_lists(desk(), path.study_id)


@api.route_for("post", "/studies/<int:study_id>/visit-lists", needs="study.write", returns=VisitListOut, status=201)
def make_list(path: StudyPath, body: VisitListIn) -> VisitListOut:
    return visit_lists.make_list(desk(), path.study_id, body)


@api.route_for("get", "/studies/<int:study_id>/outcomes", needs="field.read", returns=OutcomesOut)
def show_outcomes(path: StudyPath) -> OutcomesOut:
    return visit_lists.show_outcomes(desk(), path.study_id)


@api.route_for("put", "/studies/<int:study_id>/outcomes", needs="study.write", returns=OutcomesOut)
def change_outcomes(path: StudyPath, body: OutcomesIn) -> OutcomesOut:
    return visit_lists.change_outcomes(desk(), path.study_id, body)


@api.route_for("get", "/visit-lists/<int:list_id>", needs="field.read", returns=VisitListOut)
def show_list(path: VisitListPath) -> VisitListOut:
    return visit_lists.show_list(desk(), path.list_id)


@api.route_for("put", "/visit-lists/<int:list_id>", needs="study.write", returns=VisitListOut)
def change_list(path: VisitListPath, body: VisitListChange) -> VisitListOut:
    return visit_lists.change_list(desk(), path.list_id, body)


@api.route_for("delete", "/visit-lists/<int:list_id>", needs="study.write", status=204)
def remove_list(path: VisitListPath) -> None:
    visit_lists.remove_list(desk(), path.list_id)


@api.route_for("post", "/visit-lists/<int:list_id>/reserves", needs="study.write", returns=VisitListOut)
def take_reserves(path: VisitListPath, body: ReservesIn) -> VisitListOut:
    """Visit the next reserves instead of what was lost."""
    return visit_lists.take_reserves(desk(), path.list_id, body)


@api.route_for("get", "/visit-lists/<int:list_id>/visits", needs="field.read", returns=VisitLines)
def list_visits(path: VisitListPath, query: VisitsQuery) -> VisitLines:
    return visits.list_visits(desk(), path.list_id, query)


@api.route_for("get", "/visit-lists/<int:list_id>/points", needs="field.read", returns=VisitPoints)
def points(path: VisitListPath, query: VisitsQuery) -> VisitPoints:
    """Where they lie; pages do not matter here."""
    return visits.list_points(desk(), path.list_id, query.which)


@api.route_for("get", "/visit-lists/<int:list_id>/rates", needs="field.read", returns=RatesOut)
def rates(path: VisitListPath, query: RatesQuery) -> RatesOut:
    return visit_rates.show_rates(desk(), path.list_id, query)


@api.route_for("get", "/visit-lists/<int:list_id>/file", needs="extract.make")
def file(path: VisitListPath) -> Response:
    name, content = visit_rates.file_of_list(desk(), path.list_id)
    return Response(content, mimetype="text/csv", headers=attachment(name))


@api.route_for("post", "/visit-lists/<int:list_id>/proposals", needs="field.manage", returns=SharesProposed)
def propose(path: VisitListPath, body: SharesWanted) -> SharesProposed:
    """Who would go where; nothing is given yet."""
    return visit_giving.propose(desk(), path.list_id, body)


@api.route_for("put", "/visit-lists/<int:list_id>/shares", needs="field.manage", returns=Given)
def give(path: VisitListPath, body: GiveIn) -> Given:
    return visit_giving.give(desk(), path.list_id, body)


@api.route_for("get", "/studies/<int:study_id>/ground", needs="register.read", returns=GroundOut)
def show_ground(path: StudyPath, query: GroundQuery) -> GroundOut:
    """Where interviews, visits or units lie."""
    return ground.show_ground(desk(), path.study_id, query)


@api.route_for("get", "/visits/<int:visit_id>", needs="field.read", returns=VisitOut)
def show_visit(path: VisitPath) -> VisitOut:
    return visits.show_visit(desk(), path.visit_id)


@api.route_for("put", "/visits/<int:visit_id>", needs="field.manage", returns=VisitOut)
def change_visit(path: VisitPath, body: VisitChange) -> VisitOut:
    return visits.change_visit(desk(), path.visit_id, body)


@api.route_for("post", "/visits/<int:visit_id>/attempts", needs="field.manage", returns=VisitOut)
def add_attempt(path: VisitPath, body: AttemptIn) -> VisitOut:
    return visits.add_attempt(desk(), path.visit_id, body)


@api.route_for("post", "/attempts/<int:attempt_id>/taking-back", needs="field.manage", returns=VisitOut)
def take_back(path: AttemptPath, body: TakenBack) -> VisitOut:
    return visits.take_back(desk(), path.attempt_id, body)


class LayerPath(BaseModel):
    layer_id: int


@api.route_for("get", "/studies/<int:study_id>/map-layers", needs="field.read", returns=list[LayerOut])
def list_layers(path: StudyPath) -> list[LayerOut]:
    return saved_layers.list_layers(desk(), path.study_id)


@api.route_for("put", "/studies/<int:study_id>/map-layers", needs="field.manage", returns=list[LayerOut])
def keep_layer(path: StudyPath, body: LayerIn) -> list[LayerOut]:
    return saved_layers.keep_layer(desk(), path.study_id, body)


@api.route_for("delete", "/map-layers/<int:layer_id>", needs="field.manage", returns=list[LayerOut])
def remove_layer(path: LayerPath) -> list[LayerOut]:
    return saved_layers.remove_layer(desk(), path.layer_id)
