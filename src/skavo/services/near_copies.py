"""The clean station: interviews that are nearly the same, found by likeness and decided pair by pair into the plan."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from skavo.core.cleaning.near_copies import CopiesSearch, NearCopy, find_copies, proposed_search
from skavo.core.cleaning.steps import Duplicates, read_step
from skavo.core.dataset.flatten import Table
from skavo.core.dataset.layout import INTERVIEWS, KEY
from skavo.core.errors import DataError
from skavo.services.desk import Desk
from skavo.services.plans import PlanOut, change_step, keep_step
from skavo.services.refusals import Refused
from skavo.store.datasets import plan_of
from skavo.store.models import PlanStep

MOST_SHOWN = 300
_ATTEMPTS = 5
_MADE_BY_HAND = "Found by likeness, decided one by one"


class CopyPartOut(BaseModel):
    variable: str
    one: str
    other: str
    found: str
    bits: float


class InterviewFacts(BaseModel):
    """When an interview was begun, by whom, and what became of it."""

    started: datetime | None
    enumerator: str
    state: str


class NearCopyOut(BaseModel):
    """Two interviews that may be of the same unit, the earlier first; `chance` is how likely, `called` the first words of each,
    `made` how each came about."""

    one: str
    other: str
    made: list[InterviewFacts]
    bits: float
    chance: float
    called: list[str]
    parts: list[CopyPartOut]


class CopiesOut(BaseModel):
    """What was searched and found, the likeliest first; `more` are not listed. `problem` says why nothing could be searched so,
    and what to do."""

    search: CopiesSearch | None
    pairs: list[NearCopyOut]
    looked_at: int
    more: int
    prior: float
    decided: int
    problem: str = ""


class SearchIn(BaseModel):
    """What is compared; where nothing is said that is proposed."""

    model_config = ConfigDict(extra="forbid")
    search: CopiesSearch | None = None


class CopyDecision(BaseModel):
    """Whether two interviews are the same, and which of them is kept then."""

    model_config = ConfigDict(extra="forbid")
    one: str = Field(pattern=r"^\d{1,9}$")
    other: str = Field(pattern=r"^\d{1,9}$")
    decided: Literal["same", "apart"]
    kept: Literal["one", "other"] = "one"


def search_copies(desk: Desk, questionnaire_id: int, asked: SearchIn) -> CopiesOut:
    """Pairs of interviews that may be the same, as the data set stands after the plan; those that it has decided are gone."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        steps = _of_copies(session, questionnaire_id)
    table = prepared.cleaned.data[INTERVIEWS]
    search = asked.search or proposed_search(table)
    apart = [frozenset(pair) for _, step in steps for pair in step.apart]
    decided = len(apart) + sum(len(step.by_hand) for _, step in steps)
    if search is None:
        return CopiesOut(search=None, pairs=[], looked_at=0, more=0, prior=0.0, decided=decided)
    key = ("copies", questionnaire_id, prepared.at, bool(prepared.hidden_from.ids), search.model_dump_json())
    try:
        found = desk.sets.remembered(key, lambda: find_copies(table, search, apart))
    except DataError as error:
        if error.code != "too_many_pairs":
            raise
        return CopiesOut(
            search=search, pairs=[], looked_at=0, more=0, prior=0.0, decided=decided, problem=error.message
        )
    shown = found.pairs[:MOST_SHOWN]
    made = _made(table, {key for pair in shown for key in (pair.one, pair.other)})
    return CopiesOut(
        search=search, pairs=[_out(pair, made) for pair in shown], looked_at=found.looked_at,
        more=max(0, len(found.pairs) - MOST_SHOWN) + found.more, prior=found.prior, decided=decided,
    )  # fmt: skip


def _made(table: Table, keys: set[str]) -> dict[str, InterviewFacts]:
    """How each of some interviews came about."""
    facts = table.frame.select(KEY, "interview.started", "interview.enumerator", "interview.state")
    return {
        key: InterviewFacts(
            started=started and started.replace(tzinfo=UTC), enumerator=enumerator or "", state=state or ""
        )
        for key, started, enumerator, state in facts.filter(pl.col(KEY).is_in(list(keys))).iter_rows()
    }


def _out(pair: NearCopy, made: dict[str, InterviewFacts]) -> NearCopyOut:
    parts = [CopyPartOut.model_validate(part, from_attributes=True) for part in pair.parts]
    called = [next((cell for part in parts if (cell := getattr(part, side))), "") for side in ("one", "other")]
    chance = 1 / (1 + 2 ** -max(-60.0, min(60.0, pair.bits)))
    both = [made[pair.one], made[pair.other]]
    return NearCopyOut(
        one=pair.one, other=pair.other, made=both, bits=pair.bits, chance=chance, called=called, parts=parts
    )


def _of_copies(session: Session, questionnaire_id: int) -> list[tuple[PlanStep, Duplicates]]:
    """The steps of the plan about interviews that are the same, those that are off as well."""
    read = [(step, read_step(step.body)) for step in plan_of(session, questionnaire_id)]
    return [(step, body) for step, body in read if isinstance(body, Duplicates)]


def decide_copy(desk: Desk, questionnaire_id: int, said: CopyDecision) -> PlanOut:
    """Put what somebody says of a pair into the plan: into its step of pairs decided by hand, or into a new one.

    Where somebody else has put a pair into that step meanwhile, this one joins what they said.
    """
    if said.one == said.other:
        raise Refused("same_interview", "An interview is no copy of itself.")
    for attempt in range(_ATTEMPTS):
        with desk.store.reading() as session:
            by_hand = [(step, body) for step, body in _of_copies(session, questionnaire_id) if not body.variables]
        if not by_hand:
            return keep_step(desk, questionnaire_id, _with(Duplicates(reason=_MADE_BY_HAND), said))
        kept, body = by_hand[-1]
        try:
            return change_step(desk, questionnaire_id, kept.id, _with(body, said))
        except Refused as error:
            # The step has another number as soon as somebody has changed it.
            if error.code != "not_found" or attempt == _ATTEMPTS - 1:
                raise
    raise AssertionError("unreachable")


def _with(body: Duplicates, said: CopyDecision) -> Duplicates:
    if said.decided == "apart":
        return body.model_copy(update={"apart": [*body.apart, [said.one, said.other]]})
    stays, goes = (said.one, said.other) if said.kept == "one" else (said.other, said.one)
    return body.model_copy(update={"by_hand": {**body.by_hand, goes: stays}})
