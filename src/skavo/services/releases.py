"""Releases: the script frozen and numbered, with what its kept test interviews say to it."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.cleaning.plan import read_step, write_step
from skavo.core.dataset.renamed import Renaming, renaming
from skavo.core.estimation.tables import read_request, write_request
from skavo.core.interview.kinds import KINDS
from skavo.core.interview.release import Release as CompiledRelease
from skavo.core.media.shelf import MediaFile
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.findings import counted
from skavo.core.questionnaire.known import Known
from skavo.core.questionnaire.script import Script, read_script
from skavo.core.rehearsal.replay import replay
from skavo.services.desk import Desk
from skavo.services.drafts import newest_release, same_script
from skavo.services.found import the_questionnaire
from skavo.services.refusals import Refused, not_found
from skavo.store.models import Interview, OutsideTable, PlanStep, Questionnaire, Release, SavedTable, now
from skavo.store.shelf import shelf_of


class Withdrawn(BaseModel):
    at: datetime
    by: str
    why: str


class ReleaseOut(BaseModel):
    id: int
    number: int
    hash: str
    remark: str
    created_at: datetime
    created_by: str
    questions: int
    interviews: int
    withdrawn: Withdrawn | None


def list_releases(desk: Desk, questionnaire_id: int) -> list[ReleaseOut]:
    """The newest first."""
    query = select(Release).where(Release.questionnaire_id == questionnaire_id).order_by(Release.number.desc())
    with desk.store.reading() as session:
        return [_told(session, release) for release in session.scalars(query)]


def _told(session: Session, release: Release) -> ReleaseOut:
    interviews = session.scalar(select(func.count()).where(Interview.release_id == release.id))
    return ReleaseOut(
        id=release.id, number=release.number, hash=release.hash, remark=release.remark,
        created_at=release.created_at, created_by=release.created_by, interviews=interviews or 0,
        questions=sum(1 for p in release.compiled["parts"] if KINDS[p["kind"]].takes_answer),
        withdrawn=Withdrawn.model_validate(release.withdrawn) if release.withdrawn else None,
    )  # fmt: skip


def make_release(desk: Desk, questionnaire_id: int, version: int, remark: str) -> ReleaseOut:
    """Freeze the script as a numbered release; refused while it has errors or is the same as the last one.

    `version` is that of the script as it was read; it is compiled before anything is written.
    """
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        same_script(questionnaire, version)
        before = _releases(session, questionnaire_id)
        media = shelf_of(session, questionnaire.study_id)
    compiled = _compiled(questionnaire, media)
    renamed = renaming(before, CompiledRelease(compiled)) if before else None
    digest, replayed = content_hash(compiled), replay(CompiledRelease(compiled), questionnaire.tests)
    with desk.store.session() as session:
        kept = the_questionnaire(session, questionnaire_id)
        same_script(kept, version)
        newest = newest_release(session, questionnaire_id)
        if newest is not None and newest.hash == digest and newest.withdrawn is None:
            raise Refused("nothing_changed", f"Nothing has changed since release {newest.number}.")
        release = Release(
            questionnaire_id=questionnaire_id, number=newest.number + 1 if newest else 1, hash=digest,
            compiled=compiled, script=kept.script, remark=remark, **desk.signed(),
        )  # fmt: skip
        followed = _follow(session, questionnaire_id, renamed) if renamed is not None else 0
        changed = sum(1 for test in replayed if not test.is_unchanged)
        detail = {"number": release.number, "title": kept.title, "tests": len(replayed), "tests_changed": changed}
        if followed:
            detail["followed"] = followed
        session.add_all([release, desk.event(kept.study_id, "released", **detail)])
        session.flush()
        return _told(session, release)


def script_of_release(desk: Desk, questionnaire_id: int, number: int) -> Script:
    """The script as it was released."""
    with desk.store.reading() as session:
        return read_script(_the_release(session, questionnaire_id, number).script)


def withdraw(desk: Desk, questionnaire_id: int, number: int, why: str) -> ReleaseOut:
    """Let no interview begin with a release any more; an empty reason gives it out again.

    Interviews in hand go on with it, and what was collected stays.
    """
    with desk.store.session() as session:
        release = _the_release(session, questionnaire_id, number)
        questionnaire = the_questionnaire(session, questionnaire_id)
        reason = why.strip()
        release.withdrawn = {"at": now().isoformat(), "by": desk.name, "why": reason} if reason else None
        kind = "release withdrawn" if reason else "release given out again"
        session.add(desk.event(questionnaire.study_id, kind, title=questionnaire.title, number=number))
        session.flush()
        return _told(session, release)


def _the_release(session: Session, questionnaire_id: int, number: int) -> Release:
    wanted = select(Release).where(Release.questionnaire_id == questionnaire_id, Release.number == number)
    found = session.scalar(wanted)
    if found is None:
        raise not_found("release")
    return found


def _releases(session: Session, questionnaire_id: int) -> list[CompiledRelease]:
    """All of a questionnaire, the oldest first."""
    query = select(Release.compiled).where(Release.questionnaire_id == questionnaire_id).order_by(Release.number)
    return [CompiledRelease(compiled) for compiled in session.scalars(query)]


def _follow(session: Session, questionnaire_id: int, renamed: Renaming) -> int:
    """Let saved steps, tables and joins follow variables that the new release calls otherwise; how many did."""
    if not renamed.names:
        return 0
    followed = 0
    for kept in session.scalars(select(PlanStep).where(PlanStep.questionnaire_id == questionnaire_id)):
        body = write_step(renamed.step(read_step(kept.body)))
        followed += body != kept.body
        kept.body = body
    for table in session.scalars(select(SavedTable).where(SavedTable.questionnaire_id == questionnaire_id)):
        request = write_request(renamed.request(read_request(table.request)))
        followed += request != table.request
        table.request = request
    for outside in session.scalars(select(OutsideTable).where(OutsideTable.questionnaire_id == questionnaire_id)):
        if outside.joined is not None and outside.joined["variable"] in renamed.names:
            outside.joined = {**outside.joined, "variable": renamed.variable(outside.joined["variable"])}
            followed += 1
    return followed


def _compiled(questionnaire: Questionnaire, media: dict[str, MediaFile]) -> dict[str, Any]:
    compiled = compile_script(read_script(questionnaire.script), Known(media=media))
    if compiled.release is None:
        count = counted(len(compiled.errors), "error")
        raise Refused(
            "has_errors", f"The script has {count}. Mend what is listed under Findings first.",
            {"findings": [asdict(f) for f in compiled.errors]},
        )  # fmt: skip
    return compiled.release
