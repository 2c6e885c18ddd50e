"""Who may do what. Deny by default: what is not listed here nobody may do."""

from __future__ import annotations

from typing import Literal

Role = Literal["data_manager", "supervisor", "enumerator", "keyer", "analyst"]
Permission = Literal[
    "study.read", "study.write", "script.read", "script.write", "release.make", "field.read", "field.manage",
    "interview.read", "interview.review", "sensitive.read", "clean.write", "combine.write", "analyse.read",
    "analyse.write", "extract.make", "job.read",
]  # fmt: skip
# Besides permissions: open to everyone, to whoever is signed in, or to a paired device.
Open = Literal["open", "signed-in", "device"]

_READS: set[Permission] = {"study.read", "script.read", "field.read", "interview.read", "analyse.read", "job.read"}
ROLES: dict[Role, set[Permission]] = {
    "data_manager": {
        *_READS, "study.write", "script.write", "release.make", "field.manage", "interview.review", "sensitive.read",
        "clean.write", "combine.write", "analyse.write", "extract.make",
    },
    "supervisor": {*_READS, "field.manage", "interview.review", "sensitive.read"},
    "enumerator": {"study.read"},
    "keyer": {"study.read", "script.read", "job.read"},
    "analyst": {"study.read", "script.read", "interview.read", "analyse.read", "analyse.write", "extract.make", "job.read"},
}  # fmt: skip


def may(role: str, permission: str) -> bool:
    """Whether `role` has `permission`; an unknown role has none."""
    return any(permission in granted for name, granted in ROLES.items() if name == role)
