"""A file that a station hands out."""

from __future__ import annotations

from dataclasses import dataclass

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
ZIP = "application/zip"


@dataclass(frozen=True)
class FileMade:
    """A file to be taken out, with its name and type."""

    name: str
    type: str
    content: bytes
