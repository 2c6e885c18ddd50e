"""Files that come whole or in pieces (Content-Range, RFC 9110 § 14.4), from phones and through links."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import Literal, TypeVar

from flask import request
from pydantic import BaseModel, ConfigDict, Field

from skavo.core.errors import SkavoError
from skavo.store.files import Upload
from skavo.web.guard import caller
from skavo.web.problems import Problem
from skavo.web.routing import store
from skavo.web.shapes import StudyPath

Taken = TypeVar("Taken")
MOST_FILE_BYTES = {"signature": 5 << 20, "photo": 40 << 20, "audio": 200 << 20, "file": 200 << 20, "video": 2 << 30}


class FileQuery(BaseModel):
    """`kind` is that of the question that asks for the file."""

    kind: Literal["photo", "audio", "video", "file", "signature"] = "file"


class FileReceipt(BaseModel):
    """How much has arrived; `hash`, once all of it has, is that of what the disk gave back."""

    received: int
    hash: str | None


class FilePath(BaseModel):
    uuid: str = Field(pattern="^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$")
    hash: str = Field(pattern="^[0-9a-f]{64}$")


def receive(upload: Upload, most: int) -> FileReceipt:
    """Keep the body as the next piece of `upload`, which may have `most` bytes; say what has arrived."""
    start, total = range_of_body()
    if total > most:
        raise Problem(
            "file_too_large", f"The file is larger than {most >> 20} MB, which is the most for this question."
        )
    if not upload.is_whole():
        received = upload.append(start, request.stream, min(most, total))
        if received < total:
            return FileReceipt(received=received, hash=None)
        upload.finish()
        if not upload.is_whole():
            raise Problem("disk_damaged", "The office’s disk gave back other bytes than it was given. Send it again.")
    return FileReceipt(received=total, hash=upload.name)


class PiecesPath(StudyPath):
    """`name` is what whoever sends a file calls it on its way: 32 random bytes in hexadecimal."""

    name: str = Field(pattern="^[0-9a-f]{64}$")


class CalledQuery(BaseModel):
    """`called` is the file’s own name."""

    model_config = ConfigDict(extra="forbid")
    called: str = Field(min_length=1, max_length=200)


def upload_at_desk(what: str, path: PiecesPath) -> Upload:
    """A file of a kind on its way to a study, from whoever asks."""
    return Upload(store().files, f"{what}-{path.study_id}-{caller().person_id}", path.name)


def take_piece(upload: Upload, most: int, take: Callable[[Path], Taken]) -> tuple[int, Taken | None]:
    """Keep the body as the next piece of a file; say how much is there now, and, with the last piece, what `take` made of
    the whole, which is gone then; where it met passing trouble, as a full disk, the last piece can be sent again.

    All that one sender has begun may have `most` bytes together. A last piece that is sent again, because its answer was
    lost, changes nothing.
    """
    start, total = range_of_body()
    if total == 0:
        raise Problem("empty_file", "This file is empty. Choose another one.")
    sender = upload.lies_at.name.removesuffix(upload.name)
    others = sum(file.stat().st_size for file in upload.lies_at.parent.glob(f"{sender}*") if file != upload.lies_at)
    if others + total > most:
        raise Problem("file_too_large", f"The file is larger than {most >> 20} MB, which is the most.")
    received = total if upload.received == total else upload.append(start, request.stream, total)
    if received < total:
        return received, None
    try:
        taken = take(upload.lies_at)
    except SkavoError:
        upload.forget()
        raise
    upload.forget()
    return received, taken


def range_of_body() -> tuple[int, int]:
    """Where the body begins in its file, and how long the file is."""
    header = request.headers.get("Content-Range")
    if header is None:
        return 0, request.content_length or 0
    match = re.fullmatch(r"bytes (\d{1,15})-(\d{1,15})/(\d{1,15})", header)
    if match is None:
        raise Problem("wrong_request", "Content-Range has to be written as bytes 0-99/1234.")
    return int(match[1]), int(match[3])
