"""The cleaning plan: steps tried before they are kept, replayed, taken back."""

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
from skavo.store.datasets import Prepared, plan_of
from skavo.store.models import PlanStep, now
from skavo.store.sensitive import masked_step
from skavo.web.questionnaires import questionnaire_or_404
from skavo.web.routing import Resource, happened, signed, store
from skavo.web.seen import hides, seen_data
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("cleaning", "/questionnaires/<int:questionnaire_id>/plan")
MOST_SHOWN = 200


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


class StepIn(Body):
    step: Step


class Preview(BaseModel):
    """What a step would touch on top of the plan as it stands: its changes, and the counts of values before and after."""

    touched: int
    interviews: int
    changes: list[ChangeOut]
    before: dict[str, int]
    after: dict[str, int]


class StepPath(BaseModel):
    questionnaire_id: int
    step_id: int


def _prepared(session: Session, questionnaire_id: int) -> Prepared:
    questionnaire_or_404(session, questionnaire_id)
    return seen_data(session, questionnaire_id)


@api.route_for("get", "/variables", needs="analyse.read", returns=list[VariableOut])
def variables(path: QuestionnairePath) -> list[VariableOut]:
    with store().reading() as session:
        data = _prepared(session, path.questionnaire_id).data
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


@api.route_for("get", "", needs="analyse.read", returns=PlanOut)
def show(path: QuestionnairePath) -> PlanOut:
    return _told(path.questionnaire_id)


def _told(questionnaire_id: int) -> PlanOut:
    with store().reading() as session:
        return _plan(session, questionnaire_id)


def _plan(session: Session, questionnaire_id: int) -> PlanOut:
    prepared = _prepared(session, questionnaire_id)
    removed = select(func.count()).where(
        PlanStep.questionnaire_id == questionnaire_id, PlanStep.removed_at.is_not(None)
    )
    steps, hidden = [], hides(session, questionnaire_id)
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


@api.route_for("post", "/preview", needs="clean.write", returns=Preview)
def preview(path: QuestionnairePath, body: StepIn) -> Preview:
    with store().reading() as session:
        data = _prepared(session, path.questionnaire_id).cleaned.data
    return _preview(data, apply_plan(data, [body.step]), body.step)


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


@api.route_for("post", "/steps", needs="clean.write", returns=PlanOut, status=201)
def keep(path: QuestionnairePath, body: StepIn) -> PlanOut:
    """Add a step at the end of the plan; one that does not fit the data set is refused."""
    with store().reading() as session:
        apply_plan(_prepared(session, path.questionnaire_id).cleaned.data, [body.step])
    with store().session() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        step = PlanStep(questionnaire_id=path.questionnaire_id, body=write_step(body.step), **signed())
        session.add(step)
        detail = {"kind": body.step.kind, "variable": body.step.variable}
        session.add(happened(questionnaire.study_id, "cleaning step kept", **detail))
    return _told(path.questionnaire_id)


@api.route_for("delete", "/steps/<int:step_id>", needs="clean.write", returns=PlanOut)
def take_back(path: StepPath) -> PlanOut:
    return _switch(path, removed=True)


@api.route_for("post", "/steps/<int:step_id>/restore", needs="clean.write", returns=PlanOut)
def restore(path: StepPath) -> PlanOut:
    return _switch(path, removed=False)


def _switch(path: StepPath, *, removed: bool) -> PlanOut:
    """Take a step back or put it back; doing so twice changes nothing."""
    with store().session() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        step = session.get_one(PlanStep, path.step_id)
        if (step.removed_at is not None) is removed:
            return _told(path.questionnaire_id)
        step.removed_at = now() if removed else None
        kind = "cleaning step taken back" if removed else "cleaning step put back"
        detail = {"kind": step.body["kind"], "variable": step.body["variable"]}
        session.add(happened(questionnaire.study_id, kind, **detail))
    return _told(path.questionnaire_id)


@api.route_for("get", "/changes", needs="analyse.read", returns=list[ChangeOut])
def changes(path: QuestionnairePath) -> list[ChangeOut]:
    """Every cell that the plan changed, in the order of the plan; `step` is the step's id."""
    with store().reading() as session:
        prepared = _prepared(session, path.questionnaire_id)
    return [_change(c).model_copy(update={"step": prepared.step_ids[c.step]}) for c in prepared.cleaned.changes[:5000]]
