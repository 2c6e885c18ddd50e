"""Tables from elsewhere, of any usual format: cells as text, row after row, with what the file itself says of its columns."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from skavo.core.errors import DataError, SkavoError
from skavo.formats.tables_in.delimited import read_delimited
from skavo.formats.tables_in.labelled import read_dta, read_sav
from skavo.formats.tables_in.plain import read_json_lines, read_parquet
from skavo.formats.tables_in.sheets import read_sheet
from skavo.formats.tables_in.told import FileReading, TableIn

MOST_BYTES = 2 << 30
_READERS: dict[str, Callable[[str, Path, FileReading], TableIn]] = {
    "csv": read_delimited, "xlsx": read_sheet, "sav": read_sav, "dta": read_dta, "parquet": read_parquet,
    "jsonl": read_json_lines,
}  # fmt: skip


def read_table_in(name: str, path: Path, reading: FileReading | None = None) -> TableIn:
    """Read a file as `reading` says, and as it looks where that says nothing. `name` is what the file is called.

    Raise DataError with the place of what is wrong; a file is read whole or not at all.
    """
    size = path.stat().st_size
    if size > MOST_BYTES:
        raise DataError("file_too_large", f"{name} has {size >> 20} MB; {MOST_BYTES >> 20} MB is the most.")
    if not size:
        raise DataError("empty_file", f"{name} is empty.")
    kind = _kind_of(name, path)
    try:
        found = _READERS[kind](name, path, reading or FileReading())
    except SkavoError:
        raise
    # Whatever a damaged file makes its reader stumble over.
    except Exception as error:
        raise DataError("not_a_table", f"{name} cannot be read as .{kind} ({type(error).__name__}): it is damaged, or of "
                        "another kind than its name says. Save it again where it comes from.") from None  # fmt: skip
    if not found.frame.width:
        raise DataError("empty_file", f"{name} has no columns.")
    return found


def _kind_of(name: str, path: Path) -> str:
    """By what the file holds; by its name where that tells nothing."""
    with path.open("rb") as file:
        start = file.read(4096)
    if start.startswith(b"PAR1"):
        return "parquet"
    if start.startswith((b"$FL2", b"$FL3")):
        return "sav"
    if start.startswith(b"<stata_dta>") or (
        name.lower().endswith(".dta") and start[:1] in b"\x69\x6c\x6e\x6f\x71\x72\x73"
    ):
        return "dta"
    if start.startswith(b"PK"):
        return "xlsx"
    if start.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"{") and name.lower().endswith((".jsonl", ".ndjson", ".json")):
        return "jsonl"
    return "csv"
