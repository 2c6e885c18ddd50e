"""docs/server.md, followed: its settings, its unit, its nightly backup, as far as that goes without a machine of its own."""

from __future__ import annotations

import configparser
import json
import re
import shlex
import shutil
import subprocess
import sys
import time
import tomllib
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest

from skavo.settings import Settings, read_settings

PAGE = (Path(__file__).parents[1] / "docs" / "server.md").read_text(encoding="utf-8")
SKAVO = "/srv/skavo/skavo/.venv/bin/skavo"
CRON = re.search(r"^30 2 \* \* \* skavo (.*)$", PAGE, re.MULTILINE)
DOCTOR = re.search(rf"^sudo -u skavo ({re.escape(SKAVO)} doctor .*)$", PAGE, re.MULTILINE)


def block(language: str, holding: str) -> str:
    """The block of the page in a language that holds some words."""
    found = [b for b in re.findall(rf"```{language}\n(.*?)```", PAGE, re.DOTALL) if holding in b]
    assert len(found) == 1
    text: str = found[0]
    return text


@pytest.fixture
def machine(tmp_path: Path) -> Path:
    """A folder that stands for the machine, with the settings of the page."""
    home = tmp_path / "srv" / "skavo"
    home.mkdir(parents=True)
    written = block("toml", "folder").replace("/srv/", f"{tmp_path}/srv/").replace("port = 8060", "port = 0", 1)
    (home / "skavo.toml").write_text(written, encoding="utf-8")
    return tmp_path


def here(command: str, machine: Path) -> list[str]:
    """A command of the page, with this Python and this machine instead of its own."""
    words = shlex.split(command.replace("/srv/", f"{machine}/srv/").replace("$(date +\\%u)", "4"))
    assert words[0] == f"{machine}{SKAVO}"
    return [sys.executable, "-c", "import sys; from skavo.cli import main; sys.exit(main())", *words[1:]]


@pytest.fixture
def served(machine: Path) -> Iterator[tuple[str, str]]:
    """The server as the unit starts it: where it listens, and what it said."""
    unit = configparser.ConfigParser()
    unit.optionxform = str  # type: ignore[assignment, method-assign]
    unit.read_string(block("ini", "ExecStart"))
    log = machine / "log"
    with log.open("wb") as out:
        process = subprocess.Popen(here(unit["Service"]["ExecStart"], machine), stdout=out, stderr=out)
    try:
        deadline = time.monotonic() + 60
        while "code" not in log.read_text() and time.monotonic() < deadline:
            assert process.poll() is None, log.read_text()
            time.sleep(0.1)
        yield log.read_text(), str(process.pid)
    finally:
        process.terminate()
        process.wait()


def test_the_settings_are_those_of_skavo(machine: Path) -> None:
    settings = read_settings(machine / "srv" / "skavo" / "skavo.toml")
    assert (settings.address, settings.trusted_proxies, settings.mail_starttls) == (
        "https://skavo.example.org/", 1, True,
    )  # fmt: skip
    named = tomllib.loads(block("toml", "folder"))
    assert {*named} <= {*Settings.model_fields}
    proxied = re.search(r"reverse_proxy 127\.0\.0\.1:(\d+)", PAGE)
    assert proxied is not None and int(proxied.group(1)) == named["port"]


def test_the_server_starts_as_the_unit_says_and_tells_the_first_code(served: tuple[str, str], machine: Path) -> None:
    said, _ = served
    assert "on https://skavo.example.org/" in said
    assert re.search(r"begin with the code [A-Z0-9]{4}-[A-Z0-9]{4}$", said.strip(), re.MULTILINE)
    data = machine / "srv" / "skavo" / "data"
    assert (data / "skavo.db").exists() and data.stat().st_mode & 0o077 == 0


def test_the_nightly_backup_is_written_found_by_the_doctor_and_restored(served: tuple[str, str], machine: Path) -> None:
    assert CRON is not None and DOCTOR is not None
    before = subprocess.run(here(DOCTOR.group(1), machine), capture_output=True, text=True)
    assert re.search(r"^ILL +backup +There is no backup", before.stdout, re.MULTILINE)
    subprocess.run(here(CRON.group(1), machine), check=True, capture_output=True)
    backups = machine / "srv" / "skavo" / "backups"
    assert (backups / "4.zip").exists() and backups.stat().st_mode & 0o077 == 0
    after = subprocess.run(here(DOCTOR.group(1), machine), capture_output=True, text=True)
    told = dict(re.findall(r"^(?:well|ILL) +(\w+) +(.*)$", after.stdout, re.MULTILINE))
    well = set(re.findall(r"^well +(\w+)", after.stdout, re.MULTILINE))
    assert {"backup", "database", "permissions"} <= well, told
    # Nobody answers under the page's example names, and the doctor says so instead of passing over it.
    assert {"reach", "mail"} <= {*told} - well
    again = machine / "again"
    restore = f"{SKAVO} restore /srv/skavo/backups/4.zip --folder {again}"
    subprocess.run(here(restore, machine), check=True, capture_output=True)
    assert (again / "skavo.db").exists()


def test_health_tells_a_monitor(machine: Path) -> None:
    from skavo.server import Server

    server = Server(machine / "data", "127.0.0.1", 0)
    server.start()
    try:
        with urllib.request.urlopen(f"{server.address}healthz") as answer:
            assert json.load(answer) == {"well": True, "problems": []}
    except urllib.error.HTTPError as error:
        raise AssertionError(error.read()) from None
    finally:
        server.stop()


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="no systemd on this machine")
def test_the_unit_is_one_that_systemd_takes(tmp_path: Path) -> None:
    unit = tmp_path / "skavo.service"
    unit.write_text(block("ini", "ExecStart").replace(SKAVO, "/bin/true").replace("User=skavo", "User=root"))
    verified = subprocess.run(["systemd-analyze", "verify", str(unit)], capture_output=True, text=True)
    assert [line for line in verified.stderr.splitlines() if "skavo.service" in line] == []
