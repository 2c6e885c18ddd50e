"""The demo questionnaire: a workbook, which `tests.browser.typist` types in the running application to compare."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.questionnaire.script import Script
from skavo.formats.workbook.read import read_folder
from skavo.store.models import Questionnaire

WORKBOOK = Path(__file__).parent / "workshop"


def demo_script() -> Script:
    return _read().model_copy(deep=True)


@cache
def _read() -> Script:
    read = read_folder(WORKBOOK)
    assert not read.faults, read.faults
    return read.script


def demo_media() -> dict[str, bytes]:
    """The files of the media shelf, by name."""
    return {file.name: file.read_bytes() for file in sorted(WORKBOOK.glob("*.png"))}


def questionnaire_of(session: Session, study_id: int) -> Questionnaire:
    """The one that the demo's interviews are led with."""
    asked = (Questionnaire.study_id == study_id, Questionnaire.describes == "interviews")
    return session.scalars(select(Questionnaire).where(*asked)).one()
