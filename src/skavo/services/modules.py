"""The shelf of modules: the ready ones and those that a study has saved; taking them, bringing them up to date."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from skavo.core.modules.module import MODULE, Module, script_of
from skavo.core.modules.shelf import READY
from skavo.core.modules.take import bring_up_to_date, modules_in, take
from skavo.core.questionnaire.compare import Comparison, compare_scripts
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.graft import Fragment, free_name
from skavo.core.questionnaire.script import Script
from skavo.core.questionnaire.variables import suggest_variable
from skavo.core.rehearsal.proof.changed import judge_change
from skavo.services.desk import Desk
from skavo.services.found import the_questionnaire, the_study
from skavo.services.refusals import Refused, not_found, same_version
from skavo.services.writing import GraftedOut
from skavo.store.models import KeptModule, now


class ModuleIn(BaseModel):
    """`measures`, `source` and `tested` say what it is good for, where it comes from, how it was tried."""

    model_config = ConfigDict(extra="forbid")
    title: str = Field(min_length=1, max_length=200)
    measures: str = Field(default="", max_length=4000)
    source: str = Field(default="", max_length=4000)
    tested: str = Field(default="", max_length=4000)
    fragment: Fragment


class ModuleOut(BaseModel):
    """A module on the shelf. `id` is None for a ready one; `findings` counts what is wrong with it standing alone."""

    id: int | None
    module: Module
    version: int
    created_at: datetime | None
    created_by: str
    findings: int


class UpdateOut(BaseModel):
    """The script with a module's lines as the module has them now, and what that would change."""

    script: Script
    comparison: Comparison


def shelf_of(desk: Desk, study_id: int) -> list[ModuleOut]:
    """Those the study saved, by title, then the ready ones."""
    with desk.store.reading() as session:
        the_study(session, study_id)
        kept = [_told(row) for row in session.scalars(_of_study(study_id))]
    ready = [
        ModuleOut(id=None, module=module, version=1, created_at=None, created_by="", findings=0) for module in READY
    ]
    return [*sorted(kept, key=lambda m: next(iter(m.module.title.values()), "").casefold()), *ready]


def save_module(desk: Desk, study_id: int, wanted: ModuleIn) -> ModuleOut:
    """Put lines on the study's shelf under a name made of the title."""
    with desk.store.session() as session:
        the_study(session, study_id)
        taken = {m.name for m in READY} | set(session.scalars(select(KeptModule.name).filter_by(study_id=study_id)))
        name = free_name(suggest_variable(wanted.title), taken)
        module = _module(name, wanted)
        row = KeptModule(study_id=study_id, name=name, body=_written(module), **desk.signed())
        session.add_all([row, desk.event(study_id, "module saved", title=wanted.title)])
        session.flush()
        return _told(row)


def replace_module(desk: Desk, module_id: int, wanted: ModuleIn, version: int) -> ModuleOut:
    """Another content under the same name: questionnaires that took it can be brought up to date with it."""
    with desk.store.session() as session:
        row = _the_module(session, module_id)
        same_version(row.version, version)
        row.body, row.version = _written(_module(row.name, wanted)), row.version + 1
        session.add(desk.event(row.study_id, "module changed", title=wanted.title))
        return _told(row)


def remove_module(desk: Desk, module_id: int) -> None:
    """Off the shelf; lines that were taken from it stay where they are."""
    with desk.store.session() as session:
        row = _the_module(session, module_id)
        row.removed_at = now()
        title = next(iter(_read(row).title.values()), row.name)
        session.add(desk.event(row.study_id, "module removed", title=title))


def take_module(desk: Desk, questionnaire_id: int, script: Script, name: str, at: int, level: int) -> GraftedOut:
    """A module's lines put into a script."""
    return GraftedOut(**vars(take(script, _named(desk, questionnaire_id, name), at, level)))


def update_module(desk: Desk, questionnaire_id: int, script: Script, name: str) -> UpdateOut:
    """A script with what was taken from a module brought up to date, to be looked at before it is kept."""
    if name not in modules_in(script):
        raise Refused("not_taken", f"No line of this questionnaire was taken from the module {name}.")
    after = bring_up_to_date(script, _named(desk, questionnaire_id, name))
    return UpdateOut(script=after, comparison=compare_scripts(script, after, judge_change))


def _named(desk: Desk, questionnaire_id: int, name: str) -> Module:
    with desk.store.reading() as session:
        study_id = the_questionnaire(session, questionnaire_id).study_id
        row = session.scalars(_of_study(study_id).where(KeptModule.name == name)).first()
    found = _read(row) if row is not None else next((m for m in READY if m.name == name), None)
    if found is None:
        raise not_found("module")
    return found


def _of_study(study_id: int) -> Select[KeptModule]:
    return select(KeptModule).where(KeptModule.study_id == study_id, KeptModule.removed_at.is_(None))


def _the_module(session: Session, module_id: int) -> KeptModule:
    row = session.get(KeptModule, module_id)
    if row is None or row.removed_at is not None:
        raise not_found("module")
    return row


def _module(name: str, wanted: ModuleIn) -> Module:
    """The lines as they stand alone: outermost on the first level, with no memory of another module."""
    parts = [part.model_copy(deep=True, update={"origin": ""}) for part in wanted.fragment.parts]
    if not parts:
        raise Refused("empty_module", "A module needs at least one line.")
    shift = min(part.level for part in parts) - 1
    for part in parts:
        part.level -= shift
    language = wanted.fragment.languages[0]
    return Module(
        name=name,
        title={language: wanted.title},
        measures={language: wanted.measures} if wanted.measures else {},
        source=wanted.source,
        tested=wanted.tested,
        fragment=wanted.fragment.model_copy(update={"parts": parts}),
    )


def _written(module: Module) -> dict[str, object]:
    return MODULE.write(module.model_dump(mode="json"))


def _read(row: KeptModule) -> Module:
    return Module.model_validate(MODULE.read_body(row.body))


def _told(row: KeptModule) -> ModuleOut:
    module = _read(row)
    errors = compile_script(script_of(module)).errors
    return ModuleOut(
        id=row.id, module=module, version=row.version, created_at=row.created_at, created_by=row.created_by,
        findings=len(errors),
    )  # fmt: skip
