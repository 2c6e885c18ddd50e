"""The combine station: outside tables brought in with a card, joined by a key, what matched and what did not."""

from __future__ import annotations

from datetime import datetime
from io import BytesIO

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from skavo.core.combining.join import JoinReport, joined_name
from skavo.core.questionnaire.variables import suggest_variable
from skavo.formats.read_table import read_table
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, same_version
from skavo.store.datasets import outside_tables
from skavo.store.files import keep_file
from skavo.store.models import OutsideTable

MOST_LISTED = 500


class Card(BaseModel):
    """Where a table is from and how far it is trusted."""

    model_config = ConfigDict(extra="forbid")

    collected_by: str = Field(default="", max_length=500)
    collected_when: str = Field(default="", max_length=200)
    purpose: str = Field(default="", max_length=1000)
    terms: str = Field(default="", max_length=1000)
    trust: str = Field(default="", max_length=1000)


class Join(BaseModel):
    """`take` are the columns that are taken over by the joined interviews."""

    model_config = ConfigDict(extra="forbid")

    variable: str = Field(max_length=64)
    key: str = Field(max_length=200)
    take: list[str] = Field(min_length=1, max_length=200)


class Place(BaseModel):
    """An interview's key or a row's number, and the value of the key there."""

    place: str
    value: str


class Repeated(BaseModel):
    value: str
    count: int


class Report(BaseModel):
    interviews: int
    outside_rows: int
    matched: int
    without_key: int
    unmatched_interviews: list[Place]
    unmatched_rows: list[Place]
    ambiguous: list[Repeated]
    repeated_interviews: list[Repeated]
    unmatched_interviews_count: int
    unmatched_rows_count: int
    variables: list[str]


class OutsideOut(BaseModel):
    id: int
    name: str
    file_name: str
    rows: int
    columns: list[str]
    card: Card
    version: int
    joined: Join | None
    report: Report | None
    problem: str
    created_at: datetime
    created_by: str
    sample: list[list[str | None]]


def _report(source: str, report: JoinReport, take: list[str]) -> Report:
    return Report(
        interviews=report.interviews,
        outside_rows=report.outside_rows,
        matched=report.matched,
        without_key=report.without_key,
        unmatched_interviews=[Place(place=k, value=v) for k, v in report.unmatched_interviews[:MOST_LISTED]],
        # Row 1 of the file holds the headings.
        unmatched_rows=[Place(place=str(n + 1), value=v) for n, v in report.unmatched_rows[:MOST_LISTED]],
        ambiguous=[Repeated(value=v, count=n) for v, n in report.ambiguous[:MOST_LISTED]],
        repeated_interviews=[Repeated(value=v, count=n) for v, n in report.repeated_interviews[:MOST_LISTED]],
        unmatched_interviews_count=len(report.unmatched_interviews),
        unmatched_rows_count=len(report.unmatched_rows),
        variables=[joined_name(source, column) for column in take],
    )


def _out(desk: Desk, session: Session, outside: OutsideTable) -> OutsideOut:
    prepared = desk.data(session, outside.questionnaire_id)
    report = prepared.joins.get(outside.id)
    return OutsideOut(
        id=outside.id, name=outside.name, file_name=outside.file_name, rows=outside.rows, columns=outside.columns,
        card=Card(**outside.card), version=outside.version, joined=Join(**outside.joined) if outside.joined else None,
        report=_report(outside.name, report, outside.joined["take"]) if report and outside.joined else None,
        problem=prepared.problems.get(outside.id, ""), created_at=outside.created_at, created_by=outside.created_by,
        sample=_sample(desk, outside),
    )  # fmt: skip


def _sample(desk: Desk, outside: OutsideTable) -> list[list[str | None]]:
    """The first rows; an outside table may hold anything about anybody, so that they are for those who may see that."""
    if not desk.sees_sensitive:
        return []
    return [list(row) for row in desk.sets.cells(outside).head(5).rows()]


def show_outside(desk: Desk, outside_id: int) -> OutsideOut:
    """An outside table as it is."""
    with desk.store.reading() as session:
        return _out(desk, session, session.get_one(OutsideTable, outside_id))


def list_outside(desk: Desk, questionnaire_id: int) -> list[OutsideOut]:
    with desk.store.reading() as session:
        return [_out(desk, session, outside) for outside in outside_tables(session, questionnaire_id)]


def bring_in(desk: Desk, questionnaire_id: int, file_name: str, content: bytes) -> OutsideOut:
    """Take in a .csv or .xlsx file; raise DataError where it is no table."""
    frame = read_table(file_name, content)
    packed = BytesIO()
    frame.write_parquet(packed)
    digest = keep_file(desk.store.files, packed.getvalue())
    with desk.store.session() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        taken = {o.name for o in outside_tables(session, questionnaire_id)}
        outside = OutsideTable(
            questionnaire_id=questionnaire_id, name=_free_name(file_name, taken), file_name=file_name,
            file_hash=digest, columns=frame.columns, rows=frame.height, **desk.signed(),
        )  # fmt: skip
        session.add(outside)
        session.flush()
        session.add(desk.event(study_id, "outside table brought in", name=outside.name, rows=outside.rows))
        outside_id = outside.id
    return show_outside(desk, outside_id)


def _free_name(file_name: str, taken: set[str]) -> str:
    base = suggest_variable(file_name.rsplit(".", 1)[0])[:20].rstrip("_") or "table"
    name, number = base, 2
    while name in taken:
        name, number = f"{base}_{number}", number + 1
    return name


def write_card(desk: Desk, outside_id: int, card: Card, version: int) -> OutsideOut:
    """`version` is that of the card that was changed."""
    with desk.store.session() as session:
        outside = session.get_one(OutsideTable, outside_id)
        same_version(outside.version, version)
        outside.card = card.model_dump()
        outside.version += 1
    return show_outside(desk, outside_id)


def preview_join(desk: Desk, questionnaire_id: int, outside_id: int, join: Join) -> Report:
    """What a join would match, before it is kept."""
    with desk.store.reading() as session:
        outside = session.get_one(OutsideTable, outside_id)
        cleaned = desk.data(session, questionnaire_id).cleaned.data
        return _report(outside.name, desk.sets.join(cleaned, outside, join.model_dump())[1], join.take)


def set_join(desk: Desk, questionnaire_id: int, outside_id: int, join: Join | None) -> OutsideOut:
    """Join the table, or undo its join; one that does not fit the data set is refused."""
    how = join.model_dump() if join is not None else None
    if how is not None:
        with desk.store.reading() as session:
            cleaned = desk.data(session, questionnaire_id).cleaned.data
            desk.sets.join(cleaned, session.get_one(OutsideTable, outside_id), how)
    with desk.store.session() as session:
        outside = session.get_one(OutsideTable, outside_id)
        outside.joined = how
        study_id = the_questionnaire(session, questionnaire_id).study_id
        session.add(desk.event(study_id, "table joined" if how else "join undone", name=outside.name))
    return show_outside(desk, outside_id)


def remove_outside(desk: Desk, questionnaire_id: int, outside_id: int) -> None:
    """Remove an outside table that is not joined; a joined one must be undone first."""
    with desk.store.session() as session:
        outside = session.get_one(OutsideTable, outside_id)
        if outside.joined:
            raise Refused("still_joined", f"{outside.name} is joined to the interviews. Undo the join first.")
        study_id = the_questionnaire(session, questionnaire_id).study_id
        session.add(desk.event(study_id, "outside table removed", name=outside.name))
        session.delete(outside)
