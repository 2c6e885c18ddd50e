"""The map at the desk: what lies where, in groups, for whoever may see it."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest

from skavo.core.errors import DataError
from skavo.core.permissions import granted
from skavo.services.checks import show_checks
from skavo.services.desk import Desk
from skavo.services.drafts import save_script, show_draft
from skavo.services.ground import GroundOut, GroundQuery, show_ground
from skavo.services.ledger import LedgerQuery, show_ledger
from skavo.services.refusals import Refused
from skavo.services.saved_layers import LayerIn, keep_layer, list_layers, remove_layer
from skavo.services.unit_changes import CloseIn, close_unit
from skavo.services.units import show_unit
from skavo.services.visits import AttemptIn, add_attempt
from skavo.store.models import VisitAttempt
from tests.samples import code_list, part, script
from tests.services.conftest import desk_of
from tests.services.test_visits import YESTERDAY, Field, supervisor
from tests.store.study import SmallStudy, release_in

ASKED = script(
    part(1, "yes/no", "consent"),
    part(1, "point", "door"),
    part(1, "single answer", "condition", code_list="condition"),
    part(1, "whole number", "workers"),
    part(1, "whole number", "earns", sensitive=True),
    lists=(code_list("condition", "good", "poor"),),
)


@pytest.fixture
def field(desk: Desk, study: SmallStudy) -> Field:
    return Field(desk, study)


def shown(field: Field, of: str, named: int, by: str = "", desk: Desk | None = None) -> GroundOut:
    return show_ground(
        desk or field.desk, field.study.study_id, GroundQuery.model_validate({"of": of, "named": named, "by": by})
    )


def sizes(ground: GroundOut) -> dict[str, int]:
    assert sum(group.points for group in ground.groups) == len(ground.ids) == len(ground.group_of)
    for number, group in enumerate(ground.groups):
        assert ground.group_of.count(number) == group.points
    return {group.label or group.value: group.points for group in ground.groups}


def test_visits_are_told_apart_by_outcome_person_and_area(field: Field) -> None:
    lines = field.visits()
    field.give(Ilse=[line.id for line in lines[:4]])
    for line, outcome in zip(lines, ("completed", "locked", "nobody"), strict=False):
        add_attempt(field.desk, line.id, AttemptIn(outcome=outcome, at=YESTERDAY))
    assert sizes(shown(field, "visits", field.list.id)) == {"non-contact": 2, "interview": 1, "": 6}
    assert sizes(shown(field, "visits", field.list.id, "person")) == {"Ilse": 4, "": 5}
    assert sizes(shown(field, "visits", field.list.id, "area")) == {"Ward LM": 3, "Ward LN": 3, "Ward LS": 3}
    # A supervisor sees those of their team; what cannot be told apart by is told apart by the first choice.
    mine = shown(field, "visits", field.list.id, "nonsense", supervisor(field, "North"))
    assert mine.by == "outcome" and len(mine.ids) == 4


def test_units_are_told_apart_by_their_coded_fields_and_by_what_they_lie_under(field: Field) -> None:
    shops = shown(field, "units", field.plan.shop.id, "workshop_condition")
    assert sizes(shops) == {"Good": 18} and "workshop_condition" in {choice.value for choice in shops.choices}
    assert sizes(shown(field, "units", field.plan.shop.id, "above")) == {"Ward LM": 6, "Ward LN": 6, "Ward LS": 6}
    # Wards have no place of their own here: they lie in the middle of what lies below them.
    wards = shown(field, "units", field.plan.ward.id)
    assert wards.latitudes == pytest.approx([0.0025, 10.0025, 20.0025]) and wards.without == 0
    with pytest.raises(Refused, match="no such kind"):
        shown(field, "units", 999)


def arrives(field: Field, release: tuple[str, str], place: tuple[float, float] | None, **answers: Any) -> None:
    identity, digest = release
    carried = field.device().visits[0]
    given = {"consent": True, **answers}
    if place is not None:
        given["door"] = {"latitude": place[0], "longitude": place[1], "accuracy": 5}
    document = field.study.document(
        release=identity, release_hash=digest, answers=given, visit=carried.visit, known=carried.known.model_dump()
    )
    field.study.arrive(document)


def test_interviews_are_told_apart_by_how_far_from_their_unit_they_were_taken(field: Field) -> None:
    release = release_in(field.study.store, field.study.questionnaire_id, ASKED, 2)
    field.give(Ilse=[field.visits()[0].id])
    place = field.device().visits[0].place
    assert place is not None
    arrives(field, release, (place[0], place[1]), condition="good")
    arrives(field, release, (place[0] + 0.002, place[1]), condition="poor")
    arrives(field, release, (place[0] + 0.5, place[1]), condition="poor")
    arrives(field, release, None)
    q = field.study.questionnaire_id
    apart = shown(field, "interviews", q, "distance")
    assert sizes(apart) == {"at": 1, "near": 1, "far": 1} and apart.without == 1
    assert sizes(shown(field, "interviews", q, "v/condition")) == {"Poor": 2, "Good": 1}
    assert sizes(shown(field, "interviews", q)) == {"arrived": 3}


def test_a_sensitive_place_is_neither_drawn_nor_measured_from(field: Field) -> None:
    release = release_in(field.study.store, field.study.questionnaire_id, ASKED, 2)
    field.give(Ilse=[field.visits()[0].id])
    place = field.device().visits[0].place
    assert place is not None
    arrives(field, release, (place[0], place[1]))
    draft = show_draft(field.desk, field.plan.shop.questionnaire_id)
    parts = [one.model_copy(update={"sensitive": one.kind == "point"}) for one in draft.script.parts]
    save_script(field.desk, draft.id, draft.script.model_copy(update={"parts": parts}), draft.version)
    analyst = desk_of(field.study.store, "analyst")
    analyst = replace(analyst, permissions=analyst.permissions | {"field.read"})
    for seen, apart in ((field.desk, {"at": 1}), (analyst, {"": 1})):
        assert sizes(shown(field, "interviews", field.study.questionnaire_id, "distance", seen)) == apart
    assert len(shown(field, "units", field.plan.shop.id).ids) == 18
    for of, named in (("units", field.plan.shop.id), ("visits", field.list.id)):
        hidden = shown(field, of, named, desk=analyst)
        assert hidden.ids == [] and hidden.without > 0


def test_who_may_not_see_answers_sees_no_interviews_on_the_map(field: Field) -> None:
    keyer = replace(field.desk, permissions=granted(["keyer"]))
    for of in ("interviews", "visits", "units"):
        with pytest.raises(Refused, match="may not see"):
            shown(field, of, 1, desk=keyer)


def test_wards_are_told_apart_by_figures_of_what_lies_below_from_the_least_to_the_most(field: Field) -> None:
    lines = ["kind,key,above,name,value"]
    for at, ward in enumerate(("LM", "LN", "LS")):
        lines += [f"tool,{ward}-{n:02}-T,{ward}-{n:02},Saw,{10 ** (at + 1)}" for n in range(6)]
    columns = {"kind": "#kind", "key": "#key", "above": "#above", "name": "name", "value": "value"}
    field.plan.bring("\n".join(lines), columns=columns)
    by = f"carried/{field.plan.tool.id}/sum/tool_value"
    wards = shown(field, "units", field.plan.ward.id, by)
    assert wards.graded and by in {choice.value for choice in wards.choices}
    assert [group.label for group in wards.groups] == ["60", "600", "6000"]
    assert wards.group_of == [0, 1, 2]
    # Many different figures come in five classes of about the same size; what has none is in none.
    for at, ward in enumerate(("LM", "LN", "LS")):
        changed = [f"tool,{ward}-{n:02}-T,{ward}-{n:02},Saw,{100 * at + n + 1}" for n in range(6) if (at, n) != (0, 0)]
        field.plan.bring("\n".join([lines[0], *changed]), columns=columns)
    field.plan.make(
        field.plan.shop, "LM-99", show_unit(field.desk, wards.ids[0]), place={"latitude": 1, "longitude": 1}
    )
    shops = shown(field, "units", field.plan.shop.id, by)
    assert [group.points for group in shops.groups] == [4, 3, 4, 3, 4, 1]
    assert shops.groups[-1].value == "" and shops.groups[0].label.split(" – ")[0] == "2"


def test_the_ways_of_a_day_are_where_people_were_in_the_order_in_which_they_were_there(field: Field) -> None:
    lines = field.visits()
    field.give(Ilse=[line.id for line in lines[:3]], Otto=[lines[3].id])
    identities = [visit.visit for visit in field.device().visits]
    for hours, at in ((5, 0), (1, 1), (30, 2)):
        moment = YESTERDAY.replace(hour=12, minute=0) - timedelta(hours=hours)
        field.tell(identities[at], "locked", at=moment, latitude=10 + hours, longitude=1, accuracy=5)
    field.try_at(lines[3], "locked")
    ways = show_ground(field.desk, field.study.study_id, GroundQuery(of="ways", named=field.list.id))
    assert (ways.latitudes, len(ways.days), ways.day) == ([15, 11], 2, ways.days[-1])
    assert [label.split()[0] for label in ways.labels] == ["07:00", "11:00"]
    assert sizes(ways) == {"Ilse Varn": 2}
    before = show_ground(
        field.desk, field.study.study_id, GroundQuery(of="ways", named=field.list.id, day=ways.days[0])
    )
    assert before.latitudes == [40]
    nobody = show_ground(
        supervisor(field, "South"), field.study.study_id, GroundQuery(of="ways", named=field.list.id)
    )  # fmt: skip
    assert (nobody.ids, nobody.days, nobody.day) == ([], [], "")


def test_a_map_is_kept_under_a_name_once(field: Field) -> None:
    study, query = field.study.study_id, GroundQuery(of="visits", named=field.list.id)
    keep_layer(field.desk, study, LayerIn(name="Round 1", query=query))
    kept = keep_layer(field.desk, study, LayerIn(name=" round 1 ", query=query, off=["refusal"]))
    assert [(one.name, one.off, one.query) for one in kept] == [("Round 1", ["refusal"], query)]
    assert list_layers(field.desk, study) == kept
    for name in ("Été", "ÉTÉ", "Été"):
        assert len(keep_layer(field.desk, study, LayerIn(name=name, query=query))) == 2
    remove_layer(field.desk, list_layers(field.desk, study)[1].id)
    assert remove_layer(field.desk, kept[0].id) == []
    with pytest.raises(Refused):
        remove_layer(field.desk, kept[0].id)


def test_interviews_are_told_apart_by_numbers_in_classes_and_by_none_that_is_hidden(field: Field) -> None:
    release = release_in(field.study.store, field.study.questionnaire_id, ASKED, 2)
    field.give(Ilse=[field.visits()[0].id])
    for workers in (*range(1, 11), None):
        arrives(
            field, release, (10.0, 1.0), **({} if workers is None else {"workers": workers, "earns": 100 * workers})
        )
    q = field.study.questionnaire_id
    told = shown(field, "interviews", q, "v/workers")
    assert told.graded and [group.points for group in told.groups] == [2, 2, 2, 2, 2, 1]
    assert told.groups[0].label.startswith("1 – ") and told.groups[4].label.endswith(" – 10")
    assert told.groups[5].value == ""
    assert shown(field, "interviews", q, "v/earns").by == "v/earns"
    hidden = shown(field, "interviews", q, "v/earns", desk_of(field.study.store, "analyst"))
    assert (hidden.by, "v/earns" in {choice.value for choice in hidden.choices}) == ("state", False)


def test_what_is_drawn_is_narrowed_down_as_in_the_ledger_the_visits_and_the_register(field: Field) -> None:
    def left(of: str, named: int, narrow: str) -> int:
        query = GroundQuery.model_validate({"of": of, "named": named, "narrow": narrow})
        return len(show_ground(field.desk, field.study.study_id, query).ids)

    shop = field.plan.shop.id
    assert left("units", shop, "") == 18
    assert left("units", shop, '{"words": "LM-0"}') == 6
    assert left("units", shop, '{"conditions": [{"part_id": "workshop_name", "how": "is", "value": "Shop 3"}]}') == 3
    close_unit(field.desk, shown(field, "units", shop).ids[0], CloseIn(why="gone"))
    assert (left("units", shop, ""), left("units", shop, '{"closed": true}')) == (17, 18)
    field.try_at(field.visits()[0], "refused")
    assert left("visits", field.list.id, '{"standing": "to pass on"}') == 1
    assert left("visits", field.list.id, '{"area": "Ward LN"}') == 3
    release = release_in(field.study.store, field.study.questionnaire_id, ASKED, 2)
    field.give(Ilse=[field.visits()[1].id])
    arrives(field, release, (10.0, 1.0))
    q = field.study.questionnaire_id
    assert left("interviews", q, '{"state": "arrived"}') == 1
    assert left("interviews", q, '{"enumerator": "Nobody"}') == 0
    for of, named in (("units", shop), ("visits", field.list.id), ("interviews", q)):
        for broken in ("{", '{"no_such": 1}', "[]"):
            with pytest.raises(DataError, match="Choose it again"):
                left(of, named, broken)


def test_what_was_taken_far_from_its_unit_is_a_finding_that_leads_to_the_interviews(field: Field) -> None:
    release = release_in(field.study.store, field.study.questionnaire_id, ASKED, 2)
    field.give(Ilse=[field.visits()[0].id])
    place = field.device().visits[0].place
    assert place is not None
    # 500 m are 0.00449 degrees of latitude or more, wherever it is (WGS 84: 110,574 to 111,694 m a degree).
    for north in (0, 0.0044, 0.0046, 0.5):
        arrives(field, release, (place[0] + north, place[1]))
    arrives(field, release, None)
    q = field.study.questionnaire_id
    lines = [line for line in show_checks(field.desk, field.study.study_id).checks if line.code == "far_from_unit"]
    assert [(line.interviews, line.strength, line.questionnaire_id) for line in lines] == [(2, "should", q)]
    found = show_ledger(field.desk, field.study.study_id, LedgerQuery(check=lines[0].id, sort="number"))
    assert sorted(line.key for line in found.lines) == ["0003", "0004"]
    assert sizes(shown(field, "interviews", q, "distance"))["far"] == 2


def test_an_interview_without_a_place_of_its_own_was_taken_where_the_attempt_was_made(field: Field) -> None:
    release = release_in(field.study.store, field.study.questionnaire_id, ASKED, 2)
    field.give(Ilse=[field.visits()[0].id])
    carried = field.device().visits[0]
    assert carried.place is not None
    arrives(field, release, None)
    uuid = field.study.interview().uuid
    with field.study.store.session() as session:
        attempt = session.query(VisitAttempt).filter_by(interview_uuid=uuid).one()
        attempt.latitude, attempt.longitude = carried.place[0] + 1, carried.place[1]
    by_distance = shown(field, "interviews", field.study.questionnaire_id, "distance")
    assert sizes(by_distance) == {"far": 1} and by_distance.latitudes == [carried.place[0] + 1]
    # Whoever may not see where the unit lies learns it neither from the attempt nor from the finding.
    draft = show_draft(field.desk, field.plan.shop.questionnaire_id)
    parts = [one.model_copy(update={"sensitive": one.kind == "point"}) for one in draft.script.parts]
    save_script(field.desk, draft.id, draft.script.model_copy(update={"parts": parts}), draft.version)
    analyst = desk_of(field.study.store, "analyst")
    assert shown(field, "interviews", field.study.questionnaire_id, "distance", analyst).without == 1
    for desk, findings in ((field.desk, 1), (analyst, 0)):
        told = show_checks(desk, field.study.study_id).checks
        assert len([line for line in told if line.code == "far_from_unit"]) == findings
