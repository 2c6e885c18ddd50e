"""Who may do what in a study. Deny by default: what is not listed here nobody may do."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

Role = Literal["data_manager", "supervisor", "enumerator", "keyer", "analyst"]
Permission = Literal[
    "study.read", "study.write", "script.read", "script.write", "release.make", "release.sign", "field.read", "field.manage",
    "interview.read", "interview.review", "sensitive.read", "register.read", "register.write", "clean.write", "combine.write", "analyse.read",
    "analyse.write", "extract.make", "job.read", "people.read", "people.manage", "record.read", "paper.key", "paper.manage",
]  # fmt: skip
# Who may order, stop and fetch each kind of job.
OF_JOB: dict[str, Permission] = {
    "extract": "extract.make",
    "rehearsal": "script.write",
    "proof": "script.write",
    "paper": "script.read",
    "letters": "field.manage",
    "laying out": "interview.review",
    "data set": "analyse.read",
    "table look": "combine.write",
    "bringing in units": "register.write",
    "taking out units": "register.read",
    "reckoning units": "register.read",
}
# Besides permissions in a study: open to everyone, to whoever is signed in, to a paired device, to one that was ordered
# to forget everything, or to whoever administers the server.
Open = Literal["open", "signed-in", "device", "device to wipe", "administrator"]
# What the job that an address names asks for.
ThatOfTheJob = Literal["that of the job"]

_READS: set[Permission] = {
    "study.read",
    "script.read",
    "field.read",
    "interview.read",
    "analyse.read",
    "job.read",
    "register.read",
}
ROLES: dict[Role, set[Permission]] = {
    "data_manager": {
        *_READS, "study.write", "script.write", "release.make", "release.sign", "field.manage", "interview.review", "sensitive.read",
        "register.write", "clean.write", "combine.write", "analyse.write", "extract.make", "people.read", "people.manage", "record.read",
        "paper.key", "paper.manage",
    },
    "supervisor": {*_READS, "release.sign", "field.manage", "interview.review", "sensitive.read", "people.read", "paper.key", "paper.manage", "register.write"},
    "enumerator": {"study.read"},
    "keyer": {"study.read", "script.read", "job.read", "paper.key"},
    "analyst": {"study.read", "script.read", "interview.read", "analyse.read", "analyse.write", "extract.make", "job.read", "register.read"},
}  # fmt: skip


# Who sees the whole study, whatever teams they supervise besides.
_OVER_ALL_TEAMS = {"data_manager", "analyst"}


def limited_to(roles: Iterable[str], supervises: Iterable[int]) -> frozenset[int] | None:
    """The teams whose work somebody may know of; None for the whole study."""
    held, teams = {*roles}, frozenset(supervises)
    return teams if teams and "supervisor" in held and not held & _OVER_ALL_TEAMS else None


def granted(roles: Iterable[str], teams: frozenset[int] | None = None) -> frozenset[Permission]:
    """What the roles of a person may do between them; an unknown role may nothing.

    Tables are made of the whole study, so that they are not for whoever is limited to some of its teams.
    """
    held = {*roles}
    allowed = {permission for name, has in ROLES.items() if name in held for permission in has}
    return frozenset(allowed - {"analyse.read"} if teams is not None else allowed)
