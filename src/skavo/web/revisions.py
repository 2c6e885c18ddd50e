"""Revisions of an interview: held against each other, and which of them counts."""

from __future__ import annotations

from datetime import UTC

from flask import Response
from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.interview.screens import OverviewLine
from skavo.core.interview.view import overview
from skavo.store.handin import count_revision, desk_edits
from skavo.store.interview_document import (
    ReadDocument,
    moments_of,
    try_reading,
)
from skavo.store.laying import release_named, run_engine
from skavo.store.models import Interview, Revision, now
from skavo.store.sensitive import MASK
from skavo.web.interviews import (
    Reading,
    RevisionOut,
    event_of,
    interview_or_404,
    mask_sensitive,
    raw_of,
    revisions_of,
    told,
)
from skavo.web.problems import not_found
from skavo.web.routing import Resource, attachment, store
from skavo.web.seen import hides, noted
from skavo.web.shapes import Body

api = Resource("revisions")


class RevisionPath(BaseModel):
    interview_id: int
    number: int


class CountIn(Body):
    """`take_back_edits` takes back the corrections that the desk made meanwhile."""

    take_back_edits: bool = False


class ComparedLine(BaseModel):
    """A question whose answers differ between two revisions; "" where there is none."""

    path: str
    variable: str
    wording: str
    before: str
    after: str


class ComparedRevisions(BaseModel):
    before: RevisionOut
    after: RevisionOut
    lines: list[ComparedLine]
    same: int


@api.route_for(
    "get", "/interviews/<int:interview_id>/revisions/<int:number>", needs="interview.read", returns=ComparedRevisions
)
def compare(path: RevisionPath) -> ComparedRevisions:
    """A revision beside the one that counts: the questions whose answers differ, in the order of asking."""
    with store().reading() as session:
        interview = interview_or_404(session, path.interview_id)
        told = {r.number: r for r in revisions_of(session, interview)}
        if path.number not in told:
            raise not_found("revision")
        # What counts is compared with the revision before it.
        before = interview.counting if path.number != interview.counting else max(1, path.number - 1)
        lines = [_answers_in(session, interview, number) for number in (before, path.number)]
    paths = list(dict.fromkeys([*lines[0], *lines[1]]))
    differing = []
    for at in paths:
        left, right = (answers.get(at) for answers in lines)
        before_words, after_words = (line["answer"] if line else "" for line in (left, right))
        shown = right or left
        if before_words != after_words and shown is not None:
            differing.append(
                ComparedLine(
                    path=at, variable=shown["variable"], wording=shown["wording"], before=before_words,
                    after=after_words,
                )
            )  # fmt: skip
    return ComparedRevisions(
        before=told[before], after=told[path.number], lines=differing, same=len(paths) - len(differing)
    )


def _answers_in(session: Session, interview: Interview, number: int) -> dict[str, OverviewLine]:
    """The lines of one revision by path; none where it cannot be computed."""
    read = try_reading(raw_of(session, interview, number))
    release = release_named(session, interview.study_id, read.document) if isinstance(read, ReadDocument) else None
    if release is None or not isinstance(read, ReadDocument):
        return {}
    moments = moments_of(read.document.paradata, interview.arrived_at, UTC)
    engine = run_engine(release, read.document, moments.started, moments.ended or interview.arrived_at)
    engine.read_in(engine.release.languages[0])
    sensitive = mask_sensitive(engine, hides(session, interview.questionnaire_id))
    lines = {line["path"]: line for line in overview(engine, with_derived=True)}
    for line in lines.values():
        if line["variable"] in sensitive and line["answer"]:
            line["answer"] = MASK
    return lines


@api.route_for(
    "post", "/interviews/<int:interview_id>/revisions/<int:number>/count", needs="interview.review", returns=Reading
)
def count(path: RevisionPath, body: CountIn) -> Reading:
    """Decide which revision counts; the others stay as they are. Can be decided again."""
    with store().session() as session:
        interview = interview_or_404(session, path.interview_id)
        revision = session.scalar(
            select(Revision).where(Revision.interview_id == interview.id, Revision.number == path.number)
        )
        if revision is None:
            raise not_found("revision")
        before = interview.counting
        edits = desk_edits(session, interview) if body.take_back_edits else []
        for step in edits:
            step.removed_at = now()
        count_revision(session, interview, revision)
        if path.number != before and interview.state in ("sent back", "accepted"):
            interview.state = "arrived"
        session.add(
            event_of(interview, "revision decided", number=path.number, before=before, taken_back=[s.id for s in edits])
        )
    return told(path.interview_id)


@api.route_for("get", "/interviews/<int:interview_id>/revisions/<int:number>/raw", needs="sensitive.read")
def raw(path: RevisionPath) -> Response:
    """What arrived, byte for byte."""
    with store().reading() as session:
        interview = interview_or_404(session, path.interview_id)
        content = raw_of(session, interview, path.number)
        study_id, key = interview.study_id, interview.key
    noted("raw", study_id, path.interview_id, revision=path.number)
    name = f"{key}-revision-{path.number}.json"
    headers = {**attachment(name), "Content-Security-Policy": "sandbox"}
    return Response(content, mimetype="application/octet-stream", headers=headers)
