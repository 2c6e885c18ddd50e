"""Registers at the desk: kinds, units, what is done to them and by whom, files in and out."""

from __future__ import annotations

import json
from datetime import date, timedelta
from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.errors import SkavoError
from skavo.core.register.changes import KEY
from skavo.core.register.narrowing import Condition, Narrowing
from skavo.services.branches import BranchQuery, PointsQuery, show_branch, show_points, way_to
from skavo.services.desk import Desk
from skavo.services.drafts import save_script, show_draft
from skavo.services.jobs import file_of_job
from skavo.services.refusals import Refused
from skavo.services.registers import KindChange, KindIn, change_kind, list_kinds, make_kind, remove_kind
from skavo.services.releases import make_release
from skavo.services.unit_changes import (
    CloseIn,
    MergeIn,
    MoveIn,
    SplitIn,
    UnitChange,
    UnitIn,
    change_unit,
    close_unit,
    make_unit,
    merge_unit,
    move_unit,
    split_unit,
)
from skavo.services.unit_files import BringInOrder, TakeOutOrder, order_bringing_in, order_taking_out
from skavo.services.units import UnitOut, show_unit
from skavo.store import registers
from skavo.store.files import keep_file
from skavo.store.models import Job, Unit, UnitEvent, now
from tests.services.conftest import desk_of
from tests.services.plan import Plan
from tests.store.study import SmallStudy


@pytest.fixture
def plan(desk: Desk, study: SmallStudy) -> Plan:
    return Plan(desk, study.study_id)


def field_of(unit: UnitOut, name: str) -> str:
    return next(line.shown for line in unit.fields if line.part_id == name)


def test_a_ready_kind_is_in_force_at_once_and_is_no_questionnaire_of_the_study(plan: Plan) -> None:
    kinds = list_kinds(plan.desk, plan.study_id)
    assert [(kind.title, kind.name, kind.number) for kind in kinds] == [
        ("Ward", "ward", 1), ("Workshop", "workshop", 1), ("Tool", "tool", 1),
    ]  # fmt: skip
    assert {"condition", "value"} <= {field.variable for field in kinds[2].fields}


def test_what_lies_below_is_carried_up_and_closed_units_do_not_count(plan: Plan) -> None:
    ward = plan.make(plan.ward, "LM")
    shop = plan.make(plan.shop, "S1", ward, name="Tern")
    old = plan.make(plan.tool, "T1", shop, name="Vice", value=100, condition="poor", bought=1999)
    plan.make(plan.tool, "T2", shop, name="Drill", value="50.5", condition="good", bought=2019)
    seen = show_unit(plan.desk, ward.id)
    assert [(line.field, line.how, line.shown) for line in seen.carried] == [
        ("Cost to replace", "sum", "150.5"), ("Condition", "most", "Poor"), ("Bought in", "least", "1999"),
    ]  # fmt: skip
    assert [(below.kind_id, below.units) for below in seen.below] == [(plan.shop.id, 1), (plan.tool.id, 2)]
    close_unit(plan.desk, old.id, CloseIn(why="sold"))
    assert [line.shown for line in show_unit(plan.desk, ward.id).carried] == ["50.5", "Good", "2019"]
    assert plan.tree() == [("LM", 2)]
    assert plan.tree(Narrowing(closed=True)) == [("LM", 3)]


def test_the_tree_is_narrowed_down_with_what_is_above(plan: Plan) -> None:
    ward, other = plan.make(plan.ward, "LM", name="Luma Mid"), plan.make(plan.ward, "LN", name="Luma North")
    shop = plan.make(plan.shop, "S1", ward, name="Tern", condition="poor")
    plan.make(plan.shop, "S2", other, name="Lamp", condition="good")
    poor = Narrowing(kind=plan.shop.id, conditions=[Condition(part_id="workshop_condition", how="is", value="poor")])
    assert plan.tree(poor) == [("Luma Mid", 1)]
    assert plan.tree(Narrowing(words="tern")) == [("Luma Mid", 1)]
    assert plan.tree(Narrowing(below=other.id)) == [("Luma North", 1)]
    assert way_to(plan.desk, plan.study_id, shop.id).ids == [ward.id]


def test_every_value_says_since_when_and_from_whom_and_any_day_comes_back(plan: Plan) -> None:
    unit = plan.make(plan.ward, "LM", name="Luma Mid")
    with plan.desk.store.session() as session:
        for event in session.scalars(select(UnitEvent)):
            event.at = now() - timedelta(days=3)
    changed = change_unit(plan.desk, unit.id, UnitChange(changes={"ward_name": ["Luma Mid", "Luma Middle"]}))
    since = next(line.since for line in changed.fields if line.part_id == "ward_name")
    assert since is not None and (since.by, since.origin) == ("Dora Maine", "desk")
    assert [(event.what, [(c.before, c.after) for c in event.changes]) for event in changed.history] == [
        ("changed", [("Luma Mid", "Luma Middle")]), ("made", [("", "Luma Mid")]),
    ]  # fmt: skip
    before = show_unit(plan.desk, unit.id, date.today() - timedelta(days=1))
    assert (before.label, field_of(before, "ward_name"), len(before.history)) == ("Luma Mid", "Luma Mid", 1)
    with pytest.raises(Refused, match="came into the register after"):
        show_unit(plan.desk, unit.id, date.today() - timedelta(days=9))


def test_two_people_change_different_fields_and_the_same_field_once(plan: Plan) -> None:
    shop = plan.make(plan.shop, "S1", plan.make(plan.ward, "LM"), name="Tern", condition="good")
    change_unit(plan.desk, shop.id, UnitChange(changes={"workshop_name": ["Tern", "Tern Cycles"]}))
    changed = change_unit(plan.desk, shop.id, UnitChange(changes={"workshop_condition": ["good", "poor"]}))
    assert (changed.label, field_of(changed, "workshop_condition")) == ("Tern Cycles", "Poor")
    with pytest.raises(Refused, match="Dora Maine has changed “Condition” meanwhile"):
        change_unit(plan.desk, shop.id, UnitChange(changes={"workshop_condition": ["good", "fair"]}))
    # The same change made twice, as by a double click, is one.
    again = change_unit(plan.desk, shop.id, UnitChange(changes={"workshop_condition": ["good", "poor"]}))
    assert len(again.history) == 3


REFUSED: list[tuple[dict[str, list[Any]], str]] = [
    ({"tool_bought": [None, "soon"]}, "“Bought in” cannot hold this"),
    ({"gone": [None, 1]}, "not among those of this kind"),
    ({"tool_age": [None, 1]}, "not among those of this kind"),
    ({"tool_bought": [1999]}, "what was before and what is to be"),
    ({KEY: ["T1", ""]}, "needs a key"),
    ({KEY: ["T1", "T2"]}, "There is a unit T2"),
]


@pytest.mark.parametrize(("changes", "told"), REFUSED)
def test_what_a_field_cannot_hold_changes_nothing(plan: Plan, changes: dict[str, list[Any]], told: str) -> None:
    shop = plan.make(plan.shop, "S1", plan.make(plan.ward, "LM"))
    tool, _ = plan.make(plan.tool, "T1", shop, name="Vice"), plan.make(plan.tool, "T2", shop)
    with pytest.raises(SkavoError, match=told):
        change_unit(plan.desk, tool.id, UnitChange(changes={"tool_name": ["Vice", "Big vice"], **changes}))
    assert show_unit(plan.desk, tool.id).label == "Vice"


def test_a_broken_check_is_kept_and_told(plan: Plan) -> None:
    shop = plan.make(plan.shop, "S1", plan.make(plan.ward, "LM"))
    tool = plan.make(plan.tool, "T1", shop, bought=2999)
    assert [(fault.part_id, fault.text) for fault in tool.faults] == [("tool_bought", "This year has not come yet.")]
    assert plan.tree(Narrowing(faulty=True), above=shop.id) == [("T1", 0)]


def test_units_move_where_their_kind_may_hang_and_nowhere_else(plan: Plan) -> None:
    here, there = plan.make(plan.ward, "LM"), plan.make(plan.ward, "LN")
    shop = plan.make(plan.shop, "S1", here)
    tool = plan.make(plan.tool, "T1", shop)
    moved = move_unit(plan.desk, shop.id, MoveIn(above=there.id))
    assert [step.label for step in moved.way] == ["LN"]
    assert moved.history[0].detail == {"from": {"id": here.id, "key": "LM"}, "to": {"id": there.id, "key": "LN"}}
    assert [step.label for step in show_unit(plan.desk, tool.id).way] == ["LN", "S1"]
    for target, told in ((tool.id, "does not hang under"), (0, "hangs under another one"), (10**6, "no such unit")):
        with pytest.raises(Refused, match=told):
            move_unit(plan.desk, shop.id, MoveIn(above=target))


def test_a_branch_is_closed_and_opened_as_a_whole(plan: Plan) -> None:
    ward = plan.make(plan.ward, "LM")
    shop = plan.make(plan.shop, "S1", ward)
    before, tool = plan.make(plan.tool, "T0", shop), plan.make(plan.tool, "T1", shop)
    close_unit(plan.desk, before.id, CloseIn(why="sold"))
    closed = close_unit(plan.desk, shop.id, CloseIn(why="burnt down"))
    assert closed.closed_why == "burnt down" and show_unit(plan.desk, tool.id).closed_at is not None
    with pytest.raises(Refused, match="is closed"):
        plan.make(plan.tool, "T2", shop)
    with pytest.raises(Refused, match="Open that again first"):
        close_unit(plan.desk, tool.id, CloseIn(why=""))
    close_unit(plan.desk, shop.id, CloseIn(why=""))
    assert show_unit(plan.desk, tool.id).closed_at is None
    # What had been closed before stays so.
    assert show_unit(plan.desk, before.id).closed_at is not None


def test_two_units_become_one_and_one_becomes_two_and_nothing_is_lost(plan: Plan) -> None:
    ward = plan.make(plan.ward, "LM")
    one = plan.make(plan.shop, "S1", ward, name="Tern", condition="poor")
    other = plan.make(plan.shop, "S2", ward, name="Tern Cycles")
    tool = plan.make(plan.tool, "T1", one)
    merged = merge_unit(plan.desk, one.id, MergeIn(into=other.id))
    assert (merged.label, field_of(merged, "workshop_condition")) == ("Tern Cycles", "Poor")
    assert [step.label for step in show_unit(plan.desk, tool.id).way] == ["LM", "Tern Cycles"]
    assert show_unit(plan.desk, one.id).closed_why == "Merged with S2"
    made = split_unit(plan.desk, other.id, SplitIn(key="S3", below=[tool.id]))
    assert (made.key, made.label, made.history[0].detail) == ("S3", "Tern Cycles", {"other": "S2", "made": True})
    assert show_unit(plan.desk, tool.id).way[-1].id == made.id
    with pytest.raises(Refused, match="does not lie directly below"):
        split_unit(plan.desk, other.id, SplitIn(below=[tool.id]))


def test_a_kind_keeps_what_its_units_need(plan: Plan) -> None:
    ward = plan.make(plan.ward, "LM")
    plan.make(plan.shop, "S1", ward)
    shop = next(kind for kind in list_kinds(plan.desk, plan.study_id) if kind.id == plan.shop.id)
    for update, told in (
        ({"under": [plan.tool.id]}, "lie under Ward"), ({"under": [], "stands_alone": False}, "hangs under another one"),
        ({"label": "gone"}, "a field of their kind"), ({"under": [999]}, "kinds of the same study"),
        ({"carried": [{"part_id": "workshop_place", "how": "sum"}]}, "cannot be carried"),
    ):  # fmt: skip
        settings = shop.settings.model_validate({**shop.settings.model_dump(), **update})
        with pytest.raises(Refused, match=told):
            change_kind(plan.desk, shop.id, KindChange(settings=settings, version=shop.version))
    with pytest.raises(Refused, match="units of this kind"):
        remove_kind(plan.desk, plan.shop.id)
    isle = make_kind(plan.desk, plan.study_id, KindIn(title="Isle"))
    village = make_kind(plan.desk, plan.study_id, KindIn(title="Village", under=[isle.id]))
    with pytest.raises(Refused, match="Village may hang under it"):
        remove_kind(plan.desk, isle.id)
    remove_kind(plan.desk, village.id)
    remove_kind(plan.desk, isle.id)


def test_a_renamed_field_keeps_its_answers_and_what_is_derived_follows_the_new_release(plan: Plan) -> None:
    shop = plan.make(plan.shop, "S1", plan.make(plan.ward, "LM"))
    tool = plan.make(plan.tool, "T1", shop, bought=2000, useful_life=1000)
    draft = show_draft(plan.desk, plan.tool.questionnaire_id)
    script = draft.script.model_copy(deep=True)
    next(part for part in script.parts if part.variable == "bought").variable = "year_bought"
    for part in script.parts:
        part.derived = part.derived.replace("year(today) - bought", "year(today) - year_bought + 1")
        for check in part.must_hold:
            check.rule = check.rule.replace("bought <=", "year_bought <=")
    saved = save_script(plan.desk, draft.id, script, draft.version)
    assert [f.message for f in saved.findings if f.severity == "error"] == []
    make_release(plan.desk, draft.id, saved.version, "")
    with plan.desk.store.reading() as session:
        before = session.get_one(Unit, tool.id).derived["tool_age"]
        (job,) = session.scalars(
            select(Job).where(Job.kind == "reckoning units", Job.state == "waiting").order_by(Job.id.desc()).limit(1)
        )
    plan.desk.jobs.run(job.id)
    with plan.desk.store.reading() as session:
        unit = session.get_one(Unit, tool.id)
        assert unit.derived["tool_age"] == before + 1 and unit.answers["tool_bought"] == 2000 and unit.version == 1


def test_units_are_called_by_another_field_once_their_kind_says_so(plan: Plan) -> None:
    shop = plan.make(plan.shop, "S1", plan.make(plan.ward, "LM"), name="Tern", address="By the slip")
    kind = next(one for one in list_kinds(plan.desk, plan.study_id) if one.id == plan.shop.id)
    settings = kind.settings.model_copy(update={"label": "workshop_address"})
    change_kind(plan.desk, kind.id, KindChange(settings=settings, version=kind.version))
    with plan.desk.store.reading() as session:
        waiting = select(Job.id).where(Job.kind == "reckoning units", Job.state == "waiting").order_by(Job.id.desc())
        newest = session.scalars(waiting.limit(1)).one()
    plan.desk.jobs.run(newest)
    assert show_unit(plan.desk, shop.id).label == "By the slip"
    assert plan.tree(Narrowing(words="slip")) == [("LM", 1)]


def test_a_move_by_a_file_tells_from_where_to_where(plan: Plan) -> None:
    for ward in ("LM", "LN"):
        plan.make(plan.ward, ward)
    plan.bring("kind,key,above\nworkshop,S1,LM\n", columns={"kind": "#kind", "key": "#key", "above": "#above"})
    plan.bring("kind,key,above\nworkshop,S1,LN\n", columns={"kind": "#kind", "key": "#key", "above": "#above"})
    with plan.desk.store.reading() as session:
        unit = session.scalars(select(Unit).where(Unit.key == "S1")).one()
    event = show_unit(plan.desk, unit.id).history[0]
    assert (event.what, event.detail["from"]["key"], event.detail["to"]["key"]) == ("moved", "LM", "LN")


def test_a_kind_with_a_roster_is_not_released(plan: Plan) -> None:
    draft = show_draft(plan.desk, plan.ward.questionnaire_id)
    script = draft.script.model_copy(deep=True)
    script.parts.append(
        script.parts[0].model_copy(update={"id": "r", "kind": "roster", "variable": "r", "repeated": "2 times"})
    )
    script.parts.append(script.parts[0].model_copy(update={"id": "in", "level": 2, "variable": "inside"}))
    saved = save_script(plan.desk, draft.id, script, draft.version)
    with pytest.raises(Refused, match="A unit holds no roster"):
        make_release(plan.desk, draft.id, saved.version, "")


# files

FILE = """kind,key,above,name,value,place_latitude,place_longitude,bought
ward,LM,,Luma Mid,,,,
workshop,S1,LM,Tern,,-47.1,-122.1,
tool,T1,S1,Vice,120,,,1999
tool,T2,S1,Drill,x,,,
tool,T3,S9,Saw,1,,,
tool,T4,S1,Plane,1,,,2999
"""
COLUMNS = {name: name for name in ("name", "value", "place_latitude", "place_longitude", "bought")} | {
    "kind": "#kind", "key": "#key", "above": "#above",
}  # fmt: skip


def test_a_trial_tells_every_row_and_keeps_nothing(plan: Plan) -> None:
    told = plan.bring(FILE, columns=COLUMNS, trial=True)
    assert told["counts"] == {"new": 3, "wrong": 2, "doubtful": 1}
    assert [(row["row"], row["verdict"], row["doubts"][0]["column"]) for row in told["told"][:3]] == [
        (5, "wrong", "value"), (6, "wrong", "above"), (7, "doubtful", "bought"),
    ]  # fmt: skip
    assert plan.tree() == []


def test_a_file_builds_the_tree_and_comes_in_again_without_a_change(plan: Plan) -> None:
    done = plan.bring(FILE, columns=COLUMNS, doubtful=False)
    assert (done["made"], done["changed"]) == (3, 0)
    assert plan.tree() == [("Luma Mid", 2)]
    again = plan.bring(FILE, columns=COLUMNS, doubtful=True)
    assert again["counts"]["same"] == 3 and (again["made"], again["changed"]) == (1, 0)
    (point,) = [show_points(plan.desk, plan.study_id, PointsQuery())]
    assert (point.labels, point.latitudes, point.left) == (["Tern"], [-47.1], 0)
    with plan.desk.store.reading() as session:
        vice = session.scalars(select(Unit).where(Unit.key == "T1")).one()
    (made,) = show_unit(plan.desk, vice.id).history
    assert (made.what, made.origin, made.detail) == ("made", "file", {"file": "units.csv", "row": 4})


@pytest.mark.parametrize("form", ["csv", "xlsx", "geojson"])
def test_what_is_taken_out_comes_in_again_as_it_was(plan: Plan, form: str) -> None:
    plan.bring(FILE, columns=COLUMNS)
    ordered = order_taking_out(plan.desk, plan.study_id, TakeOutOrder.model_validate({"format": form}))
    plan.job(ordered)
    name, content = file_of_job(plan.desk, ordered.id)
    assert name == f"Sample register.{form}"
    columns = {**COLUMNS, "geometry": "place_latitude"} if form == "geojson" else COLUMNS
    digest = keep_file(plan.desk.store.files, content)
    wanted = BringInOrder(
        file=digest,
        name=name,
        columns={
            k: v for k, v in columns.items() if form != "geojson" or k not in ("place_latitude", "place_longitude")
        },
        trial=True,
    )
    told = plan.job(order_bringing_in(plan.desk, plan.study_id, wanted))
    assert told["counts"] == {"same": 4}, told["told"]
    if form == "geojson":
        assert json.loads(content)["features"][1]["geometry"] == {"type": "Point", "coordinates": [-122.1, -47.1]}


def test_what_a_file_cannot_be_is_said_before_the_work_begins(plan: Plan) -> None:
    digest = "0" * 64
    for columns, kind, told in (
        ({"a": "name"}, 1, "which column is the key"), ({"a": "#key"}, 0, "Say of which kind"),
        ({"a": "#key", "b": "#key"}, 1, "Two columns"), ({"a": "#key", "b": "nothing"}, 1, "no field of a kind"),
    ):  # fmt: skip
        with pytest.raises(SkavoError, match=told):
            wanted = BringInOrder(file=digest, name="x.csv", kind=kind, columns=columns, trial=True)
            order_bringing_in(plan.desk, plan.study_id, wanted)


# who sees what


def test_whoever_may_not_see_sensitive_fields_sees_no_name_no_value_no_change_and_finds_nothing_by_them(
    desk: Desk, study: SmallStudy
) -> None:
    person = make_kind(desk, study.study_id, KindIn(title="Person", ready="person"))
    settings = person.settings.model_copy(update={"label": "person_name"})
    change_kind(desk, person.id, KindChange(settings=settings, version=person.version))
    unit = make_unit(
        desk,
        study.study_id,
        UnitIn(
            kind_id=person.id,
            key="P1",
            answers={"person_name": "Secret Ada", "person_sex": "female", "person_born": "1971-02-03"},
        ),
    )
    change_unit(desk, unit.id, UnitChange(changes={"person_name": ["Secret Ada", "Secret Ida"]}))
    analyst = desk_of(desk.store, "analyst")
    analyst = Desk(**{**analyst.__dict__, "sets": desk.sets})
    seen = show_unit(analyst, unit.id)
    assert seen.label == "P1" and field_of(seen, "person_sex") == "Female" and field_of(seen, "person_born") == "•••"
    # What is derived from a hidden field is hidden as well.
    assert field_of(seen, "person_age") == "•••"
    branch = show_branch(analyst, study.study_id, BranchQuery())
    assert "Secret" not in seen.model_dump_json() + branch.model_dump_json()
    assert "1971" not in seen.model_dump_json()
    for narrowing in (
        Narrowing(words="ida"),
        Narrowing(conditions=[Condition(part_id="person_born", how="at most", value="1980-01-01")]),
    ):
        query = BranchQuery(narrowing=narrowing.model_dump_json())
        assert show_branch(desk, study.study_id, query).meant == 1
        assert show_branch(analyst, study.study_id, query).meant == 0
    ordered = order_taking_out(analyst, study.study_id, TakeOutOrder(format="csv"))
    desk.jobs.run(ordered.id)
    assert b"Secret" not in file_of_job(analyst, ordered.id)[1]
    ordered = order_taking_out(desk, study.study_id, TakeOutOrder(format="csv"))
    desk.jobs.run(ordered.id)
    with pytest.raises(Refused, match="sensitive"):
        file_of_job(analyst, ordered.id)


def test_a_place_that_is_sensitive_is_on_no_map_of_whoever_may_not_see_it(desk: Desk, study: SmallStudy) -> None:
    household = make_kind(desk, study.study_id, KindIn(title="Household", ready="household"))
    place = {"latitude": -47.0, "longitude": -122.0, "accuracy": None}
    unit = make_unit(desk, study.study_id, UnitIn(kind_id=household.id, answers={"household_place": place}))
    analyst = desk_of(desk.store, "analyst")
    assert show_points(desk, study.study_id, PointsQuery()).ids == [unit.id]
    assert show_points(analyst, study.study_id, PointsQuery()).ids == []
    assert show_unit(analyst, unit.id).latitude is None


@pytest.mark.parametrize("words", ["shop", "shop 1", "SHÖP", "o", "nothing like it", "lm-0"])
def test_what_is_found_line_by_line_is_what_is_found_unit_by_unit(
    desk: Desk, study: SmallStudy, monkeypatch: pytest.MonkeyPatch, words: str
) -> None:
    plan = Plan(desk, study.study_id)
    ward = plan.make(plan.ward, "LM")
    for number in range(12):
        plan.make(plan.shop, f"LM-{number:02}", ward, name=f"Shop {number}")
    found = plan.tree(Narrowing(words=words), above=ward.id)
    monkeypatch.setattr(registers, "_FOUND_ONE_BY_ONE", 1)
    assert plan.tree(Narrowing(words=words), above=ward.id) == found
    assert len(found) == {"shop": 12, "shop 1": 3, "SHÖP": 12, "o": 12, "nothing like it": 0, "lm-0": 10}[words]
