"""Somebody at work on a study, and the one door through which answers leave the store.

A station cannot forget to mask: what it gets here is masked already.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement
from sqlalchemy.orm import Session

from skavo.core.permissions import Permission
from skavo.jobs.runner import Jobs
from skavo.services.refusals import Refused
from skavo.store.access import What, record
from skavo.store.database import Store
from skavo.store.datasets import DataSets, Prepared, masked
from skavo.store.models import Device, Event, Interview, NamedDataSet
from skavo.store.people import of_teams
from skavo.store.recipes import NamedData, masked_set, named_data
from skavo.store.sensitive import MASK, Hidden, hidden_of

Conditions = tuple[ColumnElement[bool], ...]


@dataclass(frozen=True)
class Desk:
    """What whoever asks works with. `name` is the one they have in the study, `person_id` None where nobody is meant,
    `teams` those whose work they may know of, None for the whole study.

    `sets` holds data sets as they are: only for what counts interviews and shows none of their values.
    """

    store: Store
    sets: DataSets
    jobs: Jobs
    name: str
    person_id: int | None = None
    permissions: frozenset[Permission] = frozenset()
    teams: frozenset[int] | None = None

    def may(self, permission: Permission) -> bool:
        return permission in self.permissions

    @property
    def sees_sensitive(self) -> bool:
        return self.may("sensitive.read")

    def narrowed(self, study_id: int) -> Conditions:
        """What narrows the interviews of a study down for whoever asks: nothing for most."""
        if self.teams is None:
            return ()
        return (of_teams(study_id, self.teams, Interview.person_id, Interview.enumerator),)

    def reach(self, study_id: int) -> Conditions:
        """The conditions of the interviews of a study that whoever asks may know of."""
        return (Interview.study_id == study_id, *self.narrowed(study_id))

    def reach_devices(self, study_id: int) -> Conditions:
        """The conditions of the devices of a study that whoever asks may know of."""
        mine: Conditions = (Device.study_id == study_id,)
        if self.teams is None:
            return mine
        return (*mine, of_teams(study_id, self.teams, Device.person_id, Device.enumerator))

    def data(self, session: Session, questionnaire_id: int) -> Prepared:
        """The data set of a questionnaire as whoever asks may see it."""
        prepared = self.sets.of(session, questionnaire_id)
        return prepared if self.sees_sensitive else masked(prepared)

    def named_data(self, session: Session, named: NamedDataSet) -> NamedData:
        """A data set as whoever asks may see it."""
        found = named_data(self.sets, session, named)
        return found if self.sees_sensitive else masked_set(found)

    def hides(self, session: Session, questionnaire_id: int | None) -> Hidden:
        """What is hidden from whoever asks: nothing from those who may see all of it."""
        return Hidden() if self.sees_sensitive else hidden_of(session, questionnaire_id)

    def needs_whole_study(self, what: str) -> None:
        """Raise Refused where whoever asks may know of some teams' work only."""
        if self.teams is not None:
            raise Refused("not_allowed", f"{what} belong to the whole study, and you supervise some of its teams.")

    def signed(self) -> dict[str, Any]:
        """Who makes something now, by name and by identity."""
        return {"created_by": self.name, "created_by_id": self.person_id}

    def event(self, study_id: int, kind: str, /, **detail: Any) -> Event:
        """What is done now, for the logbook of a study."""
        return Event(study_id=study_id, kind=kind, by=self.name, by_id=self.person_id, detail=detail)

    def event_of(self, interview: Interview, kind: str, /, **detail: Any) -> Event:
        """What is done now to an interview."""
        event = self.event(interview.study_id, kind, **detail)
        event.interview_id = interview.id
        return event

    def note(self, what: What, study_id: int, interview_id: int | None = None, **detail: Any) -> None:
        """Put it on record that whoever asks saw or takes out something of a study."""
        record(self.store, study_id, (self.person_id, self.name), what, interview_id, **detail)


def detail_seen(detail: dict[str, Any], hidden: Hidden) -> dict[str, Any]:
    """What is told of an event, without what was remarked at a hidden question."""

    def of(remark: dict[str, Any]) -> dict[str, Any]:
        is_hidden = hidden.has(str(remark["path"]).split("/")[-1])
        return {**remark, "text": MASK} if is_hidden else remark

    return {**detail, "remarks": [of(r) for r in detail["remarks"]]} if "remarks" in detail else detail
