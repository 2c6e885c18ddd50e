"""Files of the media shelf: what they are by their content, their size or length, and made small for phones."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass

import filetype
from PIL import Image, ImageOps
from tinytag import TinyTag, TinyTagException

from skavo.core.errors import DataError

MOST_BYTES = 50 << 20
_MOST_UNPACKED, _MOST_FILES = 500 << 20, 2_000
_MOST_POINTS = 100_000_000
_PHONE_SIDE, _PHONE_QUALITY = 1280, 80
_NAME = re.compile(r"[^\\/:*?\"<>|;{}\x00-\x1f]{1,120}")
# By content: what a browser shows or plays everywhere. Drawings that can hold scripts are not among them.
_PICTURES = {"image/jpeg": "JPEG", "image/png": "PNG", "image/webp": "WEBP", "image/gif": "GIF"}
_SOUNDS = {"audio/mpeg", "audio/ogg", "audio/mp4", "audio/x-wav", "audio/aac", "audio/x-flac"}
_FILMS = {"video/mp4", "video/webm", "video/x-m4v"}


@dataclass(frozen=True)
class Inspected:
    """`width` and `height` are pixels of a picture, `seconds` the length of a sound or film where the file tells it."""

    type: str
    width: int | None = None
    height: int | None = None
    seconds: float | None = None


def checked_name(name: str) -> str:
    """A file's name as the shelf keeps it; raise DataError where scripts could not name it."""
    plain = name.replace("\\", "/").rsplit("/", 1)[-1].strip()
    if not _NAME.fullmatch(plain) or plain.startswith("."):
        message = f"“{plain[:60]}” is no name for the shelf. Use letters, digits, spaces, - and _, and an ending."
        raise DataError("wrong_media_name", message, {"name": plain[:120]})
    return plain


def inspect(name: str, content: bytes) -> Inspected:
    """What a file is, by its content; raise DataError for what phones cannot show or play."""
    if len(content) > MOST_BYTES:
        message = f"{name} has {len(content) >> 20} MB; {MOST_BYTES >> 20} MB is the most."
        raise DataError("file_too_large", message, {"name": name})
    found = filetype.guess(content)
    kind = found.mime if found is not None else ""
    if kind in _PICTURES:
        width, height = _size_of(name, content)
        return Inspected(kind, width, height)
    if kind in _SOUNDS or kind in _FILMS:
        return Inspected(kind, seconds=_length_of(content))
    message = f"{name} is no picture, sound or film that phones show. Bring JPEG, PNG, WebP, GIF, MP3, Opus, M4A, MP4 or WebM."
    raise DataError("wrong_media", message, {"name": name, "type": kind})


def _size_of(name: str, content: bytes) -> tuple[int, int]:
    try:
        with Image.open(io.BytesIO(content), formats=list(_PICTURES.values())) as picture:
            if picture.width * picture.height > _MOST_POINTS:
                message = f"{name} has {picture.width} × {picture.height} points. Make it smaller."
                raise DataError("picture_too_large", message, {"name": name})
            picture.load()
            width, height = ImageOps.exif_transpose(picture).size
            return width, height
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise DataError("broken_picture", f"{name} is damaged and cannot be shown.", {"name": name}) from None


def _length_of(content: bytes) -> float | None:
    try:
        length = TinyTag.get(file_obj=io.BytesIO(content)).duration
    # Whatever a damaged or unusual file makes its reader stumble over: its length is not known then.
    except (TinyTagException, ValueError, KeyError, IndexError, OSError, ArithmeticError, TypeError):
        return None
    return round(length, 1) if length else None


def for_phones(content: bytes, kind: str) -> bytes:
    """A picture no larger than a phone's screen needs, freed of its metadata; the file itself where that is smaller.

    Sounds, films and moving pictures stay as they are.
    """
    if kind not in _PICTURES or kind == "image/gif":
        return content
    with Image.open(io.BytesIO(content), formats=list(_PICTURES.values())) as picture:
        upright = ImageOps.exif_transpose(picture)
        upright.thumbnail((_PHONE_SIDE, _PHONE_SIDE))
        out = io.BytesIO()
        upright.convert("RGBA" if "A" in upright.getbands() or upright.mode == "P" else "RGB").save(
            out, "WEBP", quality=_PHONE_QUALITY, method=4
        )
    return out.getvalue() if out.tell() < len(content) else content


def unpacked(name: str, content: bytes) -> Iterator[tuple[str, bytes]]:
    """The files of a zip, folders left out; raise DataError where it is none, or unpacks to too much."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(content))
    except zipfile.BadZipFile:
        raise DataError("not_a_zip", f"{name} is no whole zip file. Take it out again.", {}) from None
    entries = [e for e in archive.infolist() if not e.is_dir() and "__MACOSX" not in e.filename]
    if len(entries) > _MOST_FILES or sum(e.file_size for e in entries) > _MOST_UNPACKED:
        raise DataError(
            "file_too_large", f"{name} unpacks to more than {_MOST_UNPACKED >> 20} MB or {_MOST_FILES} files.", {}
        )
    for entry in entries:
        if not entry.filename.rsplit("/", 1)[-1].startswith("."):
            try:
                yield entry.filename, archive.read(entry)
            except (zipfile.BadZipFile, RuntimeError, NotImplementedError, OSError):
                raise DataError("not_a_zip", f"{entry.filename} in {name} cannot be read.", {}) from None
