"""The combine station: tables from elsewhere, looked at before they are brought in, kept with a card, brought in again."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from io import BytesIO
from pathlib import Path
from typing import Any, Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from skavo.core.combining.differences import Differences, differences
from skavo.core.combining.join import suggested_name
from skavo.core.combining.look import PROFILED, ColumnLook
from skavo.core.combining.outside import OutsideColumn
from skavo.core.combining.spec import read_join
from skavo.core.errors import DataError
from skavo.core.questionnaire.variables import suggest_variable
from skavo.formats.tables_in.told import FileReading, TableIn
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, same_version
from skavo.store.datasets import outside_tables
from skavo.store.files import keep_file, keep_path
from skavo.store.looking import KeptIn, LookIn, Looking, was_sent
from skavo.store.models import OutsideTable, SentTable
from skavo.store.recipes import sets_made_of

FIRST_ROWS = 30
MOST_ROWS = 200
_EARLIER_KEPT = 20
# What columns are told to be from is called so already.
_OURS = frozenset({"questionnaire", "plan", "interviews", "interview"})


class Card(BaseModel):
    """Where a table is from and how far it is trusted. What is joined from it is handed over only where it may be."""

    model_config = ConfigDict(extra="forbid")

    collected_by: str = Field(default="", max_length=500)
    collected_for: str = Field(default="", max_length=500)
    collected_when: str = Field(default="", max_length=200)
    how: str = Field(default="", max_length=1000)
    purpose: str = Field(default="", max_length=1000)
    population: str = Field(default="", max_length=1000)
    definitions: str = Field(default="", max_length=4000)
    terms: str = Field(default="", max_length=1000)
    trust: str = Field(default="", max_length=1000)
    handed_over: Literal["yes", "no"] = "yes"


class LookOut(BaseModel):
    """What a file holds, read so; nothing of it is kept. `told` are things to know, `profiled` the rows that gave shapes."""

    kind: str
    reading: FileReading
    sheets: list[str]
    told: list[str]
    rows: int
    columns: list[ColumnLook]
    first: list[list[str | None]]
    profiled: int


class BringIn(LookIn):
    """A file to be kept as it was looked at; `name` is proposed from the file's where it is empty."""

    name: str = Field(default="", max_length=40)


class AgainIn(LookIn):
    """The table brought in again; rows are known by the columns `key`. `version` is that of the table that was seen."""

    key: list[str] = Field(min_length=1, max_length=8)
    version: int = 0


class EarlierOut(BaseModel):
    file_name: str
    rows: int
    at: datetime
    by: str


class OutsideOut(BaseModel):
    """An outside table. `suggested` is what each of its columns may be called once it is taken over."""

    id: int
    name: str
    file_name: str
    rows: int
    columns: list[OutsideColumn]
    suggested: dict[str, str]
    card: Card
    version: int
    created_at: datetime
    created_by: str
    earlier: list[EarlierOut]
    reading: FileReading


class OutsideRowsOut(BaseModel):
    """Rows of a table as texts, by their numbers."""

    columns: list[str]
    total: int
    rows: list[list[str | None]]
    numbers: list[int]


class RowsQuery(BaseModel):
    """Rows that hold a piece of text anywhere; from the `offset`th."""

    like: str = Field(default="", max_length=200)
    offset: int = Field(default=0, ge=0)


class SentOut(BaseModel):
    """How much of a file has arrived; `file` names it once all of it has."""

    received: int
    file: str | None = None


def keep_sent(desk: Desk, questionnaire_id: int, sent: Path) -> str:
    """Keep a file that was sent, to be looked at; the hash that it is named by."""
    digest = keep_path(desk.store.files, sent)
    with desk.store.session() as session:
        the_questionnaire(session, questionnaire_id)
        session.add(SentTable(questionnaire_id=questionnaire_id, file_hash=digest, **desk.signed()))
    return digest


def _sent(desk: Desk, questionnaire_id: int, asked: LookIn) -> Looking:
    """A file that was sent to this questionnaire; raise BeingPrepared where it takes long to look at."""
    with desk.store.reading() as session:
        if not was_sent(session, questionnaire_id, asked.file):
            raise Refused("unknown_file", "This file was not sent here. Choose it again.")
    looking = Looking(desk.sets, asked)
    looking.not_at_once(questionnaire_id)
    return looking


def look_at(desk: Desk, questionnaire_id: int, asked: LookIn) -> LookOut:
    """What a file that was sent holds; raise DataError where it is no table."""
    looking = _sent(desk, questionnaire_id, asked)
    table = looking.table()
    return LookOut(
        kind=table.kind, reading=table.reading, sheets=table.sheets, told=table.told, rows=table.frame.height,
        columns=looking.looks(), first=[list(row) for row in table.frame.head(FIRST_ROWS).rows()],
        profiled=min(table.frame.height, PROFILED),
    )  # fmt: skip


def bring_in(desk: Desk, questionnaire_id: int, order: BringIn) -> OutsideOut:
    """Keep a file that was looked at as a table; raise DataError where it is none."""
    looking = _sent(desk, questionnaire_id, order)
    table, columns = looking.table(), list(looking.columns())
    digest = _keep_cells(desk, table.frame)
    with desk.store.session() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        taken = {outside.name for outside in outside_tables(session, questionnaire_id)}
        outside = OutsideTable(
            questionnaire_id=questionnaire_id, name=_free_name(order.name or order.file_name, taken),
            file_name=order.file_name, file_hash=digest, raw_hash=order.file, columns=table.frame.columns,
            rows=table.frame.height, reading=table.reading.model_dump(mode="json"),
            described=[column.model_dump(mode="json") for column in columns], **desk.signed(),
        )  # fmt: skip
        session.add(outside)
        session.flush()
        session.add(desk.event(study_id, "outside table brought in", name=outside.name, rows=outside.rows))
        return _out(desk, outside)


def _keep_cells(desk: Desk, frame: pl.DataFrame) -> str:
    packed = BytesIO()
    frame.write_parquet(packed)
    return keep_file(desk.store.files, packed.getvalue())


def _free_name(wanted: str, taken: set[str]) -> str:
    base = suggest_variable(wanted.rsplit(".", 1)[0])[:20].rstrip("_") or "table"
    name, number = base, 2
    while name in taken or name in _OURS:
        name, number = f"{base}_{number}", number + 1
    return name


def _out(desk: Desk, outside: OutsideTable) -> OutsideOut:
    return OutsideOut(
        id=outside.id, name=outside.name, file_name=outside.file_name, rows=outside.rows,
        columns=desk.sets.outside(outside).columns, card=Card(**outside.card), version=outside.version,
        suggested={column: suggested_name(outside.name, column) for column in outside.columns},
        created_at=outside.created_at, created_by=outside.created_by, reading=FileReading(**outside.reading),
        earlier=[EarlierOut.model_validate(one) for one in reversed([_told(one) for one in outside.earlier])],
    )  # fmt: skip


def _told(one: dict[str, Any]) -> dict[str, Any]:
    return {name: one[name] for name in EarlierOut.model_fields}


def list_tables_in(desk: Desk, questionnaire_id: int) -> list[OutsideOut]:
    with desk.store.reading() as session:
        return [_out(desk, outside) for outside in outside_tables(session, questionnaire_id)]


def show_table(desk: Desk, outside_id: int) -> OutsideOut:
    with desk.store.reading() as session:
        return _out(desk, session.get_one(OutsideTable, outside_id))


def show_columns(desk: Desk, outside_id: int) -> list[ColumnLook]:
    """Every column of a table that was brought in, with its shape; for those who may see what is sensitive."""
    _may_see(desk)
    with desk.store.reading() as session:
        outside = session.get_one(OutsideTable, outside_id)
        found = desk.sets.outside(outside)
    looking = Looking(desk.sets, KeptIn(kept=outside.file_hash, name=outside.name, columns=found.columns))
    looking.not_at_once(outside.questionnaire_id)
    return looking.looks()


def _may_see(desk: Desk) -> None:
    """An outside table may hold anything about anybody."""
    if not desk.sees_sensitive:
        raise Refused("forbidden", "The rows of outside tables are for those who may see sensitive answers.")


def show_rows(desk: Desk, outside_id: int, query: RowsQuery) -> OutsideRowsOut:
    """Rows of a table as they are; for those who may see what is sensitive."""
    _may_see(desk)
    with desk.store.reading() as session:
        frame = desk.sets.cells(session.get_one(OutsideTable, outside_id).file_hash)
    numbered = frame.with_row_index("@row", offset=1)
    if query.like:
        wanted = pl.any_horizontal(
            pl.col(frame.columns).str.to_lowercase().str.contains(query.like.lower(), literal=True)
        )
        numbered = numbered.filter(wanted.fill_null(False))
    page = numbered.slice(query.offset, MOST_ROWS)
    return OutsideRowsOut(
        columns=frame.columns, total=numbered.height, rows=[list(row) for row in page.drop("@row").rows()],
        numbers=page["@row"].to_list(),
    )  # fmt: skip


def _change(
    desk: Desk, outside_id: int, version: int, act: str, change: Callable[[Session, OutsideTable], None]
) -> OutsideOut:
    """Change a table that stands as whoever changes it saw it, and put that on record."""
    with desk.store.session() as session:
        outside = session.get_one(OutsideTable, outside_id)
        same_version(outside.version, version)
        change(session, outside)
        outside.version += 1
        study_id = the_questionnaire(session, outside.questionnaire_id).study_id
        session.add(desk.event(study_id, act, name=outside.name))
    return show_table(desk, outside_id)


def write_card(desk: Desk, outside_id: int, card: Card, version: int) -> OutsideOut:
    def change(_: Session, outside: OutsideTable) -> None:
        outside.card = card.model_dump()

    return _change(desk, outside_id, version, "source card written", change)


def describe_columns(desk: Desk, outside_id: int, columns: list[OutsideColumn], version: int) -> OutsideOut:
    """Say how columns are read; those that are not named stay as they are."""

    def change(_: Session, outside: OutsideTable) -> None:
        said = {column.name: column for column in columns}
        unknown = said.keys() - set(outside.columns)
        if unknown:
            raise DataError("unknown_column", f"{outside.name} has no column “{sorted(unknown)[0]}”.")
        found = [said.get(column.name, column) for column in desk.sets.outside(outside).columns]
        outside.described = [column.model_dump(mode="json") for column in found]

    return _change(desk, outside_id, version, "outside table described", change)


def show_differences(desk: Desk, questionnaire_id: int, outside_id: int, order: AgainIn) -> Differences:
    """What would change if the table were brought in again from this file; for those who may see what is sensitive."""
    _may_see(desk)
    after = _sent(desk, questionnaire_id, order).table().frame
    with desk.store.reading() as session:
        before = desk.sets.cells(session.get_one(OutsideTable, outside_id).file_hash)
    return differences(before, after, order.key)


def bring_in_again(desk: Desk, questionnaire_id: int, outside_id: int, order: AgainIn) -> OutsideOut:
    """Put what a newer file holds in the place of what stands; what stood can be gone back to."""
    with desk.store.reading() as session:
        described = session.get_one(OutsideTable, outside_id).described
    if order.columns is None:
        order = order.model_copy(update={"columns": [OutsideColumn.model_validate(column) for column in described]})
    looking = _sent(desk, questionnaire_id, order)
    table, columns = looking.table(), list(looking.columns())
    digest = _keep_cells(desk, table.frame)

    def change(_: Session, outside: OutsideTable) -> None:
        _still_joined(outside, table.frame.columns)
        outside.earlier = [*outside.earlier, _standing(outside)][-_EARLIER_KEPT:]
        _put(outside, digest, order.file, order.file_name, table, columns)
        outside.created_by, outside.created_by_id = desk.name, desk.person_id

    return _change(desk, outside_id, order.version, "outside table brought in again", change)


def _still_joined(outside: OutsideTable, columns: list[str]) -> None:
    """Raise Refused where the join of a table needs a column that is not there any more."""
    if not outside.joined:
        return
    join = read_join(outside.joined)
    near = join.near.compare if join.near is not None else []
    needed = [*(pair.theirs for pair in join.keys), *join.take, *(one.theirs for one in near)]
    lacking = [name for name in needed if name not in columns]
    if lacking:
        raise Refused(
            "column_lacking", f"The join of {outside.name} needs the column “{lacking[0]}”, which this file lacks. Name it so "
            "in the file, or change the join first.",
        )  # fmt: skip


def _standing(outside: OutsideTable) -> dict[str, Any]:
    return {
        "file_name": outside.file_name, "rows": outside.rows, "at": outside.created_at.isoformat(),
        "by": outside.created_by, "file_hash": outside.file_hash, "raw_hash": outside.raw_hash,
        "reading": outside.reading, "described": outside.described, "columns": outside.columns,
    }  # fmt: skip


def _put(
    outside: OutsideTable, digest: str, raw: str, file_name: str, table: TableIn, columns: list[OutsideColumn]
) -> None:
    outside.file_hash, outside.raw_hash, outside.file_name = digest, raw, file_name
    outside.columns, outside.rows = table.frame.columns, table.frame.height
    outside.reading = table.reading.model_dump(mode="json")
    outside.described = [column.model_dump(mode="json") for column in columns]


def go_back(desk: Desk, outside_id: int, version: int) -> OutsideOut:
    """The table as it stood before it was brought in last."""

    def change(_: Session, outside: OutsideTable) -> None:
        if not outside.earlier:
            raise Refused("nothing_earlier", f"{outside.name} was brought in once only.")
        was = outside.earlier[-1]
        _still_joined(outside, was["columns"])
        outside.earlier = outside.earlier[:-1]
        for name in ("file_hash", "raw_hash", "file_name", "columns", "rows", "reading", "described"):
            setattr(outside, name, was[name])

    return _change(desk, outside_id, version, "outside table gone back", change)


def rename_table(desk: Desk, outside_id: int, name: str, version: int) -> OutsideOut:
    """Call a table otherwise: its variables are called by it, so that one that is joined keeps its name."""

    def change(session: Session, outside: OutsideTable) -> None:
        if outside.joined:
            raise Refused("still_joined", f"The variables of {outside.name} are called by it. Undo the join first.")
        others = {o.name for o in outside_tables(session, outside.questionnaire_id) if o.id != outside.id}
        outside.name = _free_name(name, others)

    return _change(desk, outside_id, version, "outside table renamed", change)


def remove_outside(desk: Desk, questionnaire_id: int, outside_id: int) -> None:
    """Remove an outside table that is not joined; a joined one must be undone first."""
    with desk.store.session() as session:
        outside = session.get_one(OutsideTable, outside_id)
        if outside.joined:
            raise Refused("still_joined", f"{outside.name} is joined to the interviews. Undo the join first.")
        if used := sets_made_of(session, outside.id):
            message = f"{outside.name} is a source of the data set “{used[0]}”. Take it out of that first."
            raise Refused("still_a_source", message)
        study_id = the_questionnaire(session, questionnaire_id).study_id
        session.add(desk.event(study_id, "outside table removed", name=outside.name))
        session.delete(outside)
