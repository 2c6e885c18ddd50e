"""Revisions of an interview held against each other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import UTC

from pydantic import BaseModel
from sqlalchemy.orm import Session

from skavo.core.interview.paths import path_of
from skavo.core.interview.release import Release
from skavo.core.interview.screens import OverviewLine
from skavo.core.interview.view import overview
from skavo.services.desk import Desk
from skavo.services.found import the_interview, the_revision
from skavo.services.reading import RevisionOut, mask_sensitive, revisions_of
from skavo.services.refusals import not_found
from skavo.store.interview_document import ReadDocument, moments_of, try_reading
from skavo.store.laying import by_its_clock, release_named, run_engine
from skavo.store.models import Interview
from skavo.store.sensitive import MASK


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


def compare_revisions(desk: Desk, interview_id: int, number: int) -> ComparedRevisions:
    """A revision beside the one that counts: the questions whose answers differ, in the order of asking."""
    with desk.store.reading() as session:
        interview = the_interview(session, interview_id)
        told = {r.number: r for r in revisions_of(session, interview)}
        if number not in told:
            raise not_found("revision")
        # What counts is compared with the revision before it.
        before = interview.counting if number != interview.counting else max(1, number - 1)
        earlier, later = (answers_in(desk, session, interview, n).lines for n in (before, number))
    paths = list(dict.fromkeys([*earlier, *later]))
    lines = [_compared(earlier.get(path), later.get(path)) for path in paths]
    differing = [line for line in lines if line.before != line.after]
    return ComparedRevisions(before=told[before], after=told[number], lines=differing, same=len(paths) - len(differing))


def _compared(earlier: OverviewLine | None, later: OverviewLine | None) -> ComparedLine:
    shown = later or earlier
    assert shown is not None
    before, after = (line["answer"] if line else "" for line in (earlier, later))
    return ComparedLine(
        path=shown["path"], variable=shown["variable"], wording=shown["wording"], before=before, after=after
    )


@dataclass(frozen=True)
class Answers:
    """The lines of one revision by path, and the release that they were asked by; neither where it cannot be computed."""

    lines: dict[str, OverviewLine] = field(default_factory=dict)
    release: Release | None = None

    def path_to(self, identity: str, rows: Sequence[str]) -> str | None:
        """Where this revision has a part, whatever it is called in another release; None where it was not asked."""
        if self.release is None:
            return None
        index = next((part.index for part in self.release.parts if part.raw["id"] == identity), None)
        if index is None or len(self.release.parts[index].rosters) != len(rows):
            return None
        return path_of(self.release, index, tuple(rows))


def answers_in(desk: Desk, session: Session, interview: Interview, number: int) -> Answers:
    """What one revision says, masked for whoever may not see it."""
    read = try_reading(the_revision(session, interview, number).raw)
    release = release_named(session, interview.study_id, read.document) if isinstance(read, ReadDocument) else None
    if release is None or not isinstance(read, ReadDocument):
        return Answers()
    moments = moments_of(read.document.paradata, interview.arrived_at, UTC)
    engine = run_engine(release, read.document, *by_its_clock(moments, interview.arrived_at))
    engine.read_in(engine.release.languages[0])
    sensitive = mask_sensitive(engine, desk.hides(session, interview.questionnaire_id))
    lines = {line["path"]: line for line in overview(engine, with_derived=True)}
    for line in lines.values():
        if line["variable"] in sensitive and line["answer"]:
            line["answer"] = MASK
    return Answers(lines, engine.release)


def raw_revision(desk: Desk, interview_id: int, number: int) -> tuple[str, bytes]:
    """A name for the file, and what arrived byte for byte; the record says who took it out."""
    with desk.store.reading() as session:
        interview = the_interview(session, interview_id)
        content = the_revision(session, interview, number).raw
    desk.note("raw", interview.study_id, interview_id, revision=number)
    return f"{interview.key}-revision-{number}.json", content
