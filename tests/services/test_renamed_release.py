"""A release that calls variables otherwise: the plan, saved tables and joins go on meaning what they meant."""

from __future__ import annotations

from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.cleaning.steps import Correct, MarkMissing, Recode, read_step
from skavo.core.combining.spec import read_join
from skavo.core.estimation.tables import TableRequest, read_request
from skavo.core.recipes.recipe import LeavesOut, Recipe, Source
from skavo.services import drafts, plans, releases, tables
from skavo.services.cells import CellQuery, show_cell
from skavo.services.data_sets import DataSetIn, add_data_set
from skavo.services.desk import Desk
from skavo.services.writing import renamed
from skavo.store.models import OutsideTable, PlanStep, SavedTable
from tests.store.study import SmallStudy

NEW = {"workers": "people", "staff": "crew", "age": "years", "island": "isle", "tools": "kit"}


def release_renamed(desk: Desk, study: SmallStudy, names: dict[str, str]) -> None:
    draft = drafts.show_draft(desk, study.questionnaire_id)
    by_part = {p.id: names[p.variable] for p in draft.script.parts if p.variable in names}
    script = renamed(draft.script, by_part).script
    version = drafts.save_script(desk, study.questionnaire_id, script, draft.version).version
    releases.make_release(desk, study.questionnaire_id, version, "")


@pytest.fixture
def answered(study: SmallStudy) -> SmallStudy:
    answers = {"consent": True, "island": "kesk", "workers": 2, "staff/1/age": 30, "staff/2/age": 12, "tools": ["saw"]}
    study.arrive(study.document(answers=answers))
    return study


def steps_of(desk: Desk) -> list[Any]:
    with desk.store.reading() as session:
        return [read_step(row.body) for row in session.scalars(select(PlanStep).order_by(PlanStep.id))]


def test_steps_follow_by_variable_and_in_their_rules(desk: Desk, answered: SmallStudy) -> None:
    key = answered.interview().key
    for step in (
        Recode(variable="island", mapping={"kesk": "luma"}),
        Correct(variable="age", interview=key, row=["2"], value=13, reason="misread"),
        MarkMissing(variable="workers", rule='any(staff where age < 14) and island is "luma" and tools includes saw'),
    ):
        plans.keep_step(desk, answered.questionnaire_id, step)
    release_renamed(desk, answered, NEW)
    recode, correct, missing = steps_of(desk)
    assert (recode.variable, correct.variable, correct.value) == ("isle", "years", 13)
    assert (missing.variable, missing.rule) == (
        "people",
        'any(crew where years < 14) and isle is "luma" and kit includes saw',
    )
    with desk.store.reading() as session:
        cleaned = desk.data(session, answered.questionnaire_id).cleaned
    assert cleaned.changes.select("variable", "before", "after").rows()[:2] == [
        ("isle", "kesk", "luma"),
        ("years", "12", "13"),
    ]
    assert cleaned.data["interviews"].frame["people?"].to_list() == ["unanswered"]


def test_a_cell_tells_what_was_answered_under_its_old_name(desk: Desk, answered: SmallStudy) -> None:
    release_renamed(desk, answered, NEW)
    key, q = answered.interview().key, answered.questionnaire_id
    asked = show_cell(desk, q, CellQuery(interview=key, variable="years", row=["2"]))
    assert [(h.kind, h.value) for h in asked.history] == [("handed in", "12")]
    assert asked.wording != ""


def test_saved_tables_and_joins_follow(desk: Desk, answered: SmallStudy) -> None:
    request = TableRequest(show="mean", variable="age", by="island", where="workers > 1 and age > 3")
    tables.save_table(desk, answered.own_set, "Ages", request)
    with desk.store.session() as session:
        session.add(
            OutsideTable(
                questionnaire_id=answered.questionnaire_id, name="towns", file_name="t.csv", file_hash="0" * 64,
                columns=["isle"], rows=0, card={}, created_by="Dora", joined={"variable": "island", "key": "isle", "take": ["isle"]},
            )
        )  # fmt: skip
    release_renamed(desk, answered, NEW)
    with desk.store.reading() as session:
        saved = read_request(session.scalars(select(SavedTable)).one().request)
        joined = session.scalars(select(OutsideTable)).one().joined
    assert (saved.variable, saved.by, saved.across, saved.where) == ("years", "isle", None, "people > 1 and years > 3")
    assert joined is not None and read_join(joined) == read_join({"variable": "isle", "key": "isle", "take": ["isle"]})


def test_two_that_swap_their_names_swap_in_what_is_saved(desk: Desk, answered: SmallStudy) -> None:
    tables.save_table(desk, answered.own_set, "A", TableRequest(show="share", variable="consent", where="workers > 1"))
    release_renamed(desk, answered, {"workers": "posts", "posts": "workers"})
    with desk.store.reading() as session:
        saved = read_request(session.scalars(select(SavedTable)).one().request)
    assert saved.where == "posts > 1"


def test_what_was_taken_back_follows_too_and_comes_back_fitting(desk: Desk, answered: SmallStudy) -> None:
    plan = plans.keep_step(desk, answered.questionnaire_id, Recode(variable="island", mapping={"kesk": "luma"}))
    out = plans.take_out(desk, answered.questionnaire_id, plan.steps[0].id)
    release_renamed(desk, answered, NEW)
    back = plans.undo(desk, answered.questionnaire_id, out.state)
    assert [step.problem for step in back.steps] == [""]


def test_a_release_that_renames_nothing_leaves_what_is_saved_alone(desk: Desk, answered: SmallStudy) -> None:
    tables.save_table(desk, answered.own_set, "A", TableRequest(show="mean", variable="workers"))
    with desk.store.reading() as session:
        before = session.scalars(select(SavedTable)).one().request
    draft = drafts.show_draft(desk, answered.questionnaire_id)
    draft.script.parts[0].wording["en"] = "Another wording"
    version = drafts.save_script(desk, answered.questionnaire_id, draft.script, draft.version).version
    releases.make_release(desk, answered.questionnaire_id, version, "")
    with desk.store.reading() as session:
        assert session.scalars(select(SavedTable)).one().request == before


def test_what_changes_meaning_keeps_what_was_done_to_it_and_data_sets_their_names(
    desk: Desk, answered: SmallStudy
) -> None:
    q = answered.questionnaire_id
    plans.keep_step(desk, q, Recode(variable="island", mapping={"kesk": "luma"}))
    tables.save_table(desk, answered.own_set, "Isles", TableRequest(variable="island"))
    mine = add_data_set(
        desk, answered.study_id, DataSetIn(title="Mine", recipe=Recipe(
            sources=[Source(questionnaire=q)], left_out=[LeavesOut(rule="island is kesk")],
        )),
    )  # fmt: skip
    draft = drafts.show_draft(desk, q)
    for line in draft.script.parts:
        if line.variable == "island":
            line.kind, line.code_list = "whole number", ""
        line.asked_when = "" if "island" in line.asked_when else line.asked_when
        line.code_filter = "" if "island" in line.code_filter else line.code_filter
    version = drafts.save_script(desk, q, draft.script, draft.version).version
    releases.make_release(desk, q, version, "")
    (recode,) = steps_of(desk)
    assert recode.variable == "island_r1"
    with desk.store.reading() as session:
        assert read_request(session.scalars(select(SavedTable)).one().request).variable == "island_r1"
    found = {v.variable: v.measure for v in tables.list_set_variables(desk, mine.id)}
    assert (found["island"], found["island_r2"]) == ("code", "number")
    asked, changed = show_cell(desk, q, CellQuery(interview=answered.interview().key, variable="island_r1")).history
    assert (asked.kind, asked.value) == ("handed in", "Kesk")
    assert (changed.kind, changed.before, changed.value) == ("step", "kesk", "luma")
