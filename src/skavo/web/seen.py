"""The one door through which a data set leaves the store for a screen: as whoever asks may see it.

A view cannot forget to mask: what it gets here is masked already.
"""

from __future__ import annotations

from typing import Any

from flask import current_app
from sqlalchemy.orm import Session

from skavo.store.access import What, record
from skavo.store.datasets import DataSets, Prepared, masked
from skavo.store.sensitive import MASK, Hidden, hidden_of
from skavo.web.guard import caller
from skavo.web.routing import store


def whole_data_sets() -> DataSets:
    """Data sets as they are: only for what counts interviews and shows none of their values."""
    found: DataSets = current_app.extensions["skavo_data_sets"]
    return found


def seen_data(session: Session, questionnaire_id: int) -> Prepared:
    """The data set of a questionnaire as whoever asks may see it."""
    prepared = whole_data_sets().of(session, questionnaire_id)
    return prepared if caller().may("sensitive.read") else masked(prepared)


def hides(session: Session, questionnaire_id: int | None) -> Hidden:
    """What is hidden from whoever asks in a questionnaire: nothing from those who may see all of it."""
    return Hidden() if caller().may("sensitive.read") else hidden_of(session, questionnaire_id)


def detail_seen(detail: dict[str, Any], hidden: Hidden) -> dict[str, Any]:
    """What is told of an event, without what was remarked at a hidden question."""

    def of(remark: dict[str, Any]) -> dict[str, Any]:
        is_hidden = hidden.has(str(remark["path"]).split("/")[-1])
        return {**remark, "text": MASK} if is_hidden else remark

    return {**detail, "remarks": [of(r) for r in detail["remarks"]]} if "remarks" in detail else detail


def noted(what: What, study_id: int, interview_id: int | None = None, **detail: Any) -> None:
    """Put it on record that whoever asks saw or takes out something of a study."""
    record(store(), study_id, (caller().person_id, caller().name), what, interview_id, **detail)
