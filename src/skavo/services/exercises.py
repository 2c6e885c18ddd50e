"""Practising with test interviews: what phones are given, and what became of it."""

from __future__ import annotations

import hashlib
import json
from datetime import datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.services.desk import Desk
from skavo.store.models import Interview, Questionnaire

_GIVEN = ("name", "answers", "now", "started")


class PractisedOut(BaseModel):
    """How often somebody led an exercise; `first` and `newest` count the answers entered otherwise, the first and the
    last time."""

    enumerator: str
    exercise: str
    times: int
    first: int
    newest: int
    at: datetime
    interview_id: int


def exercises_of(session: Session, questionnaire_id: int) -> list[dict[str, Any]]:
    """The test interviews that somebody wrote by hand: those that the proof found are no conversations."""
    tests = session.scalar(select(Questionnaire.tests).where(Questionnaire.id == questionnaire_id)) or []
    return [{name: test[name] for name in _GIVEN} for test in tests if test.get("by") and not test["earlier"]]


def mark_of(exercises: list[dict[str, Any]]) -> str:
    """What tells exercises apart from others; "" for none."""
    return hashlib.sha256(json.dumps(exercises, sort_keys=True).encode()).hexdigest()[:16] if exercises else ""


def show_practised(desk: Desk, study_id: int) -> list[PractisedOut]:
    """Who has led which exercise, those with the most differences the last time first."""
    columns = (Interview.enumerator, Interview.exercise, Interview.arrived_at, Interview.id)
    practised = (*desk.reach(study_id), Interview.practice.is_(True), Interview.exercise.is_not(None))
    found: dict[tuple[str, str], PractisedOut] = {}
    with desk.store.reading() as session:
        rows = session.execute(select(*columns).where(*practised).order_by(Interview.id)).tuples()
        for enumerator, exercise, at, interview_id in rows:
            if exercise is None:
                continue
            name, differences = exercise["name"], exercise["differences"]
            known = found.get((enumerator, name))
            first, times = (differences, 0) if known is None else (known.first, known.times)
            found[enumerator, name] = PractisedOut(
                enumerator=enumerator, exercise=name, times=times + 1, first=first, newest=differences, at=at,
                interview_id=interview_id,
            )  # fmt: skip
    return sorted(found.values(), key=lambda one: (-one.newest, one.enumerator, one.exercise))
