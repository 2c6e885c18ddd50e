"""Maps cut into tiles: PMTiles (version 3 of its specification) as they are, MBTiles (1.3) brought into that form."""

from __future__ import annotations

import gzip
import json
import re
import sqlite3
import zlib
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any, Literal
from urllib.parse import quote

from pmtiles.tile import Compression, TileType, deserialize_header, zxy_to_tileid
from pmtiles.writer import Writer

from skavo.core.errors import DataError

_HEADER_BYTES = 127
_MOST_METADATA = 4 << 20
_MOST_ZOOM = 22
_RASTER = {TileType.PNG: "image/png", TileType.JPEG: "image/jpeg", TileType.WEBP: "image/webp"}
_MBTILES = {
    "png": TileType.PNG, "jpg": TileType.JPEG, "jpeg": TileType.JPEG, "webp": TileType.WEBP, "pbf": TileType.MVT,
}  # fmt: skip
_MOST_TILES = 5_000_000
# Some makers write whose work it is as a piece of a web page.
_MARKUP = re.compile("<[^<>]*>")
_WHOLE_EARTH = (-180.0, -85.05112878, 180.0, 85.05112878)


@dataclass(frozen=True)
class Tiles:
    """What a map in tiles is: pictures, or shapes in layers; `bounds` is west, south, east, north in degrees."""

    kind: Literal["pictures", "shapes"]
    bounds: tuple[float, float, float, float]
    min_zoom: int
    max_zoom: int
    tiles: int
    layers: list[str]
    attribution: str


def is_mbtiles(path: Path) -> bool:
    with path.open("rb") as file:
        return file.read(16) == b"SQLite format 3\0"


def is_pmtiles(path: Path) -> bool:
    with path.open("rb") as file:
        return file.read(7) == b"PMTiles"


def read_tiles(path: Path) -> Tiles:
    """What a PMTiles file holds; raise DataError where it is damaged, or holds what no browser shows."""
    size = path.stat().st_size
    with path.open("rb") as file:
        try:
            header: dict[str, Any] = {**deserialize_header(file.read(_HEADER_BYTES))}
        except Exception:
            # The library raises what comes: for another version, an unknown number, a header that is cut off.
            raise _damaged("Its header cannot be read, or is not that of version 3.") from None
        ends = [
            header[f"{part}_offset"] + header[f"{part}_length"]
            for part in ("root", "metadata", "leaf_directory", "tile_data")
        ]
        if max(ends) > size:
            raise _damaged(f"It ends after {size:,} bytes, and should have {max(ends):,}: it was not copied whole.")
        file.seek(header["metadata_offset"])
        if header["metadata_length"] > _MOST_METADATA:
            raise _damaged("What it says of itself is too long.")
        told = _metadata(file.read(header["metadata_length"]), header["internal_compression"])
    kind = header["tile_type"]
    if kind not in _RASTER and kind != TileType.MVT:
        raise DataError("unknown_tiles", "Its tiles are neither pictures (PNG, JPEG, WebP) nor vector tiles.")
    if header["tile_compression"] not in (Compression.NONE, Compression.GZIP, Compression.UNKNOWN):
        raise DataError("unknown_tiles", "Its tiles are packed in a way that browsers do not read. Save it with gzip.")
    west, south, east, north = (header[f"{end}_e7"] / 1e7 for end in ("min_lon", "min_lat", "max_lon", "max_lat"))
    if not (-180 <= west <= east <= 180 and -90 <= south <= north <= 90):
        raise _damaged("Its bounds are no longitudes and latitudes.")
    layers = told.get("vector_layers")
    return Tiles(
        kind="shapes" if kind == TileType.MVT else "pictures", bounds=(west, south, east, north),
        min_zoom=min(header["min_zoom"], _MOST_ZOOM), max_zoom=min(header["max_zoom"], _MOST_ZOOM),
        tiles=header["addressed_tiles_count"],
        layers=[str(layer.get("id", ""))[:100] for layer in layers if isinstance(layer, dict)][:200] if isinstance(layers, list) else [],
        attribution=_MARKUP.sub("", str(told.get("attribution") or ""))[:500],
    )  # fmt: skip


def from_mbtiles(path: Path, out: Path) -> None:
    """Write the tiles of an MBTiles file as PMTiles; raise DataError where it is none, or is damaged."""
    try:
        with closing(sqlite3.connect(f"file:{quote(str(path))}?mode=ro&immutable=1", uri=True)) as found:
            told = {str(name): str(value) for name, value in found.execute("SELECT name, value FROM metadata")}
            with out.open("wb") as file:
                _convert(found, told, file)
    except (sqlite3.Error, UnicodeDecodeError):
        raise _damaged("It is no MBTiles file, or it was not copied whole: it needs tiles and metadata.") from None


def _convert(found: sqlite3.Connection, told: dict[str, str], out: IO[bytes]) -> None:
    kind = _MBTILES.get(told.get("format", ""))
    if kind is None:
        named = told.get("format") or "of no named format"
        raise DataError("unknown_tiles", f"Its tiles are {named}; maps are png, jpg, webp or pbf.")
    writer: Any = Writer(out)  # type: ignore[no-untyped-call]
    zooms: set[int] = set()
    # In the order in which they lie there: a file without an index is read once as well, and not once for each tile.
    tiles = found.execute("SELECT zoom_level, tile_column, tile_row, tile_data FROM tiles LIMIT ?", (_MOST_TILES + 1,))
    for number, (z, x, row, content) in enumerate(tiles):
        if number == _MOST_TILES:
            raise DataError("map_too_large", f"This map has more than {_MOST_TILES:,} tiles. Cut it smaller.")
        if not (isinstance(z, int) and 0 <= z <= _MOST_ZOOM):
            raise _damaged(f"It has a tile at zoom {z}.")
        if not all(isinstance(at, int) and 0 <= at < 1 << z for at in (x, row)) or not isinstance(content, bytes):
            raise _damaged(f"Its tile {z}/{x}/{row} cannot be read.")
        zooms.add(z)
        is_packed = kind != TileType.MVT or content[:2] == b"\x1f\x8b"
        packed = content if is_packed else gzip.compress(content, mtime=0)
        writer.write_tile(zxy_to_tileid(z, x, (1 << z) - 1 - row), packed)
    if not zooms:
        raise DataError("no_tiles", "This map has no tiles. Export it again from the program that made it.")
    west, south, east, north = _bounds_told(told.get("bounds", ""))
    header = {
        "tile_type": kind,
        "tile_compression": Compression.GZIP if kind == TileType.MVT else Compression.NONE,
        "min_zoom": min(zooms), "max_zoom": max(zooms),
        "min_lon_e7": int(west * 1e7), "min_lat_e7": int(south * 1e7),
        "max_lon_e7": int(east * 1e7), "max_lat_e7": int(north * 1e7),
        "center_zoom": 0, "center_lon_e7": int((west + east) / 2 * 1e7), "center_lat_e7": int((south + north) / 2 * 1e7),
    }  # fmt: skip
    writer.finalize(header, {"attribution": told.get("attribution", ""), "vector_layers": _layers_told(told)})


def _bounds_told(told: str) -> tuple[float, float, float, float]:
    try:
        west, south, east, north = (float(piece) for piece in told.split(","))
    except ValueError:
        return _WHOLE_EARTH
    if not (-180 <= west <= east <= 180 and -90 <= south <= north <= 90):
        raise _damaged("Its bounds are no longitudes and latitudes.")
    return west, south, east, north


def _layers_told(told: dict[str, str]) -> list[Any]:
    try:
        more = json.loads(told.get("json", "{}"))
    except ValueError:
        return []
    layers = more.get("vector_layers") if isinstance(more, dict) else None
    return layers if isinstance(layers, list) else []


def _metadata(raw: bytes, compression: Compression) -> dict[str, Any]:
    try:
        if compression == Compression.GZIP:
            raw = zlib.decompressobj(wbits=31).decompress(raw, _MOST_METADATA)
        found = json.loads(raw)
    except (ValueError, zlib.error):
        raise _damaged("What it says of itself cannot be read.") from None
    return found if isinstance(found, dict) else {}


def _damaged(why: str) -> DataError:
    return DataError("damaged_map", f"This map cannot be used. {why}")
