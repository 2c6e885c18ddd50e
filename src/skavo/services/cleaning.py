"""The clean station: steps tried before they are kept, replayed, taken back."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.cleaning.plan import (
    Change,
    Cleaned,
    Correct,
    MarkMissing,
    Recode,
    Step,
    apply_plan,
    read_step,
    write_step,
)
from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import label_in
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.store.datasets import plan_of
from skavo.store.models import PlanStep, now
from skavo.store.sensitive import masked_step

MOST_SHOWN = 200
MOST_CHANGES = 5_000


class VariableOut(BaseModel):
    """A variable of the data set, with how many rows have a value and how many do not, by kind."""

    variable: str
    table: str
    kind: str
    measure: str
    label: str
    codes: dict[str, str]
    values: int
    missing: dict[str, int]
    origin: str


class ChangeOut(BaseModel):
    step: int
    table: str
    interview: str
    row: list[str]
    variable: str
    before: Any
    after: Any


class StepOut(BaseModel):
    id: int
    body: Step
    created_at: datetime
    created_by: str
    touched: int
    problem: str


class PlanOut(BaseModel):
    steps: list[StepOut]
    interviews: int
    cells: int
    removed: int


class Preview(BaseModel):
    """What a step would touch on top of the plan as it stands: its changes, and the counts of values before and after."""

    touched: int
    interviews: int
    changes: list[ChangeOut]
    before: dict[str, int]
    after: dict[str, int]


def list_variables(desk: Desk, questionnaire_id: int) -> list[VariableOut]:
    """Every variable of the data set, in the order of its tables."""
    with desk.store.reading() as session:
        return variables_of(desk.data(session, questionnaire_id).data)


def variables_of(data: DataSet) -> list[VariableOut]:
    return [
        VariableOut(
            variable=c.variable, table=table.layout.name, kind=c.kind, measure=c.measure,
            label=label_in(c.label, "en", c.variable), origin=c.origin,
            codes={code: label_in(texts, "en", code) for code, texts in c.codes.items()},
            values=int(table.frame[c.variable].is_not_null().sum()),
            missing={str(k): n for k, n in table.frame[f"{c.variable}?"].drop_nulls().value_counts().iter_rows()},
        )
        for table in data.values()
        for c in table.layout.columns
    ]  # fmt: skip


def show_plan(desk: Desk, questionnaire_id: int) -> PlanOut:
    """The plan as it stands, with what each step touches."""
    with desk.store.reading() as session:
        return _plan(desk, session, questionnaire_id)


def _plan(desk: Desk, session: Session, questionnaire_id: int) -> PlanOut:
    prepared = desk.data(session, questionnaire_id)
    removed = select(func.count()).where(
        PlanStep.questionnaire_id == questionnaire_id, PlanStep.removed_at.is_not(None)
    )
    steps, hidden = [], desk.hides(session, questionnaire_id)
    for step in plan_of(session, questionnaire_id):
        fits = step.id in prepared.step_ids
        touched = prepared.cleaned.touched(prepared.step_ids.index(step.id)) if fits else 0
        steps.append(
            StepOut(
                id=step.id, body=read_step(masked_step(step.body, hidden)), created_at=step.created_at, created_by=step.created_by,
                touched=touched, problem=prepared.problems.get(-step.id, ""),
            )
        )  # fmt: skip
    changes = prepared.cleaned.changes
    return PlanOut(
        steps=steps, interviews=len({c.interview for c in changes}), cells=len(changes),
        removed=session.scalar(removed) or 0,
    )  # fmt: skip


def preview_step(desk: Desk, questionnaire_id: int, step: Step) -> Preview:
    """What `step` would touch; nothing is kept."""
    with desk.store.reading() as session:
        data = desk.data(session, questionnaire_id).cleaned.data
    return _preview(data, apply_plan(data, [step]), step)


def _preview(data: DataSet, after: Cleaned, step: Recode | Correct | MarkMissing) -> Preview:
    changes = after.changes
    return Preview(
        touched=len(changes),
        interviews=len({c.interview for c in changes}),
        changes=[_change(c) for c in changes[:MOST_SHOWN]],
        before=_values(data, step.variable),
        after=_values(after.data, step.variable),
    )


def _change(change: Change) -> ChangeOut:
    return ChangeOut(**{**asdict(change), "row": list(change.row)})


def _values(data: DataSet, variable: str) -> dict[str, int]:
    """The commonest values of a variable, and its kinds of missing, with their counts."""
    for table in data.values():
        if table.layout.column(variable) is None:
            continue
        reasons = table.frame[f"{variable}?"].drop_nulls().value_counts(sort=True).iter_rows()
        values = table.frame[variable].drop_nulls()
        counts = {} if values.dtype.is_nested() else dict(values.value_counts(sort=True).head(12).iter_rows())
        return {**{str(k): n for k, n in counts.items()}, **{f"[{k}]": n for k, n in reasons}}
    return {}


def keep_step(desk: Desk, questionnaire_id: int, step: Step) -> PlanOut:
    """Add a step at the end of the plan; one that does not fit the data set is refused."""
    with desk.store.reading() as session:
        apply_plan(desk.data(session, questionnaire_id).cleaned.data, [step])
    with desk.store.session() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        session.add(PlanStep(questionnaire_id=questionnaire_id, body=write_step(step), **desk.signed()))
        session.add(desk.event(study_id, "cleaning step kept", kind=step.kind, variable=step.variable))
    return show_plan(desk, questionnaire_id)


def switch_step(desk: Desk, questionnaire_id: int, step_id: int, *, removed: bool) -> PlanOut:
    """Take a step back or put it back; doing so twice changes nothing."""
    with desk.store.session() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        step = session.get_one(PlanStep, step_id)
        if (step.removed_at is not None) is not removed:
            step.removed_at = now() if removed else None
            kind = "cleaning step taken back" if removed else "cleaning step put back"
            detail = {"kind": step.body["kind"], "variable": step.body["variable"]}
            session.add(desk.event(study_id, kind, **detail))
    return show_plan(desk, questionnaire_id)


def list_changes(desk: Desk, questionnaire_id: int) -> list[ChangeOut]:
    """Every cell that the plan changed, in the order of the plan; `step` is the step's id."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
    changes = prepared.cleaned.changes[:MOST_CHANGES]
    return [_change(c).model_copy(update={"step": prepared.step_ids[c.step]}) for c in changes]
