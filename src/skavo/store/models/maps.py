"""Map sheets: what phones and the desk draw below units, visits and oneself, without any network."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from skavo.store.models.base import Base, now


class MapSheet(Base):
    """One map of a study; `form` is shapes (GeoJSON) or tiles (PMTiles), `file_hash` its content in the store.

    `bounds` is [west, south, east, north] in degrees. `detail` says more of it: counts of shapes, or zoom levels, kind and
    layers of tiles, and whose work it is (attribution).
    """

    __tablename__ = "map_sheet"
    __table_args__ = (UniqueConstraint("study_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(64))
    form: Mapped[str] = mapped_column(String(8))
    file_hash: Mapped[str] = mapped_column(String(64))
    bytes: Mapped[int] = mapped_column(BigInteger)
    bounds: Mapped[list[Any]]
    detail: Mapped[dict[str, Any]]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))


class SavedLayer(Base):
    """A map of what lies where, kept under a name and shown on the logbook. `query` is a GroundQuery; `off` are the values
    of the groups that are switched off."""

    __tablename__ = "saved_layer"
    __table_args__ = (UniqueConstraint("study_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    study_id: Mapped[int] = mapped_column(ForeignKey("study.id"), index=True)
    name: Mapped[str] = mapped_column(String(64))
    query: Mapped[dict[str, Any]]
    off: Mapped[list[Any]]
    created_at: Mapped[datetime] = mapped_column(default=now)
    created_by: Mapped[str] = mapped_column(String(128))
    created_by_id: Mapped[int | None] = mapped_column(ForeignKey("person.id"))
