"""Questionnaires: the script as it is written, what the checker says of it, workbooks in and out, releases."""

from __future__ import annotations

import io
import zipfile
from dataclasses import asdict
from datetime import datetime
from typing import Any, Literal

from flask import Response, request
from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from skavo.core.interview.kinds import KINDS, UNNUMBERED
from skavo.core.interview.release import Release as CompiledRelease
from skavo.core.questionnaire.compare import Comparison, compare_scripts, keep_identities
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.findings import Finding, counted
from skavo.core.questionnaire.script import Script, read_script, write_script
from skavo.core.rehearsal.proof.changed import judge_change
from skavo.core.rehearsal.replay import replay
from skavo.formats.workbook.read import read_workbook
from skavo.formats.workbook.sheets import CellFault
from skavo.formats.workbook.write import write_folder, write_workbook
from skavo.store.models import Interview, Questionnaire, Release, now
from skavo.web.problems import Problem, not_found
from skavo.web.routing import Resource, attachment, happened, signed, store
from skavo.web.shapes import Body, QuestionnairePath, StudyPath
from skavo.web.studies import study_or_404

api = Resource("questionnaires")


class Draft(BaseModel):
    """The script with its version and what is wrong with it; `release` is the compiled draft, if it compiles."""

    id: int
    study_id: int
    title: str
    version: int
    changed_at: datetime
    script: Script
    findings: list[Finding]
    release: dict[str, Any] | None
    release_hash: str | None
    newest_release: int | None
    same_as_newest: bool


class ScriptIn(Body):
    """`version` is the one the writer had; another one now means that somebody else wrote meanwhile."""

    version: int
    script: Script


class Saved(BaseModel):
    version: int
    changed_at: datetime
    findings: list[Finding]
    release: dict[str, Any] | None
    release_hash: str | None
    same_as_newest: bool


class QuestionnaireIn(Body):
    title: str = Field(min_length=1, max_length=200)
    languages: list[str] = Field(default=["en"], min_length=1, max_length=12)


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


class ReleaseIn(Body):
    version: int
    remark: str = Field(default="", max_length=2000)


class ReleaseOut(BaseModel):
    id: int
    number: int
    hash: str
    remark: str
    created_at: datetime
    created_by: str
    questions: int
    interviews: int


class WorkbookOut(BaseModel):
    """A workbook that was read but not yet taken: all its faults, and how it differs from the present script."""

    script: Script
    faults: list[CellFault]
    comparison: Comparison


class ComparisonQuery(BaseModel):
    """`release` is the number of the one that the draft is held against; 0 the newest."""

    release: int = 0


class ComparisonOut(BaseModel):
    """What has changed in the draft since a release, and what that means for the `interviews` made with it."""

    release: int
    interviews: int
    comparison: Comparison


def questionnaire_or_404(session: Session, questionnaire_id: int) -> Questionnaire:
    found = session.get(Questionnaire, questionnaire_id)
    if found is None:
        raise not_found("questionnaire")
    return found


def _newest(session: Session, questionnaire_id: int) -> Release | None:
    query = select(Release).where(Release.questionnaire_id == questionnaire_id).order_by(Release.number.desc())
    return session.scalars(query.limit(1)).first()


def _compiled(session: Session, questionnaire: Questionnaire) -> dict[str, Any]:
    compiled = compile_script(read_script(questionnaire.script))
    digest = content_hash(compiled.release) if compiled.release else None
    newest = _newest(session, questionnaire.id)
    return {
        "findings": compiled.findings,
        "release": compiled.release,
        "release_hash": digest,
        "same_as_newest": newest is not None and newest.hash == digest,
    }


@api.route_for("get", "/kinds", needs="signed-in", returns=list[KindOut])
def kinds() -> list[KindOut]:
    """The kinds of part there are, in the order they are offered."""
    return [
        KindOut(
            name=k.name, glyph=k.glyph, type=k.type, uses_codes=k.uses_codes, holds_parts=k.holds_parts,
            takes_answer=k.takes_answer, derives=k.derives, numbered=k.name not in UNNUMBERED,
        )
        for k in KINDS.values()
    ]  # fmt: skip


@api.route_for("post", "/studies/<int:study_id>/questionnaires", needs="script.write", returns=Draft, status=201)
def create(path: StudyPath, body: QuestionnaireIn) -> Draft:
    with store().session() as session:
        study_or_404(session, path.study_id)
        first = body.languages[0]
        script = Script(name="questionnaire", title={first: body.title}, languages=body.languages)
        made = Questionnaire(study_id=path.study_id, title=body.title, script=write_script(script))
        session.add(made)
        session.flush()
        session.add(happened(path.study_id, "questionnaire made", title=body.title))
        return _draft(session, made)


def _draft(session: Session, questionnaire: Questionnaire) -> Draft:
    newest = _newest(session, questionnaire.id)
    return Draft(
        id=questionnaire.id, study_id=questionnaire.study_id, title=questionnaire.title, version=questionnaire.version,
        changed_at=questionnaire.changed_at, script=read_script(questionnaire.script),
        newest_release=newest.number if newest else None, **_compiled(session, questionnaire),
    )  # fmt: skip


@api.route_for("get", "/questionnaires/<int:questionnaire_id>", needs="script.read", returns=Draft)
def show(path: QuestionnairePath) -> Draft:
    with store().reading() as session:
        return _draft(session, questionnaire_or_404(session, path.questionnaire_id))


@api.route_for("put", "/questionnaires/<int:questionnaire_id>/script", needs="script.write", returns=Saved)
def save(path: QuestionnairePath, body: ScriptIn) -> Saved:
    """Keep the script, faults and all, and say what is wrong with it."""
    with store().session() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        _same_version(questionnaire, body.version)
        questionnaire.script = write_script(body.script)
        questionnaire.title = body.script.title.get(body.script.languages[0]) or questionnaire.title
        questionnaire.version += 1
        questionnaire.changed_at = now()
        return Saved(
            version=questionnaire.version, changed_at=questionnaire.changed_at, **_compiled(session, questionnaire)
        )


def _same_version(questionnaire: Questionnaire, version: int) -> None:
    if questionnaire.version != version:
        message = "Somebody else changed the questionnaire meanwhile. Load it again; your last change is still here."
        raise Problem("changed_meanwhile", message, {"version": questionnaire.version})


class WorkbookQuery(BaseModel):
    """`form` is xlsx, or csv for a zip of .csv files."""

    form: Literal["xlsx", "csv"] = "xlsx"


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/workbook", needs="script.read")
def take_out_workbook(path: QuestionnairePath, query: WorkbookQuery) -> Response:
    with store().reading() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        script = read_script(questionnaire.script)
    if query.form == "csv":
        content, mime, ending = _zipped(write_folder(script)), "application/zip", "csv.zip"
    else:
        content, ending = write_workbook(script), "xlsx"
        mime = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    headers = attachment(f"{script.name}.{ending}")
    return Response(content, mimetype=mime, headers=headers)


def _zipped(files: dict[str, bytes]) -> bytes:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
        for name, content in files.items():
            out.writestr(name, content)
    return packed.getvalue()


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/workbook", needs="script.write", returns=WorkbookOut)
def read_in_workbook(path: QuestionnairePath) -> WorkbookOut:
    """Read a workbook sent as the body; nothing is replaced until its script is saved."""
    content = request.get_data(cache=False)
    with store().reading() as session:
        present = read_script(questionnaire_or_404(session, path.questionnaire_id).script)
    read = read_workbook("The workbook", content)
    script = read.script
    keep_identities(present, script)
    faults = read.all_faults(compile_script(script).findings)
    comparison = compare_scripts(present, script, judge_change)
    return WorkbookOut(script=script, faults=faults, comparison=comparison)


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/comparison", needs="script.read", returns=ComparisonOut)
def compare(path: QuestionnairePath, query: ComparisonQuery) -> ComparisonOut:
    """The draft held against a release."""
    with store().reading() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        wanted = select(Release).where(Release.questionnaire_id == questionnaire.id)
        if query.release:
            wanted = wanted.where(Release.number == query.release)
        release = session.scalars(wanted.order_by(Release.number.desc()).limit(1)).first()
        if release is None:
            raise not_found("release")
        before, after = read_script(release.script), read_script(questionnaire.script)
        collected = session.scalar(select(func.count()).where(Interview.release_id == release.id))
    return ComparisonOut(
        release=release.number, interviews=collected or 0, comparison=compare_scripts(before, after, judge_change)
    )


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/releases", needs="script.read", returns=list[ReleaseOut])
def releases(path: QuestionnairePath) -> list[ReleaseOut]:
    with store().reading() as session:
        questionnaire_or_404(session, path.questionnaire_id)
        query = select(Release).where(Release.questionnaire_id == path.questionnaire_id).order_by(Release.number.desc())
        return [_release_out(session, release) for release in session.scalars(query)]


def _release_out(session: Session, release: Release) -> ReleaseOut:
    interviews = session.scalar(select(func.count()).where(Interview.release_id == release.id))
    return ReleaseOut(
        id=release.id, number=release.number, hash=release.hash, remark=release.remark,
        created_at=release.created_at, created_by=release.created_by, interviews=interviews or 0,
        questions=sum(1 for p in release.compiled["parts"] if KINDS[p["kind"]].takes_answer),
    )  # fmt: skip


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/releases", needs="release.make", returns=ReleaseOut, status=201
)
def make_release(path: QuestionnairePath, body: ReleaseIn) -> ReleaseOut:
    """Freeze the script as a numbered release; refused while it has errors or is the same as the last one."""
    with store().session() as session:
        questionnaire = questionnaire_or_404(session, path.questionnaire_id)
        _same_version(questionnaire, body.version)
        compiled = compile_script(read_script(questionnaire.script))
        if compiled.release is None:
            message = (
                f"The script has {counted(len(compiled.errors), 'error')}. Mend what is listed under Findings first."
            )
            raise Problem("has_errors", message, {"findings": [asdict(f) for f in compiled.errors]})
        digest, newest = content_hash(compiled.release), _newest(session, questionnaire.id)
        if newest is not None and newest.hash == digest:
            raise Problem("nothing_changed", f"Nothing has changed since release {newest.number}.")
        release = Release(
            questionnaire_id=questionnaire.id, number=newest.number + 1 if newest else 1, hash=digest,
            compiled=compiled.release, script=questionnaire.script, remark=body.remark, **signed(),
        )  # fmt: skip
        session.add(release)
        session.flush()
        replayed = replay(CompiledRelease(compiled.release), questionnaire.tests)
        changed = sum(1 for test in replayed if not test.is_unchanged)
        detail = {
            "number": release.number, "title": questionnaire.title, "tests": len(replayed), "tests_changed": changed,
        }  # fmt: skip
        session.add(happened(questionnaire.study_id, "released", **detail))
        return _release_out(session, release)
