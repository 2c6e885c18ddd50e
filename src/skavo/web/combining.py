"""Outside tables: brought in with a card, joined by a key, what matched and what did not."""

from __future__ import annotations

from datetime import datetime
from io import BytesIO
from typing import Any

from flask import request
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from skavo.core.combining.join import JoinReport, joined_name
from skavo.core.questionnaire.variables import suggest_variable
from skavo.formats.read_table import read_table
from skavo.store.datasets import outside_tables
from skavo.store.files import keep_file
from skavo.store.models import OutsideTable
from skavo.web.problems import Problem, same_version
from skavo.web.questionnaires import questionnaire_or_404
from skavo.web.routing import Resource, happened, sees_sensitive, signed, store
from skavo.web.seen import seen_data, whole_data_sets
from skavo.web.shapes import Body, QuestionnairePath

api = Resource("combining", "/questionnaires/<int:questionnaire_id>/outside")
MOST_LISTED = 500


class FileQuery(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)


class Card(BaseModel):
    """Where a table is from and how far it is trusted."""

    model_config = ConfigDict(extra="forbid")

    collected_by: str = Field(default="", max_length=500)
    collected_when: str = Field(default="", max_length=200)
    purpose: str = Field(default="", max_length=1000)
    terms: str = Field(default="", max_length=1000)
    trust: str = Field(default="", max_length=1000)


class CardChange(Card):
    """`version` is that of the card that was changed."""

    version: int


class Join(Body):
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


class OutsidePath(BaseModel):
    questionnaire_id: int
    outside_id: int


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


def _out(session: Session, outside: OutsideTable) -> OutsideOut:
    prepared = seen_data(session, outside.questionnaire_id)
    report = prepared.joins.get(outside.id)
    return OutsideOut(
        id=outside.id, name=outside.name, file_name=outside.file_name, rows=outside.rows, columns=outside.columns,
        card=Card(**outside.card), version=outside.version, joined=Join(**outside.joined) if outside.joined else None,
        report=_report(outside.name, report, outside.joined["take"]) if report and outside.joined else None,
        problem=prepared.problems.get(outside.id, ""), created_at=outside.created_at, created_by=outside.created_by,
        sample=_sample(outside),
    )  # fmt: skip


def _sample(outside: OutsideTable) -> list[list[str | None]]:
    """The first rows; an outside table may hold anything about anybody, so that they are for those who may see that."""
    if not sees_sensitive():
        return []
    return [list(row) for row in whole_data_sets().cells(outside).head(5).rows()]


def _told(path: OutsidePath) -> OutsideOut:
    """An outside table as it is, once what was done to it is kept."""
    with store().reading() as session:
        return _out(session, session.get_one(OutsideTable, path.outside_id))


@api.route_for("get", "", needs="analyse.read", returns=list[OutsideOut])
def list_all(path: QuestionnairePath) -> list[OutsideOut]:
    with store().reading() as session:
        questionnaire_or_404(session, path.questionnaire_id)
        return [_out(session, outside) for outside in outside_tables(session, path.questionnaire_id)]


@api.route_for("post", "", needs="combine.write", returns=OutsideOut, status=201)
def bring_in(path: QuestionnairePath, query: FileQuery) -> OutsideOut:
    """Take in a .csv or .xlsx file sent as the body; `name` is the file's name."""
    frame = read_table(query.name, request.get_data(cache=False))
    packed = BytesIO()
    frame.write_parquet(packed)
    with store().session() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        taken = {o.name for o in outside_tables(session, path.questionnaire_id)}
        outside = OutsideTable(
            questionnaire_id=path.questionnaire_id, name=_free_name(query.name, taken), file_name=query.name,
            file_hash=keep_file(store().files, packed.getvalue()), columns=frame.columns, rows=frame.height,
            **signed(),
        )  # fmt: skip
        session.add(outside)
        session.flush()
        detail = {"name": outside.name, "rows": outside.rows}
        session.add(happened(questionnaire.study_id, "outside table brought in", **detail))
        made = OutsidePath(questionnaire_id=path.questionnaire_id, outside_id=outside.id)
    return _told(made)


def _free_name(file_name: str, taken: set[str]) -> str:
    base = suggest_variable(file_name.rsplit(".", 1)[0])[:20].rstrip("_") or "table"
    name, number = base, 2
    while name in taken:
        name, number = f"{base}_{number}", number + 1
    return name


@api.route_for("put", "/<int:outside_id>/card", needs="combine.write", returns=OutsideOut)
def write_card(path: OutsidePath, body: CardChange) -> OutsideOut:
    with store().session() as session:
        outside = session.get_one(OutsideTable, path.outside_id)
        same_version(outside.version, body.version)
        outside.card = body.model_dump(exclude={"version"})
        outside.version += 1
    return _told(path)


@api.route_for("post", "/<int:outside_id>/preview", needs="combine.write", returns=Report)
def preview(path: OutsidePath, body: Join) -> Report:
    """What a join would match, before it is kept."""
    with store().reading() as session:
        outside = session.get_one(OutsideTable, path.outside_id)
        cleaned = seen_data(session, path.questionnaire_id).cleaned.data
        return _report(outside.name, whole_data_sets().join(cleaned, outside, body.model_dump())[1], body.take)


@api.route_for("put", "/<int:outside_id>/join", needs="combine.write", returns=OutsideOut)
def join(path: OutsidePath, body: Join) -> OutsideOut:
    return _set_join(path, body.model_dump())


@api.route_for("delete", "/<int:outside_id>/join", needs="combine.write", returns=OutsideOut)
def undo_join(path: OutsidePath) -> OutsideOut:
    return _set_join(path, None)


def _set_join(path: OutsidePath, how: dict[str, Any] | None) -> OutsideOut:
    if how is not None:
        with store().reading() as session:
            cleaned = seen_data(session, path.questionnaire_id).cleaned.data
            whole_data_sets().join(cleaned, session.get_one(OutsideTable, path.outside_id), how)
    with store().session() as session:
        outside = session.get_one(OutsideTable, path.outside_id)
        outside.joined = how
        study_id = questionnaire_or_404(session, path.questionnaire_id).study_id
        kind = "table joined" if how else "join undone"
        session.add(happened(study_id, kind, name=outside.name))
    return _told(path)


@api.route_for("delete", "/<int:outside_id>", needs="combine.write")
def remove(path: OutsidePath) -> None:
    """Remove an outside table that is not joined; a joined one must be undone first."""
    with store().session() as session:
        outside = session.get_one(OutsideTable, path.outside_id)
        if outside.joined:
            raise Problem("still_joined", f"{outside.name} is joined to the interviews. Undo the join first.")
        study_id = questionnaire_or_404(session, path.questionnaire_id).study_id
        session.add(happened(study_id, "outside table removed", name=outside.name))
        session.delete(outside)
