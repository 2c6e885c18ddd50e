"""Backup and restore of the database and the files, as one zip file; the server may go on running."""

from __future__ import annotations

import hashlib
import json
import os
import sqlite3
import tempfile
import zipfile
from pathlib import Path

from skavo.core.errors import DataError

_INDEX = "backup.json"


def write_backup(folder: Path, target: Path) -> int:
    """Write the store in `folder` to the zip file `target`; return the number of files in it."""
    source = folder / "skavo.db"
    if not source.exists():
        raise DataError("no_database", f"There is no database in {folder.name}.", {})
    index: dict[str, str] = {}
    with tempfile.TemporaryDirectory(dir=folder) as scratch, zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as out:
        copy = Path(scratch) / "skavo.db"
        with sqlite3.connect(source) as live, sqlite3.connect(copy) as still:
            live.backup(still)
        for path, name in [(copy, "skavo.db"), *_files_below(folder)]:
            content = path.read_bytes()
            index[name] = hashlib.sha256(content).hexdigest()
            out.writestr(name, content)
        out.writestr(_INDEX, json.dumps(index, indent=1))
    return len(index)


def _files_below(folder: Path) -> list[tuple[Path, str]]:
    files = folder / "files"
    return [(p, f"files/{p.relative_to(files)}") for p in sorted(files.rglob("*")) if p.is_file()]


def restore_backup(source: Path, folder: Path) -> int:
    """Unpack a backup into the new `folder`; nothing is written unless every file is whole."""
    if folder.exists() and any(folder.iterdir()):
        raise DataError("not_empty", f"{folder.name} is not empty: a restore never writes over a store.", {})
    if not zipfile.is_zipfile(source):
        raise DataError("not_a_backup", f"{source.name} is not a backup of Skavo.", {})
    with zipfile.ZipFile(source) as packed:
        names = packed.namelist()
        if _INDEX not in names:
            raise DataError("not_a_backup", f"{source.name} is not a backup of Skavo.", {})
        index: dict[str, str] = json.loads(packed.read(_INDEX))
        for name, digest in index.items():
            safe = name in names and not name.startswith("/") and ".." not in Path(name).parts
            if not safe or hashlib.sha256(packed.read(name)).hexdigest() != digest:
                raise DataError("damaged_backup", f"{name} is missing from the backup or was damaged.", {"file": name})
        for name in index:
            target = folder / name
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(packed.read(name))
            os.utime(target)
    return len(index)
