"""What a script is checked against besides itself: the registers of its study, and its media shelf."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from skavo.core.media.shelf import MediaFile
from skavo.core.rules.check_names import ANY_REGISTER, list_of
from skavo.core.rules.types import TypeName

Fields = Mapping[str, TypeName]
Codes = Sequence[Mapping[str, Any]]


@dataclass(frozen=True)
class Known:
    """`registers` gives the fields of each register with their types; `visited` is the register of the units that the
    interviews are about. A register that is not among them is not checked: its fields may be anything. `codes` are the
    code lists of such fields by `list_of`, as they stand in a release. `media` are the files of the shelf by name; where it
    is None, names of files are not checked and none goes into the release."""

    registers: Mapping[str, Fields] = field(default_factory=dict)
    codes: Mapping[str, Codes] = field(default_factory=dict)
    visited: str | None = None
    media: Mapping[str, MediaFile] | None = None


NOTHING_KNOWN = Known()


def of_any_register(
    registers: Mapping[str, Fields], codes: Mapping[str, Codes]
) -> tuple[dict[str, TypeName], dict[str, Codes]]:
    """The fields of a unit that may be of any register, and their code lists: what registers say of the same field in
    different ways may be anything; of their lists it may have any code."""
    fields: dict[str, TypeName] = {}
    lists: dict[str, dict[str, Mapping[str, Any]]] = {}
    for register, known in registers.items():
        for name, kind in known.items():
            fields[name] = kind if fields.get(name, kind) == kind else "any"
            for code in codes.get(list_of(register, name), ()):
                lists.setdefault(list_of(ANY_REGISTER, name), {}).setdefault(str(code["code"]), code)
    kept = {listed for name in fields if fields[name] in ("code", "codes") and (listed := list_of(ANY_REGISTER, name))}
    return fields, {name: [*found.values()] for name, found in lists.items() if name in kept}
