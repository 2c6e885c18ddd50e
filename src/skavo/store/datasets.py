"""Data sets of a questionnaire: raw interviews of all releases, the joins, the cleaning plan replayed over them."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path
from typing import Any

import polars as pl
from pydantic import TypeAdapter
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.cleaning.plan import Cleaned, Correct, MarkMissing, Recode, Step, apply_step
from skavo.core.combining.join import JoinReport, join_outside
from skavo.core.dataset.flatten import DataSet
from skavo.core.errors import SkavoError
from skavo.store.files import read_file
from skavo.store.models import Event, Interview, OutsideTable, PlanStep, Release
from skavo.store.raw_frames import RawFrames

_STEP: TypeAdapter[Recode | Correct | MarkMissing] = TypeAdapter(Step)
_KEPT_IN_MEMORY = 6


@dataclass(frozen=True)
class Prepared:
    """`raw` as handed in, `cleaned` by the plan, `data` with the joins on top: a key is mended before it is matched.

    `problems` names what no longer fits: joins by the id of their table, steps by their id with a minus.
    """

    raw: DataSet
    cleaned: Cleaned
    data: DataSet
    step_ids: list[int]
    joins: dict[int, JoinReport]
    problems: dict[int, str]


class DataSets:
    """Keeps the data sets used last in memory; whatever changes them changes their fingerprint."""

    def __init__(self, files: Path) -> None:
        self.files = files
        self._raw = RawFrames(files.parent / "cache")
        self._kept: OrderedDict[Any, Prepared] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, session: Session, questionnaire_id: int) -> Prepared:
        """The data set as it stands: accepted, arrived and sent-back interviews, never practice or set aside."""
        mark = _fingerprint(session, questionnaire_id)
        with self._lock:
            if mark in self._kept:
                self._kept.move_to_end(mark)
                return self._kept[mark]
            prepared = self._prepare(session, questionnaire_id)
            self._kept[mark] = prepared
            while len(self._kept) > _KEPT_IN_MEMORY:
                self._kept.popitem(last=False)
            return prepared

    def problems(self, questionnaire_id: int) -> int:
        """How many steps and joins no longer fit, as of the data set used last; 0 where none was used yet."""
        with self._lock:
            known = [p for mark, p in self._kept.items() if mark[0] == questionnaire_id]
        return len(known[-1].problems) if known else 0

    def _prepare(self, session: Session, questionnaire_id: int) -> Prepared:
        raw = self._raw.data_set(session, questionnaire_id)
        problems: dict[int, str] = {}
        cleaned, step_ids = _clean(raw, plan_of(session, questionnaire_id), problems)
        data, joins = cleaned.data, {}
        for outside in outside_tables(session, questionnaire_id):
            if outside.joined:
                try:
                    data, joins[outside.id] = self.join(data, outside, outside.joined)
                except SkavoError as error:
                    problems[outside.id] = error.message
        return Prepared(raw, cleaned, data, step_ids, joins, problems)

    def join(self, data: DataSet, outside: OutsideTable, how: dict[str, Any]) -> tuple[DataSet, JoinReport]:
        """`how` is {variable, key, take}."""
        return join_outside(
            data, self.cells(outside), source=outside.name, variable=how["variable"], key=how["key"], take=how["take"]
        )

    def cells(self, outside: OutsideTable) -> pl.DataFrame:
        return pl.read_parquet(BytesIO(read_file(self.files, outside.file_hash)))


def _clean(raw: DataSet, steps: list[PlanStep], problems: dict[int, str]) -> tuple[Cleaned, list[int]]:
    """The plan replayed; a step that no longer fits is left out and its problem written down."""
    cleaned = Cleaned(raw, [])
    ids: list[int] = []
    for step in steps:
        try:
            cleaned = apply_step(cleaned, read_step(step.body), len(ids))
        except SkavoError as error:
            problems[-step.id] = error.message
        else:
            ids.append(step.id)
    return cleaned, ids


def read_step(body: dict[str, Any]) -> Recode | Correct | MarkMissing:
    return _STEP.validate_python(body)


def _fingerprint(session: Session, questionnaire_id: int) -> tuple[Any, ...]:
    of_one = Interview.questionnaire_id == questionnaire_id
    counts = select(Interview.state, func.count(), func.max(Interview.id)).where(of_one).group_by(Interview.state)
    steps = select(func.count(PlanStep.id), func.max(PlanStep.id), func.max(PlanStep.removed_at)).where(
        PlanStep.questionnaire_id == questionnaire_id
    )
    joins = [(o.id, o.file_hash, repr(o.joined)) for o in outside_tables(session, questionnaire_id)]
    changed = select(func.max(Interview.arrived_at)).where(of_one)
    states = [tuple(row) for row in session.execute(counts)]
    return (
        questionnaire_id,
        tuple(sorted(states)),
        tuple(session.execute(steps).one()),
        tuple(joins),
        session.scalar(changed),
        tuple(session.scalars(select(Release.id).where(Release.questionnaire_id == questionnaire_id))),
        _states_mark(session, questionnaire_id),
    )


def _states_mark(session: Session, questionnaire_id: int) -> Any:
    decided = select(func.max(Event.id)).join(Interview, Event.interview_id == Interview.id)
    decisions = Event.kind.in_(("arrived", "accepted", "sent back", "set aside"))
    return session.scalar(decided.where(Interview.questionnaire_id == questionnaire_id, decisions))


def plan_of(session: Session, questionnaire_id: int) -> list[PlanStep]:
    query = select(PlanStep).where(PlanStep.questionnaire_id == questionnaire_id, PlanStep.removed_at.is_(None))
    return list(session.scalars(query.order_by(PlanStep.id)))


def outside_tables(session: Session, questionnaire_id: int) -> list[OutsideTable]:
    query = select(OutsideTable).where(OutsideTable.questionnaire_id == questionnaire_id)
    return list(session.scalars(query.order_by(OutsideTable.id)))
