"""Texts with a delimiter (RFC 4180 and what is sent under its name): encoding, delimiter and heading found and shown."""

from __future__ import annotations

import codecs
import csv
import tempfile
from collections.abc import Iterator
from itertools import islice
from pathlib import Path
from typing import IO

import polars as pl
from charset_normalizer import from_bytes

from skavo.core.errors import DataError
from skavo.formats.tables_in.told import FileReading, TableIn, headings_of, likely_heading, tidy_frame

_PIECE = 1 << 20
_SEEN = 256 << 10
_LOOKED_AT, _MOST_STRANGE = 50, 2_000
_DELIMITERS = ",;\t|"
# Where a few letters tell no two encodings apart (common practice).
_USUAL = "cp1252"
# More columns than any survey has: a file of another kind.
_MOST_COLUMNS = 20_000
_MARKS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16"), (codecs.BOM_UTF16_BE, "utf-16"))


def read_delimited(name: str, path: Path, reading: FileReading) -> TableIn:
    if reading.encoding:
        return _read(name, path, reading, reading.encoding)
    try:
        return _read(name, path, reading, _encoding_of(path, whole=False))
    except UnicodeDecodeError:
        # Its beginning looked like UTF-8, and what comes later is not.
        return _read(name, path, reading, _encoding_of(path, whole=True))


def _read(name: str, path: Path, reading: FileReading, encoding: str) -> TableIn:
    """Raise UnicodeDecodeError where an encoding that was found at the beginning is not that of all of it."""
    with tempfile.TemporaryDirectory() as folder:
        plain = _as_utf8(name, path, encoding, Path(folder) / "plain.csv", is_found=not reading.encoding)
        with plain.open("rb") as file:
            start = file.read(_SEEN).decode("utf-8", "ignore")
        if "\0" in start:
            raise DataError(
                "not_a_table", f"{name} is not a text file. Bring a table in: .csv, .xlsx, .sav, .dta, .parquet."
            )
        delimiter = reading.delimiter or _delimiter_of(start)
        first = _first_rows(name, plain, delimiter)
        if not first:
            raise DataError("empty_file", f"{name} has no rows.")
        heading = likely_heading([row for row, _ in first]) if reading.heading is None else reading.heading
        cells, lines = first[min(heading, len(first)) - 1] if heading else (list(first[0][0]), 0)
        while heading and len(cells) > 1 and cells[-1] is None and not _stands_at(first, len(cells) - 1):
            cells = cells[:-1]
        names, told = headings_of(cells if heading else [None] * max(len(row) for row, _ in first))
        told = told if heading else []
        if len(names) > _MOST_COLUMNS:
            raise DataError("not_a_table", f"{name} has {len(names):,} columns; {_MOST_COLUMNS:,} is the most.")
        frame = _body(name, plain, delimiter, names, lines, heading)
    read = FileReading(encoding=encoding, delimiter=delimiter, heading=heading)
    return TableIn("csv", tidy_frame(frame), read, told=told)


def _stands_at(rows: list[tuple[list[str | None], int]], place: int) -> bool:
    return any(len(row) > place and row[place] is not None for row, _ in rows)


def _encoding_of(path: Path, *, whole: bool) -> str:
    """By its mark, else UTF-8 where its beginning (or the whole of it) is, else what is likeliest by its letters."""
    with path.open("rb") as file:
        start = file.read(_SEEN)
        for mark, encoding in _MARKS:
            if start.startswith(mark):
                return encoding
        decoder = codecs.getincrementaldecoder("utf-8")()
        try:
            piece = start
            while piece:
                decoder.decode(piece)
                piece = file.read(_PIECE) if whole else b""
            if whole or len(start) < _SEEN:
                decoder.decode(b"", final=True)
            return "utf-8"
        except UnicodeDecodeError:
            pass
        file.seek(0)
        found = list(from_bytes(_strange_lines(file)))
    likeliest = [match for match in found if match.chaos == min(one.chaos for one in found)]
    named = [name for match in likeliest for name in (match.encoding, *match.could_be_from_charset)]
    return _USUAL if _USUAL in named or not named else named[0].replace("_", "-")


def _strange_lines(file: IO[bytes]) -> bytes:
    """The first lines that hold letters beyond ASCII: they tell the encoding."""
    # What has no lines at all is read in pieces.
    lines = iter(lambda: file.readline(_PIECE), b"")
    return b"\n".join(islice((line for line in lines if not line.isascii()), _MOST_STRANGE))


def _as_utf8(name: str, path: Path, encoding: str, target: Path, *, is_found: bool) -> Path:
    """The same text in UTF-8 with plain line ends where it has others; raise DataError where it is in no such encoding.
    One that was found at its beginning may still fail further down, when it is read."""
    try:
        codec = codecs.lookup(encoding)
        if not getattr(codec, "_is_text_encoding", True):
            raise LookupError
    except LookupError:
        raise DataError(
            "wrong_encoding", f"There is no encoding “{encoding}”. Usual ones: utf-8, cp1252, utf-16."
        ) from None
    with path.open("rb") as file:
        head = file.read(_SEEN)
    old_ends = b"\r" in head and b"\n" not in head and not encoding.startswith("utf-16")
    if codec.name == "utf-8" and not old_ends and not head.startswith(codecs.BOM_UTF8):
        if not is_found:
            _check_utf8(name, path)
        return path
    try:
        with path.open(encoding="utf-8-sig" if codec.name == "utf-8" else encoding, newline="") as source, \
                target.open("w", encoding="utf-8", newline="") as out:  # fmt: skip
            while piece := source.read(_PIECE):
                out.write(piece.replace("\r", "\n") if old_ends else piece)
    except UnicodeError:
        raise DataError("wrong_encoding", f"{name} is not in {encoding}. Choose another encoding.") from None
    return target


def _check_utf8(name: str, path: Path) -> None:
    decoder, lines = codecs.getincrementaldecoder("utf-8")(), 1
    with path.open("rb") as file:
        while True:
            piece = file.read(_PIECE)
            try:
                decoder.decode(piece, final=not piece)
            except UnicodeDecodeError as error:
                line = lines + piece[: error.start].count(b"\n")
                message = f"Line {line} of {name} is not UTF-8. Choose another encoding."
                raise DataError("wrong_encoding", message, {"row": line}) from None
            if not piece:
                return
            lines += piece.count(b"\n")


def _delimiter_of(start: str) -> str:
    """The one that parts the most of the first rows into the same number of cells, more than one."""
    best = (0, 0)
    found = ","
    for delimiter in _DELIMITERS:
        try:
            rows = list(islice(csv.reader(start.splitlines(keepends=True), delimiter=delimiter), _LOOKED_AT))
        except csv.Error:
            continue
        widths = [len(row) for row in rows if row]
        usual = max(set(widths), key=widths.count, default=1)
        score = (widths.count(usual) if usual > 1 else 0, usual)
        if score > best:
            best, found = score, delimiter
    return found


def _records(name: str, path: Path, delimiter: str) -> Iterator[tuple[list[str | None], int]]:
    """Every row with the number of lines up to its end; raise DataError with the line where it is no such text."""
    csv.field_size_limit(1 << 27)
    with path.open(encoding="utf-8", newline="") as file:
        rows = csv.reader(file, delimiter=delimiter, strict=True)
        try:
            for row in rows:
                yield [cell.strip() or None for cell in row], rows.line_num
        except csv.Error as error:
            raise DataError(
                "broken_csv", f"Line {rows.line_num} of {name} cannot be read: {error}. Look for a quote that is not closed, or "
                "choose another delimiter.", {"row": rows.line_num},
            ) from None  # fmt: skip


def _first_rows(name: str, path: Path, delimiter: str) -> list[tuple[list[str | None], int]]:
    return list(islice(_records(name, path, delimiter), _LOOKED_AT))


def _body(name: str, path: Path, delimiter: str, names: list[str], lines: int, heading: int) -> pl.DataFrame:
    """The rows below the heading. What the fast reader refuses is read row by row, so that the place can be told."""
    schema = {str(at): pl.String for at in range(len(names))}
    try:
        frame = pl.read_csv(
            path,
            separator=delimiter,
            has_header=False,
            schema=schema,
            skip_lines=lines,
            infer_schema=False,
            low_memory=True,
        )
        return frame.rename(dict(zip(frame.columns, names, strict=True)))
    except (pl.exceptions.PolarsError, ValueError):
        pass
    columns: list[list[str | None]] = [[] for _ in names]
    for number, (row, _) in enumerate(_records(name, path, delimiter), 1):
        if number <= heading:
            continue
        if any(row[len(names) :]):
            raise DataError(
                "too_many_cells", f"Row {number} of {name} has {len(row)} cells; the headings are {len(names)}. Look for a "
                "missing quote or an unquoted delimiter.", {"row": number},
            )  # fmt: skip
        for at, column in enumerate(columns):
            column.append(row[at] if at < len(row) else None)
    return pl.DataFrame(dict(zip(names, columns, strict=True)), schema=dict.fromkeys(names, pl.String))
