"""The cleaning plan: steps kept, changed, moved, switched off and taken out; every act can be undone and compared."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from typing import Any, Literal

import polars as pl
from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.cleaning.compare import difference
from skavo.core.cleaning.naming import made_by
from skavo.core.cleaning.plan import Cleaned, Undone, apply_plan, apply_step, undone_in
from skavo.core.cleaning.steps import AnyStep, Step, read_step, write_step
from skavo.core.cleaning.words import plan_text
from skavo.core.cleaning.work import Told, Work
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, not_found
from skavo.store.datasets import Prepared, plan_of
from skavo.store.models import PlanState, PlanStep, now
from skavo.store.plan_lines import lines_of
from skavo.store.sensitive import masked_step

Acted = Literal["begun", "kept", "changed", "moved", "switched off", "switched on", "remarked", "taken out"]
MOST_UNMET = 100
# A step that is being tried has no identity yet.
TRIED = 0


class StepOut(BaseModel):
    """A step with what it did: cells changed, rows left out, variables made, texts not met, rows gone through one by one.

    `puts_back` counts the cells that it puts back to what they were before another step, by that step.
    """

    id: int
    body: Step
    created_at: datetime
    created_by: str
    off: bool
    remark: str
    cells: int
    rows: int
    made: list[str]
    unmet: dict[str, int]
    by_rows: int
    puts_back: dict[int, int]
    problem: str


class PlanOut(BaseModel):
    """`revision` is that of the data set, `state` the number of the plan's state; `undoes` and `redoes` say what an undo and
    a redo would act on, empty where there is nothing."""

    steps: list[StepOut]
    interviews: int
    cells: int
    left_out: int
    revision: int
    state: int
    undoes: str
    redoes: str


class StateOut(BaseModel):
    number: int
    what: str
    step: int
    standing: str
    steps: int
    at: datetime
    by: str


class CellOut(BaseModel):
    table: str
    interview: str
    row: list[str]
    variable: str
    before: str | None
    before_why: str | None
    after: str | None
    after_why: str | None


class DataDifference(BaseModel):
    cells: dict[str, int]
    shown: list[CellOut]
    rows_gone: dict[str, int]
    rows_come: dict[str, int]
    variables_gone: list[str]
    variables_come: list[str]


def show_plan(desk: Desk, questionnaire_id: int) -> PlanOut:
    """The plan as it stands, with what each step touches."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        steps = plan_of(session, questionnaire_id)
        states = _states(session, questionnaire_id)
        return _plan(prepared, steps, states)


def _plan(prepared: Prepared, steps: list[PlanStep], states: list[PlanState]) -> PlanOut:
    cleaned = prepared.cleaned
    cells, rows = _by_step(cleaned.changes), _by_step(cleaned.left_out)
    undone = undone_in(cleaned.changes)
    made_off = {name: n for n, s in enumerate(steps, 1) if s.off for name in made_by(read_step(s.body))}
    current, undoes, redoes = _current(states), _undoes(states), _redoes(states)
    return PlanOut(
        steps=[_step(prepared, step, cells, rows, undone, made_off) for step in steps],
        interviews=cleaned.changes["interview"].n_unique(), cells=cleaned.changes.height,
        left_out=cleaned.left_out.height, revision=prepared.at, state=current.number if current else 0,
        undoes=undoes.act["what"] if undoes else "", redoes=redoes.act["what"] if redoes else "",
    )  # fmt: skip


def _by_step(frame: pl.DataFrame) -> dict[int, int]:
    return dict(frame.group_by("step").len().iter_rows())


def _step(
    prepared: Prepared, step: PlanStep, cells: dict[int, int], rows: dict[int, int], undone: list[Undone],
    made_off: dict[str, int],
) -> StepOut:  # fmt: skip
    tells = prepared.cleaned.told.get(step.id, Told())
    return StepOut(
        id=step.id, body=read_step(masked_step(step.body, prepared.hidden_from)), created_at=step.created_at,
        created_by=step.created_by, off=step.off, remark=step.remark, cells=cells.get(step.id, 0),
        rows=rows.get(step.id, 0), made=tells.made, unmet=dict(list(tells.unmet.items())[:MOST_UNMET]),
        by_rows=tells.by_rows, puts_back={u.step: u.cells for u in undone if u.by == step.id},
        problem=_problem(prepared.cleaned, step.id, made_off),
    )  # fmt: skip


def _problem(cleaned: Cleaned, step: int, made_off: dict[str, int]) -> str:
    """Why a step does not fit; where that is for want of what a switched-off step makes, that is said too."""
    problem = cleaned.problems.get(step, "")
    for name, number in made_off.items():
        if f"“{name}”" in problem:
            return f"{problem} Step {number}, which makes it, is off."
    return problem


def keep_step(desk: Desk, questionnaire_id: int, step: Step, after: int | None = None) -> PlanOut:
    """Add a step behind another one, or at the end; one that does not fit the data set there is refused."""
    _try(desk, questionnaire_id, step, after=after)
    with desk.store.session() as session, _acting(desk, session, questionnaire_id, "kept", step) as steps:
        kept = PlanStep(questionnaire_id=questionnaire_id, body=write_step(step), **desk.signed())
        session.add(kept)
        steps.insert(_place_behind(steps, after), kept)
    return show_plan(desk, questionnaire_id)


def change_step(desk: Desk, questionnaire_id: int, step_id: int, step: Step) -> PlanOut:
    """Put another step in the place of one; the one before stays in the earlier states of the plan."""
    _try(desk, questionnaire_id, step, instead_of=step_id)
    with desk.store.session() as session, _acting(desk, session, questionnaire_id, "changed", step) as steps:
        before = _the_step(steps, step_id)
        kept = PlanStep(
            questionnaire_id=questionnaire_id,
            body=write_step(step),
            off=before.off,
            remark=before.remark,
            **desk.signed(),
        )
        session.add(kept)
        steps[steps.index(before)] = kept
    return show_plan(desk, questionnaire_id)


def move_step(desk: Desk, questionnaire_id: int, step_id: int, after: int | None) -> PlanOut:
    """Put a step behind another one; None puts it first."""
    with desk.store.session() as session, _acting(desk, session, questionnaire_id, "moved", step_id) as steps:
        moved = _the_step(steps, step_id)
        if after != step_id:
            steps.remove(moved)
            steps.insert(0 if after is None else _place_behind(steps, after), moved)
    return show_plan(desk, questionnaire_id)


def switch_step(desk: Desk, questionnaire_id: int, step_id: int, *, off: bool) -> PlanOut:
    """Let a step do nothing for a while, or something again; doing so twice changes nothing."""
    what: Acted = "switched off" if off else "switched on"
    with desk.store.session() as session, _acting(desk, session, questionnaire_id, what, step_id) as steps:
        _the_step(steps, step_id).off = off
    return show_plan(desk, questionnaire_id)


def remark_step(desk: Desk, questionnaire_id: int, step_id: int, remark: str) -> PlanOut:
    with desk.store.session() as session, _acting(desk, session, questionnaire_id, "remarked", step_id) as steps:
        _the_step(steps, step_id).remark = remark.strip()
    return show_plan(desk, questionnaire_id)


def take_out(desk: Desk, questionnaire_id: int, step_id: int) -> PlanOut:
    """Take a step out of the plan; doing so twice changes nothing."""
    with desk.store.session() as session, _acting(desk, session, questionnaire_id, "taken out", step_id) as steps:
        steps[:] = [step for step in steps if step.id != step_id]
    return show_plan(desk, questionnaire_id)


def undo(desk: Desk, questionnaire_id: int, state: int) -> PlanOut:
    """Bring the plan back to what it was before the last act; `state` is the number of the state that was seen."""
    with desk.store.session() as session:
        states = _states(session, questionnaire_id)
        undone = _undoes(states)
        _same_state(states, state)
        if undone is not None:
            undone.standing = "undone"
            _restore(session, questionnaire_id, _current(states))
            _tell(desk, session, questionnaire_id, "cleaning undone", undone.act)
    return show_plan(desk, questionnaire_id)


def redo(desk: Desk, questionnaire_id: int, state: int) -> PlanOut:
    """Do again what was undone last."""
    with desk.store.session() as session:
        states = _states(session, questionnaire_id)
        again = _redoes(states)
        _same_state(states, state)
        if again is not None:
            again.standing = "done"
            _restore(session, questionnaire_id, again)
            _tell(desk, session, questionnaire_id, "cleaning done again", again.act)
    return show_plan(desk, questionnaire_id)


def list_states(desk: Desk, questionnaire_id: int) -> list[StateOut]:
    """Every state of the plan, newest first."""
    with desk.store.reading() as session:
        states = _states(session, questionnaire_id)
    return [
        StateOut(
            number=s.number, what=s.act["what"], step=s.act["step"], standing=s.standing, steps=len(s.entries),
            at=s.created_at, by=s.created_by,
        )
        for s in reversed(states)
    ]  # fmt: skip


def compare_states(desk: Desk, questionnaire_id: int, before: int, after: int) -> DataDifference:
    """What the data set has otherwise by one state of the plan than by another, over the interviews of now."""
    with desk.store.reading() as session:
        raw = desk.data(session, questionnaire_id).raw
        plans = [_steps_at(session, questionnaire_id, number) for number in (before, after)]
    old, new = (apply_plan(raw, steps).data for steps in plans)
    found = difference(old, new)
    return DataDifference(
        cells=found.cells, rows_gone=found.rows_gone, rows_come=found.rows_come, variables_gone=found.variables_gone,
        variables_come=found.variables_come, shown=[CellOut.model_validate(c, from_attributes=True) for c in found.shown],
    )  # fmt: skip


def plan_as_text(desk: Desk, questionnaire_id: int) -> str:
    """The plan as a plain text that can be read and signed."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        steps = plan_of(session, questionnaire_id)
        title = the_questionnaire(session, questionnaire_id).title
    lines = lines_of(prepared, steps, prepared.hidden_from)
    return plan_text(f"Cleaning plan of {title}", f"Data set at revision {prepared.at}.", lines)


def work_before(prepared: Prepared, steps: list[PlanStep], *, after: int | None, instead_of: int | None) -> Work:
    """The data as a step finds it that stands behind another one, or in the place of one; at the end otherwise."""
    if after is None and instead_of is None:
        return Work(prepared.cleaned.data)
    end = _place_behind(steps, after) if instead_of is None else steps.index(_the_step(steps, instead_of))
    work = Work(prepared.raw)
    for step in steps[:end]:
        if not step.off and step.id not in prepared.cleaned.problems:
            work = apply_step(work, step.id, read_step(step.body))
    return work


def _try(
    desk: Desk, questionnaire_id: int, step: AnyStep, *, after: int | None = None, instead_of: int | None = None
) -> None:
    """Raise where a step does not fit the data it would find."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        steps = plan_of(session, questionnaire_id)
    apply_step(work_before(prepared, steps, after=after, instead_of=instead_of), TRIED, step)


@contextmanager
def _acting(
    desk: Desk, session: Session, questionnaire_id: int, what: Acted, on: AnyStep | int
) -> Iterator[list[PlanStep]]:
    """The steps of the plan, to be changed in place: what they are afterwards becomes a new state, if it is another one."""
    states = _states(session, questionnaire_id)
    steps = plan_of(session, questionnaire_id)
    before, entries = list(steps), entries_of(steps)
    yield steps
    session.flush()
    if entries_of(steps) == entries:
        return
    if not states:
        session.add(_state(desk, questionnaire_id, 0, entries, "begun", 0))
    for state in states:
        if state.standing == "undone":
            state.standing = "dropped"
    for place, step in enumerate(steps):
        step.position, step.removed_at = place, None
    for step in before:
        if step not in steps:
            step.removed_at = now()
    step_id = on if isinstance(on, int) else max(step.id for step in steps)
    number = max((state.number for state in states), default=0) + 1
    session.add(_state(desk, questionnaire_id, number, entries_of(steps), what, step_id))
    body = session.get_one(PlanStep, step_id).body
    _tell(desk, session, questionnaire_id, f"cleaning step {what}", {"kind": body["kind"], "variable": _named(body)})


def _named(body: dict[str, Any]) -> str:
    """What a step is about, in a word."""
    return body.get("variable") or body.get("into") or body.get("table") or ""


def _tell(desk: Desk, session: Session, questionnaire_id: int, kind: str, detail: dict[str, Any]) -> None:
    study_id = the_questionnaire(session, questionnaire_id).study_id
    session.add(desk.event(study_id, kind, **detail))


def entries_of(steps: list[PlanStep]) -> list[dict[str, Any]]:
    """Steps as a state of the plan keeps them."""
    return [{"step": step.id, "off": step.off, "remark": step.remark} for step in steps]


def _state(
    desk: Desk, questionnaire_id: int, number: int, entries: list[dict[str, Any]], what: Acted, step: int
) -> PlanState:
    act = {"what": what, "step": step}
    return PlanState(questionnaire_id=questionnaire_id, number=number, entries=entries, act=act, **desk.signed())


def _restore(session: Session, questionnaire_id: int, state: PlanState | None) -> None:
    """Make the plan what it was in a state; a step of no state yet is taken out."""
    entries = {entry["step"]: (place, entry) for place, entry in enumerate(state.entries if state else [])}
    for step in session.scalars(select(PlanStep).where(PlanStep.questionnaire_id == questionnaire_id)):
        found = entries.get(step.id)
        if found is None:
            step.removed_at = step.removed_at or now()
            continue
        step.position, entry = found
        step.off, step.remark, step.removed_at = entry["off"], entry["remark"], None


def _states(session: Session, questionnaire_id: int) -> list[PlanState]:
    mine = select(PlanState).where(PlanState.questionnaire_id == questionnaire_id)
    return list(session.scalars(mine.order_by(PlanState.number)))


def _current(states: list[PlanState]) -> PlanState | None:
    return next((state for state in reversed(states) if state.standing == "done"), None)


def _undoes(states: list[PlanState]) -> PlanState | None:
    current = _current(states)
    return current if current is not None and current.number > 0 else None


def _redoes(states: list[PlanState]) -> PlanState | None:
    return next((state for state in states if state.standing == "undone"), None)


def _same_state(states: list[PlanState], seen: int) -> None:
    current = _current(states)
    if (current.number if current else 0) != seen:
        message = "Somebody else has changed the plan since you looked. Look at it again first; nothing was undone."
        raise Refused("changed_meanwhile", message)


def _steps_at(session: Session, questionnaire_id: int, number: int) -> list[tuple[int, AnyStep]]:
    """The steps that were on in a state of the plan."""
    state = next((s for s in _states(session, questionnaire_id) if s.number == number), None)
    if state is None:
        raise not_found("state of the plan")
    on = [entry["step"] for entry in state.entries if not entry["off"]]
    bodies = {step.id: step.body for step in session.scalars(select(PlanStep).where(PlanStep.id.in_(on)))}
    return [(step, read_step(bodies[step])) for step in on]


def _the_step(steps: list[PlanStep], step_id: int) -> PlanStep:
    found = next((step for step in steps if step.id == step_id), None)
    if found is None:
        raise not_found("step of the plan")
    return found


def _place_behind(steps: list[PlanStep], after: int | None) -> int:
    return len(steps) if after is None else steps.index(_the_step(steps, after)) + 1
