"""The questionnaire station: the script as it is written, what the checker says of it, workbooks in and out."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.interview.kinds import KINDS, UNNUMBERED
from skavo.core.languages.outdated import Outdated, follow
from skavo.core.lists.hanging import Hanging
from skavo.core.questionnaire.aside import Aside, sort_out
from skavo.core.questionnaire.compare import Comparison, compare_scripts
from skavo.core.questionnaire.compile import content_hash
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints import Standard
from skavo.core.questionnaire.known import Known
from skavo.core.questionnaire.script import Script, read_script, write_script
from skavo.core.rehearsal.proof.changed import judge_change
from skavo.services.desk import Desk
from skavo.services.found import newest_job, the_questionnaire, the_study
from skavo.services.proved import proof_findings
from skavo.services.refusals import Refused, not_found
from skavo.services.verdicts import verdict_on
from skavo.store.knowing import compiled_script, known_to
from skavo.store.models import Interview, Questionnaire, Release, now


class Judged(BaseModel):
    """What the checker says of a script; `release_hash` is that of the script compiled, None while it has errors.

    `hanging` says which code lists hang under which, `outdated` which translations were made from what the source said
    before, `set_aside` which findings somebody has looked at and left as they are.
    """

    findings: list[Finding]
    release_hash: str | None
    same_as_newest: bool
    hanging: list[Hanging]
    outdated: Outdated
    set_aside: list[Aside]


class Draft(Judged):
    """The script with its version and what is wrong with it. `awaiting` is the release that waits for a second
    signature."""

    id: int
    study_id: int
    title: str
    version: int
    changed_at: datetime
    script: Script
    newest_release: int | None
    newest_is_practice: bool
    awaiting: int | None


class Saved(Judged):
    version: int
    changed_at: datetime


class CompiledOut(BaseModel):
    """The script as the phone would run it; None while it has errors."""

    release: dict[str, Any] | None
    release_hash: str | None


class KindOut(BaseModel):
    """`type` is the rule type of an answer; `numbered` says that lines of this kind count as questions."""

    name: str
    glyph: str
    type: str
    uses_codes: bool
    holds_parts: bool
    takes_answer: bool
    derives: bool
    numbered: bool


class ComparisonOut(BaseModel):
    """What has changed in the draft since a release, and what that means for the `interviews` made with it."""

    release: int
    interviews: int
    comparison: Comparison


def list_kinds() -> list[KindOut]:
    """The kinds of part there are, in the order they are offered."""
    return [
        KindOut(
            name=k.name, glyph=k.glyph, type=k.type, uses_codes=k.uses_codes, holds_parts=k.holds_parts,
            takes_answer=k.takes_answer, derives=k.derives, numbered=k.name not in UNNUMBERED,
        )
        for k in KINDS.values()
    ]  # fmt: skip


def newest_release(session: Session, questionnaire_id: int) -> Release | None:
    query = select(Release).where(Release.questionnaire_id == questionnaire_id).order_by(Release.number.desc())
    return session.scalars(query.limit(1)).first()


@dataclass(frozen=True)
class Around:
    """What a script is judged with: the newest release and proof, what it may speak of and its study's standard, what was
    set aside."""

    newest: Release | None
    known: Known
    standard: Standard
    set_aside: dict[str, Any]
    proof: dict[str, Any]


def _around(session: Session, questionnaire: Questionnaire) -> Around:
    study = the_study(session, questionnaire.study_id)
    proof = newest_job(session, study.id, questionnaire.id, "proof")
    return Around(
        newest_release(session, questionnaire.id), known_to(session, questionnaire), Standard.model_validate(study.standard),
        questionnaire.set_aside, (proof.result or {}) if proof is not None else {},
    )  # fmt: skip


def _judged(document: dict[str, Any], script: Script, around: Around, outdated: Outdated) -> dict[str, Any]:
    """The fields of Judged."""
    verdict, newest = verdict_on(document, around.known, around.standard, script), around.newest
    found = [*verdict.findings, *proof_findings(script, around.proof, verdict.release_hash)]
    standing, aside = sort_out(found, around.set_aside)
    return {
        "findings": standing,
        "set_aside": aside,
        "release_hash": verdict.release_hash,
        "hanging": list(verdict.hanging),
        "outdated": outdated,
        "same_as_newest": newest is not None and newest.withdrawn is None and newest.hash == verdict.release_hash,
    }


def make_questionnaire(desk: Desk, study_id: int, title: str, languages: list[str]) -> Draft:
    """An empty one, in the first of `languages`."""
    script = Script(name="questionnaire", title={languages[0]: title}, languages=languages)
    with desk.store.session() as session:
        the_study(session, study_id)
        made = Questionnaire(study_id=study_id, title=title, script=write_script(script))
        session.add_all([made, desk.event(study_id, "questionnaire made", title=title)])
        session.flush()
        questionnaire_id = made.id
    return show_draft(desk, questionnaire_id)


def show_draft(desk: Desk, questionnaire_id: int) -> Draft:
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        around = _around(session, questionnaire)
    script = read_script(questionnaire.script)
    newest = around.newest
    return Draft(
        id=questionnaire.id, study_id=questionnaire.study_id, title=questionnaire.title, version=questionnaire.version,
        changed_at=questionnaire.changed_at, script=script, newest_release=newest.number if newest else None,
        newest_is_practice=newest is not None and newest.practice,
        awaiting=newest.number if newest and newest.awaits and newest.withdrawn is None else None,
        **_judged(questionnaire.script, script, around, questionnaire.outdated),
    )  # fmt: skip


def compile_draft(desk: Desk, questionnaire_id: int) -> CompiledOut:
    """The draft as it is kept, for whoever wants to try it on a phone."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        release = compiled_script(session, questionnaire)
    return CompiledOut(release=release, release_hash=content_hash(release) if release else None)


def save_script(desk: Desk, questionnaire_id: int, script: Script, version: int) -> Saved:
    """Keep the script, faults and all, and say what is wrong with it.

    `version` is the one the writer had; another one now means that somebody else wrote meanwhile.
    """
    with desk.store.reading() as session:
        before = the_questionnaire(session, questionnaire_id)
        same_script(before, version)
        around = _around(session, before)
    kept = write_script(script)
    outdated = follow(read_script(before.script), script, before.outdated)
    judged = _judged(kept, script, around, outdated)
    with desk.store.session() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        same_script(questionnaire, version)
        questionnaire.script = kept
        questionnaire.outdated = outdated
        questionnaire.title = script.title.get(script.languages[0]) or questionnaire.title
        questionnaire.version += 1
        questionnaire.changed_at = now()
        return Saved(version=questionnaire.version, changed_at=questionnaire.changed_at, **judged)


def same_script(questionnaire: Questionnaire, version: int) -> None:
    if questionnaire.version != version:
        message = "Somebody else changed the questionnaire meanwhile. Load it again; your last change is still here."
        raise Refused("changed_meanwhile", message, {"version": questionnaire.version})


def compare_draft(desk: Desk, questionnaire_id: int, number: int = 0) -> ComparisonOut:
    """The draft held against a release; 0 means the newest."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        wanted = select(Release).where(Release.questionnaire_id == questionnaire.id)
        if number:
            wanted = wanted.where(Release.number == number)
        release = session.scalars(wanted.order_by(Release.number.desc()).limit(1)).first()
        if release is None:
            raise not_found("release")
        collected = session.scalar(select(func.count()).where(Interview.release_id == release.id))
        before, after = read_script(release.script), read_script(questionnaire.script)
    return ComparisonOut(
        release=release.number, interviews=collected or 0, comparison=compare_scripts(before, after, judge_change)
    )
