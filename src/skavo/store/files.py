"""Files named by the SHA-256 of their content, so that the same content is kept once."""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path

from skavo.core.errors import DataError


def keep_file(folder: Path, content: bytes) -> str:
    """Write `content` durably and return its hash; a file that is there already is left alone."""
    name = hashlib.sha256(content).hexdigest()
    target = path_of_file(folder, name)
    if target.exists():
        return name
    target.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.NamedTemporaryFile(dir=target.parent, delete=False) as half:
        half.write(content)
        half.flush()
        os.fsync(half.fileno())
    os.replace(half.name, target)
    return name


def read_file(folder: Path, name: str) -> bytes:
    """The content of a file; raise DataError if it is missing or was damaged."""
    target = path_of_file(folder, name)
    if not target.exists():
        raise DataError(
            "file_missing", "This file is no longer in the store. Restore it from a backup.", {"hash": name}
        )
    content = target.read_bytes()
    if hashlib.sha256(content).hexdigest() != name:
        raise DataError("file_damaged", "This file was damaged on disk. Restore it from a backup.", {"hash": name})
    return content


def path_of_file(folder: Path, name: str) -> Path:
    if len(name) != 64 or not all(c in "0123456789abcdef" for c in name):
        raise DataError("no_such_file", "A file is named by 64 hexadecimal digits.")
    return folder / name[:2] / name
