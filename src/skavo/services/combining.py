"""The combine station: outside tables joined to the data set; what matched and what did not."""

from __future__ import annotations

from math import isnan

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from skavo.core.combining.beside import Group, Side, SideBySide, side_by_side
from skavo.core.combining.join import JoinReport, joined_by_key, names_taken, rows_compared
from skavo.core.combining.near import learn_near
from skavo.core.combining.propose_keys import propose_keys
from skavo.core.combining.spec import Join, KeyPair, read_join, write_join
from skavo.core.dataset.layout import INTERVIEWS
from skavo.formats.csv_files import rows_text
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, same_version
from skavo.store.datasets import Prepared, decisions_of
from skavo.store.models import OutsideTable
from skavo.store.sensitive import masked_report

MOST_LISTED = 500


class JoinChange(BaseModel):
    """`join` is None where the join is undone; `version` is that of the table that was seen."""

    model_config = ConfigDict(extra="forbid")
    join: Join | None
    version: int


class OfOurs(BaseModel):
    """A row of ours, by its interview and the rows that lead to it, and its key as it is written."""

    place: str
    value: str


class OfTheirs(BaseModel):
    """A row of theirs, by its number below the heading, and its key as it is written; `holds` are its first cells, for those
    who may see them."""

    row: int
    value: str
    holds: str = ""


class KeyCount(BaseModel):
    value: str
    count: int


class Otherwise(BaseModel):
    """A key that both sides write in their own way."""

    ours: str
    theirs: str
    count: int


class JoinReportOut(BaseModel):
    """What a join finds; lists are the first of so many."""

    rows: int
    outside_rows: int
    matched: int
    near: int
    doubtful: int
    without_key: int
    more: int
    unmatched_count: int
    unmatched: list[OfOurs]
    unmatched_rows_count: int
    unmatched_rows: list[OfTheirs]
    ambiguous_count: int
    ambiguous: list[KeyCount]
    repeated_count: int
    repeated: list[KeyCount]
    otherwise_count: int
    otherwise: list[Otherwise]
    unread: dict[str, int]
    variables: list[str]


class JoinedOut(BaseModel):
    """A table's join as it is kept, what it finds, or why it no longer fits."""

    outside_id: int
    join: Join | None
    report: JoinReportOut | None
    problem: str


_CELLS_TOLD = 3


def _holding(desk: Desk, table: OutsideTable, rows: list[dict[str, object]]) -> list[dict[str, object]]:
    """Rows of a table with their first cells, so that one without a key is known too."""
    if not desk.sees_sensitive or not rows:
        return rows
    cells = desk.sets.cells(table.file_hash)[[int(str(row["row"])) - 1 for row in rows]]
    told = [" · ".join([cell for cell in row if cell][:_CELLS_TOLD]) for row in cells.iter_rows()]
    return [{**row, "holds": holds} for row, holds in zip(rows, told, strict=True)]


def _report(desk: Desk, table: OutsideTable, report: JoinReport, join: Join) -> JoinReportOut:
    def listed(frame: pl.DataFrame) -> list[dict[str, object]]:
        return list(frame.head(MOST_LISTED).iter_rows(named=True))

    return JoinReportOut.model_validate(
        {
            "rows": report.rows, "outside_rows": report.outside_rows, "matched": report.matched, "near": report.near,
            "doubtful": report.doubtful,
            "without_key": report.without_key, "more": report.more,
            "unmatched_count": report.unmatched.height, "unmatched": listed(report.unmatched),
            "unmatched_rows_count": report.unmatched_rows.height, "unmatched_rows": _holding(desk, table, listed(report.unmatched_rows)),
            "ambiguous_count": report.ambiguous.height, "ambiguous": listed(report.ambiguous),
            "repeated_count": report.repeated.height, "repeated": listed(report.repeated),
            "otherwise_count": report.otherwise.height, "otherwise": listed(report.otherwise), "unread": report.unread,
            "variables": list(names_taken(table.name, join).values()),
        }
    )  # fmt: skip


def list_joins(desk: Desk, questionnaire_id: int) -> list[JoinedOut]:
    """The joins of all outside tables of a questionnaire, as they are worked out last."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        tables = session.query(OutsideTable).filter_by(questionnaire_id=questionnaire_id).order_by(OutsideTable.id)
        return [_joined(desk, prepared, table) for table in tables]


def _joined(desk: Desk, prepared: Prepared, table: OutsideTable) -> JoinedOut:
    join = read_join(table.joined) if table.joined else None
    if join is not None:
        join = join.model_copy(update={"called": names_taken(table.name, join)})
    found = prepared.joins.get(table.id)
    report = _report(desk, table, found, join) if found is not None and join is not None else None
    return JoinedOut(outside_id=table.id, join=join, report=report, problem=prepared.problems.get(table.id, ""))


def _tried(desk: Desk, session: Session, outside: OutsideTable, join: Join) -> JoinReport:
    """What a join finds in the data set as it is before this table is joined. Raise DataError where it does not fit."""
    data = desk.sets.before_join(session, outside.questionnaire_id, outside.id)
    return desk.sets.join(data, outside, join, decisions_of(session, outside.id))[1]


def preview_join(desk: Desk, outside_id: int, join: Join) -> JoinReportOut:
    """What a join would find, before it is kept."""
    with desk.store.reading() as session:
        outside = session.get_one(OutsideTable, outside_id)
        tolerant = join if join.several != "refuse" else join.model_copy(update={"several": "leave"})
        report = _tried(desk, session, outside, tolerant)
        if not desk.sees_sensitive:
            report = masked_report(report)
        return _report(desk, outside, report, join)


class ProposedKeyOut(BaseModel):
    """A variable that may be a column: how many of our rows with the key find a partner by it alone."""

    pair: KeyPair
    matched: int
    rows: int


class KeysQuery(BaseModel):
    model_config = ConfigDict(extra="forbid")
    into: str = Field(default=INTERVIEWS, max_length=64)


def list_possible_keys(desk: Desk, outside_id: int, query: KeysQuery) -> list[ProposedKeyOut]:
    """Which columns of a table may be which variables, as the table meets the data set; for those who may see rows."""
    with desk.store.reading() as session:
        outside = session.get_one(OutsideTable, outside_id)
        table = desk.sets.outside(outside)
        prepared = desk.data(session, outside.questionnaire_id)
    key = ("keys", prepared.at, bool(prepared.hidden_from.ids), outside_id, outside.version, query.into)
    found = desk.sets.remembered(key, lambda: propose_keys(prepared.cleaned.data, table, query.into))
    return [ProposedKeyOut.model_validate(one, from_attributes=True) for one in found]


def learn_weights(desk: Desk, outside_id: int, join: Join) -> Join:
    """The same join with what the tables tell of the worth of each comparison."""
    if join.near is None:
        raise Refused("no_comparison", "Say first what is compared.")
    with desk.store.reading() as session:
        outside = session.get_one(OutsideTable, outside_id)
        data = desk.sets.before_join(session, outside.questionnaire_id, outside.id)
        table = desk.sets.outside(outside)
        ours, theirs = rows_compared(data, table, join)
        same = joined_by_key(data, table, join)
    learnt = learn_near(ours, theirs, join.near, same, frozenset(pair.ours for pair in join.keys))
    return join.model_copy(update={"near": join.near.model_copy(update={"learnt": learnt})})


def set_join(desk: Desk, questionnaire_id: int, outside_id: int, change: JoinChange) -> JoinedOut:
    """Join the table, change how, or undo it; one that does not fit the data set is refused."""
    if change.join is not None:
        with desk.store.reading() as session:
            _tried(desk, session, session.get_one(OutsideTable, outside_id), change.join)
    with desk.store.session() as session:
        outside = session.get_one(OutsideTable, outside_id)
        same_version(outside.version, change.version)
        outside.joined = write_join(change.join) if change.join is not None else None
        outside.version += 1
        study_id = the_questionnaire(session, questionnaire_id).study_id
        session.add(desk.event(study_id, "table joined" if change.join else "join undone", name=outside.name))
    with desk.store.reading() as session:
        return _joined(desk, desk.data(session, questionnaire_id), session.get_one(OutsideTable, outside_id))


class SideOut(BaseModel):
    """One side of a group: how many, their share of all, and where a number is compared its mean and total."""

    count: float
    share: float | None
    share_low: float | None
    share_high: float | None
    mean: float | None
    mean_low: float | None
    mean_high: float | None
    total: float | None


class GroupOut(BaseModel):
    """`apart` says whether what they say lies outside of our interval."""

    name: str
    ours: SideOut
    theirs: SideOut
    apart: bool


class SideBySideOut(BaseModel):
    groups: list[GroupOut]
    whole: GroupOut | None
    without_ours: int
    without_theirs: int


def compare_by_group(desk: Desk, outside_id: int, asked: SideBySide) -> SideBySideOut:
    """Our data held against a table, group by group; raise DataError where something is named that is not there."""
    if not desk.sees_sensitive:
        raise Refused("forbidden", "What outside tables say is for those who may see sensitive answers.")
    with desk.store.reading() as session:
        outside = session.get_one(OutsideTable, outside_id)
        data = desk.data(session, outside.questionnaire_id).cleaned.data
    found = side_by_side(data, desk.sets.outside(outside), asked)
    return SideBySideOut(
        groups=[_group(group) for group in found.groups], whole=_group(found.whole) if found.whole else None,
        without_ours=found.without[0], without_theirs=found.without[1],
    )  # fmt: skip


def _group(group: Group) -> GroupOut:
    return GroupOut(name=group.name, ours=_side(group.ours), theirs=_side(group.theirs), apart=group.apart)


def _side(side: Side) -> SideOut:
    def known(value: float) -> float | None:
        return None if isnan(value) else value

    return SideOut(
        count=side.count, share=known(side.share.value), share_low=known(side.share.low), share_high=known(side.share.high),
        mean=known(side.mean.value), mean_low=known(side.mean.low), mean_high=known(side.mean.high), total=known(side.total),
    )  # fmt: skip


class UnmatchedQuery(BaseModel):
    """`side` is ours or theirs."""

    side: str = Field(default="ours", pattern="^(ours|theirs)$")


def unmatched_file(desk: Desk, questionnaire_id: int, outside_id: int, query: UnmatchedQuery) -> str:
    """All rows of one side that found nobody, as .csv: ours with their key, theirs with all their cells."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        outside = session.get_one(OutsideTable, outside_id)
        report = prepared.joins.get(outside_id)
    if report is None:
        raise Refused("not_joined", f"{outside.name} is not joined.")
    if query.side == "ours":
        return rows_text(["row", "key"], report.unmatched.iter_rows())
    if not desk.sees_sensitive:
        return rows_text(["row", "key"], report.unmatched_rows.iter_rows())
    cells = desk.sets.cells(outside.file_hash).with_row_index("@row", offset=1)
    wanted = cells.filter(pl.col("@row").is_in(report.unmatched_rows["row"].implode()))
    return rows_text(["row", *wanted.columns[1:]], wanted.iter_rows())
