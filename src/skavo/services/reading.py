"""Reading one interview: its answers as they may be seen, what was found in it, what happened to it."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel, Field, ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from skavo.core.cleaning.plan import history_of
from skavo.core.dataset.layout import MISSING_WORDS
from skavo.core.interview.engine import Engine
from skavo.core.interview.paths import find_part
from skavo.core.interview.screens import OverviewLine
from skavo.core.interview.view import overview
from skavo.core.rules.values import Media
from skavo.formats.pictures import SHOWN_AS_PICTURE
from skavo.services.desk import Desk, detail_seen
from skavo.services.found import the_interview, the_revision
from skavo.services.visits import VisitBehind, visit_behind
from skavo.store.datasets import plan_of
from skavo.store.handin import WAITS, desk_edits
from skavo.store.interview_document import FLAGS, InterviewDocument, Paradata, clock_ahead, read_document
from skavo.store.laying import PROBLEMS, run_engine
from skavo.store.models import Device, Event, Interview, Person, Revision, StoredFile, Study, now
from skavo.store.sensitive import MASK, Hidden, hidden_of


class FileOut(BaseModel):
    """A file that an answer holds; `there` says whether the office has it, `shown` whether it can be seen as a picture."""

    hash: str
    name: str
    type: str
    bytes: int
    there: bool
    shown: bool


class AroundOut(BaseModel):
    """A section, or a roster's row, around an answer."""

    kind: str
    title: str
    row: int | None
    rows: int | None


class AnswerLine(BaseModel):
    path: str
    around: list[AroundOut]
    kind: str
    variable: str
    wording: str
    answer: str
    state: str
    broken: int
    file: FileOut | None
    edits: list[dict[str, Any]]
    remark: str = Field(description="What the enumerator remarked here.")


class RemarkAt(BaseModel):
    """A remark of the enumerator at a question that is not asked in the end."""

    path: str
    text: str


class RevisionOut(BaseModel):
    """One hand-in of the interview. `waits` says in words why it does not count until somebody has decided."""

    number: int
    hash: str
    counts: bool
    waits: str
    by: str
    device: str
    arrived_at: datetime


class ProblemOut(BaseModel):
    """Why the interview is not in the data set, and what to do."""

    code: str
    words: str
    mend: str
    place: str


class DeskEdit(BaseModel):
    step: int
    variable: str
    row: list[str]
    reason: str
    by: str
    at: datetime


class PlaceNoted(BaseModel):
    """Where the phone was as the interview began, in degrees and metres; `problem` says why that is not known."""

    latitude: float | None = Field(default=None, ge=-90, le=90)
    longitude: float | None = Field(default=None, ge=-180, le=180)
    accuracy: float | None = Field(default=None, ge=0)
    problem: str = Field(default="", max_length=200)


class Reading(BaseModel):
    id: int
    study_id: int
    questionnaire_id: int | None
    key: str
    uuid: str
    hash: str
    version: int
    state: str
    release: int | None
    enumerator: str
    contact: str
    device: str
    language: str
    started_at: datetime | None
    ended_at: datetime | None
    arrived_at: datetime
    minutes: float | None
    practice: bool
    differs: bool
    unfinished: str
    problem: ProblemOut | None
    flags: list[str]
    revisions: list[RevisionOut]
    desk_edits: list[DeskEdit]
    findings: list[dict[str, Any]]
    answers: list[AnswerLine]
    remarks: list[RemarkAt]
    paradata: list[dict[str, Any]]
    place: PlaceNoted | None
    visit: VisitBehind | None
    events: list[dict[str, Any]]
    holds_sensitive: bool
    previous: int | None
    next: int | None


def read_interview(desk: Desk, interview_id: int) -> Reading:
    """Everything about one interview; reading it by whoever reviews marks it as read, and the record says who did."""
    with desk.store.reading() as session:
        is_new = the_interview(session, interview_id).read_at is None
    if is_new and desk.may("interview.review"):
        with desk.store.session() as session:
            interview = the_interview(session, interview_id)
            interview.read_at = now()
            session.add(desk.event_of(interview, "read"))
    reading = show_interview(desk, interview_id)
    if desk.sees_sensitive and reading.holds_sensitive:
        desk.note("interview", reading.study_id, reading.id)
    return reading


def show_interview(desk: Desk, interview_id: int) -> Reading:
    """Everything about one interview, and nothing marked."""
    with desk.store.reading() as session:
        return _reading(desk, session, the_interview(session, interview_id))


def _reading(desk: Desk, session: Session, interview: Interview) -> Reading:
    events = session.scalars(select(Event).where(Event.interview_id == interview.id).order_by(Event.id))
    hidden = desk.hides(session, interview.questionnaire_id)
    return Reading(
        id=interview.id, study_id=interview.study_id, questionnaire_id=interview.questionnaire_id, key=interview.key,
        uuid=interview.uuid, hash=interview.hash, version=interview.version, state=interview.state,
        release=interview.release.number if interview.release else None,
        enumerator=interview.enumerator, contact=_contact(session, interview), device=interview.device_name, language=interview.language,
        started_at=interview.started_at, ended_at=interview.ended_at, arrived_at=interview.arrived_at,
        minutes=interview.minutes, practice=interview.practice, differs=interview.differs,
        problem=_problem(desk, session, interview), flags=[FLAGS[flag] for flag in interview.flags],
        revisions=revisions_of(session, interview), desk_edits=_desk_edits(desk, session, interview),
        findings=_findings_seen(desk, interview.findings),
        events=[{"kind": e.kind, "at": e.at, "by": e.by, "detail": detail_seen(e.detail, hidden)} for e in events],
        previous=_neighbour(desk, session, interview, before=True), next=_neighbour(desk, session, interview, before=False),
        visit=visit_behind(desk, session, interview), **_content(desk, session, interview),
    )  # fmt: skip


def _contact(session: Session, interview: Interview) -> str:
    """Phone and e-mail of whoever held the interview, where the study lets them go along."""
    person = session.get(Person, interview.person_id) if interview.person_id is not None else None
    if person is None or not session.get_one(Study, interview.study_id).tells_contact:
        return ""
    return " · ".join(piece for piece in (person.phone, person.email) if piece)


def _findings_seen(desk: Desk, findings: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Findings as whoever asks may see them: a message reads answers out, and a reason tells what was said."""
    if desk.sees_sensitive:
        return findings
    return [{**f, "message": f["code"], "kept": MASK if f["kept"] else ""} for f in findings]


def _content(desk: Desk, session: Session, interview: Interview) -> dict[str, Any]:
    """The answers in the order of asking, and the paradata; nothing where the document cannot be computed."""
    if interview.problem:
        return {"answers": [], "remarks": [], "paradata": [], "place": None, "unfinished": "", "holds_sensitive": False}
    document = read_document(the_revision(session, interview, interview.counting).raw).document
    engine = _engine_of(interview, document)
    sensitive = mask_sensitive(engine, desk.hides(session, interview.questionnaire_id))
    edits = _edits(desk, session, interview)
    files = _files(session, interview)
    # A remark may tell what was said, at whichever question it stands.
    remarks = {path: words if desk.sees_sensitive else MASK for path, words in document.remarks.items()}
    lines = overview(engine, with_derived=True)
    shown = {line["path"] for line in lines if line["kind"] != "statement"}
    return {
        "answers": [
            _answer_line(line, edits, sensitive, _file_at(engine, line, files), remarks.get(line["path"], ""))
            for line in lines
        ],
        "remarks": [RemarkAt(path=path, text=words) for path, words in remarks.items() if path not in shown],
        "paradata": [] if sensitive else noted_events(document.paradata),
        "place": _place(document.paradata.place) if desk.sees_sensitive else None,
        "unfinished": document.unfinished,
        "holds_sensitive": document.paradata.place is not None
        or bool(hidden_of(session, interview.questionnaire_id).parts_of(engine.release)),
    }


def noted_events(paradata: Paradata) -> list[dict[str, Any]]:
    """What was noted while it was held, by the office's clock; a moment that cannot be read stays as it is written."""
    ahead = clock_ahead(paradata)

    def corrected(event: dict[str, Any]) -> dict[str, Any]:
        try:
            return {**event, "at": (datetime.fromisoformat(event["at"]) - ahead).isoformat()}
        except (KeyError, TypeError, ValueError, OverflowError):
            return event

    return [corrected(event) for event in paradata.events] if ahead else paradata.events


def _place(noted: dict[str, Any] | None) -> PlaceNoted | None:
    """Where the interview began; whatever a phone sent that is no place is none."""
    try:
        return None if noted is None else PlaceNoted.model_validate(noted)
    except ValidationError:
        return None


def _engine_of(interview: Interview, document: InterviewDocument) -> Engine:
    """The engine over a revision of an interview, in the language that the office reads."""
    assert interview.release is not None
    ahead = clock_ahead(document.paradata)
    started = None if interview.started_at is None else interview.started_at + ahead
    ended = interview.arrived_at if interview.ended_at is None else interview.ended_at + ahead
    engine = run_engine(interview.release, document, started, ended)
    engine.read_in(engine.release.languages[0])
    return engine


def _problem(desk: Desk, session: Session, interview: Interview) -> ProblemOut | None:
    code = interview.problem
    if not code and interview.questionnaire_id is not None:
        code = "cannot_tabulate" if interview.key in desk.sets.of(session, interview.questionnaire_id).failed else ""
    if not code:
        return None
    return ProblemOut(code=code, words=PROBLEMS[code].words, mend=PROBLEMS[code].mend, place=interview.problem_at)


def revisions_of(session: Session, interview: Interview) -> list[RevisionOut]:
    rows = session.execute(
        select(Revision, Device.name)
        .outerjoin(Device, Revision.device_id == Device.id)
        .where(Revision.interview_id == interview.id)
        .options(defer(Revision.raw))
        .order_by(Revision.number)
    )
    return [
        RevisionOut(
            number=r.number, hash=r.hash, counts=r.number == interview.counting, waits=WAITS.get(r.waits, r.waits),
            by=r.by, device=device or "", arrived_at=r.arrived_at,
        )
        for r, device in rows
    ]  # fmt: skip


def _desk_edits(desk: Desk, session: Session, interview: Interview) -> list[DeskEdit]:
    """What the desk has corrected; told while a revision waits for a decision."""
    if not interview.waiting:
        return []
    hidden = desk.hides(session, interview.questionnaire_id)
    return [
        DeskEdit(
            step=step.id, variable=step.body["variable"], row=step.body["row"],
            reason=MASK if hidden.has(step.body["variable"]) else step.body["reason"],
            by=step.created_by, at=step.created_at,
        )
        for step in desk_edits(session, interview)
    ]  # fmt: skip


def _files(session: Session, interview: Interview) -> dict[str, StoredFile]:
    wanted = select(StoredFile).where(
        StoredFile.study_id == interview.study_id, StoredFile.interview_uuid == interview.uuid
    )
    return {found.hash: found for found in session.scalars(wanted)}


def _file_at(engine: Engine, line: OverviewLine, files: dict[str, StoredFile]) -> FileOut | None:
    part, row = find_part(engine.release, line["path"])
    value = engine.values[part.index].get(row)
    if not isinstance(value, Media):
        return None
    kept = files.get(value.file)
    return FileOut(
        hash=value.file, name=value.name, bytes=kept.bytes if kept else value.bytes, there=kept is not None,
        type=kept.type if kept else value.type, shown=kept is not None and kept.type in SHOWN_AS_PICTURE,
    )  # fmt: skip


def mask_sensitive(engine: Engine, hides: Hidden) -> set[str]:
    """Hide sensitive answers, also where a wording would read them out; return their variables."""
    hidden = [engine.release.parts[index] for index in sorted(hides.parts_of(engine.release))]
    for part in hidden:
        values = engine.values[part.index]
        for row, value in values.items():
            values[row] = (MASK,) if isinstance(value, tuple) else MASK
    return {part.variable for part in hidden}


def _answer_line(
    line: OverviewLine, edits: dict[str, list[dict[str, Any]]], sensitive: set[str], file: FileOut | None,
    remark: str,
) -> AnswerLine:  # fmt: skip
    hidden = line["variable"] in sensitive
    wording = line["wording"]
    return AnswerLine(
        path=line["path"], around=[AroundOut(**a) for a in line["around"]], kind=line["kind"], variable=line["variable"], wording=wording,
        answer=MASK if hidden and line["answer"] else line["answer"], state=line["state"], broken=line["broken"],
        file=None if hidden else file, edits=[] if hidden else edits.get(line["path"], []),
        remark=remark,
    )  # fmt: skip


def _edits(desk: Desk, session: Session, interview: Interview) -> dict[str, list[dict[str, Any]]]:
    """What the cleaning plan changed in this interview, by path: who, when, why, from what."""
    if interview.questionnaire_id is None:
        return {}
    prepared = desk.data(session, interview.questionnaire_id)
    steps = {step.id: step for step in plan_of(session, interview.questionnaire_id)}
    found: dict[str, list[dict[str, Any]]] = {}
    for change in history_of(prepared.cleaned, interview.key).iter_rows(named=True):
        step = steps[change["step"]]
        found.setdefault(_path_of(change), []).append(
            {
                "step": step.id, "kind": step.body["kind"], "before": _cell(change, "before"),
                "after": _cell(change, "after"), "by": step.created_by, "at": step.created_at,
                "reason": step.body.get("reason", ""),
            }
        )  # fmt: skip
    return found


def _cell(change: dict[str, Any], side: str) -> str:
    reason = change[f"{side}_why"]
    return MISSING_WORDS[reason] if reason else change[side]


def _path_of(change: dict[str, Any]) -> str:
    """The path of a changed cell; nested rosters name the innermost only once, as the table does."""
    around = [change["table"], *change["row"]] if change["row"] else []
    return "/".join([*around, change["variable"]])


def _neighbour(desk: Desk, session: Session, interview: Interview, *, before: bool) -> int | None:
    query = select(Interview.id).where(*desk.reach(interview.study_id), Interview.practice == interview.practice)
    if before:
        return session.scalar(
            query.where(Interview.number < interview.number).order_by(Interview.number.desc()).limit(1)
        )
    return session.scalar(query.where(Interview.number > interview.number).order_by(Interview.number).limit(1))
