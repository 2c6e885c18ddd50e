"""Samples at the desk: from the register and from a file, kept with their frame, drawn again to the same units."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import polars as pl
import pytest

from skavo.cli import main
from skavo.core.errors import SkavoError
from skavo.core.register.narrowing import Condition, Narrowing
from skavo.core.sampling.plan import SamplePlan
from skavo.services.desk import Desk
from skavo.services.frames import FileFrame, FrameIn, RegisterFrame, look_at_frame
from skavo.services.refusals import Refused
from skavo.services.samples import (
    SampleIn,
    SampleName,
    UnitsQuery,
    draw,
    draw_again,
    file_of_sample,
    list_samples,
    list_units,
    remove_sample,
    rename_sample,
    show_sample,
    try_out,
)
from skavo.services.unit_changes import CloseIn, close_unit
from skavo.store.files import keep_file
from tests.services.conftest import desk_of
from tests.services.plan import Plan
from tests.store.study import SmallStudy

WARDS = {"LM": 12, "LN": 6, "LS": 2}


@pytest.fixture
def plan(desk: Desk, study: SmallStudy) -> Plan:
    """Twenty workshops in three wards."""
    made = Plan(desk, study.study_id)
    lines = ["kind,key,above,name,condition"] + [f"ward,{ward},,{ward}," for ward in WARDS]
    for ward, count in WARDS.items():
        lines += [f"workshop,{ward}-{n:02},{ward},Shop {n},{'poor' if n % 3 else 'good'}" for n in range(count)]
    columns = {"kind": "#kind", "key": "#key", "above": "#above", "name": "name", "condition": "condition"}
    made.bring("\n".join(lines), columns=columns)
    return made


def frame_of(plan: Plan, rule: str = "", **narrowing: Any) -> FrameIn:
    return FrameIn(units=RegisterFrame(kind=plan.shop.id, narrowing=Narrowing(**narrowing), rule=rule))


def sample_in(plan: Plan, name: str = "Round 1", frame: FrameIn | None = None, **how: Any) -> SampleIn:
    wanted = {"by": "stratified", "size": 10, "strata": "ward", "seed": 7, **how}
    return SampleIn(name=name, frame=frame or frame_of(plan), plan=SamplePlan.model_validate(wanted))


def test_a_frame_of_the_register_tells_its_columns_and_what_lies_above(plan: Plan) -> None:
    frame = look_at_frame(plan.desk, plan.study_id, frame_of(plan))
    assert frame.count == 20
    columns = {column.name: column for column in frame.columns}
    assert (columns["ward"].values, columns["ward"].most[0], columns["ward"].empty) == (3, "LM", 0)
    assert columns["condition"].values == 2 and not columns["condition"].numbers


def test_a_frame_is_narrowed_by_the_sentence_and_by_a_rule(plan: Plan) -> None:
    poor = [Condition(part_id="workshop_condition", how="is", value="poor")]
    assert look_at_frame(plan.desk, plan.study_id, frame_of(plan, kind=plan.shop.id, conditions=poor)).count == 13
    assert (
        look_at_frame(plan.desk, plan.study_id, frame_of(plan, 'condition is poor and name is not "Shop 1"')).count
        == 10
    )
    for rule, told in (("condition is", "The rule:"), ("name", "says no yes or no"), ("colour is red", "colour")):
        with pytest.raises(SkavoError, match=told):
            look_at_frame(plan.desk, plan.study_id, frame_of(plan, rule))
    with pytest.raises(SkavoError, match="nobody to draw from"):
        look_at_frame(plan.desk, plan.study_id, frame_of(plan, 'name is "nobody"'))


def test_a_trial_tells_counts_by_stratum_that_add_up_and_keeps_nothing(plan: Plan) -> None:
    told = try_out(plan.desk, plan.study_id, sample_in(plan))
    assert [(line.name, line.count, line.drawn) for line in told.strata] == [("LM", 12, 6), ("LN", 6, 3), ("LS", 2, 1)]
    assert [line.weight for line in told.strata] == [2, 2, 2]
    assert (told.drawn, told.weights) == (10, 20)
    assert list_samples(plan.desk, plan.study_id) == []


def test_a_sample_keeps_who_was_drawn_with_which_probability_and_who_stands_by(plan: Plan) -> None:
    sample = draw(plan.desk, plan.study_id, sample_in(plan, reserves=2))
    drawn = list_units(plan.desk, sample.id, UnitsQuery())
    assert (drawn.total, {line.probability for line in drawn.lines}) == (10, {0.5})
    assert all(line.unit_id is not None and line.label.startswith("Shop") for line in drawn.lines)
    reserves = list_units(plan.desk, sample.id, UnitsQuery(reserves=True))
    # Two in each stratum, as far as there are that many.
    assert [(line.stratum, line.rank) for line in reserves.lines] == [
        ("LM", 7),
        ("LM", 8),
        ("LN", 4),
        ("LN", 5),
        ("LS", 2),
    ]
    assert not {line.key for line in drawn.lines} & {line.key for line in reserves.lines}
    assert [line.stratum for line in list_units(plan.desk, sample.id, UnitsQuery(stratum="LN")).lines] == ["LN"] * 3


def test_a_sample_is_drawn_again_to_the_same_units_also_on_the_command_line(plan: Plan, tmp_path: Path) -> None:
    sample = draw(plan.desk, plan.study_id, sample_in(plan, reserves=1))
    first = list_units(plan.desk, sample.id, UnitsQuery()).lines[0]
    assert first.unit_id is not None
    close_unit(plan.desk, first.unit_id, CloseIn(why="sold"))
    plan.make(plan.shop, "LM-99", plan.make(plan.ward, "LX"))
    again = draw_again(plan.desk, sample.id)
    assert (again.same, again.drawn, again.new, again.gone) == (True, 10, 1, 1)
    assert list_units(plan.desk, sample.id, UnitsQuery()).lines[0].closed
    (tmp_path / "frame.csv").write_bytes(file_of_sample(plan.desk, sample.id, "frame")[1])
    command = [str(tmp_path / word) if word.endswith(".csv") else word for word in sample.command.split()[1:]]
    assert main(command) == 0
    assert (tmp_path / "sample.csv").read_bytes() == file_of_sample(plan.desk, sample.id, "sample")[1]
    kept = {line.key for line in list_units(plan.desk, sample.id, UnitsQuery()).lines}
    assert set(pl.read_csv(tmp_path / "sample.csv")["key"]) == kept


def test_a_frame_that_was_changed_on_the_disk_is_not_drawn_from(plan: Plan) -> None:
    sample = draw(plan.desk, plan.study_id, sample_in(plan))
    path = plan.desk.store.files / sample.frame_hash[:2] / sample.frame_hash
    path.write_bytes(path.read_bytes().replace(b"Shop 3", b"Shop 4"))
    with pytest.raises(SkavoError, match="damaged"):
        draw_again(plan.desk, sample.id)


FILE = "plate,ward,turnover\nA1,x,10\nA2,x,\n,x,5\nA1,y,9\nA3,y,20\nA4,y,30\n"


def file_frame(desk: Desk, text: str = FILE) -> FrameIn:
    return FrameIn(table=FileFrame(file=keep_file(desk.store.files, text.encode()), name="roll.csv", key="plate"))


def test_a_frame_from_a_file_tells_keys_that_are_missing_or_stand_twice(desk: Desk, study: SmallStudy) -> None:
    frame = look_at_frame(desk, study.study_id, file_frame(desk))
    assert frame.count == 4
    assert [(out.why, out.rows, out.first) for out in frame.left_out] == [
        ("no key", 1, ["row 4"]),
        ("twice", 1, ["A1"]),
    ]
    (turnover,) = [column for column in frame.columns if column.name == "turnover"]
    assert turnover.numbers and turnover.empty == 1


def test_drawing_by_a_column_with_gaps_says_whose_they_are(desk: Desk, study: SmallStudy) -> None:
    wanted = SampleIn(name="S", frame=file_frame(desk), plan=SamplePlan(by="pps", size=2, measure="turnover", seed=1))
    with pytest.raises(SkavoError, match=r"“turnover” is empty in 1 rows of the frame \(A2\)"):
        try_out(desk, study.study_id, wanted)
    wanted.plan.measure = "colour"
    with pytest.raises(SkavoError, match="no column “colour”; it has ward, turnover"):
        try_out(desk, study.study_id, wanted)


def test_every_way_of_drawing_is_kept_and_drawn_again(desk: Desk, study: SmallStudy) -> None:
    rows = "\n".join(f"K{n},{'abcd'[n % 4]},{n % 9 + 1}" for n in range(80))
    frame = file_frame(desk, f"plate,ward,turnover\n{rows}\n")
    ways: list[dict[str, Any]] = [
        {"by": "simple", "size": 9, "reserves": 3}, {"by": "systematic", "size": 9}, {"by": "pps", "size": 9, "measure": "turnover"},
        {"by": "stratified", "size": 9, "strata": "ward", "allocate": "neyman", "spread": "turnover"},
        {"by": "two-stage", "size": 3, "cluster": "ward", "clusters": 2, "reserves": 1},
    ]  # fmt: skip
    for number, way in enumerate(ways):
        plan = SamplePlan.model_validate({**way, "seed": 11})
        sample = draw(desk, study.study_id, SampleIn(name=f"S{number}", frame=frame, plan=plan))
        assert draw_again(desk, sample.id).same, way
        assert draw_again(desk, sample.id).new is None
        assert sample.told.weights == pytest.approx(80, rel=0.4)
    assert [line.by for line in list_samples(desk, study.study_id)] == [way["by"] for way in reversed(ways)]


def test_reserves_are_refused_where_the_order_of_the_frame_draws(plan: Plan) -> None:
    with pytest.raises(SkavoError, match="has no reserves"):
        try_out(plan.desk, plan.study_id, sample_in(plan, by="systematic", reserves=2))


def test_names_are_the_samples_own_and_a_removed_one_leaves_its_seed_in_the_logbook(plan: Plan) -> None:
    sample = draw(plan.desk, plan.study_id, sample_in(plan))
    for name, told in (("Round 1", "has a sample Round 1"), (" ", "needs a name")):
        with pytest.raises(Refused, match=told):
            draw(plan.desk, plan.study_id, sample_in(plan, name))
    renamed = rename_sample(plan.desk, sample.id, SampleName(name="First", version=sample.version))
    with pytest.raises(Refused, match="Somebody else changed this"):
        rename_sample(plan.desk, sample.id, SampleName(name="Again", version=sample.version))
    assert renamed.name == "First"
    remove_sample(plan.desk, sample.id)
    with pytest.raises(Refused, match="no such sample"):
        show_sample(plan.desk, sample.id)


def test_sensitive_fields_are_in_no_frame_whoever_draws(desk: Desk, study: SmallStudy) -> None:
    from skavo.services.registers import KindIn, make_kind
    from skavo.services.unit_changes import UnitIn, make_unit

    person = make_kind(desk, study.study_id, KindIn(title="Person", ready="person"))
    for number in range(4):
        answers = {"person_name": f"Secret {number}", "person_born": f"19{number}1-02-03", "person_sex": "female"}
        make_unit(desk, study.study_id, UnitIn(kind_id=person.id, answers=answers))
    frame = FrameIn(units=RegisterFrame(kind=person.id))
    plan = SamplePlan(by="simple", size=2, seed=1)
    sample = draw(desk, study.study_id, SampleIn(name="P", frame=frame, plan=plan))
    analyst = desk_of(desk.store, "analyst")
    content = file_of_sample(analyst, sample.id, "frame")[1]
    assert b"Secret" not in content and b"-02-03" not in content and b"female" in content
    assert all(line.label == line.key for line in list_units(analyst, sample.id, UnitsQuery()).lines)
