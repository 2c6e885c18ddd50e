"""Who may do what in a study. Deny by default: what is not listed here nobody may do."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

Role = Literal["data_manager", "supervisor", "enumerator", "keyer", "analyst"]
Permission = Literal[
    "study.read", "study.write", "script.read", "script.write", "release.make", "field.read", "field.manage",
    "interview.read", "interview.review", "sensitive.read", "clean.write", "combine.write", "analyse.read",
    "analyse.write", "extract.make", "job.read", "people.read", "people.manage", "record.read",
]  # fmt: skip
# Who may order, stop and fetch each kind of job.
OF_JOB: dict[str, Permission] = {
    "extract": "extract.make",
    "rehearsal": "script.write",
    "proof": "script.write",
    "laying out": "interview.review",
}
# Besides permissions in a study: open to everyone, to whoever is signed in, to a paired device, or to whoever
# administers the server.
Open = Literal["open", "signed-in", "device", "administrator"]
# What the job that an address names asks for.
ThatOfTheJob = Literal["that of the job"]

_READS: set[Permission] = {"study.read", "script.read", "field.read", "interview.read", "analyse.read", "job.read"}
ROLES: dict[Role, set[Permission]] = {
    "data_manager": {
        *_READS, "study.write", "script.write", "release.make", "field.manage", "interview.review", "sensitive.read",
        "clean.write", "combine.write", "analyse.write", "extract.make", "people.read", "people.manage", "record.read",
    },
    "supervisor": {*_READS, "field.manage", "interview.review", "sensitive.read", "people.read"},
    "enumerator": {"study.read"},
    "keyer": {"study.read", "script.read", "job.read"},
    "analyst": {"study.read", "script.read", "interview.read", "analyse.read", "analyse.write", "extract.make", "job.read"},
}  # fmt: skip


def granted(roles: Iterable[str]) -> frozenset[Permission]:
    """What the roles of a person may do between them; an unknown role may nothing."""
    return frozenset(permission for name, has in ROLES.items() if name in {*roles} for permission in has)
