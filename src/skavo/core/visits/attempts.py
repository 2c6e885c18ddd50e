"""Attempts at a visit, and what the rules say of the next one. Standard library only: phones run it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from typing import Literal, Protocol

Part = Literal["morning", "afternoon", "evening"]
_PARTS: tuple[tuple[time, Part], ...] = ((time(12), "morning"), (time(17), "afternoon"))
# Where a visit stands: another attempt follows, somebody else is to make it, the rules say it was tried often enough, or
# an attempt ended it.
Standing = Literal["open", "to pass on", "tried enough", "ended"]


@dataclass(frozen=True)
class Attempt:
    """One attempt: its outcome by code, when it ended by the study's own clock, and the moment of an appointment.

    `own` says that it was made by the person whom the visit is given to now.
    """

    outcome: str
    at: datetime
    appointment: datetime | None = None
    own: bool = True


class Rules(Protocol):
    """How often a unit is tried, how many hours apart at least, and whether at another part of the day than before."""

    @property
    def most(self) -> int: ...
    @property
    def hours_apart(self) -> int: ...
    @property
    def other_parts_of_day(self) -> bool: ...


@dataclass(frozen=True)
class Ways:
    """Which outcomes, by code, end a visit, and after which somebody else goes."""

    ending: Collection[str]
    passing_on: Collection[str] = ()


@dataclass(frozen=True)
class Next:
    """What is to be done with a unit: where it `standing` is open, not `before` a moment, and in the `part` of the day that
    has not been tried, None where any will do. `appointment` is the one to be kept."""

    standing: Standing
    before: datetime | None = None
    part: Part | None = None
    appointment: datetime | None = None


def part_of_day(moment: datetime) -> Part:
    return next((part for until, part in _PARTS if moment.time() < until), "evening")


def next_attempt(attempts: Sequence[Attempt], ways: Ways, rules: Rules, now: datetime) -> Next:
    """What the rules say of the next attempt. An appointment goes before all of them: where it was missed, one more
    attempt is made however often it was tried."""
    tried = sorted(attempts, key=lambda one: one.at)
    if any(one.outcome in ways.ending for one in tried):
        return Next("ended")
    if not tried:
        return Next("open")
    last = tried[-1]
    if last.appointment is not None:
        is_to_come = last.appointment >= now
        return Next("open", before=last.appointment, appointment=last.appointment if is_to_come else None)
    if len(tried) >= rules.most:
        return Next("tried enough")
    if last.outcome in ways.passing_on and last.own:
        return Next("to pass on")
    parts = {part_of_day(one.at) for one in tried}
    untried: list[Part] = [part for part in ("morning", "afternoon", "evening") if part not in parts]
    is_told = rules.other_parts_of_day and len(parts) == 1 and len(tried) > 1
    return Next("open", last.at + timedelta(hours=rules.hours_apart), untried[0] if is_told else None)
