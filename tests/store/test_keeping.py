"""Nothing lost: hand-ins, files, backups, migrations."""

from __future__ import annotations

import json
import threading
import urllib.request
import uuid
import zipfile
from pathlib import Path
from typing import Any
from urllib.error import HTTPError

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import event, func, select

from skavo.cli import main
from skavo.core.errors import DataError
from skavo.demo.build import pairing_code
from skavo.server import Server
from skavo.standins.phone import Phone
from skavo.store.backup import restore_backup, write_backup
from skavo.store.database import Store, open_store
from skavo.store.files import keep_file, path_of_file, read_file
from skavo.store.models import Base, Interview, Revision


def paired(server: Server) -> Phone:
    return Phone(server.address, pairing_code(server.store, 1, "Ilse Varn"), "phone 01")


def document(phone: Phone, **answers: Any) -> dict[str, Any]:
    return {
        "format": "skavo-interview-2", "uuid": str(uuid.uuid4()), "release": phone.identity, "release_hash": phone.hash, "basis": "",
        "answers": {"consent": False, **answers}, "derived": {}, "kept": {}, "language": "en", "practice": False,
        "unfinished": "",
        "paradata": {"started": "2027-03-14T09:00:00+01:00", "ended": "2027-03-14T09:20:30+01:00", "device": "phone 01", "enumerator": "Ilse Varn", "events": []},
    }  # fmt: skip


def test_the_models_are_what_the_migrations_make(store: Store) -> None:
    with store.engine.connect() as connection:
        differences = compare_metadata(MigrationContext.configure(connection), Base.metadata)
    assert differences == []


def test_an_interview_is_kept_byte_for_byte_and_its_receipt_says_so(server: Server) -> None:
    phone = paired(server)
    sent = document(phone)
    receipt = phone.hand_in(sent)
    with server.store.reading() as session:
        kept = session.scalars(select(Interview)).one()
        revision = session.scalars(select(Revision)).one()
    assert json.loads(revision.raw) == sent
    assert (revision.number, revision.hash, revision.waits) == (1, kept.hash, "")
    assert (receipt["hash"], receipt["outcome"], receipt["number"]) == (kept.hash, "arrived", 1)
    assert (kept.minutes, kept.enumerator, kept.hard_findings, kept.differs) == (20.5, "Ilse Varn", 0, False)


def test_a_full_disk_gives_no_receipt_and_the_interview_arrives_once_there_is_room(server: Server) -> None:
    phone = paired(server)
    first, second = document(phone), document(phone, remarks="word " * 4000)
    phone.hand_in(first)
    limited = True

    def limit(connection: Any, *_: Any) -> None:
        # As many pages as there are, and no more: what SQLite says where the disk has no room.
        (pages,) = connection.execute("PRAGMA page_count").fetchone()
        connection.execute(f"PRAGMA max_page_count = {pages if limited else 2**30}")

    event.listen(server.store.engine, "checkout", limit)
    try:
        with pytest.raises(HTTPError) as refused:
            phone.hand_in(second)
        assert (refused.value.code, json.loads(refused.value.read())["code"]) == (507, "disk_full")
        with server.store.reading() as session:
            assert list(session.scalars(select(Interview.uuid))) == [first["uuid"]]
        limited = False
        assert phone.hand_in(second)["outcome"] == "arrived"
    finally:
        event.remove(server.store.engine, "checkout", limit)
    with server.store.reading() as session:
        assert set(session.scalars(select(Interview.uuid))) == {first["uuid"], second["uuid"]}


def test_the_same_interview_ten_times_at_once_is_one_interview(server: Server) -> None:
    phone = paired(server)
    sent = document(phone)
    outcomes: list[str] = []

    def send() -> None:
        outcomes.append(phone.hand_in(sent)["outcome"])

    threads = [threading.Thread(target=send) for _ in range(10)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(outcomes) == ["arrived", *["known"] * 9]
    with server.store.reading() as session:
        assert session.scalar(select(func.count(Interview.id))) == 1


def test_other_content_under_the_same_identity_is_kept_beside_the_first_and_waits(server: Server) -> None:
    phone = paired(server)
    sent = document(phone)
    first = phone.hand_in(sent)
    again = {**sent, "answers": {"consent": False, "remarks": "changed"}}
    assert [phone.hand_in(again)["outcome"] for _ in range(2)] == ["revision", "known"]
    with server.store.reading() as session:
        interview = session.scalars(select(Interview)).one()
        revisions = list(session.scalars(select(Revision).order_by(Revision.number)))
    assert [json.loads(r.raw) for r in revisions] == [sent, again]
    assert (interview.hash, interview.counting, interview.revisions, interview.waiting) == (first["hash"], 1, 2, True)
    assert [r.waits for r in revisions] == ["", "other_content"]


def test_the_office_notices_answers_that_the_device_could_not_have_packed(server: Server) -> None:
    phone = paired(server)
    phone.hand_in(document(phone, island="kesk"))
    phone.hand_in(document(phone, consent=True, workers=60))
    with server.store.reading() as session:
        skipped, broken = session.scalars(select(Interview).order_by(Interview.number))
    assert (skipped.differs, broken.hard_findings > 0) == (True, True)


@pytest.mark.parametrize(
    ("change", "problem", "place"),
    [
        ({"release": "0" * 32}, "unknown_release", "does not have"),
        ({"answers": None}, "wrong_document", "answers"),
        ({"surprise": 1}, "wrong_document", "surprise"),
        ({"format": "skavo-interview-99"}, "newer_format", "newer Skavo"),
        ({"format": "a shopping list"}, "wrong_format", "no interview"),
    ],
)
def test_a_document_that_cannot_be_read_is_kept_with_its_receipt_and_its_reason(
    server: Server, change: dict[str, Any], problem: str, place: str
) -> None:
    phone = paired(server)
    sent = {**document(phone), **change}
    receipt = phone.hand_in(sent)
    with server.store.reading() as session:
        interview = session.scalars(select(Interview)).one()
        revision = session.scalars(select(Revision)).one()
    assert (json.loads(revision.raw), revision.hash) == (sent, receipt["hash"])
    assert (interview.problem, place in interview.problem_at, interview.laid_out) == (problem, True, {})


def test_what_names_another_interview_than_its_address_is_refused(server: Server) -> None:
    phone = paired(server)
    with pytest.raises(urllib.error.HTTPError) as caught:
        phone.hand_in({**document(phone), "uuid": "x"})
    assert "named by a UUID" in json.loads(caught.value.read())["title"]
    with server.store.reading() as session:
        assert session.scalar(select(func.count(Interview.id))) == 0


def test_a_file_is_kept_once_and_damage_is_noticed(tmp_path: Path) -> None:
    name = keep_file(tmp_path, b"table")
    assert keep_file(tmp_path, b"table") == name
    assert read_file(tmp_path, name) == b"table"
    path_of_file(tmp_path, name).write_bytes(b"tabel")
    with pytest.raises(DataError, match="damaged"):
        read_file(tmp_path, name)
    with pytest.raises(DataError, match="64 hexadecimal"):
        read_file(tmp_path, "../../secret")


def test_a_backup_taken_while_interviews_arrive_can_be_restored(server: Server, tmp_path: Path) -> None:
    phone = paired(server)
    receipts = [phone.hand_in(document(phone)) for _ in range(5)]
    sending = threading.Thread(target=lambda: [phone.hand_in(document(phone)) for _ in range(20)])
    sending.start()
    folder = Path(server.store.files).parent
    keep_file(server.store.files, b"an extract")
    assert main(["backup", str(tmp_path / "b.zip"), "--folder", str(folder)]) == 0
    sending.join()
    assert main(["restore", str(tmp_path / "b.zip"), "--folder", str(tmp_path / "again")]) == 0
    again = open_store(tmp_path / "again")
    with again.reading() as session:
        kept = {i.uuid: i.hash for i in session.scalars(select(Interview))}
    assert all(kept[r["uuid"]] == r["hash"] for r in receipts)
    assert [p.read_bytes() for p in again.files.rglob("*") if p.is_file()] == [b"an extract"]


def test_a_restore_never_writes_over_a_store_and_refuses_a_damaged_backup(server: Server, tmp_path: Path) -> None:
    folder = Path(server.store.files).parent
    write_backup(folder, tmp_path / "b.zip")
    with pytest.raises(DataError, match="not empty"):
        restore_backup(tmp_path / "b.zip", folder)
    with zipfile.ZipFile(tmp_path / "b.zip") as good, zipfile.ZipFile(tmp_path / "bad.zip", "w") as bad:
        bad.writestr("backup.json", good.read("backup.json"))
        bad.writestr("skavo.db", good.read("skavo.db")[:-1])
    with pytest.raises(DataError, match=r"skavo\.db"):
        restore_backup(tmp_path / "bad.zip", tmp_path / "new")
    assert not (tmp_path / "new").exists()
