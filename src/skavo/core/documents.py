"""Documents that outlive the version that wrote them: each names its format, and older ones are brought forward.

A format is a name and one small step for each version after the first. Readers take every version ever published;
writers write the newest only. A published format changes by adding a step, never by changing one. Standard library
only: the phone loads this.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from skavo.core.errors import SkavoError

Document = dict[str, Any]
Step = Callable[[Document], Document]
MARK = "format"
_MARKED = re.compile(r"skavo-([a-z]+)-([1-9]\d{0,3})")


class FormatError(SkavoError):
    """A document that is of another kind, or was written by a newer Skavo."""


@dataclass(frozen=True)
class Format:
    """`steps[n]` brings a document of version n + 1 to version n + 2; `unmarked` is the version of one that names none.

    >>> FRUIT = Format("fruit", (lambda d: {**d, "ripe": True},))
    >>> FRUIT.newest
    'skavo-fruit-2'
    >>> FRUIT.read({"format": "skavo-fruit-1", "kind": "plum"})
    {'format': 'skavo-fruit-2', 'kind': 'plum', 'ripe': True}
    """

    name: str
    steps: tuple[Step, ...] = ()
    unmarked: int | None = None

    @property
    def newest(self) -> str:
        return f"skavo-{self.name}-{len(self.steps) + 1}"

    def version_of(self, document: Document) -> int:
        """Which version a document is written in; raise FormatError where this Skavo cannot read it."""
        mark = document.get(MARK)
        if mark is None and self.unmarked is not None:
            return self.unmarked
        match = _MARKED.fullmatch(mark) if isinstance(mark, str) else None
        if match is None or match[1] != self.name:
            raise FormatError("wrong_format", f"This is no {self.name} of Skavo.", {"wanted": self.newest})
        version = int(match[2])
        if version > len(self.steps) + 1:
            message = f"This {self.name} was written by a newer Skavo ({mark}). Update Skavo; nothing of it is lost."
            raise FormatError("newer_format", message, {"found": mark, "wanted": self.newest})
        return version

    def read(self, document: Document) -> Document:
        """The document in its newest version; the one given is left as it is."""
        brought = dict(document)
        for step in self.steps[self.version_of(document) - 1 :]:
            brought = step(brought)
        return {MARK: self.newest, **{key: value for key, value in brought.items() if key != MARK}}

    def write(self, body: Document) -> Document:
        """A new document with the mark of the newest version."""
        return {MARK: self.newest, **body}

    def read_body(self, document: Document) -> Document:
        """The same as `read`, without the mark."""
        return {key: value for key, value in self.read(document).items() if key != MARK}
