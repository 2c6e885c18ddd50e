"""The record of who saw sensitive answers and who took something out."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, Literal

from sqlalchemy import select

from skavo.store.database import Store
from skavo.store.models import Access, now

What = Literal["interview", "raw", "file", "extract"]
# Looking at the same again within this time is one look.
_ONE_LOOK = timedelta(minutes=10)


def record(
    store: Store,
    study_id: int,
    person: tuple[int | None, str],
    what: What,
    interview_id: int | None = None,
    **detail: Any,
) -> None:
    """Note that `person` (identity and name) saw or took out something; once for one look."""
    person_id, name = person
    same = select(Access.detail).where(
        Access.study_id == study_id, Access.person_id == person_id, Access.what == what,
        Access.interview_id == interview_id, Access.at > now() - _ONE_LOOK,
    )  # fmt: skip
    with store.reading() as session:
        if detail in session.scalars(same).all():
            return
    with store.session() as session:
        session.add(
            Access(
                study_id=study_id, person_id=person_id, name=name, what=what, interview_id=interview_id, detail=detail
            )
        )  # fmt: skip
