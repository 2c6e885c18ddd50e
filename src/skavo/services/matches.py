"""Near matches of an outside table: pairs that likeness leaves in doubt, read part by part and decided one by one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.combining.join import JoinReport, rows_compared
from skavo.core.combining.near import NearPair, mark_of
from skavo.core.combining.parts import parts_of
from skavo.core.combining.sides import Outside, places_of
from skavo.core.combining.spec import Join, Near, read_join
from skavo.core.dataset.flatten import DataSet
from skavo.core.dataset.layout import label_in
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, not_found
from skavo.store.models import MatchDecision, OutsideTable, now

MOST_LISTED = 500
_BARS = 24
_NEAREST = 3


class PairOut(BaseModel):
    """A pair: our row by its place, theirs by its number, and what each is called by; `score` in bits. `rivals` are how many
    other rows of theirs are in doubt for the same one of ours."""

    place: str
    row: int
    ours: str
    theirs: str
    score: float
    state: str
    decision: int
    before: str
    rivals: int


class ScoreBar(BaseModel):
    """So many pairs with a score from `low` up to `high` bits."""

    low: float
    high: float
    count: int


class DecidedOut(BaseModel):
    """A decision that counts, with what was seen when it was taken."""

    id: int
    place: str
    ours: str
    theirs: str
    decided: str
    by: str
    at: datetime


class MatchesOut(BaseModel):
    """How likeness found partners; pairs are the first of so many. `looked_at` counts all that were looked at."""

    outside_id: int
    name: str
    near: Near
    by_key: int
    matched: int
    same: int
    not_same: int
    doubtful_count: int
    without: int
    bars: list[ScoreBar]
    doubtful: list[PairOut]
    found: list[PairOut]
    decided: list[DecidedOut]
    looked_at: int


class PartOut(BaseModel):
    """A comparison: the cells of both, what it found in words, its weight in bits and the most and least it can be worth."""

    variable: str
    column: str
    label: str
    ours: str
    theirs: str
    found: str
    bits: float
    least: float
    most: float


class NearestOut(BaseModel):
    row: int
    theirs: str
    score: float


class PairPartsOut(BaseModel):
    """A pair part by part. `chance` is how likely it is the same; `taken` what hangs on it: the columns that
    are taken over, with their cells; `nearest` the next likely rows of theirs."""

    place: str
    row: int
    parts: list[PartOut]
    prior: float
    score: float
    chance: float
    blocks: list[str]
    taken: dict[str, str | None]
    nearest: list[NearestOut]
    others_of_row: int


class PairQuery(BaseModel):
    place: str = Field(min_length=1, max_length=400)
    row: int = Field(ge=1)


class MatchIn(PairQuery):
    """Whether two rows are the same unit."""

    model_config = ConfigDict(extra="forbid")
    decided: Literal["same", "apart"]


@dataclass(frozen=True)
class _Sides:
    outside: Outside
    join: Join
    near: Near
    data: DataSet
    ours: list[dict[str, str]]
    theirs: list[dict[str, str]]
    places: list[str]
    report: JoinReport


def _sides(desk: Desk, session: Session, table: OutsideTable) -> _Sides:
    """Both sides with what was found; raise Refused for whoever may not see them, or where nothing is compared."""
    if not desk.sees_sensitive:
        raise Refused("forbidden", "Near matches show names side by side: they are for those who may see them.")
    join = read_join(table.joined) if table.joined else None
    prepared = desk.data(session, table.questionnaire_id)
    report = prepared.joins.get(table.id)
    if join is None or join.near is None or report is None:
        problem = prepared.problems.get(table.id, f"{table.name} is not joined by likeness.")
        raise Refused("not_compared", problem)
    data = desk.sets.before_join(session, table.questionnaire_id, table.id)
    outside = desk.sets.outside(table)
    key = ("sides", table.id, prepared.at)
    ours, theirs = desk.sets.remembered(key, lambda: rows_compared(data, outside, join))
    return _Sides(outside, join, join.near, data, ours, theirs, places_of(data[join.into]), report)


def show_matches(desk: Desk, outside_id: int) -> MatchesOut:
    with desk.store.reading() as session:
        table = session.get_one(OutsideTable, outside_id)
        sides = _sides(desk, session, table)
        decided = [
            _decided(row) for row in session.scalars(
                select(MatchDecision).where(MatchDecision.outside_id == outside_id, MatchDecision.undone_at.is_(None))
                .order_by(MatchDecision.id.desc()).limit(MOST_LISTED)
            )
        ]  # fmt: skip
    found = sides.report.found
    doubtful = [pair for pair in found.pairs if pair.state == "doubtful"]
    matched = [pair for pair in found.pairs if pair.state in ("match", "same")]
    rivals: dict[int, int] = {}
    for pair in doubtful:
        rivals[pair.ours] = rivals.get(pair.ours, 0) + 1
    return MatchesOut(
        outside_id=outside_id, name=table.name, near=sides.near, by_key=sides.report.matched - sides.report.near,
        matched=found.count("match"), same=found.count("same"), not_same=found.count("not the same"),
        doubtful_count=len(doubtful), without=sides.report.rows - sides.report.matched, bars=_bars(found.bits),
        doubtful=[_pair(sides, pair, rivals.get(pair.ours, 1) - 1) for pair in doubtful[:MOST_LISTED]],
        found=[_pair(sides, pair, 0) for pair in matched[:MOST_LISTED]], decided=decided, looked_at=len(found.bits),
    )  # fmt: skip


def _decided(row: MatchDecision) -> DecidedOut:
    return DecidedOut(
        id=row.id, place=row.place, ours=row.shown["ours"], theirs=row.shown["theirs"], decided=row.decided,
        by=row.created_by, at=row.created_at,
    )  # fmt: skip


def _pair(sides: _Sides, pair: NearPair, rivals: int) -> PairOut:
    return PairOut(
        place=sides.places[pair.ours], row=pair.theirs + 1, ours=_called(sides, sides.ours[pair.ours], ours=True),
        theirs=_called(sides, sides.theirs[pair.theirs], ours=False), score=pair.bits, state=pair.state,
        decision=pair.decision, before=pair.before or "", rivals=rivals,
    )  # fmt: skip


def _called(sides: _Sides, row: dict[str, str], *, ours: bool) -> str:
    """What a row is called by: its first text that is compared, else the first cell there is."""
    compared = sorted(sides.near.compare, key=lambda one: one.how != "text")
    cells = [row[one.ours if ours else one.theirs] for one in compared]
    return next((cell for cell in cells if cell), "")


def _bars(bits: Any) -> list[ScoreBar]:
    if not len(bits):
        return []
    counts, edges = np.histogram(bits, bins=_BARS)
    return [
        ScoreBar(low=float(low), high=float(high), count=int(count))
        for count, low, high in zip(counts, edges, edges[1:], strict=False)
    ]


def show_pair(desk: Desk, outside_id: int, query: PairQuery) -> PairPartsOut:
    """A pair part by part, with what hangs on it."""
    with desk.store.reading() as session:
        sides = _sides(desk, session, session.get_one(OutsideTable, outside_id))
    mine, other = _at(sides, query)
    read = parts_of(sides.ours[mine], sides.theirs[other], sides.near)
    model = sides.near.model()
    assert model is not None
    parts = [
        PartOut(
            variable=part.ours, column=part.theirs, label=_label(sides.data, part.ours), ours=part.our_cell, theirs=part.their_cell,
            found=part.found, bits=part.bits, least=min(0.0, *weight.bits), most=max(0.0, *weight.bits),
        )
        for part, weight in zip(read.parts, model.weights, strict=True)
    ]  # fmt: skip
    of_mine = [p for p in sides.report.found.pairs if p.ours == mine and p.theirs != other]
    cells = sides.outside.frame.row(other, named=True)
    return PairPartsOut(
        place=query.place, row=query.row, parts=parts, prior=read.prior, score=read.total,
        chance=float(1 / (1 + np.exp2(-np.clip(read.total, -60, 60)))), blocks=read.blocks,
        taken={name: cells[name] for name in sides.join.take},
        nearest=[
            NearestOut(row=p.theirs + 1, theirs=_called(sides, sides.theirs[p.theirs], ours=False), score=p.bits)
            for p in of_mine[:_NEAREST]
        ],
        others_of_row=sum(1 for p in sides.report.found.pairs if p.theirs == other and p.ours != mine),
    )  # fmt: skip


def _label(data: DataSet, variable: str) -> str:
    found = (table.layout.column(variable) for table in data.values())
    return next((label_in(column.label, "en", variable) for column in found if column is not None), variable)


def _at(sides: _Sides, query: PairQuery) -> tuple[int, int]:
    if query.place not in sides.places or query.row > len(sides.theirs):
        raise not_found("pair")
    return sides.places.index(query.place), query.row - 1


def decide(desk: Desk, outside_id: int, said: MatchIn) -> DecidedOut:
    """Keep what somebody says of a pair; whatever was said of it before does not count any more."""
    with desk.store.reading() as session:
        sides = _sides(desk, session, session.get_one(OutsideTable, outside_id))
    mine, other = _at(sides, said)
    ours, theirs = sides.ours[mine], sides.theirs[other]
    marks = {
        "ours": mark_of(ours, [one.ours for one in sides.near.compare]),
        "theirs": mark_of(theirs, [one.theirs for one in sides.near.compare]),
    }
    with desk.store.session() as session:
        table = session.get_one(OutsideTable, outside_id)
        before = select(MatchDecision).where(
            MatchDecision.outside_id == outside_id, MatchDecision.place == said.place,
            MatchDecision.theirs == marks["theirs"], MatchDecision.undone_at.is_(None),
        )  # fmt: skip
        for old in session.scalars(before):
            old.undone_at = now()
        made = MatchDecision(
            questionnaire_id=table.questionnaire_id, outside_id=outside_id, place=said.place, decided=said.decided,
            shown={"ours": _called(sides, ours, ours=True), "theirs": _called(sides, theirs, ours=False)}, **marks,
            **desk.signed(),
        )  # fmt: skip
        session.add(made)
        study_id = the_questionnaire(session, table.questionnaire_id).study_id
        session.add(desk.event(study_id, "near match decided", name=table.name, decided=said.decided))
        session.flush()
        return _decided(made)


def undo_decision(desk: Desk, outside_id: int, decision_id: int) -> None:
    """Let a decision count no more; the pair is asked about again."""
    with desk.store.session() as session:
        row = session.get_one(MatchDecision, decision_id)
        if row.outside_id != outside_id:
            raise not_found("decision")
        if row.undone_at is None:
            row.undone_at = now()
            study_id = the_questionnaire(session, row.questionnaire_id).study_id
            name = session.get_one(OutsideTable, outside_id).name
            session.add(desk.event(study_id, "near match undone", name=name))
