"""The map sheets of a study, and those that a phone is to hold."""

from __future__ import annotations

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.fieldwork.profile import FieldProfile
from skavo.store.models import MapSheet


class SheetLine(BaseModel):
    """A map sheet as phones and the desk draw it; `form` is shapes (GeoJSON) or tiles (PMTiles), named by `hash`.

    `bounds` is west, south, east, north in degrees. Tiles are pictures or shapes, between two zoom levels.
    """

    id: int
    name: str
    form: str
    hash: str
    bytes: int
    bounds: list[float]
    kind: str
    min_zoom: int
    max_zoom: int
    layers: list[str]
    attribution: str


def sheets_of(session: Session, study_id: int) -> list[MapSheet]:
    return list(session.scalars(select(MapSheet).where(MapSheet.study_id == study_id).order_by(MapSheet.name)))


def sheet_line(sheet: MapSheet) -> SheetLine:
    told = sheet.detail
    return SheetLine(
        id=sheet.id, name=sheet.name, form=sheet.form, hash=sheet.file_hash, bytes=sheet.bytes, bounds=sheet.bounds,
        kind=told.get("kind", ""), min_zoom=told.get("min_zoom", 0), max_zoom=told.get("max_zoom", 18),
        layers=told.get("layers", []), attribution=told.get("attribution", ""),
    )  # fmt: skip


def sheets_for(session: Session, study_id: int, profile: FieldProfile) -> list[SheetLine]:
    """The sheets that a profile names and the study still has, in the study's order."""
    return [sheet_line(sheet) for sheet in sheets_of(session, study_id) if sheet.id in profile.map_sheets]
