"""Checks across sources: rules that speak of our answers and of outside tables at once."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from skavo.core.combining.checks import breaking
from skavo.core.dataset.layout import INTERVIEWS
from skavo.core.errors import DataError, SkavoError
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import not_found
from skavo.store.models import Questionnaire, SourceCheck

_FIRST = 200


class SourceCheckIn(BaseModel):
    """A rule that every row of a table must or should keep; `words` say it to whoever reads the finding."""

    model_config = ConfigDict(extra="forbid")
    table: str = Field(default=INTERVIEWS, max_length=64)
    rule: str = Field(min_length=1, max_length=4000)
    strength: Literal["must", "should"] = "should"
    words: str = Field(default="", max_length=500)


class SourceCheckTried(BaseModel):
    """How many rows break a rule, of how many; `unknown` are neither yes nor no. `interviews` are the first of theirs."""

    rows: int
    of: int
    unknown: int
    interviews_count: int
    interviews: list[str]


class SourceCheckOut(SourceCheckIn):
    """A check that is kept, with what breaks it now, or why it no longer fits."""

    id: int
    created_by: str
    found: SourceCheckTried | None
    problem: str


@dataclass(frozen=True)
class SourceCheckFound:
    """A check with the numbers of the interviews that break it."""

    check: SourceCheck
    numbers: list[int]


def _mine(questionnaire_id: int) -> Select[SourceCheck]:
    return select(SourceCheck).where(SourceCheck.questionnaire_id == questionnaire_id).order_by(SourceCheck.id)


def try_check(desk: Desk, questionnaire_id: int, said: SourceCheckIn) -> SourceCheckTried:
    """What a rule would find; raise DataError where it cannot be read, or speaks of what whoever asks may not see."""
    with desk.store.reading() as session:
        data = desk.data(session, questionnaire_id).data
    found = breaking(data, said.table, said.rule)
    return SourceCheckTried(
        rows=found.rows, of=found.of, unknown=found.unknown, interviews_count=len(found.interviews),
        interviews=found.interviews[:_FIRST],
    )  # fmt: skip


def list_checks(desk: Desk, questionnaire_id: int) -> list[SourceCheckOut]:
    """Every check across sources that whoever asks may see the variables of."""
    with desk.store.reading() as session:
        checks = list(session.scalars(_mine(questionnaire_id)))
        hidden = desk.hides(session, questionnaire_id)
    return [_out(desk, check) for check in checks if not hidden.is_read_by(check.rule)]


def _out(desk: Desk, check: SourceCheck) -> SourceCheckOut:
    said = SourceCheckIn.model_validate(
        {"table": check.table, "rule": check.rule, "strength": check.strength, "words": check.words}
    )
    found, problem = None, ""
    try:
        found = try_check(desk, check.questionnaire_id, said)
    except DataError as error:
        problem = error.message
    return SourceCheckOut(**said.model_dump(), id=check.id, created_by=check.created_by, found=found, problem=problem)


def keep_check(desk: Desk, questionnaire_id: int, said: SourceCheckIn) -> SourceCheckOut:
    """Keep a check whose rule can be read."""
    try_check(desk, questionnaire_id, said)
    with desk.store.session() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        check = SourceCheck(questionnaire_id=questionnaire_id, **said.model_dump(), **desk.signed())
        session.add_all([check, desk.event(study_id, "check across sources kept", rule=said.words or "")])
        session.flush()
    return _out(desk, check)


def remove_check(desk: Desk, questionnaire_id: int, check_id: int) -> None:
    with desk.store.session() as session:
        check = session.get(SourceCheck, check_id)
        if check is None or check.questionnaire_id != questionnaire_id:
            raise not_found("check")
        study_id = the_questionnaire(session, questionnaire_id).study_id
        session.add(desk.event(study_id, "check across sources removed", rule=check.words))
        session.delete(check)


def checks_of_study(desk: Desk, session: Session, study_id: int) -> list[SourceCheckFound]:
    """What breaks the checks across sources of a study, for whoever may know of the whole of it; a check that no longer fits,
    or whose tables are being made, is left out: the combine station tells."""
    if desk.teams is not None:
        return []
    asked = select(SourceCheck).join(Questionnaire).where(Questionnaire.study_id == study_id).order_by(SourceCheck.id)
    found = []
    for check in session.scalars(asked):
        if desk.hides(session, check.questionnaire_id).is_read_by(check.rule):
            continue
        try:
            data = desk.data(session, check.questionnaire_id).data
            numbers = [int(key) for key in breaking(data, check.table, check.rule).interviews]
        except SkavoError:
            continue
        found.append(SourceCheckFound(check, numbers))
    return found
