"""Data sets of a questionnaire: raw interviews of all releases, the joins, the cleaning plan replayed over them."""

from __future__ import annotations

import threading
from collections import OrderedDict, defaultdict
from dataclasses import dataclass, replace
from io import BytesIO
from pathlib import Path
from typing import Any

import polars as pl
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.cleaning.plan import Cleaned, apply_step, read_step
from skavo.core.combining.join import JoinReport, join_outside
from skavo.core.dataset.flatten import DataSet, without_sensitive
from skavo.core.errors import SkavoError
from skavo.store.counters import counter, data_counter
from skavo.store.files import read_file
from skavo.store.models import OutsideTable, PlanStep
from skavo.store.raw_frames import RawDataSet, RawFrames
from skavo.store.registers import Registers
from skavo.store.sensitive import Hidden, flagged, hidden_of, masked_changes, masked_report

_KEPT_IN_MEMORY = 6


@dataclass(frozen=True)
class Prepared:
    """`raw` as handed in, `cleaned` by the plan, `data` with the joins on top: a key is mended before it is matched.

    `problems` names what no longer fits: joins by the id of their table, steps by their id with a minus. `failed` are
    the keys of interviews that do not fit into the tables, `keys` the variable that each table is joined by. `hidden` is
    what is sensitive now.
    """

    raw: DataSet
    cleaned: Cleaned
    data: DataSet
    step_ids: list[int]
    joins: dict[int, JoinReport]
    problems: dict[int, str]
    failed: frozenset[str]
    keys: dict[int, str]
    hidden: Hidden


class DataSets:
    """Keeps the data sets used last in memory, each as good as the counter it was made at."""

    def __init__(self, files: Path) -> None:
        self.files = files
        self.registers = Registers()
        self._raw = RawFrames(files.parent / "cache")
        self._laid: dict[int, tuple[int, RawDataSet]] = {}
        self._kept: OrderedDict[int, tuple[int, Prepared]] = OrderedDict()
        # A large questionnaire keeps nobody waiting who asks for another one.
        self._turns: defaultdict[int, threading.Lock] = defaultdict(threading.Lock)
        self._lock = threading.Lock()

    def of(self, session: Session, questionnaire_id: int) -> Prepared:
        """The data set as it stands: accepted, arrived and sent-back interviews, never practice or set aside.

        `session` only reads: what a writer has not committed yet may never come to be.
        """
        _only_reads(session)
        with self._turn(questionnaire_id):
            at = counter(session, data_counter(questionnaire_id))
            known = self._kept.get(questionnaire_id)
            now = known if known and known[0] == at else (at, self._prepare(session, questionnaire_id))
            # Whoever began reading earlier sees an older data set; it does not replace a newer one.
            if known is None or known[0] <= at:
                self._keep(questionnaire_id, now)
            return _flagged(now[1], hidden_of(session, questionnaire_id))

    def _turn(self, questionnaire_id: int) -> threading.Lock:
        with self._lock:
            return self._turns[questionnaire_id]

    def _keep(self, questionnaire_id: int, kept: tuple[int, Prepared]) -> None:
        with self._lock:
            self._kept[questionnaire_id] = kept
            self._kept.move_to_end(questionnaire_id)
            while len(self._kept) > _KEPT_IN_MEMORY:
                self._kept.popitem(last=False)

    def raw(self, session: Session, questionnaire_id: int) -> RawDataSet:
        """The interviews as they were laid out, without plan and joins; brought forward by what is new only."""
        _only_reads(session)
        with self._turn(questionnaire_id):
            return self._laid_out(session, questionnaire_id)

    def _laid_out(self, session: Session, questionnaire_id: int) -> RawDataSet:
        at = counter(session, data_counter(questionnaire_id))
        known = self._laid.get(questionnaire_id)
        if known is None or known[0] != at:
            known = self._laid[questionnaire_id] = (at, self._raw.data_set(session, questionnaire_id))
        return known[1]

    def problems(self, questionnaire_id: int) -> int:
        """How many steps and joins no longer fit, as of the data set used last; 0 where none was used yet."""
        known = self._kept.get(questionnaire_id)
        return len(known[1].problems) if known else 0

    def _prepare(self, session: Session, questionnaire_id: int) -> Prepared:
        laid = self._laid_out(session, questionnaire_id)
        raw = laid.data
        problems: dict[int, str] = {}
        cleaned, step_ids = _clean(raw, plan_of(session, questionnaire_id), problems)
        data, joins = cleaned.data, {}
        keys: dict[int, str] = {}
        for outside in outside_tables(session, questionnaire_id):
            if outside.joined:
                try:
                    data, joins[outside.id] = self.join(data, outside, outside.joined)
                    keys[outside.id] = outside.joined["variable"]
                except SkavoError as error:
                    problems[outside.id] = error.message
        return Prepared(raw, cleaned, data, step_ids, joins, problems, laid.failed, keys, Hidden())

    def join(self, data: DataSet, outside: OutsideTable, how: dict[str, Any]) -> tuple[DataSet, JoinReport]:
        """`how` is {variable, key, take}."""
        return join_outside(
            data, self.cells(outside), source=outside.name, variable=how["variable"], key=how["key"], take=how["take"]
        )

    def cells(self, outside: OutsideTable) -> pl.DataFrame:
        return pl.read_parquet(BytesIO(read_file(self.files, outside.file_hash)))


def _flagged(prepared: Prepared, hidden: Hidden) -> Prepared:
    """With the marks of sensitive columns as they are now: a mark needs no interview to be laid out again."""
    cleaned = replace(prepared.cleaned, data=flagged(prepared.cleaned.data, hidden))
    return replace(
        prepared, raw=flagged(prepared.raw, hidden), cleaned=cleaned, data=flagged(prepared.data, hidden),
        hidden=hidden,
    )  # fmt: skip


def masked(prepared: Prepared) -> Prepared:
    """As somebody may see it who lacks the right to sensitive answers."""
    hidden = prepared.hidden
    return replace(
        prepared, raw=without_sensitive(prepared.raw), cleaned=masked_changes(prepared.cleaned, hidden),
        data=without_sensitive(prepared.data),
        joins={
            table: masked_report(report) if prepared.keys.get(table, "") in hidden.variables else report
            for table, report in prepared.joins.items()
        },
    )  # fmt: skip


def _only_reads(session: Session) -> None:
    if session.get_bind().get_execution_options().get("skavo_write", True):
        raise RuntimeError("Data sets are read in Store.reading().")


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


def plan_of(session: Session, questionnaire_id: int) -> list[PlanStep]:
    query = select(PlanStep).where(PlanStep.questionnaire_id == questionnaire_id, PlanStep.removed_at.is_(None))
    return list(session.scalars(query.order_by(PlanStep.id)))


def outside_tables(session: Session, questionnaire_id: int) -> list[OutsideTable]:
    query = select(OutsideTable).where(OutsideTable.questionnaire_id == questionnaire_id)
    return list(session.scalars(query.order_by(OutsideTable.id)))
