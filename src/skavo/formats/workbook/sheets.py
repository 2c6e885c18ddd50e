"""The sheets of a workbook as tables of text: an .xlsx file, or .csv files with the sheets' names, folded or zipped."""

from __future__ import annotations

import csv
import io
import zipfile
from dataclasses import dataclass, field, replace
from pathlib import Path

import xlsxwriter
from xlsxwriter.utility import xl_rowcol_to_cell

from skavo.core.errors import DataError
from skavo.formats.read_table import MOST_BYTES, open_workbook, sheet_rows

Cells = list[list[str | None]]
# Widths of columns, in signs.
_NARROWEST, _WIDEST = 10, 48
_FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r", "'")


@dataclass(frozen=True)
class CellFault:
    """A fault with its cell, by name (`H5`) and by `row` and `column`, which count from 1; row 1 holds the headings.

    `found` is what is wrong there: the whole cell, or the piece of a rule `length` long from `start`.
    """

    sheet: str
    row: int
    column: int
    severity: str
    code: str
    message: str
    mend: str = ""
    cell: str = ""
    found: str = ""
    start: int = 0
    length: int = 0

    def placed(self, sheet: Sheet | None) -> CellFault:
        """The same with the name of its cell and what the sheet holds there."""
        text = sheet.text_at(self.row, self.column) if sheet else ""
        length = self.length or len(text)
        # A single sign says nothing without what stands around it.
        found = text[self.start : self.start + length] if length > 1 else text
        return replace(self, cell=xl_rowcol_to_cell(self.row - 1, self.column - 1), found=found, length=length)


@dataclass
class Sheet:
    """`rows` are the rows that hold anything, with their numbers in the file."""

    name: str
    headings: list[str]
    rows: list[tuple[int, list[str | None]]]

    @classmethod
    def of(cls, name: str, cells: Cells) -> Sheet:
        headings = [(h or "").strip() for h in cells[0]] if cells else []
        return cls(name, headings, [(i, row) for i, row in enumerate(cells[1:], start=2) if any(row)])

    def text_at(self, row: int, column: int) -> str:
        """What a cell holds; "" for an empty one and for one that is not there."""
        cells = self.headings if row == 1 else next((cells for number, cells in self.rows if number == row), [])
        return (cells[column - 1] if column <= len(cells) else None) or ""


@dataclass
class Faults:
    """Collects what is wrong with cells while a workbook is read."""

    found: list[CellFault] = field(default_factory=list)

    def add(self, sheet: str, row: int, column: int, code: str, message: str, mend: str = "") -> None:
        self.found.append(CellFault(sheet, row, column, "error", code, message, mend))

    def doubt(self, sheet: str, row: int, column: int, code: str, message: str, mend: str = "") -> None:
        self.found.append(CellFault(sheet, row, column, "doubt", code, message, mend))


# Where the files of the media shelf lie in a zip beside the workbook.
MEDIA_FOLDER = "media/"


def workbook_inside(content: bytes) -> bytes | None:
    """The .xlsx file of a zip that holds a workbook and its media; None for what is itself a workbook, or no zip."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as outer:
            names = outer.namelist()
            books = [e for e in outer.infolist() if e.filename.lower().endswith(".xlsx") and "/" not in e.filename]
            if "[Content_Types].xml" in names or not books:
                return None
            if books[0].file_size > MOST_BYTES:
                raise DataError("file_too_large", f"{books[0].filename} has more than 100 MB.", {})
            return outer.read(books[0])
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, OSError):
        return None


def open_sheets(name: str, content: bytes) -> dict[str, Sheet]:
    """The sheets of an .xlsx file or of a zip of .csv files, by their name in small letters."""
    if len(content) > MOST_BYTES:
        raise DataError("file_too_large", f"{name} has {len(content) // 2**20} MB; 100 MB is the most.", {})
    if content[:2] != b"PK":
        raise DataError("not_a_workbook", f"{name} is neither an .xlsx file nor a zip of .csv files.", {})
    files = _zipped_csv(name, content)
    if files is not None:
        return _sheets({Path(file).stem: _csv_cells(file, data) for file, data in files.items()})
    book = open_workbook(name, content)
    return _sheets({s.title: list(sheet_rows(name, s)) for s in book.worksheets})


def open_folder(folder: Path) -> dict[str, Sheet]:
    """The sheets of a folder of .csv files."""
    files = sorted(folder.glob("*.csv"))
    if not files:
        raise DataError("no_file", f"There are no .csv files in {folder.name}.", {})
    return _sheets({file.stem: _csv_cells(file.name, file.read_bytes()) for file in files})


def _sheets(cells: dict[str, Cells]) -> dict[str, Sheet]:
    return {name.strip().lower(): Sheet.of(name.strip(), rows) for name, rows in cells.items()}


def _zipped_csv(name: str, content: bytes) -> dict[str, bytes] | None:
    """The .csv files of a zip; None where it is an .xlsx file."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            entries = [e for e in packed.infolist() if e.filename.lower().endswith(".csv")]
            if not entries:
                return None
            if sum(e.file_size for e in entries) > MOST_BYTES:
                raise DataError("file_too_large", f"{name} unpacks to more than 100 MB.", {})
            return {e.filename: packed.read(e) for e in entries}
    except (zipfile.BadZipFile, OSError) as error:
        raise DataError("not_a_workbook", f"{name} cannot be opened ({type(error).__name__}).", {}) from None


def _csv_cells(name: str, content: bytes) -> Cells:
    try:
        text = content.decode("utf-8-sig")
        rows = list(csv.reader(io.StringIO(text, newline=""), strict=True))
    except UnicodeDecodeError as error:
        line = content[: error.start].count(b"\n") + 1
        message = f"Line {line} of {name} is not UTF-8. Save the file as “CSV UTF-8”."
        raise DataError("wrong_encoding", message, {"row": line}) from None
    except csv.Error as error:
        raise DataError("broken_csv", f"{name} cannot be read as CSV: {error}.", {}) from None
    return [[unguarded(cell.strip()) or None for cell in row] for row in rows]


def unguarded(cell: str) -> str:
    """A cell without the sign that keeps spreadsheets from taking it for a formula."""
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith(_FORMULA_STARTS) else cell


def _guarded(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula; reading takes the sign away again."""
    return f"'{cell}" if cell.startswith(_FORMULA_STARTS) else cell


def write_xlsx_sheets(sheets: dict[str, list[list[str]]]) -> bytes:
    """Tables, headings first, as an .xlsx file."""
    packed = io.BytesIO()
    options = {"strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    book = xlsxwriter.Workbook(packed, options)
    bold = book.add_format({"bold": True, "bottom": 1})
    wrap = book.add_format({"text_wrap": True, "valign": "top"})
    for name, rows in sheets.items():
        sheet = book.add_worksheet(name)
        for r, row in enumerate(rows):
            for c, cell in enumerate(row):
                if cell:
                    sheet.write_string(r, c, cell, wrap if r else bold)
        sheet.freeze_panes(1, 0)
        for column in range(len(rows[0])):
            longest = max((len(row[column]) for row in rows if column < len(row)), default=0)
            sheet.set_column(column, column, min(max(longest + 2, _NARROWEST), _WIDEST))
    book.close()
    return packed.getvalue()


def write_csv_sheets(sheets: dict[str, list[list[str]]]) -> dict[str, bytes]:
    """Tables as .csv files (RFC 4180, UTF-8), by file name."""
    files = {}
    for name, rows in sheets.items():
        text = io.StringIO(newline="")
        csv.writer(text, lineterminator="\r\n").writerows([[_guarded(cell) for cell in row] for row in rows])
        files[f"{name}.csv"] = ("\ufeff" + text.getvalue()).encode("utf-8")
    return files
