"""What every station refuses alike: what is not there, and what somebody else has changed meanwhile."""

from __future__ import annotations

from skavo.core.errors import SkavoError


class Refused(SkavoError):
    """A station does not do what it was asked for; the message says why and what to do."""


def not_found(what: str) -> Refused:
    return Refused("not_found", f"There is no such {what}. It may have been removed.", {"what": what})


def same_version(kept: int, seen: int) -> None:
    """Refuse a change of something that somebody else has changed since it was read."""
    if kept != seen:
        raise Refused(
            "changed_meanwhile", "Somebody else changed this meanwhile. Load it again and repeat; nothing was kept of yours.",
            {"version": kept},
        )  # fmt: skip
