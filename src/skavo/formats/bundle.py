"""The bundle of a phone: all that it carries in one zip file, for when it cannot hand in; sealed since version 2.

`bundle.json` is {format, device, enumerator, made, entries: {name: SHA-256}} and, of a sealed one, {study_key, key,
generation, open_key, interviews: {UUID: what anyone may know of it}}: `key` opens the rest and is itself wrapped for the
study's public key, which `study_key` tells by its fingerprint; `open_key` is the same in the open, where the phone has
never heard the office. `interviews/UUID.json` are documents as they are handed in, `files/UUID/KIND-HASH` the files that
belong to them; sealed, they end on `.sealed`, and what an interview is called lies in `interviews/UUID.name`.
"""

from __future__ import annotations

import hashlib
import io
import json
import re
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from skavo.core.documents import Document, Format
from skavo.core.errors import DataError

Unseal = Callable[[bytes], bytes]


def _in_the_open(bundle: Document) -> Document:
    """Version 2 is sealed; what came before was not."""
    return {**bundle, "study_key": "", "key": "", "generation": 0, "open_key": "", "interviews": {}}


BUNDLE = Format("bundle", (_in_the_open,))
RECEIPTS = Format("receipts")
_INDEX = "bundle.json"
_MOST_ENTRIES = 20_000
_MOST_INTERVIEW = 20 << 20
# A sealed piece is a byte for the generation of its key, 12 for the nonce, a MiB at most, and 16 for the tag.
_PIECE = 1 + 12 + (1 << 20) + 16
_UUID = r"[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}"
_INTERVIEW = re.compile(rf"interviews/({_UUID})\.(json|sealed)")
_FILE = re.compile(rf"files/({_UUID})/(?:([a-z]+)-)?([0-9a-f]{{64}})(\.sealed)?")


@dataclass(frozen=True)
class Seal:
    """What opens a bundle: `wrapped` for the key of the study that `study_key` tells (base64), or `plain`, "" for none."""

    study_key: str
    wrapped: str
    plain: str
    generation: int


@dataclass(frozen=True)
class InHand:
    """An interview that was not packed: what anyone may know of it, what it is called, and what was answered so far."""

    head: dict[str, Any]
    name: dict[str, Any]
    content: dict[str, Any]


@dataclass(frozen=True)
class Bundle:
    """A bundle that was found to be whole: every entry is what its index says."""

    device: str
    enumerator: str
    packed: zipfile.ZipFile
    seal: Seal | None
    heads: dict[str, dict[str, Any]]

    def interviews(self, unseal: Unseal | None = None) -> Iterator[tuple[str, bytes | InHand]]:
        """UUID of each interview, and its document as it was packed, or what there is of it."""
        for name in self.packed.namelist():
            match = _INTERVIEW.fullmatch(name)
            if match is None:
                continue
            raw = self.packed.read(name)
            yield match[1], raw if match[2] == "json" or unseal is None else self._opened(match[1], raw, unseal)

    def _opened(self, uuid: str, sealed: bytes, unseal: Unseal) -> bytes | InHand:
        try:
            content = json.loads(unseal(sealed))
            if isinstance(content.get("raw"), str):
                return str(content["raw"]).encode()
            name = json.loads(unseal(self.packed.read(f"interviews/{uuid}.name")))
            return InHand(self.heads[uuid], name, content)
        except (ValueError, KeyError, AttributeError):
            raise DataError("damaged_bundle", f"The interview {uuid} cannot be read. Copy the file again.") from None

    def files(self, unseal: Unseal | None = None) -> Iterator[tuple[str, str, str, IO[bytes]]]:
        """UUID of the interview, kind of the question, hash and content of each file."""
        for name in self.packed.namelist():
            match = _FILE.fullmatch(name)
            if match is not None:
                with self.packed.open(name) as content:
                    plain = content if match[4] is None or unseal is None else _Unsealed(content, unseal)
                    yield match[1], match[2] or "file", match[3], plain


class _Unsealed(io.RawIOBase, IO[bytes]):
    """A sealed file as it was, read piece by piece."""

    def __init__(self, sealed: IO[bytes], unseal: Unseal) -> None:
        self._sealed, self._unseal, self._left = sealed, unseal, b""

    def readable(self) -> bool:
        return True

    def read(self, size: int = -1) -> bytes:
        while size < 0 or len(self._left) < size:
            piece = self._sealed.read(_PIECE)
            if not piece:
                break
            self._left += self._unseal(piece)
        size = len(self._left) if size < 0 else size
        taken, self._left = self._left[:size], self._left[size:]
        return taken


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
        heads: dict[str, dict[str, Any]] = dict(index.get("interviews", {}))
        is_sealed = any(name.endswith(".sealed") for name in entries)
        seal = (
            Seal(index["study_key"], index["key"], index["open_key"], int(index["generation"])) if is_sealed else None
        )
    except (ValueError, KeyError, TypeError):
        raise DataError("not_a_bundle", "The list of what the file holds cannot be read.") from None
    for name, digest in entries.items():
        if name not in names or _digest(packed, name) != digest:
            raise DataError("damaged_bundle", f"{name} is missing or was damaged on the way. Copy the file again.")
    return Bundle(str(index.get("device", "")), str(index.get("enumerator", "")), packed, seal, heads)


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
