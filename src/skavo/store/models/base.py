"""What all tables share."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, ClassVar
from uuid import uuid4

from sqlalchemy import JSON
from sqlalchemy.orm import DeclarativeBase
from sqlalchemy.types import DateTime, TypeDecorator


def new_identity() -> str:
    """A name that nothing else has."""
    return uuid4().hex


def now() -> datetime:
    """The present moment in UTC."""
    return datetime.now(UTC)


class Moment(TypeDecorator[datetime]):
    """A moment kept in UTC and given back with its offset, which SQLite alone would drop."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Any) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Any) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    type_annotation_map: ClassVar[dict[Any, Any]] = {dict[str, Any]: JSON, list[Any]: JSON, datetime: Moment}
