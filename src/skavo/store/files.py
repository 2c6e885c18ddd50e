"""Files named by the SHA-256 of their content, so that the same content is kept once.

What is kept is on the disk before its name is given away: the content and the folder are synced, and a file that was
there already is read again before it is confirmed.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from skavo.core.errors import DataError

# The folder, beside the files, of those that have not arrived whole.
ARRIVING = "arriving"
_PIECE = 1 << 20


def keep_file(folder: Path, content: bytes) -> str:
    """Write `content` durably and return its hash; a file that is there already, and whole, is left alone."""
    name = hashlib.sha256(content).hexdigest()
    target = path_of_file(folder, name)
    if target.exists() and hash_on_disk(target) == name:
        return name
    target.parent.mkdir(parents=True, exist_ok=True)
    half = tempfile.NamedTemporaryFile(dir=target.parent, delete=False)  # noqa: SIM115
    try:
        with half:
            half.write(content)
            half.flush()
            os.fsync(half.fileno())
        _put_in_place(Path(half.name), target)
    except BaseException:
        Path(half.name).unlink(missing_ok=True)
        raise
    return name


def keep_path(folder: Path, path: Path) -> str:
    """The same for a file that lies elsewhere, however large; it is copied, and stays where it lies."""
    name = hash_on_disk(path)
    target = path_of_file(folder, name)
    if target.exists() and hash_on_disk(target) == name:
        return name
    target.parent.mkdir(parents=True, exist_ok=True)
    half = tempfile.NamedTemporaryFile(dir=target.parent, delete=False)  # noqa: SIM115
    try:
        with half, path.open("rb") as content:
            shutil.copyfileobj(content, half, _PIECE)
            half.flush()
            os.fsync(half.fileno())
        _put_in_place(Path(half.name), target)
    except BaseException:
        Path(half.name).unlink(missing_ok=True)
        raise
    return name


def read_file(folder: Path, name: str) -> bytes:
    """The content of a file; raise DataError if it is missing or was damaged."""
    content = sound_file(folder, name).read_bytes()
    if hashlib.sha256(content).hexdigest() != name:
        raise DataError("file_damaged", "This file was damaged on disk. Restore it from a backup.", {"hash": name})
    return content


def sound_file(folder: Path, name: str) -> Path:
    """Where a file lies; raise DataError if it is missing."""
    target = path_of_file(folder, name)
    if not target.exists():
        raise DataError(
            "file_missing", "This file is no longer in the store. Restore it from a backup.", {"hash": name}
        )
    return target


def path_of_file(folder: Path, name: str) -> Path:
    if len(name) != 64 or not all(c in "0123456789abcdef" for c in name):
        raise DataError("no_such_file", "A file is named by 64 hexadecimal digits.")
    return folder / name[:2] / name


def hash_on_disk(path: Path) -> str:
    """The SHA-256 of what the disk gives back, in hexadecimal."""
    with path.open("rb") as content:
        return hashlib.file_digest(content, "sha256").hexdigest()


def _put_in_place(half: Path, target: Path) -> None:
    os.replace(half, target)
    for folder in (target.parent, target.parent.parent):
        sync(folder)


def sync(path: Path) -> None:
    """Make a file, or the names in a folder, last: without it a power cut may leave a content without its name."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


class Upload:
    """A file that arrives in pieces, whoever sends it and however often it breaks off.

    Pieces are kept beside the store under the sender's name and the file's hash; `received` bytes are on the disk.
    """

    def __init__(self, folder: Path, sender: str, name: str) -> None:
        self.target = path_of_file(folder, name)
        self.name = name
        self._partial = folder / ARRIVING / f"{sender}-{name}"

    @property
    def received(self) -> int:
        return self._partial.stat().st_size if self._partial.exists() else 0

    def is_whole(self) -> bool:
        """Whether the file is in the store, read back from the disk and found to be what its name says."""
        return self.target.exists() and hash_on_disk(self.target) == self.name

    def forget(self) -> None:
        """Drop what has arrived so far: it is sent from its beginning."""
        self._partial.unlink(missing_ok=True)

    def append(self, start: int, content: IO[bytes], most: int) -> int:
        """Write a piece that begins at `start` and return how much is there now.

        Raise DataError where the piece does not follow what is there, is sent twice at once, or goes beyond `most`.
        """
        self._partial.parent.mkdir(parents=True, exist_ok=True)
        with self._partial.open("ab") as half, _alone(half):
            there = half.tell()
            if start != there:
                raise DataError(
                    "wrong_place", f"The piece begins at {start}; {there} bytes are here.", {"received": there}
                )
            while piece := content.read(_PIECE):
                if half.tell() + len(piece) > most:
                    half.truncate(there)
                    raise DataError("file_too_large", f"The file is larger than {most >> 20} MB.")
                half.write(piece)
            half.flush()
            os.fsync(half.fileno())
            return half.tell()

    @property
    def lies_at(self) -> Path:
        """Where what has arrived lies, for what is used and not kept."""
        return self._partial

    def finish(self) -> None:
        """Move what arrived into the store; raise DataError, and forget it, where it is not what its name says."""
        if hash_on_disk(self._partial) != self.name:
            self._partial.unlink()
            raise DataError("wrong_document", "The file changed on its way. It is sent again.")
        self.target.parent.mkdir(parents=True, exist_ok=True)
        _put_in_place(self._partial, self.target)


@contextmanager
def _alone(file: IO[bytes]) -> Iterator[None]:
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        raise DataError("upload_busy", "This file is being sent already. Wait for it.") from None
    file.seek(0, os.SEEK_END)
    yield
