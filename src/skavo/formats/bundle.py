"""The bundle of a phone: all that it carries in one zip file, for when it cannot hand in.

`bundle.json` is {format, device, enumerator, made, entries: {name: SHA-256}}; `interviews/UUID.json` are documents as
they are handed in, `files/UUID/HASH` the files that belong to them.
"""

from __future__ import annotations

import hashlib
import json
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from skavo.core.documents import Format
from skavo.core.errors import DataError

BUNDLE = Format("bundle")
_INDEX = "bundle.json"
_MOST_ENTRIES = 20_000
_MOST_INTERVIEW = 20 << 20
_UUID = r"[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}"
_INTERVIEW = re.compile(rf"interviews/({_UUID})\.json")
_FILE = re.compile(rf"files/({_UUID})/(?:([a-z]+)-)?([0-9a-f]{{64}})")


@dataclass(frozen=True)
class Bundle:
    """A bundle that was found to be whole: every entry is what its index says."""

    device: str
    enumerator: str
    packed: zipfile.ZipFile

    def interviews(self) -> Iterator[tuple[str, bytes]]:
        """UUID and document of each interview."""
        for name in self.packed.namelist():
            match = _INTERVIEW.fullmatch(name)
            if match is not None:
                yield match[1], self.packed.read(name)

    def files(self) -> Iterator[tuple[str, str, str, IO[bytes]]]:
        """UUID of the interview, kind of the question, hash and content of each file."""
        for name in self.packed.namelist():
            match = _FILE.fullmatch(name)
            if match is not None:
                with self.packed.open(name) as content:
                    yield match[1], match[2] or "file", match[3], content


def open_bundle(path: Path) -> Bundle:
    """The bundle in a file; raise DataError where it is none, or where anything of it is damaged or missing."""
    if not zipfile.is_zipfile(path):
        raise DataError("not_a_bundle", "This is no whole file from a phone. Copy it from the phone again.")
    packed = zipfile.ZipFile(path)
    names = packed.namelist()
    if _INDEX not in names or len(names) > _MOST_ENTRIES:
        raise DataError("not_a_bundle", "This is no file from a phone: it has no list of what it holds.")
    try:
        index = BUNDLE.read(json.loads(packed.read(_INDEX)))
        entries: dict[str, str] = dict(index["entries"])
    except (ValueError, KeyError, TypeError):
        raise DataError("not_a_bundle", "The list of what the file holds cannot be read.") from None
    for name, digest in entries.items():
        if name not in names or _digest(packed, name) != digest:
            raise DataError("damaged_bundle", f"{name} is missing or was damaged on the way. Copy the file again.")
    return Bundle(str(index.get("device", "")), str(index.get("enumerator", "")), packed)


def _digest(packed: zipfile.ZipFile, name: str) -> str:
    if _INTERVIEW.fullmatch(name) and packed.getinfo(name).file_size > _MOST_INTERVIEW:
        return ""
    digest = hashlib.sha256()
    try:
        with packed.open(name) as content:
            while piece := content.read(1 << 20):
                digest.update(piece)
    except zipfile.BadZipFile:
        return ""
    return digest.hexdigest()
