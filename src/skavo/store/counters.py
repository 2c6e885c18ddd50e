"""Counters that only rise: what is kept from before is good as long as the counter it was made at stands.

Whatever a data set depends on raises its counter in the transaction that changes it, by the session itself: a view
cannot forget it. What goes past the session (plain SQL) has to call `raise_counter`.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from sqlalchemy import event, insert, inspect, select, update
from sqlalchemy.orm import Session

from skavo.store.models import Counter, Interview, MatchDecision, OutsideTable, PlanStep, Questionnaire, Release, Study

# What of each kind of row a data set is made from.
_WATCHED: dict[type, frozenset[str]] = {
    Interview: frozenset({"questionnaire_id", "number", "state", "practice", "problem", "laid_at"}),
    PlanStep: frozenset({"questionnaire_id", "body", "removed_at", "position", "off"}),
    OutsideTable: frozenset({"questionnaire_id", "name", "file_hash", "described", "joined"}),
    MatchDecision: frozenset({"questionnaire_id", "outside_id", "undone_at"}),
    Release: frozenset({"questionnaire_id", "number", "compiled"}),
}


def data_counter(questionnaire_id: int) -> str:
    """The name of the counter of all that a questionnaire's data set is made from."""
    return f"data/{questionnaire_id}"


def names_counter(study_id: int) -> str:
    """The name of the counter of what recipes take from a study itself: its clock, and what its questionnaires are called."""
    return f"names/{study_id}"


def laid_counter(questionnaire_id: int | None) -> str:
    """The name of the counter of interviews laid out."""
    return f"laid/{questionnaire_id or 0}"


def counter(session: Session, name: str) -> int:
    """How often it was raised; 0 for one that never was."""
    return session.scalar(select(Counter.value).where(Counter.name == name)) or 0


def raise_counter(session: Session, name: str) -> int:
    """Raise a counter and return what it is now; whoever else raises it waits for this transaction."""
    connection = session.connection()
    raised = update(Counter).where(Counter.name == name).values(value=Counter.value + 1).returning(Counter.value)
    found = connection.execute(raised).scalar()
    if found is None:
        connection.execute(insert(Counter).values(name=name, value=1))
    return found or 1


@event.listens_for(Session, "before_flush")
def _raise_what_changed(session: Session, *_: Any) -> None:
    touched = {name for row in [*session.new, *session.dirty, *session.deleted] for name in _counters_of(session, row)}
    touched |= {names_counter(row.id) for row in session.dirty if isinstance(row, Study) and _changed(row, "time_zone")}
    touched |= {
        names_counter(row.study_id)
        for row in session.dirty
        if isinstance(row, Questionnaire) and _changed(row, "title")
    }
    for name in sorted(touched):
        raise_counter(session, name)


def _changed(row: Any, *names: str) -> bool:
    state = inspect(row)
    return any(state.attrs[name].history.has_changes() for name in names)


def _counters_of(session: Session, row: Any) -> Iterator[str]:
    watched = _WATCHED.get(type(row))
    if watched is None:
        return
    state = inspect(row)
    is_old = row not in session.new and row not in session.deleted
    if is_old and not _changed(row, *watched):
        return
    history = state.attrs["questionnaire_id"].history
    yield from (data_counter(i) for i in {*history.sum()} if i is not None)
