"""What follows from a unit's answers, what it was before, which units are meant, figures."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from skavo.core.modules.module import script_of
from skavo.core.questionnaire.compile import compile_script
from skavo.core.register.changes import applied, changes_between, undone
from skavo.core.register.figures import can_be_carried, figure_of, said
from skavo.core.register.form import UnitForm
from skavo.core.register.narrowing import Condition, meets
from skavo.core.register.ready import READY, ReadyKind
from tests.core.register.kinds import NOON, bench, workshop

PLACE = {"latitude": -47.0, "longitude": -122.0, "accuracy": 5}


def test_derived_values_faults_name_and_place_follow_from_the_answers() -> None:
    reckoned = workshop().form.reckon({"id_name": "Tern", "id_opened": 1999, "id_place": PLACE}, NOON)
    assert (reckoned.label, reckoned.derived, reckoned.point) == ("Tern", {"id_age": 28}, (-47.0, -122.0))
    assert (reckoned.filled, reckoned.asked, reckoned.faults) == (3, 9, [])


def test_a_broken_check_is_told_and_an_empty_field_is_not() -> None:
    (fault,) = workshop().form.reckon({"id_opened": 2099}, NOON).faults
    assert (fault.part_id, fault.strength, fault.text) == ("id_opened", "must", "Not yet.")


def test_an_area_lies_in_the_middle_of_its_corners_also_across_the_date_line() -> None:
    corners = [
        {"latitude": a, "longitude": b, "accuracy": None} for a, b in ((1, 179.9), (1, -179.9), (3, -179.9), (3, 179.9))
    ]
    point = workshop().form.reckon({"id_yard": {"points": corners}}, NOON).point
    assert point is not None and point[0] == 2 and abs(abs(point[1]) - 180) < 1e-9


def test_a_kind_without_a_release_has_units_with_nothing_but_a_key() -> None:
    reckoned = UnitForm(None).reckon({"id_gone": 1}, NOON)
    assert (reckoned.asked, reckoned.label, UnitForm(None).lines({}, NOON)) == (0, "", [])


def test_answers_of_fields_that_are_gone_are_left_alone() -> None:
    assert workshop().form.reckon({"id_gone": 1, "id_name": "Tern"}, NOON).label == "Tern"


def test_whether_it_asks_for_the_day_is_seen_in_its_rules() -> None:
    assert workshop().form.asks_for_the_day and not bench().form.asks_for_the_day


Fields = st.dictionaries(st.sampled_from("abcd"), st.integers(0, 3))


@given(st.lists(Fields, min_size=1, max_size=6))
def test_any_earlier_state_comes_back_from_the_changes_since(states: list[dict[str, Any]]) -> None:
    steps = [changes_between(before, after) for before, after in pairwise(states)]
    for before, after, step in zip(states, states[1:], steps, strict=False):
        assert applied(before, step) == after
    for day in range(len(states)):
        assert undone(states[-1], reversed(steps[day:])) == states[day]


CONDITIONS = [
    (Condition(part_id="id_opened", how="at least", value=2000), [1999, 2000, None, 2005], [1, 3]),
    (Condition(part_id="id_opened", how="at most", value="1999"), [1999, 2000, None, 2005], [0]),
    (Condition(part_id="id_condition", how="is", value="poor"), ["poor", "good", None], [0]),
    (Condition(part_id="id_condition", how="is not", value="poor"), ["poor", "good", None], [1, 2]),
    (Condition(part_id="id_condition", how="at least", value="fair"), ["poor", "good", "fair", None], [0, 2]),
    (Condition(part_id="id_trades", how="is", value="sail"), [["shoe", "sail"], ["shoe"], None], [0]),
    (Condition(part_id="id_name", how="holds", value="épo"), ["L'Epoque", "Tern", None], [0]),
    (Condition(part_id="id_name", how="is empty"), ["a", None], [1]),
    (Condition(part_id="id_name", how="is filled"), ["a", None], [0]),
    (Condition(part_id="id_licensed", how="is", value=True), [True, False, None], [0]),
    (Condition(part_id="id_seen", how="at least", value="2027-03-01"), ["2027-02-28", "2027-03-01", None], [1]),
]


@pytest.mark.parametrize(("condition", "values", "places"), CONDITIONS)
def test_a_condition_is_met_by(condition: Condition, values: list[Any], places: list[int]) -> None:
    form = workshop().form
    assert form.release is not None
    met = meets(form.release, form.by_id[condition.part_id], condition, values)
    assert [place for place, is_met in enumerate(met) if is_met] == places


def test_quantities_are_compared_in_base_units() -> None:
    form = bench().form
    assert form.release is not None
    part = form.by_id["id_weight"]
    assert figure_of(form.release, part, {"amount": "2.5", "unit": "t"}) == 2500
    values = [{"amount": "2.5", "unit": "t"}, {"amount": 40, "unit": "kg"}, None]
    heavy = meets(form.release, part, Condition(part_id="id_weight", how="at least", value=100), values)
    assert heavy.tolist() == [True, False, False]


def test_figures_are_said_as_the_answers_they_come_from() -> None:
    shop, table = workshop().form, bench().form
    assert shop.release is not None and table.release is not None
    assert said(shop.release, shop.by_id["id_condition"], 2.0) == "poor"
    assert (
        said(shop.release, shop.by_id["id_seen"], figure_of(shop.release, shop.by_id["id_seen"], "2027-03-14"))
        == "2027-03-14"
    )
    assert said(table.release, table.by_id["id_value"], 0.1 + 0.2) == 0.3
    assert math.isnan(figure_of(table.release, table.by_id["id_value"], {"special": "dont_know"}))


def test_sums_are_of_numbers_and_the_worst_is_of_codes_and_days() -> None:
    parts = {**workshop().form.by_id, **bench().form.by_id}
    assert can_be_carried(parts["id_value"], "sum") and can_be_carried(parts["id_weight"], "sum")
    assert can_be_carried(parts["id_condition"], "most") and not can_be_carried(parts["id_condition"], "sum")
    assert not can_be_carried(parts["id_place"], "most") and not can_be_carried(parts["id_trades"], "least")


@pytest.mark.parametrize("ready", READY, ids=lambda ready: ready.fields.name)
def test_a_ready_kind_is_without_a_doubt_and_said_in_all_its_languages(ready: ReadyKind) -> None:
    compiled = compile_script(script_of(ready.fields))
    assert [(f.code, f.part_id, f.message) for f in compiled.findings] == []
    parts = {part.id: part for part in ready.fields.fragment.parts}
    assert not ready.settings.label or ready.settings.label in parts
    assert all(carried.part_id in parts for carried in ready.settings.carried)
    for part in parts.values():
        assert set(part.wording) == {"en", "fr", "ar"}, part.variable
