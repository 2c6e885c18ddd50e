"""Whoever supervises some teams knows of the branches that those carry; places are told roughly where they are hidden."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from skavo.core.register.coarse import coarsened
from skavo.core.rules.geodesy import distance_m
from skavo.core.rules.values import Point
from skavo.services.branches import PointsQuery, show_points
from skavo.services.desk import Desk
from skavo.services.ground import GroundQuery, show_ground
from skavo.services.refusals import Refused
from skavo.services.unit_changes import (
    CloseIn,
    MoveIn,
    UnitChange,
    UnitIn,
    change_unit,
    close_unit,
    make_unit,
    move_unit,
)
from skavo.services.unit_files import TakeOutOrder, order_taking_out
from skavo.services.units import show_unit
from tests.services.conftest import desk_of
from tests.services.test_units_carried import Ground
from tests.store.study import SmallStudy


@pytest.fixture
def ground(desk: Desk, study: SmallStudy) -> Ground:
    return Ground(desk, study)


def limited(ground: Ground) -> Desk:
    """A supervisor of the team North."""
    return replace(desk_of(ground.study.store, "supervisor"), teams=frozenset({ground.team_id}))


def test_a_supervisor_of_some_teams_sees_what_those_carry(ground: Ground) -> None:
    desk = limited(ground)
    assert ground.plan.tree(desk=desk) == []
    ground.share(ground.shop, people=[ground.ilse])
    # What it lies under leads there, and is no more than that.
    assert ground.plan.tree(desk=desk) == [("LM", 2)]
    assert ground.plan.tree(above=ground.ward.id, desk=desk) == [("Tern", 1)]
    assert show_unit(desk, ground.lathe.id).key == "L1"
    change_unit(desk, ground.shop.id, UnitChange(changes={"workshop_name": ["Tern", "Old Tern"]}))
    ground.share(ground.ward, teams=[ground.team_id])
    assert ground.plan.tree(above=ground.ward.id, desk=desk) == [("Gull", 0), ("Old Tern", 1)]
    ground.share(ground.ward, people=[ground.otto])
    assert ground.plan.tree(above=ground.ward.id, desk=desk) == [("Old Tern", 1)]


@pytest.mark.parametrize(
    "act",
    [
        lambda desk, g: show_unit(desk, g.other.id),
        lambda desk, g: change_unit(desk, g.other.id, UnitChange(changes={"workshop_name": ["Gull", "x"]})),
        lambda desk, g: close_unit(desk, g.other.id, CloseIn(why="x")),
        lambda desk, g: move_unit(desk, g.shop.id, MoveIn(above=g.elsewhere.id)),
        lambda desk, g: make_unit(desk, g.study.study_id, UnitIn(kind_id=g.plan.shop.id, above=g.elsewhere.id)),
        lambda desk, g: make_unit(desk, g.study.study_id, UnitIn(kind_id=g.plan.ward.id)),
        lambda desk, g: order_taking_out(desk, g.study.study_id, TakeOutOrder()),
    ],
)
def test_what_lies_elsewhere_is_not_theirs(ground: Ground, act: Any) -> None:
    ground.share(ground.shop, teams=[ground.team_id])
    with pytest.raises(Refused):
        act(limited(ground), ground)
    assert ground.held(ground.other) == {"name": "Gull"}


def place(ground: Ground) -> tuple[float, float]:
    at = (-47.0123, -122.3456)
    value = {"latitude": at[0], "longitude": at[1]}
    change_unit(ground.desk, ground.shop.id, UnitChange(changes={"workshop_place": [None, value]}))
    return at


def test_a_hidden_place_is_told_roughly_where_the_kind_says_so(ground: Ground) -> None:
    at = place(ground)
    ground.hide("place")
    analyst = desk_of(ground.study.store, "analyst")

    def told(desk: Desk) -> list[tuple[float, float]]:
        points = show_points(desk, ground.study.study_id, PointsQuery())
        drawn = show_ground(desk, ground.study.study_id, GroundQuery(of="units", named=ground.plan.shop.id))
        assert drawn.latitudes == points.latitudes
        return list(zip(points.latitudes, points.longitudes, strict=True))

    assert (told(ground.desk), told(analyst)) == ([at], [])
    assert show_unit(analyst, ground.shop.id).latitude is None
    ground.set(ground.plan.shop, coarse_km=5)
    assert told(ground.desk) == [at]
    ((north, east),) = told(analyst)
    assert (north, east) == coarsened(*at, 5) != at
    assert show_unit(analyst, ground.shop.id).latitude == north


@pytest.mark.parametrize("km", [0.5, 5, 50])
@pytest.mark.parametrize("at", [(0.0, 0.0), (-47.01, -122.3), (64.1, 179.999), (-89.9, 12.0), (12.3, -180.0)])
def test_a_rough_place_is_within_its_square_and_the_same_for_neighbours(at: tuple[float, float], km: float) -> None:
    rough = coarsened(*at, km)
    apart = distance_m(Point(*at), Point(*rough))
    assert apart is not None and float(apart) <= km * 1000 * 0.75
    assert coarsened(*rough, km) == pytest.approx(rough, abs=1e-9)
