"""The map sheets of a study: brought in, named, taken away."""

from __future__ import annotations

import json
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, Literal, NamedTuple

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError
from skavo.core.maps.geojson import read_shapes
from skavo.formats.tiles import from_mbtiles, is_mbtiles, is_pmtiles, read_tiles
from skavo.services.desk import Desk
from skavo.services.found import the_study
from skavo.services.refusals import Refused, not_found
from skavo.store.files import Upload, hash_on_disk, sound_file
from skavo.store.models import Device, KeptProfile, MapSheet
from skavo.store.sheets import SheetLine, sheet_line, sheets_of

MOST_BYTES = 1 << 30
# Shapes are drawn as one piece; a map of more comes in tiles.
_MOST_SHAPES_BYTES = 40 << 20
_BESIDE_DIGITS = 6


class SheetOut(SheetLine):
    """A sheet at the desk: what its shapes are, by type; which profiles name it, and how many phones hold it."""

    counts: dict[str, int]
    profiles: list[str]
    phones: int
    created_by: str


class SheetName(BaseModel):
    model_config = ConfigDict(extra="forbid")

    name: str = Field(min_length=1, max_length=64, pattern=r"\S")


class _Brought(NamedTuple):
    form: Literal["shapes", "tiles"]
    bounds: tuple[float, float, float, float]
    detail: dict[str, Any]
    content: Path


def list_sheets(desk: Desk, study_id: int) -> list[SheetOut]:
    with desk.store.reading() as session:
        return _listed(session, study_id)


def bring_in_sheet(desk: Desk, study_id: int, name: str, sent: Path) -> SheetOut:
    """Take in a map, whatever its form; it is looked through before anything is kept."""
    desk.needs_whole_study("Maps")
    with desk.store.reading() as session:
        the_study(session, study_id)
        _check_name(session, study_id, name)
    with TemporaryDirectory() as folder:
        brought = (_tiles if is_mbtiles(sent) or is_pmtiles(sent) else _shapes)(sent, Path(folder))
        digest, size = hash_on_disk(brought.content), brought.content.stat().st_size
        kept = Upload(desk.store.files, "sheet", digest)
        if not kept.is_whole():
            kept.forget()
            with brought.content.open("rb") as content:
                kept.append(0, content, MOST_BYTES)
            kept.finish()
    with desk.store.session() as session:
        _check_name(session, study_id, name)
        sheet = MapSheet(
            study_id=study_id, name=name.strip(), form=brought.form, file_hash=digest,
            bytes=size, bounds=list(brought.bounds), detail=brought.detail, **desk.signed(),
        )  # fmt: skip
        session.add(sheet)
        session.add(desk.event(study_id, "map brought in", map=sheet.name))
        session.flush()
        return next(one for one in _listed(session, study_id) if one.id == sheet.id)


def rename_sheet(desk: Desk, sheet_id: int, wanted: SheetName) -> SheetOut:
    desk.needs_whole_study("Maps")
    with desk.store.session() as session:
        sheet = session.get_one(MapSheet, sheet_id)
        _check_name(session, sheet.study_id, wanted.name, but=sheet_id)
        sheet.name = wanted.name.strip()
        session.flush()
        return next(one for one in _listed(session, sheet.study_id) if one.id == sheet_id)


def remove_sheet(desk: Desk, sheet_id: int) -> None:
    """Phones forget it at their next contact; the profiles that named it name it no more."""
    desk.needs_whole_study("Maps")
    with desk.store.session() as session:
        sheet = session.get_one(MapSheet, sheet_id)
        for profile in session.scalars(select(KeptProfile).where(KeptProfile.study_id == sheet.study_id)):
            named = profile.settings.get("map_sheets", [])
            if sheet_id in named:
                profile.settings = {**profile.settings, "map_sheets": [one for one in named if one != sheet_id]}
                profile.version += 1
        session.add(desk.event(sheet.study_id, "map removed", map=sheet.name))
        session.delete(sheet)


def content_at_desk(desk: Desk, sheet_id: int) -> Path:
    with desk.store.reading() as session:
        return sound_file(desk.store.files, session.get_one(MapSheet, sheet_id).file_hash)


def _listed(session: Session, study_id: int) -> list[SheetOut]:
    profiles = session.scalars(select(KeptProfile).where(KeptProfile.study_id == study_id)).all()
    carried = session.scalars(select(Device.carries).where(Device.study_id == study_id, Device.cut_off_at.is_(None)))
    held = [set((carries or {}).get("sheets", [])) for carries in carried]
    return [
        SheetOut(
            **sheet_line(sheet).model_dump(), counts=sheet.detail.get("counts", {}),
            profiles=sorted(p.name for p in profiles if sheet.id in p.settings.get("map_sheets", [])),
            phones=sum(sheet.file_hash in here for here in held), created_by=sheet.created_by,
        )
        for sheet in sheets_of(session, study_id)
    ]  # fmt: skip


def _check_name(session: Session, study_id: int, name: str, but: int | None = None) -> None:
    same = select(MapSheet.id).where(MapSheet.study_id == study_id, MapSheet.name == name.strip())
    taken = session.scalar(same)
    if taken is not None and taken != but:
        raise Refused("name_taken", f"This study has a map {name.strip()} already. Give this one another name.")


def _shapes(sent: Path, folder: Path) -> _Brought:
    if sent.stat().st_size > _MOST_SHAPES_BYTES:
        most = f"Shapes of more than {_MOST_SHAPES_BYTES >> 20} MB are more than a phone can draw."
        raise DataError("map_too_large", f"{most} Simplify them, or bring the map in as tiles (MBTiles, PMTiles).")
    shapes = read_shapes(sent.read_bytes())
    content = folder / "shapes"
    features = [{**feature, "geometry": _shortened(feature["geometry"])} for feature in shapes.features]
    whole = {"type": "FeatureCollection", "features": features}
    content.write_text(json.dumps(whole, ensure_ascii=False, separators=(",", ":")), encoding="utf-8")
    return _Brought("shapes", shapes.bounds, {"counts": shapes.counts}, content)


def _shortened(found: Any) -> Any:
    """Coordinates to a tenth of a metre: what is finer costs every phone its room."""
    if isinstance(found, float):
        return round(found, _BESIDE_DIGITS)
    if isinstance(found, list):
        return [_shortened(one) for one in found]
    if isinstance(found, dict):
        return {
            name: _shortened(one) if name in ("coordinates", "geometries", "geometry") else one
            for name, one in found.items()
        }
    return found


def _tiles(sent: Path, folder: Path) -> _Brought:
    content = sent
    if is_mbtiles(sent):
        content = folder / "tiles"
        from_mbtiles(sent, content)
    tiles = read_tiles(content)
    detail = {
        "kind": tiles.kind, "min_zoom": tiles.min_zoom, "max_zoom": tiles.max_zoom, "layers": tiles.layers,
        "attribution": tiles.attribution, "counts": {"tiles": tiles.tiles},
    }  # fmt: skip
    return _Brought("tiles", tiles.bounds, detail, content)


def sheet_file(desk_files: Path, session: Session, study_id: int, digest: str) -> Path:
    """A map sheet of a study by the hash of its content."""
    of_study = select(MapSheet.id).where(MapSheet.study_id == study_id, MapSheet.file_hash == digest)
    if session.scalar(of_study) is None:
        raise not_found("map sheet")
    return sound_file(desk_files, digest)
