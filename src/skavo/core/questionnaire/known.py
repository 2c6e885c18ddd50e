"""What a script is checked against besides itself: the registers of its study, and its media shelf."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from skavo.core.media.shelf import MediaFile
from skavo.core.rules.types import TypeName


@dataclass(frozen=True)
class Known:
    """`registers` gives the fields of each register with their types; `visited` is the register of the units that the
    interviews are about. A register that is not among them is not checked: its fields may be anything. `media` are the
    files of the shelf by name; where it is None, names of files are not checked and none goes into the release."""

    registers: Mapping[str, Mapping[str, TypeName]] = field(default_factory=dict)
    visited: str | None = None
    media: Mapping[str, MediaFile] | None = None


NOTHING_KNOWN = Known()
