"""The history of one cell: what was answered when, where and by whom, each revision, each step of the plan, the join."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

import polars as pl
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.cleaning.steps import read_step
from skavo.core.cleaning.words import sentence_of
from skavo.core.combining.sides import PLACE, places_of
from skavo.core.combining.spec import read_join
from skavo.core.dataset.flatten import DataSet, Table, why
from skavo.core.dataset.layout import INTERVIEWS, MISSING_WORDS, Column, label_in
from skavo.core.dataset.pieces import PIECES
from skavo.core.dataset.senses import part_asked
from skavo.services.desk import Desk
from skavo.services.found import the_revision
from skavo.services.reading import noted_events, revisions_of
from skavo.services.refusals import Refused, not_found
from skavo.services.revisions import answers_in
from skavo.store.datasets import Prepared, outside_tables, plan_of
from skavo.store.interview_document import ReadDocument, try_reading
from skavo.store.models import Interview, MatchDecision, OutsideTable
from skavo.store.plan_lines import numbers_of
from skavo.store.sensitive import masked_step


class CellQuery(BaseModel):
    """A cell: of which interview, in which rows of rosters, of which variable."""

    model_config = ConfigDict(extra="forbid")
    interview: str = Field(pattern=r"^\d{1,9}$")
    variable: str = Field(min_length=1, max_length=64)
    row: list[str] = Field(default=[], max_length=8)


class Happening(BaseModel):
    """Something that happened to a cell: `value` is what stood in it then, `before` what had stood there; `said` why, or how.

    Kinds: noted while it was asked, handed in (`counts` says whether that revision is the one), changed or left out by a step
    (`step` is its number in the plan), taken over from an outside table.
    """

    kind: Literal["noted", "handed in", "step", "left out", "joined"]
    at: datetime | None = None
    by: str = ""
    value: str = ""
    before: str = ""
    said: str = ""
    counts: bool = True
    step: int = 0


class CellHistoryOut(BaseModel):
    """A cell as it is now, with all that happened to it, the oldest first. `place` is where the interview began, in degrees."""

    interview_id: int
    variable: str
    label: str
    wording: str
    value: str
    place: str
    history: list[Happening]


def show_cell(desk: Desk, questionnaire_id: int, query: CellQuery) -> CellHistoryOut:
    """Everything that happened to one cell; what is hidden from whoever asks has no history either."""
    with desk.store.reading() as session:
        prepared = desk.data(session, questionnaire_id)
        table, column = _found(prepared.data, query.variable)
        wanted = select(Interview).where(
            Interview.questionnaire_id == questionnaire_id, Interview.number == int(query.interview),
            Interview.practice.is_(False),
        )  # fmt: skip
        interview = session.scalar(wanted)
        if interview is None:
            raise not_found("interview")
        keys = [interview.key, *query.row]
        asked, wording = _asked(desk, session, interview, prepared, column, query.row)
        steps = _steps(desk, session, questionnaire_id, prepared, keys, column)
        joins = _joined(session, questionnaire_id, prepared, table, column, keys)
        place = _began_at(session, interview) if desk.sees_sensitive else ""
    return CellHistoryOut(
        interview_id=interview.id, variable=column.variable, label=label_in(column.label, "en", column.variable),
        wording=wording, value=_standing(table, column, keys), place=place, history=[*asked, *steps, *joins],
    )  # fmt: skip


def _found(data: DataSet, variable: str) -> tuple[Table, Column]:
    """A variable, or the first column of a question that gives several: a place, a file."""
    for table in data.values():
        for column in table.layout.columns:
            if variable in (column.variable, column.variable.removesuffix(_suffix(column))):
                return table, column
    raise Refused("unknown_variable", f"There is no variable “{variable}” in the data set.")


def _row(frame: pl.DataFrame, names: tuple[str, ...], keys: list[str]) -> pl.DataFrame:
    if len(names) != len(keys):
        return frame.clear()
    return frame.filter(pl.all_horizontal([pl.col(name) == key for name, key in zip(names, keys, strict=True)]))


def _standing(table: Table, column: Column, keys: list[str]) -> str:
    """What stands in the cell now; "" where its row is no part of the data set."""
    row = _row(table.frame, table.layout.keys, keys)
    if row.is_empty():
        return ""
    value, reason = row[column.variable][0], row[why(column.variable)][0]
    return _words(value, reason)


def _words(value: object, reason: str | None) -> str:
    if value is None:
        return MISSING_WORDS.get(reason or "unanswered", "")
    if isinstance(value, pl.Series | list):
        return ", ".join(map(str, value))
    return {True: "yes", False: "no"}[value] if isinstance(value, bool) else str(value)


def _asked(
    desk: Desk, session: Session, interview: Interview, prepared: Prepared, column: Column, rows: list[str]
) -> tuple[list[Happening], str]:
    """What was noted while it was asked and what each revision says, with the wording of the one that counts."""
    raw = _home(prepared.raw, column)
    if raw is None:
        return [], ""
    found: list[Happening] = []
    wording = ""
    for told in revisions_of(session, interview):
        said = answers_in(desk, session, interview, told.number)
        path = said.path_to(part_asked(raw.part_id), rows)
        line = said.lines.get(path) if path is not None else None
        if told.counts and path is not None:
            found += _noted(session, interview, told.number, path)
            wording = line["wording"] if line else ""
        answer = (line["answer"] or MISSING_WORDS["unanswered"]) if line else MISSING_WORDS["not_asked"]
        found.append(
            Happening(
                kind="handed in", at=told.arrived_at, by=told.by, value=answer, counts=told.counts,
                said=f"revision {told.number}, {told.device}" if told.device else f"revision {told.number}",
            )
        )  # fmt: skip
    return sorted(found, key=lambda one: (one.at is None, one.at.timestamp() if one.at else 0.0)), wording


def _home(raw: DataSet, column: Column) -> Column | None:
    """The variable as it was asked; None for one that a step or a join made."""
    columns = (one for table in raw.values() for one in table.layout.columns)
    return next((one for one in columns if (one.part_id, one.piece) == (column.part_id, column.piece)), None)


def _suffix(column: Column) -> str:
    return next((piece.suffix for piece in PIECES.get(column.kind, ()) if piece.key == column.piece), "")


def _noted(session: Session, interview: Interview, number: int, path: str) -> list[Happening]:
    """When the question was answered, by the phone's clock as the office corrects it: the last times."""
    read = try_reading(the_revision(session, interview, number).raw)
    if not isinstance(read, ReadDocument):
        return []
    found = []
    for event in noted_events(read.document.paradata):
        if event.get("path") != path or event.get("kind") not in ("answered", "seen"):
            continue
        try:
            at = datetime.fromisoformat(str(event.get("at")))
        except ValueError:
            continue
        said = "" if event["kind"] == "answered" else "looked at and not answered"
        found.append(Happening(kind="noted", at=at, by=interview.enumerator, said=said))
    return found


def _began_at(session: Session, interview: Interview) -> str:
    read = try_reading(the_revision(session, interview, interview.counting).raw)
    place = read.document.paradata.place if isinstance(read, ReadDocument) else None
    if (
        not place
        or not isinstance(place.get("latitude"), int | float)
        or not isinstance(place.get("longitude"), int | float)
    ):
        return ""
    return f"{place['latitude']:.5f}, {place['longitude']:.5f}"


def _steps(
    desk: Desk, session: Session, questionnaire_id: int, prepared: Prepared, keys: list[str], column: Column
) -> list[Happening]:
    """What each step of the plan did to the cell, in the order of the plan."""
    steps = plan_of(session, questionnaire_id)
    numbers = numbers_of(steps)
    kept = {step.id: step for step in steps}
    hidden = desk.hides(session, questionnaire_id)
    found: list[tuple[int, Happening]] = []
    interview, row = keys[0], keys[1:]
    of_cell = (pl.col("interview") == interview) & (pl.col("variable") == column.variable)
    for change in prepared.cleaned.changes.filter(of_cell).iter_rows(named=True):
        if list(change["row"]) != row:
            continue
        step = kept[change["step"]]
        body = masked_step(step.body, hidden)
        said = body.get("reason") or (sentence_of(read_step(step.body)) if body == step.body else "")
        found.append(
            (
                numbers[step.id],
                Happening(
                    kind="step", at=step.created_at, by=step.created_by, value=_words(change["after"], change["after_why"]),
                    before=_words(change["before"], change["before_why"]), said=said, step=numbers[step.id],
                ),
            )
        )  # fmt: skip
    for left in prepared.cleaned.left_out.filter(pl.col("interview") == interview).iter_rows(named=True):
        if left["table"] != INTERVIEWS and list(left["row"]) != row[: len(left["row"])]:
            continue
        step = kept[left["step"]]
        said = (
            f"the same as {left['copy_of']}"
            if left["copy_of"]
            else str(masked_step(step.body, hidden).get("reason", ""))
        )
        happening = Happening(kind="left out", at=step.created_at, by=step.created_by, said=said, step=numbers[step.id])
        found.append((numbers[step.id], happening))
    return [happening for _, happening in sorted(found, key=lambda pair: pair[0])]


def _joined(
    session: Session, questionnaire_id: int, prepared: Prepared, table: Table, column: Column, keys: list[str]
) -> list[Happening]:
    """From which row of which outside table the cell was taken over, and how that row was found."""
    source = next((one for one in outside_tables(session, questionnaire_id) if one.name == column.origin), None)
    report = prepared.joins.get(source.id) if source is not None else None
    if source is None or report is None or not source.joined:
        return []
    join = read_join(source.joined)
    if join.several == "rows":
        return [
            Happening(
                kind="joined", at=source.created_at, by=source.created_by, said=f"{source.file_name}, row {keys[-1]}"
            )
        ]
    places = places_of(prepared.cleaned.data[join.into])
    place = PLACE.join(keys)
    partner = report.partners[places.index(place)] if place in places else None
    if partner is None:
        return [Happening(kind="joined", said=f"{source.file_name}: no row was found")]
    pair = next((p for p in report.found.pairs if places[p.ours] == place and p.theirs == partner), None)
    how = "by key" if pair is None else _decided(session, source, pair.decision) or "by likeness"
    said = f"{source.file_name}, row {partner + 1}, {how}"
    return [
        Happening(
            kind="joined", at=source.created_at, by=source.created_by, value=_standing(table, column, keys), said=said
        )
    ]


def _decided(session: Session, source: OutsideTable, decision: int) -> str:
    said = session.get(MatchDecision, decision) if decision else None
    return f"as {said.created_by} decided" if said is not None and said.outside_id == source.id else ""
