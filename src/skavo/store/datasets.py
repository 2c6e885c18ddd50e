"""Data sets of a questionnaire: raw interviews of all releases, the joins, the cleaning plan replayed over them."""

from __future__ import annotations

import logging
import threading
from collections import OrderedDict, defaultdict
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from hashlib import blake2b
from pathlib import Path
from typing import Any

import polars as pl
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.cleaning.plan import Cleaned, apply_plan
from skavo.core.cleaning.steps import AnyStep, read_step
from skavo.core.combining.join import JoinReport, join_outside
from skavo.core.combining.near import Decision
from skavo.core.combining.outside import OutsideColumn, recognised
from skavo.core.combining.sides import Outside
from skavo.core.combining.spec import Join, read_join, variables_named
from skavo.core.dataset.flatten import DataSet, without_sensitive
from skavo.core.errors import DataError, SkavoError
from skavo.core.linking.link import Model, Rows, Weighed, weigh
from skavo.store.counters import counter, data_counter
from skavo.store.files import hash_on_disk, sound_file
from skavo.store.models import Interview, MatchDecision, OutsideTable, PlanStep
from skavo.store.raw_frames import RawDataSet, RawFrames
from skavo.store.registers import Registers
from skavo.store.remembered import Remembered
from skavo.store.sensitive import Hidden, flagged, hidden_of, masked_changes, masked_report, with_made
from skavo.store.waited_for import BeingPrepared

log = logging.getLogger("skavo")
_KEPT_IN_MEMORY = 6
# What was made of data sets, and the outside tables that are looked at and joined: some of each.
_MADE_KEPT, _LOOKED_KEPT, _WEIGHED_KEPT = 16, 4, 4
# The kind of job that makes the tables of a questionnaire.
TABLES = "data set"
# A page waits for so many interviews to be put into the tables, a few seconds at most; more are a job.
MOST_AT_ONCE = 5_000


@dataclass(frozen=True)
class Prepared:
    """`raw` as handed in, `cleaned` by the plan, `data` with the joins on top: a key is mended before it is matched.

    `problems` names the joins that no longer fit, by the id of their table; those of steps are in `cleaned`. `failed` are
    the keys of interviews that do not fit into the tables, `keys` the variables that each table is joined by. `hidden` is
    what is sensitive now, `at` the revision: the counter of all that the data set is made from.
    `hidden_from` is what of it whoever asked may not see.
    """

    at: int
    raw: DataSet
    cleaned: Cleaned
    data: DataSet
    joins: dict[int, JoinReport]
    problems: dict[int, str]
    failed: frozenset[str]
    keys: dict[int, frozenset[str]]
    hidden: Hidden
    hidden_from: Hidden = field(default_factory=Hidden)


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
        self._made = Remembered(_MADE_KEPT)
        self._weighings = Remembered(_WEIGHED_KEPT)
        # Tables that are looked at before they are brought in may be a gigabyte each.
        self.looked = Remembered(_LOOKED_KEPT)

    def of(self, session: Session, questionnaire_id: int, *, patient: bool = False) -> Prepared:
        """The data set as it stands: accepted, arrived and sent-back interviews, never practice or set aside.

        `session` only reads: what a writer has not committed yet may never come to be. Raise BeingPrepared where that
        would take long and whoever asks is not `patient`.
        """
        _only_reads(session)
        if not patient:
            self._soon(session, questionnaire_id)
        with self._turn(questionnaire_id):
            at = counter(session, data_counter(questionnaire_id))
            known = self._kept.get(questionnaire_id)
            now = known if known and known[0] == at else (at, self._prepare(session, questionnaire_id, at))
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
        self._soon(session, questionnaire_id)
        with self._turn(questionnaire_id):
            return self._laid_out(session, questionnaire_id)

    def _soon(self, session: Session, questionnaire_id: int) -> None:
        """Raise BeingPrepared where more interviews are to be put into the tables than a page can wait for."""
        at = counter(session, data_counter(questionnaire_id))
        known = self._laid.get(questionnaire_id)
        if known is not None and known[0] == at:
            return
        waiting = self._raw.waiting(session, questionnaire_id)
        if waiting > MOST_AT_ONCE:
            mine = select(func.count()).where(Interview.questionnaire_id == questionnaire_id)
            total = session.scalar(mine.where(Interview.practice.is_(False))) or 0
            done = total - waiting
            message = f"The tables are being made: {done:,} of {total:,} interviews so far. This page opens by itself."
            raise BeingPrepared(TABLES, questionnaire_id, message, {}, done / max(total, 1))

    def prepare(self, session: Session, questionnaire_id: int) -> int:
        """Bring the tables one piece further; how many interviews are still to come."""
        _only_reads(session)
        with self._turn(questionnaire_id):
            self._raw.bring_forward(session, questionnaire_id)
        return self._raw.waiting(session, questionnaire_id)

    def _laid_out(self, session: Session, questionnaire_id: int) -> RawDataSet:
        at = counter(session, data_counter(questionnaire_id))
        known = self._laid.get(questionnaire_id)
        if known is None or known[0] != at:
            known = self._laid[questionnaire_id] = (at, self._raw.data_set(session, questionnaire_id))
        return known[1]

    def problems(self, questionnaire_id: int) -> int:
        """How many steps and joins no longer fit, as of the data set used last; 0 where none was used yet."""
        known = self._kept.get(questionnaire_id)
        return len(known[1].problems) + len(known[1].cleaned.problems) if known else 0

    def unmet(self, questionnaire_id: int) -> int:
        """How many texts the dictionaries of the plan have not met, as of the data set used last."""
        known = self._kept.get(questionnaire_id)
        return sum(len(told.unmet) for told in known[1].cleaned.told.values()) if known else 0

    def doubtful(self, questionnaire_id: int) -> int:
        """How many rows have a near match that somebody has to decide, as of the data set used last."""
        known = self._kept.get(questionnaire_id)
        return sum(report.doubtful for report in known[1].joins.values()) if known else 0

    def _prepare(self, session: Session, questionnaire_id: int, at: int) -> Prepared:
        laid = self._laid_out(session, questionnaire_id)
        raw = laid.data
        problems: dict[int, str] = {}
        cleaned = apply_plan(raw, steps_on(session, questionnaire_id))
        data, joins = cleaned.data, {}
        keys: dict[int, frozenset[str]] = {}
        for outside in outside_tables(session, questionnaire_id):
            if outside.joined:
                try:
                    join = read_join(outside.joined)
                    data, joins[outside.id] = self.join(data, outside, join, decisions_of(session, outside.id))
                    keys[outside.id] = variables_named(join)
                except SkavoError as error:
                    problems[outside.id] = error.message
                # A join that breaks in a way nobody thought of brings no page down: it is left out and told.
                except Exception as error:
                    log.exception("the join of %s broke", outside.name)
                    problems[outside.id] = f"It cannot be joined ({type(error).__name__}). Change the join, or undo it."
        return Prepared(at, raw, cleaned, data, joins, problems, laid.failed, keys, Hidden())

    def remembered(self, key: tuple[Any, ...], make: Callable[[], Any]) -> Any:
        """What was made of a data set before, by whatever it depends on."""
        return self._made.get(key, make)

    def join(
        self, data: DataSet, outside: OutsideTable, join: Join, decisions: Sequence[Decision] = ()
    ) -> tuple[DataSet, JoinReport]:
        return join_outside(data, self.outside(outside), join, decisions, self._weighed)

    def _weighed(self, left: Rows, right: Rows, model: Model, blocks: Sequence[str], most: int) -> Weighed:
        """As `weigh`: a decision changes nothing of what pairs are worth."""
        key = (_mark(left), _mark(right), repr(model), *blocks, most)
        return self._weighings.get(key, lambda: weigh(left, right, model, blocks, most))  # type: ignore[no-any-return]

    def before_join(self, session: Session, questionnaire_id: int, outside_id: int) -> DataSet:
        """The data set as an outside table meets it: cleaned, with the tables joined that came before it."""
        data = self.of(session, questionnaire_id).cleaned.data
        for outside in outside_tables(session, questionnaire_id):
            if outside.id == outside_id:
                break
            if outside.joined:
                # One that does not fit, for whatever reason, is left out here as it is in the data set.
                with suppress(Exception):
                    data, _ = self.join(data, outside, read_join(outside.joined), decisions_of(session, outside.id))
        return data

    def outside(self, table: OutsideTable) -> Outside:
        """An outside table with its cells."""
        frame = self.cells(table.file_hash)
        columns = [OutsideColumn.model_validate(column) for column in table.described]
        known = {column.name: column for column in columns}
        if known.keys() < set(frame.columns):
            columns = self.remembered(("columns", table.file_hash), lambda: recognised(frame, known))
        return Outside(table.name, frame, columns)

    def cells(self, file_hash: str) -> pl.DataFrame:
        """The cells of an outside table, all texts; raise DataError where the file was damaged."""
        return self.remembered(("cells", file_hash), lambda: self._cells(file_hash))  # type: ignore[no-any-return]

    def _cells(self, file_hash: str) -> pl.DataFrame:
        path = sound_file(self.files, file_hash)
        if hash_on_disk(path) != file_hash:
            raise DataError("file_damaged", "This table was damaged on disk. Restore it from a backup.")
        return pl.read_parquet(path)


def _mark(rows: Rows) -> bytes:
    """A mark of all cells of a table, in their order."""
    mark = blake2b()
    for row in rows:
        mark.update(repr(row).encode())
    return mark.digest()


def _flagged(prepared: Prepared, hidden: Hidden) -> Prepared:
    """With the marks of sensitive columns as they are now: a mark needs no interview to be laid out again."""
    cleaned = replace(prepared.cleaned, data=flagged(prepared.cleaned.data, hidden))
    data = flagged(prepared.data, hidden)
    return replace(
        prepared, raw=flagged(prepared.raw, hidden), cleaned=cleaned, data=data, hidden=with_made(hidden, data)
    )


def masked(prepared: Prepared) -> Prepared:
    """As somebody may see it who lacks the right to sensitive answers."""
    hidden = prepared.hidden
    return replace(
        prepared, hidden_from=hidden, raw=without_sensitive(prepared.raw), cleaned=masked_changes(prepared.cleaned, hidden),
        data=without_sensitive(prepared.data),
        joins={
            table: masked_report(report) if prepared.keys.get(table, frozenset()) & hidden.variables else report
            for table, report in prepared.joins.items()
        },
    )  # fmt: skip


def _only_reads(session: Session) -> None:
    if session.get_bind().get_execution_options().get("skavo_write", True):
        raise RuntimeError("Data sets are read in Store.reading().")


def steps_on(session: Session, questionnaire_id: int) -> list[tuple[int, AnyStep]]:
    """The steps of the plan that are not switched off, as they are replayed."""
    return [(step.id, read_step(step.body)) for step in plan_of(session, questionnaire_id) if not step.off]


def plan_of(session: Session, questionnaire_id: int) -> list[PlanStep]:
    query = select(PlanStep).where(PlanStep.questionnaire_id == questionnaire_id, PlanStep.removed_at.is_(None))
    return list(session.scalars(query.order_by(PlanStep.position, PlanStep.id)))


def outside_tables(session: Session, questionnaire_id: int) -> list[OutsideTable]:
    query = select(OutsideTable).where(OutsideTable.questionnaire_id == questionnaire_id)
    return list(session.scalars(query.order_by(OutsideTable.id)))


def decisions_of(session: Session, outside_id: int) -> list[Decision]:
    """What was decided about near matches of an outside table, the latest last."""
    query = select(MatchDecision).where(MatchDecision.outside_id == outside_id, MatchDecision.undone_at.is_(None))
    return [
        Decision(row.place, row.ours, row.theirs, "same" if row.decided == "same" else "apart", row.id)
        for row in session.scalars(query.order_by(MatchDecision.id))
    ]
