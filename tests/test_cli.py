"""The command line, as somebody without a browser uses it."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from sqlalchemy import func, select

from skavo import __version__
from skavo.cli import main
from skavo.store.database import open_store
from skavo.store.models import Device, Interview, OutsideTable, Person, PlanStep, SavedTable


def test_the_version_is_told(capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit):
        main(["--version"])
    assert capsys.readouterr().out.strip() == __version__


def test_an_administrator_is_added_with_a_passphrase_that_is_not_guessed(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    command = ["add-administrator", "Ada", "Ada Lorn", "--folder", str(tmp_path)]
    monkeypatch.setattr("sys.stdin", io.StringIO("short\n"))
    assert main(command) == 2
    assert "at least 12 characters" in capsys.readouterr().err
    monkeypatch.setattr("sys.stdin", io.StringIO("wells under the tarn\n"))
    assert main(command) == 0
    with open_store(tmp_path).reading() as session:
        person = session.scalars(select(Person)).one()
    assert (person.login, person.is_administrator) == ("ada", True)
    assert "wells" not in person.password_hash


def test_the_demo_is_made_once_and_holds_what_it_promises(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    command = ["demo", "--folder", str(tmp_path), "--port", "0", "--only-make", "--interviews", "24"]
    assert main(command) == 0
    told = capsys.readouterr().out
    assert "data manager" in told and "ostrel-isles" in told
    store = open_store(tmp_path)
    with store.reading() as session:
        counts = {
            table.__name__: session.scalar(select(func.count()).select_from(table))
            for table in (Interview, Device, OutsideTable, SavedTable)
        }
        steps = list(session.scalars(select(PlanStep)))
        differing = session.scalar(select(func.count()).where(Interview.differs.is_(True)))
    assert counts == {"Interview": 24, "Device": 8, "OutsideTable": 1, "SavedTable": 2}
    assert {"recode", "mark_missing"} <= {step.body["kind"] for step in steps}
    assert differing == 0
    assert main(command) == 0
    assert "Making" not in capsys.readouterr().out


def test_backing_up_a_folder_without_a_store_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["backup", str(tmp_path / "b.zip"), "--folder", str(tmp_path)]) == 2
    assert "no database" in capsys.readouterr().err


def test_restoring_what_is_no_backup_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "b.zip").write_bytes(b"nothing")
    assert main(["restore", str(tmp_path / "b.zip"), "--folder", str(tmp_path / "new")]) == 2
    assert "not a backup" in capsys.readouterr().err


def test_checking_a_file_that_is_not_there_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", str(tmp_path / "q.xlsx")]) == 2
    assert "There is no file q.xlsx." in capsys.readouterr().err
