"""What stands in the way of a server's work, said in words: `skavo doctor` and /healthz."""

from __future__ import annotations

import shutil
import smtplib
import sqlite3
import stat
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from email.utils import parsedate_to_datetime
from pathlib import Path

from skavo.formats.paper.write import PANGO, can_print
from skavo.settings import Settings

_LEAST_FREE = 2 << 30
_SECONDS = 5
_CLOCK_MAY_DIFFER = timedelta(minutes=2)
_BACKUP_AGE = timedelta(days=2)


@dataclass(frozen=True)
class Finding:
    """One thing that was looked at. `mend` says what to do where it is not well."""

    what: str
    is_well: bool
    words: str
    mend: str = ""


def examine(settings: Settings, backups: Path | None = None) -> list[Finding]:
    """Everything that can be looked at from this machine; `backups` is the folder that backups are written to."""
    looks: list[Callable[[], Iterator[Finding]]] = [
        lambda: folder_and_database(settings.folder), lambda: _address(settings), lambda: _mail(settings),
        _paper,
    ]  # fmt: skip
    found = [finding for look in looks for finding in look()]
    return found + ([_backup(backups)] if backups is not None else [])


def folder_and_database(folder: Path) -> Iterator[Finding]:
    """Disk, permissions and database: what the server itself can tell at any time."""
    if not folder.exists():
        yield Finding("folder", False, f"{folder} does not exist.", "Start `skavo serve` once; it makes the folder.")
        return
    free = shutil.disk_usage(folder).free
    yield Finding(
        "disk", free >= _LEAST_FREE, f"{free / 2**30:.1f} GB are free.",
        f"Make room: below {_LEAST_FREE >> 30} GB interviews with photos soon find no place.",
    )  # fmt: skip
    yield _permissions(folder)
    database = folder / "skavo.db"
    if database.exists():
        yield _database(database)


def _paper() -> Iterator[Finding]:
    is_well = can_print()
    words = "Questionnaires can be printed." if is_well else "Questionnaires cannot be printed: Pango is not here."
    yield Finding("paper", is_well, words, PANGO)


def _permissions(folder: Path) -> Finding:
    open_to_all = [
        path.name for path in (folder, folder / "skavo.db", folder / "secret")
        if path.exists() and path.stat().st_mode & (stat.S_IRWXG | stat.S_IRWXO)
    ]  # fmt: skip
    return Finding(
        "permissions", not open_to_all,
        "Only the server's own user may read what is kept." if not open_to_all
        else f"Others on this machine may read: {', '.join(open_to_all)}.",
        f"chmod -R go= {folder}",
    )  # fmt: skip


def _database(path: Path) -> Finding:
    try:
        with sqlite3.connect(f"file:{path}?mode=ro", uri=True, timeout=_SECONDS) as database:
            said = database.execute("PRAGMA quick_check(1)").fetchone()[0]
    except sqlite3.Error as error:
        said = type(error).__name__
    return Finding(
        "database", said == "ok", "The database is whole." if said == "ok" else f"The database is damaged ({said}).",
        "Stop the server and restore the newest backup into a new folder: skavo restore FILE --folder NEW",
    )  # fmt: skip


def _address(settings: Settings) -> Iterator[Finding]:
    address = settings.address
    if not address:
        yield Finding(
            "address", False, "No public address is set: pairing shows whatever address the desk was opened with.",
            'Set public_address = "https://…" in skavo.toml.',
        )  # fmt: skip
        return
    if not address.startswith("https://"):
        yield Finding(
            "address", False, f"{address} is not encrypted; phones keep nothing for work without a network there.",
            "Put a proxy with a certificate before it; docs/server.md shows one.",
        )  # fmt: skip
    try:
        with urllib.request.urlopen(f"{address}healthz", timeout=_SECONDS) as answer:
            there = answer.headers.get("Date")
    except (OSError, urllib.error.URLError) as error:
        yield Finding(
            "reach", False, f"{address} does not answer from here ({type(error).__name__}).",
            "Is the proxy running, and does the name lead to this machine?",
        )  # fmt: skip
        return
    yield Finding("reach", True, f"{address} answers.")
    apart = abs(datetime.now(UTC) - parsedate_to_datetime(there)) if there else timedelta()
    yield Finding(
        "clock", apart <= _CLOCK_MAY_DIFFER, f"This machine's clock is {apart.total_seconds():.0f} s from the proxy's.",
        "Set the clock by the network: timedatectl set-ntp true",
    )  # fmt: skip


def _mail(settings: Settings) -> Iterator[Finding]:
    if not settings.mail_host:
        yield Finding("mail", True, "No mail server is set: links are shown, to be handed on.")
        return
    try:
        with smtplib.SMTP(settings.mail_host, settings.mail_port, timeout=_SECONDS) as server:
            server.noop()
    except (OSError, smtplib.SMTPException) as error:
        yield Finding(
            "mail", False, f"{settings.mail_host}:{settings.mail_port} takes no letters ({type(error).__name__}).",
            "Look at mail_host and mail_port, and whether this machine may reach it.",
        )  # fmt: skip
        return
    yield Finding("mail", True, f"{settings.mail_host} takes letters.")


def _backup(folder: Path) -> Finding:
    made = max((path.stat().st_mtime for path in folder.glob("*.zip")), default=None) if folder.exists() else None
    mend = "Let `skavo backup` run every night; docs/server.md shows a timer."
    if made is None:
        return Finding("backup", False, f"There is no backup in {folder}.", mend)
    age = datetime.now(UTC) - datetime.fromtimestamp(made, UTC)
    return Finding(
        "backup", age <= _BACKUP_AGE, f"The newest backup is {age.total_seconds() / 3600:.0f} hours old.", mend
    )
