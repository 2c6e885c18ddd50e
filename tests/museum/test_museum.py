"""Everything that was ever published can still be read, and gives the same data set."""

from __future__ import annotations

import hashlib
import json
import sqlite3
import zipfile
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import select

from skavo.core.cleaning.steps import STEP
from skavo.core.combining.spec import JOIN
from skavo.core.estimation.tables import TABLE, read_request
from skavo.core.interview.engine import Engine
from skavo.core.interview.formats import INTERVIEW, RELEASE
from skavo.core.interview.release import Release
from skavo.core.modules.module import MODULE, Module
from skavo.core.modules.take import take
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import SCRIPT, Script, read_script
from skavo.formats.bundle import BUNDLE, InHand, Seal, Unseal, open_bundle
from skavo.formats.workbook.about import WORKBOOK
from skavo.formats.workbook.read import read_workbook
from skavo.jobs.laying import lay_out_again
from skavo.jobs.runner import Progress
from skavo.store import database
from skavo.store.backup import BACKUP, restore_backup
from skavo.store.database import open_store
from skavo.store.datasets import DataSets
from skavo.store.interview_document import ReadDocument, try_reading
from skavo.store.models import Interview, Job, Questionnaire, Revision, SavedTable, StudyKey
from skavo.store.sealing import fingerprint, unseal, unwrap
from tests.museum.write_data import tables_of
from tests.samples import staff_engine

HERE = Path(__file__).parent
STORES = sorted((path for path in HERE.iterdir() if (path / "backup.zip").exists()), key=lambda path: int(path.name))


def expected(folder: Path) -> Any:
    return json.loads((folder / "data.json").read_text(encoding="utf-8"))


def test_there_is_a_store_of_every_version_of_every_document() -> None:
    newest = {f.newest for f in (RELEASE, INTERVIEW, STEP, TABLE, SCRIPT, BACKUP, WORKBOOK, BUNDLE, MODULE, JOIN)}
    assert newest == {
        "skavo-release-3", "skavo-interview-5", "skavo-step-1", "skavo-table-1", "skavo-script-4", "skavo-backup-2",
        "skavo-workbook-1", "skavo-bundle-2", "skavo-module-1", "skavo-join-3",
    }, "A format has a new version: put a store of it into the museum, then name it here."  # fmt: skip
    assert [path.name for path in STORES] == [
        "1",
        "2",
        "3",
        "4",
        "5",
        "6",
        "7",
        "8",
        "9",
        "10",
        "11",
        "12",
        "13",
        "14",
        "15",
        "16",
        "17",
        "18",
    ]


def test_the_newest_store_has_the_tables_of_this_version(tmp_path: Path) -> None:
    with zipfile.ZipFile(STORES[-1] / "backup.zip") as packed:
        extracted = packed.extract("skavo.db", tmp_path)
    (version,) = sqlite3.connect(extracted).execute("SELECT version_num FROM alembic_version").fetchone()
    newest = max(path.name[:4] for path in (Path(database.__file__).parent / "migrations" / "versions").glob("0*.py"))
    assert version == newest, "The tables have a new version: put a store of it into the museum."


@pytest.mark.parametrize("folder", STORES, ids=lambda path: path.name)
def test_a_store_of_every_version_gives_the_data_set_it_gave(folder: Path, tmp_path: Path) -> None:
    restore_backup(folder / "backup.zip", tmp_path / "store")
    assert tables_of(tmp_path / "store") == expected(folder)


@pytest.mark.parametrize("folder", STORES, ids=lambda path: path.name)
def test_laid_out_again_it_is_the_same_and_raw_bytes_are_untouched(folder: Path, tmp_path: Path) -> None:
    restore_backup(folder / "backup.zip", tmp_path / "store")
    store = open_store(tmp_path / "store")
    with store.session() as session:
        before = dict(session.execute(select(Revision.hash, Revision.raw)).all())
        for interview in session.scalars(select(Interview)):
            interview.laid_by = 0
        session.add(Job(study_id=1, kind="laying out", order={}, created_by="x"))
    done = lay_out_again(store, DataSets(store.files), {"study_id": 1}, Progress(store, 1))
    assert done == {"interviews": 16, "not_laid_out": 0}
    assert tables_of(tmp_path / "store") == expected(folder)
    with store.reading() as session:
        assert dict(session.execute(select(Revision.hash, Revision.raw)).all()) == before
        assert not any(session.scalars(select(Interview.differs)))


@pytest.mark.parametrize("folder", STORES, ids=lambda path: path.name)
def test_scripts_and_tables_of_every_version_are_read(folder: Path, tmp_path: Path) -> None:
    restore_backup(folder / "backup.zip", tmp_path / "store")
    with open_store(tmp_path / "store").reading() as session:
        script = read_script(
            session.scalars(select(Questionnaire).where(Questionnaire.describes == "interviews")).one().script
        )
        requests = [read_request(table.request) for table in session.scalars(select(SavedTable))]
    assert (script.name, len(script.parts) > 20) == ("workshop", True)
    assert [request.variable for request in requests] in (
        ["hours", "trade"], ["hours", "trades"], ["hours", "trades", "over_usual"],
    )  # fmt: skip


@pytest.mark.parametrize("path", sorted((HERE / "releases").iterdir()), ids=lambda path: path.stem)
def test_a_release_of_every_version_asks_computes_and_finds_the_same(path: Path) -> None:
    answers = {
        "consent": True, "island": "kesk", "ward": "k1", "workers": 3, "tools": ["saw", "other"], "tools_other": "file",
        "staff/1/name": "Anselm", "staff/1/age": 41, "staff/1/hours": "38.5", "staff/2/age": 12, "staff/3/age": 200,
    }  # fmt: skip
    release = Release(json.loads(path.read_text(encoding="utf-8")))
    assert Engine(release, answers=answers).snapshot() == staff_engine(answers).snapshot()


@pytest.mark.parametrize("folder", STORES, ids=lambda path: path.name)
def test_the_workbook_of_a_store_gives_its_questionnaire(folder: Path, tmp_path: Path) -> None:
    restore_backup(folder / "backup.zip", tmp_path / "store")
    with open_store(tmp_path / "store").reading() as session:
        script = read_script(
            session.scalars(select(Questionnaire).where(Questionnaire.describes == "interviews")).one().script
        )
    path = HERE / "workbooks" / f"workbook-1-of-store-{folder.name}.xlsx"
    read = read_workbook(path.name, path.read_bytes())
    assert read.faults == []
    without_identities = [[p.model_copy(update={"id": ""}) for p in s.parts] for s in (script, read.script)]
    assert without_identities[0] == without_identities[1]
    assert read.script.code_lists == script.code_lists


@pytest.mark.parametrize("path", sorted((HERE / "bundles").iterdir()), ids=lambda path: path.stem)
def test_a_phones_file_of_every_version_is_whole_and_read(path: Path, tmp_path: Path) -> None:
    """A sealed one is of a phone of store 9's study, in hand, and opens with that study's key."""
    bundle = open_bundle(path)
    unseal = None if bundle.seal is None else opener(bundle.seal, tmp_path)
    with bundle.packed:
        interviews = [found for _, found in bundle.interviews(unseal)]
        files = [
            (kind, digest == hashlib.sha256(content.read()).hexdigest())
            for _, kind, digest, content in bundle.files(unseal)
        ]
    assert files in ([("photo", True)], [("signature", True)])
    (found,) = interviews
    if isinstance(found, InHand):
        assert (found.head["state"], [*found.content["answers"]]) == ("in hand", ["outcome", "consent", "signed"])
    else:
        assert isinstance(try_reading(found), ReadDocument)


def opener(seal: Seal, folder: Path) -> Unseal:
    restore_backup(HERE / "9" / "backup.zip", folder / "9")
    with open_store(folder / "9").reading() as session:
        key = session.scalars(select(StudyKey)).one()
    assert seal.study_key == fingerprint(key.public)
    secret = unwrap(key, seal.wrapped)
    return lambda sealed: unseal(secret, sealed)


def test_what_a_newer_skavo_wrote_is_not_guessed_at() -> None:
    with pytest.raises(Exception, match=r"written by a newer Skavo \(skavo-release-9\)"):
        Release({"format": "skavo-release-9"})


@pytest.mark.parametrize("path", sorted((HERE / "modules").glob("*.json")), ids=lambda path: path.stem)
def test_a_module_of_every_version_can_be_taken(path: Path) -> None:
    module = Module.model_validate(MODULE.read_body(json.loads(path.read_text(encoding="utf-8"))))
    taken = take(Script(languages=module.fragment.languages), module, 0, 1).script
    assert compile_script(taken).errors == []
    assert len(taken.parts) == 11
