"""Backup and restore of the database and the files, as one zip file; the server may go on running.

A backup is written beside its target and renamed when it is whole; a restore is unpacked beside its folder and renamed
when every file is there and is what the backup says. Whatever kills either leaves what was there before.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import IO

from skavo.core.documents import Document, Format
from skavo.core.errors import DataError
from skavo.store.files import hash_on_disk, sync

_INDEX = "backup.json"
_PIECE = 1 << 20


def _with_files(index: Document) -> Document:
    """Version 2 says when it was made; version 1 held nothing but the hashes by name."""
    return {"files": index, "made": None}


BACKUP = Format("backup", (_with_files,), unmarked=1)


def write_backup(folder: Path, target: Path) -> int:
    """Write the store in `folder` to the zip file `target`, in a folder that is made if need be; return the number of
    files in it."""
    source = folder / "skavo.db"
    if not source.exists():
        raise DataError("no_database", f"There is no database in {folder.name}.", {})
    half = target.with_name(f"{target.name}.half")
    try:
        target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        with tempfile.TemporaryDirectory(dir=folder) as scratch:
            index = _write(half, _still(source, Path(scratch)), folder)
        os.replace(half, target)
        sync(target.parent)
    except OSError as error:
        half.unlink(missing_ok=True)
        raise DataError(
            "cannot_write", f"The backup could not be written: {error.strerror}. {target.name} is as it was."
        ) from None
    return len(index)


def _still(source: Path, scratch: Path) -> Path:
    """A copy of the database as it is at one moment."""
    copy = scratch / "skavo.db"
    with sqlite3.connect(source) as live, sqlite3.connect(copy) as still:
        live.backup(still)
    return copy


def _write(half: Path, database: Path, folder: Path) -> dict[str, str]:
    index: dict[str, str] = {}
    with half.open("wb") as raw:
        with zipfile.ZipFile(raw, "w", zipfile.ZIP_DEFLATED) as out:
            for path, name in [(database, "skavo.db"), *_files_below(folder)]:
                with path.open("rb") as content, out.open(name, "w", force_zip64=True) as packed:
                    index[name] = _copied(content, packed)
            about = BACKUP.write({"made": datetime.now(UTC).isoformat(timespec="seconds"), "files": index})
            out.writestr(_INDEX, json.dumps(about, indent=1))
        raw.flush()
        os.fsync(raw.fileno())
    return index


def _files_below(folder: Path) -> Iterator[tuple[Path, str]]:
    """The files that are whole; those still arriving are sent again."""
    files = folder / "files"
    for path in sorted(files.rglob("*")):
        if path.is_file() and len(path.name) == 64:
            yield path, f"files/{path.relative_to(files)}"


def _copied(source: IO[bytes], target: IO[bytes]) -> str:
    digest = hashlib.sha256()
    while piece := source.read(_PIECE):
        digest.update(piece)
        target.write(piece)
    return digest.hexdigest()


def half_of(folder: Path) -> Path:
    """Where a restore into `folder` stands while it is not whole."""
    return folder.with_name(f"{folder.name}.restoring")


def restore_backup(source: Path, folder: Path) -> int:
    """Unpack a backup into the new `folder`; return the number of files.

    One that broke off goes on where it was. Raise DataError where the backup is damaged, and for a folder in use.
    """
    if folder.exists() and any(folder.iterdir()):
        raise DataError("not_empty", f"{folder.name} is not empty: a restore never writes over a store.", {})
    if not zipfile.is_zipfile(source):
        raise DataError("not_a_backup", f"{source.name} is not a backup of Skavo, or not a whole one.", {})
    with zipfile.ZipFile(source) as packed:
        index = _index_of(source, packed)
        half = half_of(folder)
        _same_backup(half, index)
        _has_room(half, packed)
        for name, digest in index.items():
            _unpack(packed, name, digest, half / name)
    _sync_all(half)
    (half / _INDEX).unlink()
    if folder.exists():
        folder.rmdir()
    os.replace(half, folder)
    sync(folder.parent)
    return len(index)


def _index_of(source: Path, packed: zipfile.ZipFile) -> dict[str, str]:
    names = set(packed.namelist())
    if _INDEX not in names:
        raise DataError("not_a_backup", f"{source.name} is not a backup of Skavo.", {})
    index: dict[str, str] = BACKUP.read(json.loads(packed.read(_INDEX)))["files"]
    for name in index:
        if name not in names or name.startswith("/") or ".." in Path(name).parts:
            raise DataError("damaged_backup", f"{name} is missing from the backup or was damaged.", {"file": name})
    return index


def _same_backup(half: Path, index: dict[str, str]) -> None:
    """Go on only with what this very backup has left; what another one left is cleared away."""
    told = json.dumps(index)
    if half.exists() and (not (half / _INDEX).exists() or (half / _INDEX).read_text(encoding="utf-8") != told):
        shutil.rmtree(half)
    half.mkdir(parents=True, exist_ok=True)
    (half / _INDEX).write_text(told, encoding="utf-8")


def _has_room(half: Path, packed: zipfile.ZipFile) -> None:
    there = sum(path.stat().st_size for path in half.rglob("*") if path.is_file())
    needed = sum(entry.file_size for entry in packed.infolist()) - there
    free = shutil.disk_usage(half).free
    if needed > free:
        raise DataError("no_room", f"The restore needs {needed >> 20} MB more; {free >> 20} MB are free.")


def _unpack(packed: zipfile.ZipFile, name: str, digest: str, target: Path) -> None:
    if target.exists() and hash_on_disk(target) == digest:
        return
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        with packed.open(name) as content, target.open("wb") as out:
            found = _copied(content, out)
    except zipfile.BadZipFile:
        found = ""
    if found != digest:
        target.unlink(missing_ok=True)
        raise DataError("damaged_backup", f"{name} is missing from the backup or was damaged.", {"file": name})


def _sync_all(folder: Path) -> None:
    for path in [folder, *folder.rglob("*")]:
        sync(path)


def refuse_half_restored(folder: Path) -> None:
    """Raise DataError where a restore into `folder` broke off: a store that is half there must not be begun afresh."""
    if half_of(folder).exists() and not (folder / "skavo.db").exists():
        message = f"A restore into {folder.name} broke off. Run it again: it goes on where it was."
        raise DataError("half_restored", message, {})
