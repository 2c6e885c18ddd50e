"""Maps in tiles: PMTiles read by its header, MBTiles brought into it tile by tile, damage told in words."""

from __future__ import annotations

import gzip
import json
import random
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from pmtiles.reader import MmapSource, Reader

from skavo.core.errors import DataError
from skavo.formats.tiles import _convert, from_mbtiles, is_mbtiles, is_pmtiles, read_tiles

PNG = b"\x89PNG made up"
# A tile at zoom 3 as both formats name it: MBTiles counts rows from the south.
Z, X, Y = 3, 1, 5
TILES = {(0, 0, 0): PNG, (Z, X, Y): PNG + b"3"}


def mbtiles(path: Path, tiles: dict[tuple[int, int, int], object] | None = None, **told: str) -> Path:
    wanted = {
        "name": "isles",
        "format": "png",
        "bounds": "-123,-48,-121,-46",
        "attribution": "Bureau of Crafts",
        **told,
    }
    with closing(sqlite3.connect(path)) as made:
        made.execute("CREATE TABLE metadata (name TEXT, value TEXT)")
        made.executemany("INSERT INTO metadata VALUES (?, ?)", [(k, v) for k, v in wanted.items() if v != ""])
        made.execute("CREATE TABLE tiles (zoom_level INTEGER, tile_column INTEGER, tile_row INTEGER, tile_data BLOB)")
        for (z, x, y), content in (TILES if tiles is None else tiles).items():
            made.execute("INSERT INTO tiles VALUES (?, ?, ?, ?)", (z, x, (1 << z) - 1 - y, content))
        made.commit()
    return path


def converted(path: Path) -> Path:
    out = path.with_suffix(".pmtiles")
    from_mbtiles(path, out)
    return out


def test_every_tile_of_mbtiles_is_found_again_in_its_place(tmp_path: Path) -> None:
    source = mbtiles(tmp_path / "isles.mbtiles")
    assert is_mbtiles(source) and not is_pmtiles(source)
    out = converted(source)
    assert is_pmtiles(out) and not is_mbtiles(out)
    with out.open("rb") as file:
        reader = Reader(MmapSource(file))
        assert {place: reader.get(*place) for place in TILES} == TILES
        assert reader.get(Z, X, Y - 1) is None
    tiles = read_tiles(out)
    assert (tiles.kind, tiles.min_zoom, tiles.max_zoom, tiles.tiles) == ("pictures", 0, 3, 2)
    assert (tiles.bounds, tiles.attribution) == ((-123, -48, -121, -46), "Bureau of Crafts")


def test_tiles_that_lie_in_no_order_and_without_an_index_are_read_once(tmp_path: Path) -> None:
    places = [(7, x, y) for x in range(60) for y in range(60)]
    random.Random(5).shuffle(places)
    tiles: dict[tuple[int, int, int], object] = {place: PNG + repr(place).encode() * 40 for place in places}
    source = mbtiles(tmp_path / "isles.mbtiles", {**tiles, (0, 0, 0): PNG})
    reads: list[str] = []
    with closing(sqlite3.connect(source)) as found, (tmp_path / "out.pmtiles").open("wb") as out:
        found.set_trace_callback(reads.append)
        told = {"format": "png", "bounds": "-123,-48,-121,-46"}
        _convert(found, told, out)
    assert len(reads) == 1, "one statement, however many tiles"
    with (tmp_path / "out.pmtiles").open("rb") as file:
        reader = Reader(MmapSource(file))
        assert all(reader.get(*place) == tiles[place] for place in places[:150])
    assert (read_tiles(tmp_path / "out.pmtiles").min_zoom, read_tiles(tmp_path / "out.pmtiles").tiles) == (0, 3601)


def test_vector_tiles_are_packed_and_name_their_layers(tmp_path: Path) -> None:
    layers = json.dumps({"vector_layers": [{"id": "water", "fields": {}}, {"id": "lanes", "fields": {}}]})
    out = converted(mbtiles(tmp_path / "v.mbtiles", {(0, 0, 0): b"\x1a\x00"}, format="pbf", json=layers))
    tiles = read_tiles(out)
    assert (tiles.kind, tiles.layers) == ("shapes", ["water", "lanes"])
    with out.open("rb") as file:
        packed = Reader(MmapSource(file)).get(0, 0, 0)
    assert packed is not None and gzip.decompress(packed) == b"\x1a\x00"


@pytest.mark.parametrize(
    ("told", "tiles", "code"),
    [
        ({"format": "tiff"}, None, "unknown_tiles"),
        ({"format": ""}, None, "unknown_tiles"),
        ({}, {}, "no_tiles"),
        ({}, {(0, 0, 0): "text"}, "damaged_map"),
        ({}, {(2, 9, 0): PNG}, "damaged_map"),
        ({}, {(23, 0, 0): PNG}, "damaged_map"),
        ({"bounds": "200,0,300,1"}, None, "damaged_map"),
    ],
)
def test_mbtiles_that_cannot_be_shown_are_refused(
    tmp_path: Path, told: dict[str, str], tiles: dict[tuple[int, int, int], object] | None, code: str
) -> None:
    with pytest.raises(DataError) as found:
        read_tiles(converted(mbtiles(tmp_path / "odd.mbtiles", tiles, **told)))
    assert found.value.code == code


def test_what_was_not_copied_whole_is_refused(tmp_path: Path) -> None:
    source = mbtiles(tmp_path / "isles.mbtiles", {(5, x, y): bytes([x]) * 900 for x in range(9) for y in range(9)})
    whole = converted(source).read_bytes()
    cut = tmp_path / "cut.pmtiles"
    for keep in (3, 60, 200, len(whole) - 1):
        cut.write_bytes(whole[:keep])
        with pytest.raises(DataError) as found:
            read_tiles(cut)
        assert found.value.code == "damaged_map", keep
    half = tmp_path / "half.mbtiles"
    half.write_bytes(source.read_bytes()[: source.stat().st_size // 2])
    with pytest.raises(DataError):
        converted(half)


def test_what_it_says_of_itself_cannot_fill_the_memory(tmp_path: Path) -> None:
    out = converted(mbtiles(tmp_path / "isles.mbtiles"))
    content = bytearray(out.read_bytes())
    bomb = gzip.compress(b'{"a":"' + b"x" * (80 << 20) + b'"}')
    # Offset and length of the metadata, in the header of version 3.
    content[24:32], content[32:40] = len(content).to_bytes(8, "little"), len(bomb).to_bytes(8, "little")
    out.write_bytes(bytes(content) + bomb)
    with pytest.raises(DataError):
        read_tiles(out)
