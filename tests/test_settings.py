"""Settings from flags, environment and file, and what the doctor says of them."""

from __future__ import annotations

import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from skavo.core.errors import SkavoError
from skavo.doctor import examine, folder_and_database
from skavo.settings import read_settings
from skavo.store.database import open_store


@pytest.fixture
def file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    for name in [name for name in os.environ if name.startswith("SKAVO_")]:
        monkeypatch.delenv(name)
    path = tmp_path / "skavo.toml"
    path.write_text('port = 1111\nthreads = 3\npublic_address = "https://skavo.example"\n', encoding="utf-8")
    return path


def test_a_flag_goes_before_the_environment_and_that_before_the_file(
    file: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert (read_settings(file).port, read_settings(file).address) == (1111, "https://skavo.example/")
    monkeypatch.setenv("SKAVO_PORT", "2222")
    assert (read_settings(file).port, read_settings(file).threads) == (2222, 3)
    assert read_settings(file, port=3333, host=None).port == 3333


@pytest.mark.parametrize(
    ("written", "words"),
    [
        ('port = "many"', "The setting port is wrong"),
        ("colour = 1", "The setting colour is wrong"),
        ('public_address = "skavo"', "The setting public_address is wrong"),
        ("port = ", "cannot be read"),
    ],
)
def test_a_wrong_setting_is_named(file: Path, written: str, words: str) -> None:
    file.write_text(written, encoding="utf-8")
    with pytest.raises(SkavoError) as raised:
        read_settings(file)
    assert words in raised.value.message


def test_a_file_that_is_named_has_to_be_there(tmp_path: Path) -> None:
    with pytest.raises(SkavoError, match="no file"):
        read_settings(tmp_path / "none.toml")


def told(found: object) -> dict[str, bool]:
    return {finding.what: finding.is_well for finding in found}  # type: ignore[attr-defined]


def test_a_folder_that_is_well_is_told_so_and_one_that_others_may_read_is_not(tmp_path: Path) -> None:
    folder = tmp_path / "store"
    open_store(folder)
    (folder / "secret").write_text("x")
    (folder / "secret").chmod(0o600)
    assert told(folder_and_database(folder)) == {"disk": True, "permissions": True, "database": True}
    (folder / "skavo.db").chmod(0o644)
    assert told(folder_and_database(folder))["permissions"] is False


def test_a_damaged_database_is_told(tmp_path: Path) -> None:
    (tmp_path / "skavo.db").write_bytes(b"SQLite format 3\x00" + b"\xff" * 4096)
    assert told(folder_and_database(tmp_path))["database"] is False


def test_what_does_not_answer_and_what_is_too_old_is_told(tmp_path: Path, file: Path) -> None:
    settings = read_settings(
        file, folder=tmp_path, public_address="http://127.0.0.1:9", mail_host="127.0.0.1", mail_port=9
    )
    backup = tmp_path / "backups" / "1.zip"
    backup.parent.mkdir()
    assert told(examine(settings, backup.parent)) | {"backup": False, "reach": False, "mail": False} == told(
        examine(settings, backup.parent)
    )
    backup.touch()
    assert told(examine(settings, backup.parent))["backup"] is True
    old = (datetime.now(UTC) - timedelta(days=3)).timestamp()
    os.utime(backup, (old, old))
    assert told(examine(settings, backup.parent))["backup"] is False
    assert all(finding.mend for finding in examine(settings, backup.parent) if not finding.is_well)
