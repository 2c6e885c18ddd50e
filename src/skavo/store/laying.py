"""What follows from a revision: the engine run over it, its findings, its rows for the data set.

Whatever stands in a document, laying it out either works or says why not; the raw bytes are not touched.
"""

from __future__ import annotations

import logging
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.dataset.flatten import lay_out
from skavo.core.errors import SkavoError
from skavo.core.interview import release as engine_release
from skavo.core.interview.engine import Engine
from skavo.core.interview.screens import FindingShown
from skavo.core.interview.view import all_findings
from skavo.store.counters import laid_counter, raise_counter
from skavo.store.interview_document import (
    InterviewDocument,
    Moments,
    ReadDocument,
    moments_of,
    try_reading,
    zone_named,
)
from skavo.store.models import Interview, Questionnaire, Release, Revision, Study, Unit, Visit

log = logging.getLogger("skavo")
Columns = dict[str, Any]
# Raised by whoever changes what follows from a document; what was laid out by another version is laid out again.
LAID_BY = 3
_MOST_NAME = 128


@dataclass(frozen=True)
class Problem:
    """Why an interview is not in the data set: `words` say what was found, `mend` what to do. Never an answer."""

    words: str
    mend: str


PROBLEMS: dict[str, Problem] = {
    "unknown_release": Problem(
        "It was made with a release that this study does not have.",
        "Restore the backup that has the release, or pair the device with the study it belongs to.",
    ),
    "no_json": Problem("What arrived is no interview.", "Look at the raw document, and ask the enumerator what happened."),
    "wrong_document": Problem(
        "A part of the document is missing or is not what it should be.",
        "Look at the raw document; if the device runs another version of Skavo, update it.",
    ),
    "wrong_format": Problem("What arrived is no interview of Skavo.", "Look at the raw document."),
    "newer_format": Problem(
        "It was written by a newer Skavo than this one.", "Update the server; then it is laid out by itself."
    ),
    "too_deep": Problem("The document is nested too deeply to be read.", "Look at the raw document."),
    "too_many_rows": Problem(
        "Its rosters have more rows together than are laid out.",
        "Look at the raw document for the number that is too large, and ask the enumerator to correct it.",
    ),
    "cannot_compute": Problem(
        "The engine could not compute it.",
        "Tell the makers of Skavo: the document is kept, and is laid out again by the next version.",
    ),
    "cannot_tabulate": Problem(
        "It does not fit into the tables of the data set.",
        "Tell the makers of Skavo: the document is kept, and is laid out again by the next version.",
    ),
}  # fmt: skip


@dataclass(frozen=True)
class LaidOut:
    """What the engine makes of one document."""

    tables: dict[str, list[dict[str, Any]]]
    findings: list[FindingShown]
    differs: bool

    def facts(self) -> Columns:
        """The columns of an interview that follow from it."""
        rows = [row for rows in self.tables.values() for row in rows]
        kinds = [kind for row in rows for kind in row["missing"].values()]
        hard = [f for f in self.findings if f["strength"] == "must" and not f["kept"]]
        return {
            "laid_out": self.tables,
            "findings": self.findings,
            "differs": self.differs,
            "asked": sum(len(row["values"]) for row in rows) + sum(1 for kind in kinds if kind != "not_asked"),
            "dont_know": kinds.count("dont_know"),
            "refused": kinds.count("refused"),
            "hard_findings": len(hard),
            "soft_findings": sum(1 for f in self.findings if f["strength"] == "should"),
        }


_NOTHING = LaidOut({}, [], False).facts()


def columns_again(session: Session, interview: Interview, revision: Revision) -> Columns:
    """What follows from a revision that is here already."""
    return columns_of(
        session, interview.study_id, try_reading(revision.raw), by=revision.by, arrived=revision.arrived_at,
        first=interview.arrived_at,
    )  # fmt: skip


def let_count(session: Session, interview: Interview, revision: Revision, columns: Columns) -> None:
    """Let `revision` count, with the `columns` that follow from it."""
    interview.hash, interview.counting = revision.hash, revision.number
    take_over(session, interview, columns)


def take_over(session: Session, interview: Interview, columns: Columns) -> None:
    """Write down what follows from the revision that counts."""
    for name, value in columns.items():
        setattr(interview, name, value)
    interview.laid_at = raise_counter(session, laid_counter(interview.questionnaire_id))


def columns_of(
    session: Session, study_id: int, read: ReadDocument | SkavoError, *, by: str, arrived: datetime, first: datetime
) -> Columns:
    """The columns of an interview that follow from a document of `study_id`; nothing is written, and nothing raised.

    `by` is the person whose device handed it in, `arrived` when this revision arrived, `first` when the interview did.
    """
    columns: Columns = {"problem": "", "problem_at": "", "laid_by": LAID_BY}
    try:
        if isinstance(read, SkavoError):
            raise read
        study = session.get_one(Study, study_id)
        moments = moments_of(read.document.paradata, arrived, zone_named(study.time_zone))
        columns |= _facts(read, moments, by) | _about(session, study_id, read.document)
        release = release_named(session, study_id, read.document)
        if release is None:
            raise SkavoError("unknown_release", PROBLEMS["unknown_release"].words)
        columns |= {"release_id": release.id, "questionnaire_id": release.questionnaire_id}
        # A phone that does not know of releases for practice may have taken it for a real one.
        columns["practice"] = read.document.practice or release.practice
        return columns | _computed(release, read.document, *by_its_clock(moments, first)).facts()
    except SkavoError as error:
        code = error.code if error.code in PROBLEMS else "cannot_compute"
        return columns | _NOTHING | {"problem": code, "problem_at": error.message[:400]}
    except Exception as error:
        # The name of the error only: its words may hold an answer.
        name = type(error).__name__
        log.warning("an interview of study %s cannot be computed: %s", study_id, name)
        return columns | _NOTHING | {"problem": "cannot_compute", "problem_at": name}


def by_its_clock(moments: Moments, first: datetime) -> tuple[datetime | None, datetime]:
    """Start and end as the device had them; without an end, the moment when the interview `first` arrived."""
    return moments.by_its_clock(moments.started), moments.by_its_clock(moments.ended) or first


def _facts(read: ReadDocument, moments: Moments, by: str) -> Columns:
    document = read.document
    device, named = document.paradata.device[:_MOST_NAME], document.paradata.enumerator[:_MOST_NAME]
    flags = [*read.flags, *moments.flags, *(["other_enumerator"] if named not in ("", by) else [])]
    return {
        **({"device_name": device} if device else {}),
        "practice": document.practice, "language": document.language, "flags": flags,
        "exercise": None if document.paradata.exercise is None else document.paradata.exercise.model_dump(),
        "started_at": moments.started, "ended_at": moments.ended, "minutes": moments.minutes,
    }  # fmt: skip


def _about(session: Session, study_id: int, document: InterviewDocument) -> Columns:
    """The visit and the unit that a document names, as far as the study has them."""
    visit = session.scalar(select(Visit).where(Visit.study_id == study_id, Visit.identity == document.visit))
    named = select(Unit.id).where(Unit.study_id == study_id, Unit.identity == document.known.unit)
    unit_id = visit.unit_id if visit is not None else session.scalar(named)
    return {"visit_id": None if visit is None else visit.id, "unit_id": unit_id}


def release_named(session: Session, study_id: int, document: InterviewDocument) -> Release | None:
    """The release a document was made with; one that names only its content means the newest with that content."""
    of_study = (
        select(Release)
        .join(Questionnaire)
        .where(Questionnaire.study_id == study_id, Questionnaire.describes == "interviews")
    )
    if document.release:
        wanted = of_study.where(Release.identity == document.release)
    else:
        wanted = of_study.where(Release.hash == document.release_hash)
    return session.scalars(wanted.order_by(Release.id.desc()).limit(1)).first()


def _computed(release: Release, document: InterviewDocument, started: datetime | None, ended: datetime) -> LaidOut:
    engine = run_engine(release, document, started, ended)
    derived, answers = engine.derived_values(), engine.packed_answers()
    # The office reads in the questionnaire's first language, whatever the interview was held in.
    engine.read_in(engine.release.languages[0])
    differs = derived != document.derived or answers != document.answers
    return LaidOut(lay_out(engine), all_findings(engine), differs)


_loaded: dict[str, engine_release.Release] = {}
_MOST_LOADED = 64


def loaded_release(release: Release) -> engine_release.Release:
    """A release as the engine uses it, bound once and shared: its hash says that it is the same."""
    found = _loaded.get(release.hash)
    if found is None:
        while len(_loaded) >= _MOST_LOADED:
            _loaded.pop(next(iter(_loaded)), None)
        found = _loaded[release.hash] = engine_release.Release(release.compiled)
    return found


def run_engine(release: Release, document: InterviewDocument, started: datetime | None, ended: datetime) -> Engine:
    """The engine over an interview, with what was known when it ended; without a start it began when it ended."""
    outside = {
        "now": ended,
        "interview.started": started or ended,
        "interview.seed": document.uuid,
        "enumerator.name": document.paradata.enumerator,
        **document.known.model_dump(),
    }
    return Engine(loaded_release(release), outside, document.answers, document.kept, document.language)
