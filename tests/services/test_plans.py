"""The plan at the desk: acts on steps, undone and done again; states compared; two people at once; what fails is told."""

from __future__ import annotations

import pytest
from sqlalchemy import select

from skavo.core.cleaning.steps import Correct, Derive, Dictionary, Heading, MarkMissing, Recode, Step, write_step
from skavo.core.errors import SkavoError
from skavo.services import cleaning, plans
from skavo.services.cleaning import ChangesQuery
from skavo.services.desk import Desk
from skavo.services.logbook import show_logbook
from skavo.services.plans import PlanOut
from skavo.services.refusals import Refused
from skavo.store.models import Event, PlanStep
from tests.store.study import SmallStudy

TO_KESK = Recode(variable="island", mapping={"luma": "kesk"}, reason="merged")
FEW = MarkMissing(variable="workers", rule="workers < 3", missing="refused")


@pytest.fixture
def answered(study: SmallStudy) -> SmallStudy:
    study.arrive(study.document(answers={"consent": True, "workers": 2, "island": "luma"}))
    study.arrive(study.document(answers={"consent": True, "workers": 5, "island": "kesk"}))
    return study


def _keep(desk: Desk, study: SmallStudy, *steps: Step) -> PlanOut:
    for step in steps:
        found = plans.keep_step(desk, study.questionnaire_id, step)
    return found


def _kinds(plan: PlanOut) -> list[str]:
    return [step.body.kind for step in plan.steps]


def _island(desk: Desk, study: SmallStudy) -> list[str]:
    with desk.store.reading() as session:
        return desk.data(session, study.questionnaire_id).data["interviews"].frame["island"].to_list()


def test_steps_are_moved_switched_off_remarked_and_taken_out(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    plan = _keep(desk, answered, TO_KESK, FEW, Heading(text="Slips"))
    first, second, heading = (step.id for step in plan.steps)
    assert _kinds(plans.move_step(desk, q, heading, None)) == ["heading", "recode", "mark_missing"]
    assert _kinds(plans.move_step(desk, q, heading, first)) == ["recode", "heading", "mark_missing"]
    off = plans.switch_step(desk, q, first, off=True)
    assert (off.steps[0].off, off.steps[0].cells, off.cells) == (True, 0, 1)
    assert _island(desk, answered) == ["luma", "kesk"]
    assert plans.remark_step(desk, q, second, " asked Ann ").steps[2].remark == "asked Ann"
    assert _kinds(plans.take_out(desk, q, second)) == ["recode", "heading"]
    assert _kinds(plans.take_out(desk, q, second)) == ["recode", "heading"]


def test_a_step_stands_behind_another_and_is_tried_on_the_data_it_finds_there(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    derive = Derive(into="double", formula="workers * 2")
    plan = _keep(desk, answered, derive, FEW)
    uses = MarkMissing(variable="double", rule="double > 3")
    assert _kinds(plans.keep_step(desk, q, uses, plan.steps[0].id)) == ["derive", "mark_missing", "mark_missing"]
    with pytest.raises(SkavoError, match="no variable “double”"):
        cleaning.preview_step(desk, q, uses, instead_of=plan.steps[0].id)
    changed = plans.change_step(desk, q, plan.steps[0].id, derive.model_copy(update={"formula": "workers * 3"}))
    assert _kinds(changed) == ["derive", "mark_missing", "mark_missing"]
    assert changed.steps[0].id != plan.steps[0].id


def test_what_rests_on_a_step_that_is_off_is_told_so(desk: Desk, answered: SmallStudy) -> None:
    plan = _keep(
        desk, answered, Derive(into="double", formula="workers * 2"), MarkMissing(variable="double", rule="yes")
    )
    off = plans.switch_step(desk, answered.questionnaire_id, plan.steps[0].id, off=True)
    assert off.steps[1].problem.endswith("Step 1, which makes it, is off.")


def test_acts_are_undone_and_done_again_until_something_else_is_done(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    plan = _keep(desk, answered, TO_KESK, FEW)
    assert (plan.undoes, plan.redoes) == ("kept", "")
    back = plans.undo(desk, q, plan.state)
    assert (_kinds(back), back.redoes, _island(desk, answered)) == (["recode"], "kept", ["kesk", "kesk"])
    back = plans.undo(desk, q, back.state)
    assert (_kinds(back), back.undoes, _island(desk, answered)) == ([], "", ["luma", "kesk"])
    assert plans.undo(desk, q, back.state).steps == []
    again = plans.redo(desk, q, plans.redo(desk, q, back.state).state)
    assert (_kinds(again), again.redoes) == (["recode", "mark_missing"], "")
    plans.undo(desk, q, again.state)
    other = _keep(desk, answered, Heading(text="Slips"))
    assert (_kinds(other), other.redoes) == (["recode", "heading"], "")
    assert [state.standing for state in plans.list_states(desk, q)] == ["done", "dropped", "done", "done"]


def test_nobody_undoes_what_they_have_not_seen(desk: Desk, answered: SmallStudy) -> None:
    seen = _keep(desk, answered, TO_KESK)
    _keep(desk, answered, FEW)
    with pytest.raises(Refused, match="Somebody else"):
        plans.undo(desk, answered.questionnaire_id, seen.state)
    assert len(plans.show_plan(desk, answered.questionnaire_id).steps) == 2


def test_two_states_are_compared_by_what_differs_in_the_data(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    first = _keep(desk, answered, TO_KESK)
    last = _keep(desk, answered, FEW, Derive(into="double", formula="workers * 2"))
    found = plans.compare_states(desk, q, first.state, last.state)
    assert (found.cells, found.variables_come) == ({"workers": 1}, ["double"])
    assert [(c.interview, c.before, c.after_why) for c in found.shown] == [("0001", "2", "refused")]
    assert plans.compare_states(desk, q, 0, first.state).cells == {"island": 1}
    assert plans.compare_states(desk, q, last.state, last.state).cells == {}
    with pytest.raises(Refused, match="state of the plan"):
        plans.compare_states(desk, q, 0, 99)


def test_a_step_that_was_kept_and_fails_today_can_be_taken_out(desk: Desk, answered: SmallStudy) -> None:
    """As a step with today in its rule, kept by an earlier version."""
    body = write_step(MarkMissing(variable="workers", rule="interview.started < today"))
    with desk.store.session() as session:
        session.add(PlanStep(questionnaire_id=answered.questionnaire_id, body=body, created_by="x"))
    plan = _keep(desk, answered, TO_KESK)
    assert "tomorrow" in plan.steps[0].problem and plan.steps[1].cells == 1
    assert _kinds(plans.take_out(desk, answered.questionnaire_id, plan.steps[0].id)) == ["recode"]


def test_a_trial_tells_what_a_step_would_do_and_keeps_nothing(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    found = cleaning.preview_step(desk, q, FEW)
    assert (found.cells, found.interviews, found.changes[0].before, found.changes[0].after_why) == (
        1,
        1,
        "2",
        "refused",
    )
    assert found.before is not None and found.after is not None
    assert (found.before.mean, found.after.mean, found.after.missing) == (3.5, 5.0, {"refused": 1})
    assert plans.show_plan(desk, q).steps == []


def test_changes_are_narrowed_down_and_taken_out_as_a_file(desk: Desk, answered: SmallStudy) -> None:
    q = answered.questionnaire_id
    correct = Correct(variable="workers", interview="0002", value=6, reason="=phoned")
    plan = _keep(desk, answered, TO_KESK, FEW, correct)
    every = cleaning.list_changes(desk, q, ChangesQuery())
    assert (every.cells, len(every.changes)) == (3, 3)
    assert cleaning.list_changes(desk, q, ChangesQuery(step=plan.steps[0].id)).cells == 1
    assert cleaning.list_changes(desk, q, ChangesQuery(variable="workers")).cells == 2
    assert cleaning.list_changes(desk, q, ChangesQuery(interview="0002")).cells == 1
    assert len(cleaning.list_changes(desk, q, ChangesQuery(offset=2)).changes) == 1
    lines = cleaning.changes_file(desk, q, ChangesQuery()).removeprefix("\ufeff").splitlines()
    assert lines[0] == "step,kind,table,interview,row,variable,before,after,reason,by"
    assert lines[2].startswith("2,mark_missing,interviews,0001,,workers,2,[refused],")
    assert "'=phoned" in lines[3]


def test_a_text_that_no_dictionary_has_met_waits_in_the_logbook(desk: Desk, study: SmallStudy) -> None:
    answers = {"consent": True, "workers": 1, "tools": ["other"], "tools_other": "file"}
    study.arrive(study.document(answers=answers))
    words = Dictionary(variable="tools_other", into="tools", words={"file": "saw"}, replaces="other")
    _keep(desk, study, words)
    assert "not_met" not in [matter.kind for matter in show_logbook(desk, study.study_id).matters]
    study.arrive(study.document(answers={**answers, "tools_other": "rasp"}))
    assert plans.show_plan(desk, study.questionnaire_id).steps[0].unmet == {"rasp": 1}
    matters = {matter.kind: matter.count for matter in show_logbook(desk, study.study_id).matters}
    assert matters["not_met"] == 1


def test_what_is_done_to_the_plan_is_in_the_logbook(desk: Desk, answered: SmallStudy) -> None:
    plan = _keep(desk, answered, TO_KESK)
    plan = plans.switch_step(desk, answered.questionnaire_id, plan.steps[0].id, off=True)
    plans.undo(desk, answered.questionnaire_id, plan.state)
    with desk.store.reading() as session:
        kinds = session.scalars(select(Event.kind).where(Event.kind.like("cleaning%")).order_by(Event.id)).all()
    assert kinds == ["cleaning step kept", "cleaning step switched off", "cleaning undone"]


def test_every_value_of_a_variable_can_be_found_however_many_there_are(desk: Desk, study: SmallStudy) -> None:
    for n in range(30):
        answers = {"consent": True, "workers": 1, "tools": ["other"], "tools_other": f"tool {n % 29}"}
        study.arrive(study.document(answers=answers))
    q = study.questionnaire_id
    every = cleaning.list_values(desk, q, "tools_other")
    assert (every.distinct, every.values[0].value, every.values[0].count) == (29, "tool 0", 2)
    assert [v.value for v in cleaning.list_values(desk, q, "tools_other", "TOOL 28").values] == ["tool 28"]
    assert [(v.value, v.count) for v in cleaning.list_values(desk, q, "tools").values] == [("other", 30)]
    with pytest.raises(SkavoError, match="Did you mean tools_other"):
        cleaning.list_values(desk, q, "tools_othr")
