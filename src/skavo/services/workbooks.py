"""Workbooks of a questionnaire: out and in without loss, its media along, and a blank one to begin with."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from pydantic import BaseModel

from skavo.core.media.shelf import uses_of
from skavo.core.questionnaire.compare import Comparison, compare_scripts, keep_identities
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.hints import Standard
from skavo.core.questionnaire.script import Script, read_script
from skavo.core.rehearsal.proof.changed import judge_change
from skavo.formats.media import unpacked
from skavo.formats.packing import pack
from skavo.formats.workbook.blank import blank_workbook
from skavo.formats.workbook.read import read_workbook
from skavo.formats.workbook.sheets import MEDIA_FOLDER, CellFault, workbook_inside
from skavo.formats.workbook.write import write_folder, write_workbook
from skavo.services.desk import Desk
from skavo.services.file_made import XLSX, ZIP, FileMade
from skavo.services.found import the_questionnaire, the_study
from skavo.store.files import read_file
from skavo.store.knowing import known_to
from skavo.store.shelf import files_of

Form = Literal["xlsx", "csv", "whole"]


class WorkbookOut(BaseModel):
    """A workbook that was read but not yet taken: all its faults, and how it differs from the present script.

    `media` are the files that came along, `replacing` those of them whose name the shelf has already.
    """

    script: Script
    faults: list[CellFault]
    comparison: Comparison
    media: list[str]
    replacing: list[str]


def workbook_of(desk: Desk, questionnaire_id: int, form: Form) -> FileMade:
    """The script as a workbook, as a zip of .csv files, or as a zip of a workbook and the media that it names."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        standard = Standard.model_validate(the_study(session, questionnaire.study_id).standard)
        shelf = {file.name: file.hash for file in session.scalars(files_of(questionnaire.study_id))}
    script = read_script(questionnaire.script)
    if form == "csv":
        return FileMade(f"{script.name}.csv.zip", ZIP, pack(write_folder(script, standard)))
    if form == "xlsx":
        return FileMade(f"{script.name}.xlsx", XLSX, write_workbook(script, standard))
    named = {use.name for use in uses_of(script)}
    along = {name: digest for name, digest in shelf.items() if _is_named(name, named, script.languages)}
    files = {f"{MEDIA_FOLDER}{name}": read_file(desk.store.files, digest) for name, digest in along.items()}
    return FileMade(f"{script.name}.zip", ZIP, pack({f"{script.name}.xlsx": write_workbook(script, standard), **files}))


def _is_named(name: str, named: set[str], languages: list[str]) -> bool:
    """Whether a script names a file, or the file that it is the variety of in one of its languages."""
    stem, _, ending = name.rpartition(".")
    plain = {f"{stem.removesuffix(f'.{tag}')}.{ending}" for tag in languages}
    return bool(named & {name, *plain})


def read_in_workbook(desk: Desk, questionnaire_id: int, content: bytes) -> WorkbookOut:
    """Read a workbook; nothing is replaced until its script is saved."""
    with desk.store.reading() as session:
        questionnaire = the_questionnaire(session, questionnaire_id)
        standard = Standard.model_validate(the_study(session, questionnaire.study_id).standard)
        known = known_to(session, questionnaire)
    present = read_script(questionnaire.script)
    inside = workbook_inside(content)
    media = [n.rsplit("/", 1)[-1] for n, _ in unpacked("The file", content) if MEDIA_FOLDER in n] if inside else []
    read = read_workbook("The workbook", inside or content, standard)
    script = read.script
    keep_identities(present, script)
    return WorkbookOut(
        script=script, faults=read.all_faults(compile_script(script, replace(known, media=None)).findings),
        comparison=compare_scripts(present, script, judge_change), media=media,
        replacing=[name for name in media if name in (known.media or {})],
    )  # fmt: skip


def blank(languages: list[str]) -> FileMade:
    """A workbook without a line, in `languages`, with every kind and column explained."""
    return FileMade("questionnaire-blank.xlsx", XLSX, blank_workbook(languages))
