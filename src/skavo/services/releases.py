"""Releases: the script frozen and numbered, with what its kept test interviews say to it."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.cleaning.steps import read_step, write_step
from skavo.core.combining.spec import read_join, renamed_join, write_join
from skavo.core.dataset.renamed import Renaming, renaming
from skavo.core.estimation.tables import read_request, write_request
from skavo.core.interview.kinds import KINDS
from skavo.core.interview.release import Release as CompiledRelease
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.findings import counted
from skavo.core.questionnaire.known import Known
from skavo.core.questionnaire.script import Script, read_script
from skavo.core.rehearsal.replay import replay
from skavo.jobs.registers import RECKONING
from skavo.services.desk import Desk
from skavo.services.drafts import newest_release, same_script
from skavo.services.found import the_questionnaire, the_study
from skavo.services.jobs import order_job
from skavo.services.refusals import Refused, not_found
from skavo.store.knowing import known_to
from skavo.store.models import (
    Device,
    Interview,
    NamedDataSet,
    OutsideTable,
    PlanStep,
    Questionnaire,
    Release,
    SavedTable,
    now,
)
from skavo.store.recipes import follow_renaming


class Withdrawn(BaseModel):
    at: datetime
    by: str
    why: str


class Signed(BaseModel):
    at: datetime
    by: str
    remark: str


class Holder(BaseModel):
    """A phone that holds a release, with how many interviews on it were begun with it, as it was last heard."""

    device: str
    enumerator: str
    last_heard: datetime | None
    interviews: int


class ReleaseOut(BaseModel):
    """`awaits` a second signature; `may_sign` says whether whoever asks can give it."""

    id: int
    number: int
    hash: str
    remark: str
    created_at: datetime
    created_by: str
    questions: int
    interviews: int
    practice: bool
    awaits: bool
    may_sign: bool
    signed: Signed | None
    withdrawn: Withdrawn | None
    holders: list[Holder]


def list_releases(desk: Desk, questionnaire_id: int) -> list[ReleaseOut]:
    """The newest first."""
    query = select(Release).where(Release.questionnaire_id == questionnaire_id).order_by(Release.number.desc())
    with desk.store.reading() as session:
        holders = _holders(desk, session, the_questionnaire(session, questionnaire_id).study_id)
        return [_told(desk, session, release, holders) for release in session.scalars(query)]


def _holders(desk: Desk, session: Session, study_id: int) -> dict[str, list[Holder]]:
    """The phones of whoever asks may know of, by the hash of what they hold; phones that were cut off are left out."""
    phones = (
        select(Device).where(*desk.reach_devices(study_id), Device.cut_off_at.is_(None)).order_by(Device.enumerator)
    )
    found: dict[str, list[Holder]] = {}
    for phone in session.scalars(phones):
        for digest, interviews in phone.carries.get("releases", {}).items():
            held = Holder(
                device=phone.name, enumerator=phone.enumerator, last_heard=phone.last_heard, interviews=interviews
            )
            found.setdefault(digest, []).append(held)
    return found


def _told(desk: Desk, session: Session, release: Release, holders: dict[str, list[Holder]]) -> ReleaseOut:
    interviews = session.scalar(select(func.count()).where(Interview.release_id == release.id))
    return ReleaseOut(
        id=release.id, number=release.number, hash=release.hash, remark=release.remark,
        created_at=release.created_at, created_by=release.created_by, interviews=interviews or 0,
        questions=sum(1 for p in release.compiled["parts"] if KINDS[p["kind"]].takes_answer),
        practice=release.practice, awaits=release.awaits, may_sign=release.awaits and _may_sign(desk, release),
        signed=Signed.model_validate(release.signed) if release.signed else None,
        withdrawn=Withdrawn.model_validate(release.withdrawn) if release.withdrawn else None,
        holders=holders.get(release.hash, []),
    )  # fmt: skip


def _may_sign(desk: Desk, release: Release) -> bool:
    return desk.may("release.sign") and desk.person_id is not None and desk.person_id != release.created_by_id


def make_release(desk: Desk, questionnaire_id: int, version: int, remark: str, *, practice: bool = False) -> ReleaseOut:
    """Freeze the script as a numbered release; refused while it has errors or is the same as the last one.

    `version` is that of the script as it was read; it is compiled before anything is written. One for `practice` needs
    no second signature, and leaves saved steps and tables as they are: no interview made with it counts.
    """
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        same_script(questionnaire, version)
        before = _releases(session, questionnaire_id)
        known = known_to(session, questionnaire)
    compiled = _compiled(questionnaire, known)
    if questionnaire.describes == "units":
        _check_fields(compiled)
    renamed = renaming(before, CompiledRelease(compiled)) if before and not practice else None
    digest, replayed = content_hash(compiled), replay(CompiledRelease(compiled), questionnaire.tests)
    with desk.store.session() as session:
        kept = the_questionnaire(session, questionnaire_id)
        same_script(kept, version)
        newest = newest_release(session, questionnaire_id)
        two_sign = the_study(session, kept.study_id).two_sign
        same = newest is not None and newest.hash == digest and newest.withdrawn is None
        # Made again for what the newest one is not: for the field, or without a signature that nobody waits for now.
        if (
            newest is not None
            and same
            and not (newest.practice and not practice)
            and not (newest.awaits and not two_sign)
        ):
            raise Refused("nothing_changed", f"Nothing has changed since release {newest.number}.")
        release = Release(
            questionnaire_id=questionnaire_id, number=newest.number + 1 if newest else 1, hash=digest,
            compiled=compiled, script=kept.script, remark=remark, practice=practice,
            awaits=two_sign and not practice, **desk.signed(),
        )  # fmt: skip
        followed = _follow(session, questionnaire_id, renamed, release.number) if renamed is not None else 0
        changed = sum(1 for test in replayed if not test.is_unchanged)
        detail = {"number": release.number, "title": kept.title, "tests": len(replayed), "tests_changed": changed}
        if practice:
            detail["practice"] = True
        if followed:
            detail["followed"] = followed
        session.add_all([release, desk.event(kept.study_id, "released", **detail)])
        session.flush()
        told = _told(desk, session, release, _holders(desk, session, kept.study_id))
        study_id = kept.study_id if kept.describes == "units" else None
    if study_id is not None:
        order_job(desk, study_id, RECKONING, {"study_id": study_id})
    return told


def _check_fields(compiled: dict[str, Any]) -> None:
    """The fields of a kind of unit repeat in no roster: what repeats hangs below it, with fields of its own."""
    roster = next((part for part in compiled["parts"] if part["kind"] == "roster"), None)
    if roster is not None:
        message = (
            f"A unit holds no roster ({roster['variable']}). Make what repeats a kind of unit that hangs under it."
        )
        raise Refused("roster_in_unit", message)


def sign_off(desk: Desk, questionnaire_id: int, number: int, remark: str) -> ReleaseOut:
    """Give a release out to phones, as the second person; whoever made it cannot."""
    with desk.store.session() as session:
        release = _the_release(session, questionnaire_id, number)
        study_id = the_questionnaire(session, questionnaire_id).study_id
        if not release.awaits:
            raise Refused("nothing_awaited", f"Release {number} waits for no signature.")
        if not _may_sign(desk, release):
            raise Refused("own_release", "Whoever made a release cannot sign it off. Ask a second person to.")
        release.awaits = False
        release.signed = {"at": now().isoformat(), "by": desk.name, "by_id": desk.person_id, "remark": remark.strip()}
        title = release.questionnaire.title
        session.add(desk.event(study_id, "release signed off", title=title, number=number))
        session.flush()
        return _told(desk, session, release, _holders(desk, session, study_id))


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
        return _told(desk, session, release, _holders(desk, session, questionnaire.study_id))


def _the_release(session: Session, questionnaire_id: int, number: int) -> Release:
    wanted = select(Release).where(Release.questionnaire_id == questionnaire_id, Release.number == number)
    found = session.scalar(wanted)
    if found is None:
        raise not_found("release")
    return found


def _releases(session: Session, questionnaire_id: int) -> list[CompiledRelease]:
    """All of a questionnaire whose interviews count, the oldest first."""
    mine = (Release.questionnaire_id == questionnaire_id, Release.practice.is_(False))
    query = select(Release.compiled).where(*mine).order_by(Release.number)
    return [CompiledRelease(compiled) for compiled in session.scalars(query)]


def _follow(session: Session, questionnaire_id: int, renamed: Renaming, number: int) -> int:
    """Let saved steps, tables and joins follow variables that the new release calls otherwise; how many did."""
    if not renamed.names:
        return 0
    followed = 0
    for kept in session.scalars(select(PlanStep).where(PlanStep.questionnaire_id == questionnaire_id)):
        body = write_step(renamed.step(read_step(kept.body)))
        followed += body != kept.body
        kept.body = body
    for table in session.scalars(
        select(SavedTable).join(NamedDataSet).where(NamedDataSet.begins_id == questionnaire_id)
    ):
        request = write_request(renamed.request(read_request(table.request)))
        followed += request != table.request
        table.request = request
    followed += follow_renaming(session, questionnaire_id, renamed, number)
    for outside in session.scalars(select(OutsideTable).where(OutsideTable.questionnaire_id == questionnaire_id)):
        if outside.joined is not None:
            join = renamed_join(read_join(outside.joined), renamed.names)
            followed += join != read_join(outside.joined)
            outside.joined = write_join(join)
    return followed


def _compiled(questionnaire: Questionnaire, known: Known) -> dict[str, Any]:
    compiled = compile_script(read_script(questionnaire.script), known)
    if compiled.release is None:
        count = counted(len(compiled.errors), "error")
        raise Refused(
            "has_errors", f"The script has {count}. Mend what is listed under Findings first.",
            {"findings": [asdict(f) for f in compiled.errors]},
        )  # fmt: skip
    return compiled.release
