"""What a script is checked against besides itself: the registers of its study."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from skavo.core.rules.types import TypeName


@dataclass(frozen=True)
class Known:
    """`registers` gives the fields of each register with their types; `visited` is the register of the units that the
    interviews are about. A register that is not among them is not checked: its fields may be anything."""

    registers: Mapping[str, Mapping[str, TypeName]] = field(default_factory=dict)
    visited: str | None = None


NOTHING_KNOWN = Known()
