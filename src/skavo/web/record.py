"""What was seen and taken out, by whom: for the data manager to look through."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select

from skavo.store.models import Access, Interview
from skavo.web.routing import Resource, store
from skavo.web.shapes import StudyPath

api = Resource("record", "/studies/<int:study_id>")


class RecordQuery(BaseModel):
    """`what` and `name` narrow the record; "" for all."""

    model_config = ConfigDict(extra="forbid")
    what: str = ""
    name: str = ""
    offset: int = Field(default=0, ge=0, le=10_000_000)
    limit: int = Field(default=100, ge=1, le=500)


class AccessOut(BaseModel):
    at: datetime
    name: str
    what: str
    interview: str | None
    interview_id: int | None
    detail: dict[str, Any]


class Record(BaseModel):
    lines: list[AccessOut]
    total: int
    names: list[str]


@api.route_for("get", "/record", needs="record.read", returns=Record)
def show(path: StudyPath, query: RecordQuery) -> Record:
    """Newest first."""
    wanted = [Access.study_id == path.study_id]
    if query.what:
        wanted.append(Access.what == query.what)
    if query.name:
        wanted.append(Access.name == query.name)
    with store().reading() as session:
        rows = session.execute(
            select(Access, Interview.number).outerjoin(Interview, Interview.id == Access.interview_id).where(*wanted)
            .order_by(Access.id.desc()).offset(query.offset).limit(query.limit)
        )  # fmt: skip
        names = select(Access.name).where(Access.study_id == path.study_id).distinct().order_by(Access.name)
        return Record(
            lines=[
                AccessOut(
                    at=a.at, name=a.name, what=a.what, interview=f"{number:04d}" if number is not None else None,
                    interview_id=a.interview_id, detail=a.detail,
                )
                for a, number in rows
            ],
            total=session.scalar(select(func.count()).where(*wanted)) or 0,
            names=list(session.scalars(names)),
        )  # fmt: skip
