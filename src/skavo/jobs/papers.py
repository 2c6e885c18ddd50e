"""The job that prints a questionnaire: laying out a long one takes minutes of a processor."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select

from skavo.core.interview.release import Release as CompiledRelease
from skavo.core.paper.compose import compose
from skavo.formats.paper.write import write_pdf
from skavo.jobs.rehearsals import compiled_draft
from skavo.jobs.runner import Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.files import keep_file, read_file
from skavo.store.models import Questionnaire, Release, Study


def print_paper(store: Store, _data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {questionnaire_id, language, release, rows}; `release` is its number, None for the draft as it is kept."""
    language, number = order["language"], order["release"]
    release, study = _release(store, order["questionnaire_id"], number)

    def picture(name: str) -> tuple[str, bytes] | None:
        found = release.raw.get("media", {}).get(name, {}).get(language)
        if found is None or not found["type"].startswith("image/"):
            return None
        return found["type"], read_file(store.files, found["hash"])

    progress.say(0.1, "Laying out the pages")
    content = write_pdf(compose(release, language, study=study, number=number, rows=order["rows"]), picture)
    of = "draft" if number is None else f"release-{number}"
    return {"file": keep_file(store.files, content), "name": f"{release.raw['name']}-{of}-{language}.pdf"}


def _release(store: Store, questionnaire_id: int, number: int | None) -> tuple[CompiledRelease, str]:
    with store.reading() as session:
        study_id = session.get_one(Questionnaire, questionnaire_id).study_id
        study = session.get_one(Study, study_id).title
        if number is not None:
            wanted = select(Release).where(Release.questionnaire_id == questionnaire_id, Release.number == number)
            return CompiledRelease(session.scalars(wanted).one().compiled), study
    return compiled_draft(store, questionnaire_id)[1], study
