"""The profile of a data set as it stands after the plan: each variable with its shape and what stands out."""

from __future__ import annotations

from pydantic import BaseModel

from skavo.core.cleaning.profile.decided import Decided, decided_by
from skavo.core.cleaning.profile.variables import Profile, profile_of
from skavo.core.cleaning.steps import Step, read_step
from skavo.services.cleaning import FiguresOut
from skavo.services.desk import Desk
from skavo.store.datasets import Prepared, plan_of


class BarOut(BaseModel):
    label: str
    count: int
    low: float | None
    high: float | None
    far: bool


class FoundRowOut(BaseModel):
    interview: str
    row: list[str]
    value: str


class FindingOut(BaseModel):
    """What stands out: in how many rows, examples, the first of the rows, and a step that would mend it."""

    kind: str
    count: int
    shown: list[str]
    rows: list[FoundRowOut]
    rule: str
    step: Step | None


class VariableProfile(BaseModel):
    variable: str
    table: str
    kind: str
    measure: str
    label: str
    rows: int
    distinct: int
    figures: FiguresOut
    bars: list[BarOut]
    findings: list[FindingOut]


def show_profile(desk: Desk, questionnaire_id: int) -> list[VariableProfile]:
    """Every variable that whoever asks may see; findings that the plan calls in order are left out."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        steps = [read_step(step.body) for step in plan_of(session, questionnaire_id) if not step.off]
    profiles = _profile(desk, questionnaire_id, prepared, decided_by(steps))
    return [VariableProfile.model_validate(profile, from_attributes=True) for profile in profiles]


def _profile(desk: Desk, questionnaire_id: int, prepared: Prepared, decided: Decided) -> list[Profile]:
    key = ("profile", questionnaire_id, prepared.at, prepared.hidden.ids, bool(prepared.hidden_from.ids))
    found: list[Profile] = desk.sets.remembered(key, lambda: profile_of(prepared.cleaned.data, decided))
    return found
