"""The jobs that rehearse and prove a questionnaire."""

from __future__ import annotations

import io
import zipfile
from dataclasses import asdict
from datetime import UTC, date, datetime, time
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from skavo.core.errors import SkavoError
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script, content_hash
from skavo.core.questionnaire.findings import counted
from skavo.core.questionnaire.script import read_script
from skavo.core.rehearsal.proof.prove import prove
from skavo.core.rehearsal.rehearse import rehearse
from skavo.formats.kept_rehearsal import write_kept
from skavo.formats.rehearsal_files import summary, write_rehearsal
from skavo.jobs.runner import Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.files import keep_file
from skavo.store.knowing import known_to
from skavo.store.models import Questionnaire


def rehearse_draft(store: Store, _data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {questionnaire_id, interviews, seed, day}; `day` is written YYYY-MM-DD, None for today.

    The result is the summary with the `hash` of what was rehearsed, a zip with all files, and under `kept` the file
    that its data set is read from.
    """
    name, release = compiled_draft(store, order["questionnaire_id"])
    now = datetime.combine(date.fromisoformat(order["day"]), time(12), UTC) if order["day"] else None
    made = rehearse(
        release, order["interviews"], order["seed"], now=now, progress=lambda f, words: progress.say(0.9 * f, words)
    )
    progress.say(0.9, "Writing the files")
    packed = io.BytesIO()
    with TemporaryDirectory() as folder, zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
        for file in write_rehearsal(made, Path(folder)):
            out.write(file, file.relative_to(folder))
    digest = keep_file(store.files, packed.getvalue())
    kept = keep_file(store.files, write_kept(release, made))
    return {
        **summary(made), "hash": content_hash(release.raw), "kept": kept, "file": digest, "name": f"{name}-rehearsal.zip",
    }  # fmt: skip


def prove_draft(store: Store, _data_sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {questionnaire_id}; the result is the proof.

    Its test interviews take the place of those of the proof before; those written by hand stay.
    """
    _, release = compiled_draft(store, order["questionnaire_id"])
    proof = {**asdict(prove(release, datetime.now(UTC), progress.say)), "hash": content_hash(release.raw)}
    with store.session() as session:
        questionnaire = session.get_one(Questionnaire, order["questionnaire_id"])
        questionnaire.tests = [*(test for test in questionnaire.tests if test.get("by")), *proof["tests"]]
    return proof


def compiled_draft(store: Store, questionnaire_id: int) -> tuple[str, Release]:
    """The short name of a questionnaire and its draft compiled; raise SkavoError while it has errors."""
    with store.reading() as session:
        questionnaire = session.get_one(Questionnaire, questionnaire_id)
        known = known_to(session, questionnaire)
    script = read_script(questionnaire.script)
    compiled = compile_script(script, known)
    if compiled.release is None:
        raise SkavoError(
            "has_errors",
            f"The script has {counted(len(compiled.errors), 'error')}. Mend what is listed under Findings first.",
        )
    return script.name, Release(compiled.release)
