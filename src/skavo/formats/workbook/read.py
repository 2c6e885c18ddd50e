"""Workbook to script: everything that is wrong is told at its cell, nothing is passed over in silence."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.hints import Standard
from skavo.core.questionnaire.script import (
    MOST_SHORT,
    Code,
    CodeList,
    Part,
    Script,
    ScriptCheck,
    UnitList,
    UnitOfMeasure,
)
from skavo.core.questionnaire.variables import VARIABLE, suggest_variable
from skavo.core.rules.types import nearest
from skavo.formats.workbook.about import ABOUT, read_about
from skavo.formats.workbook.blank import EXPLAINING
from skavo.formats.workbook.columns import (
    BY_HEADING,
    CHECK,
    LANG,
    MESSAGE,
    Column,
    WrongCell,
    heading_of,
    read_files,
    read_yes_no,
)
from skavo.formats.workbook.lengths import cut_long_cells
from skavo.formats.workbook.phone_words import NAME as PHONE_WORDS
from skavo.formats.workbook.phone_words import read_phone_words
from skavo.formats.workbook.sheets import CellFault, Faults, Sheet, open_folder, open_sheets
from skavo.formats.workbook.sources import NAME as SOURCES
from skavo.formats.workbook.sources import read_sources
from skavo.formats.workbook.standard import ANY, doubt_standard
from skavo.formats.workbook.standard import NAME as STANDARD


@dataclass
class Places:
    """Where things stand in the file: the row of each part, of each list, of each code and unit in its list."""

    headings: dict[str, int] = field(default_factory=dict)
    parts: list[int] = field(default_factory=list)
    lists: dict[str, int] = field(default_factory=dict)
    codes: dict[tuple[str, str], int] = field(default_factory=dict)
    unit_lists: dict[str, int] = field(default_factory=dict)
    units: dict[tuple[str, str], int] = field(default_factory=dict)
    unit_headings: dict[str, int] = field(default_factory=dict)


@dataclass
class ReadWorkbook:
    script: Script
    faults: list[CellFault]
    places: Places
    sheets: dict[str, Sheet]

    def all_faults(self, findings: list[Finding]) -> list[CellFault]:
        """The faults of reading and the findings of compile_script, in the order of the file's cells."""
        every = [*self.faults, *[_placed(finding, self.places) for finding in findings]]
        found = [fault.placed(self.sheets.get(fault.sheet.lower())) for fault in every]
        return sorted(found, key=lambda f: (_SHEETS.index(f.sheet) if f.sheet in _SHEETS else -1, f.row, f.column))


_SHEETS = ["Script", "Code lists", SOURCES, "Units", PHONE_WORDS, STANDARD, ABOUT]


def read_workbook(name: str, content: bytes, standard: Standard = ANY) -> ReadWorkbook:
    """The script of a workbook and every fault of reading it; faults of its rules are found by compile_script.

    `standard` is that of the study that it is read into.
    """
    return _read(open_sheets(name, content), standard)


def read_folder(folder: Path) -> ReadWorkbook:
    """The same from a folder of .csv files."""
    return _read(open_folder(folder), ANY)


def _read(sheets: dict[str, Sheet], standard: Standard) -> ReadWorkbook:
    faults, places = Faults(), Places()
    known = {name.lower() for name in _SHEETS}
    for name, sheet in sheets.items():
        if name in EXPLAINING:
            continue
        cut_long_cells(faults, sheet)
        if name not in known and sheet.headings:
            hint = nearest(name, known - set(sheets))
            mend = f"Did you mean {hint.capitalize()}?" if hint else "It is left out."
            faults.doubt(sheet.name, 1, 1, "unknown_sheet", f"The sheet “{sheet.name}” is not known.", mend)
    if "script" not in sheets:
        names = ", ".join(s.name for s in sheets.values())
        faults.add("Script", 1, 1, "no_sheet", "The sheet “Script” is missing.", f"There are: {names}.")
    about = read_about(faults, sheets.get("about"))
    lists = _read_lists(faults, places, sheets.get("code lists"))
    read_sources(faults, sheets.get(SOURCES.lower()), lists)
    units = _read_units(faults, places, sheets.get("units"))
    parts = _read_script(faults, places, sheets.get("script"))
    languages = about.languages or _languages_of(parts) or ["en"]
    first = about.first or languages[0]
    script = Script(
        name=about.name or "questionnaire",
        title=about.title,
        languages=[first, *[lang for lang in languages if lang != first]],
        parts=parts,
        code_lists=lists,
        unit_lists=units,
        phone_words=read_phone_words(faults, sheets.get(PHONE_WORDS.lower())),
        paradata=about.paradata(faults, parts),
    )
    _doubt_languages(faults, sheets, script)
    doubt_standard(faults, sheets.get(STANDARD.lower()), standard)
    return ReadWorkbook(script, faults.found, places, sheets)


def _languages_of(parts: list[Part]) -> list[str]:
    return list(dict.fromkeys(lang for part in parts for lang in part.wording))


def _doubt_languages(faults: Faults, sheets: dict[str, Sheet], script: Script) -> None:
    for sheet in sheets.values():
        for column, heading in enumerate(sheet.headings, start=1):
            match = LANG.match(heading)
            if match and match["lang"] not in script.languages:
                hint = nearest(match["lang"], script.languages)
                mend = f"Did you mean [{hint}]?" if hint else "Add it to the languages of the sheet About."
                message = f"“{match['lang']}” is not among the languages of this questionnaire."
                faults.doubt(sheet.name, 1, column, "unknown_language", message, mend)


def _named_cells(sheet: Sheet, cells: list[str | None]) -> dict[str, str]:
    return {h.lower(): c for h, c in zip(sheet.headings, cells, strict=False) if h and c is not None}


def _column(sheet: Sheet, heading: str) -> int:
    return next((i for i, h in enumerate(sheet.headings, start=1) if h.lower() == heading), 1)


def _read_lists(faults: Faults, places: Places, sheet: Sheet | None) -> list[CodeList]:
    lists: dict[str, CodeList] = {}
    for row, cells in sheet.rows if sheet else []:
        assert sheet is not None
        values = _named_cells(sheet, cells)
        name, code = values.pop("list", None), values.pop("code", None)
        if not name or code is None:
            place = _column(sheet, "code" if name else "list")
            faults.add("Code lists", row, place, "no_code", "A row needs a list and a code.", "Fill both cells.")
            continue
        entry = Code(code=code)
        for heading in ("specify", "exclusive"):
            if heading in values:
                yes = _try(faults, sheet, row, heading, read_yes_no, values.pop(heading))
                setattr(entry, heading, yes is True)
        if "media" in values:
            entry.media = _try(faults, sheet, row, "media", read_files, values.pop("media")) or []
        for heading, value in values.items():
            match = LANG.match(heading)
            if match and match["base"] == "label":
                entry.label[_tag(sheet, heading)] = value
            else:
                entry.attributes[heading if VARIABLE.fullmatch(heading) else suggest_variable(heading)] = value
        places.lists.setdefault(name, row)
        places.codes[name, code] = row
        lists.setdefault(name, CodeList(name=name)).codes.append(entry)
    return list(lists.values())


def _tag(sheet: Sheet, heading: str) -> str:
    """The language tag of a heading as it is written: `label [pt-br]` of `Label [pt-BR]`."""
    written = next(h for h in sheet.headings if h.lower() == heading)
    match = LANG.match(written)
    assert match is not None
    return match["lang"]


def _try(faults: Faults, sheet: Sheet, row: int, heading: str, read: Callable[[str], Any], cell: str) -> Any:
    try:
        return read(cell)
    except WrongCell as error:
        faults.add(sheet.name, row, _column(sheet, heading), error.code, error.message, error.mend)
        return None


_UNIT_COLUMNS = ("unit list", "unit", "dimension", "factor")


def _read_units(faults: Faults, places: Places, sheet: Sheet | None) -> list[UnitList]:
    lists: dict[str, UnitList] = {}
    for row, cells in sheet.rows if sheet else []:
        assert sheet is not None
        values = _named_cells(sheet, cells)
        missing = next((h for h in _UNIT_COLUMNS if h not in values), None)
        if missing is not None:
            message = f"The {missing} is missing."
            faults.add("Units", row, _column(sheet, missing), "no_unit", message, "Fill the cell.")
            continue
        labels = {_tag(sheet, h): v for h, v in values.items() if (m := LANG.match(h)) and m["base"] == "label"}
        unit = UnitOfMeasure(unit=values["unit"], dimension=values["dimension"], factor=values["factor"], label=labels)
        places.unit_lists.setdefault(values["unit list"], row)
        places.units.setdefault((values["unit list"], values["unit"]), row)
        lists.setdefault(values["unit list"], UnitList(name=values["unit list"])).units.append(unit)
    for column, heading in enumerate(sheet.headings if sheet else [], start=1):
        places.unit_headings[heading.lower()] = column
        match = LANG.match(heading.lower())
        if heading and heading.lower() not in _UNIT_COLUMNS and not (match and match["base"] == "label"):
            faults.doubt(
                "Units", 1, column, "unknown_column", f"The column “{heading}” is not known.", "It is left out."
            )
    return list(lists.values())


Setter = Callable[[Part, str], None]


def read_lines(faults: Faults, sheet: Sheet) -> list[Part]:
    """The lines of a sheet with the headings of the sheet Script."""
    return _read_script(faults, Places(), sheet)


def _read_script(faults: Faults, places: Places, sheet: Sheet | None) -> list[Part]:
    if sheet is None:
        return []
    setters: dict[int, Setter] = {}
    for column, heading in enumerate(sheet.headings):
        if not heading:
            continue
        if heading.lower() in places.headings:
            message = f"Two columns are called “{heading}”; only the first is read."
            faults.add(sheet.name, 1, column + 1, "double_column", message, "Rename or remove one.")
            continue
        places.headings[heading.lower()] = column + 1
        setter = _setter(faults, sheet.name, column, heading)
        if setter is not None:
            setters[column] = setter
    parts: list[Part] = []
    for row, cells in sheet.rows:
        above = parts[-1].level if parts else 1
        parts.append(_read_part(faults, places, sheet, row, cells, setters, above))
    return parts


def _read_part(
    faults: Faults,
    places: Places,
    sheet: Sheet,
    row: int,
    cells: list[str | None],
    setters: dict[int, Setter],
    above: int,
) -> Part:
    # A level that cannot be read is taken to be that of the line above, so that what follows is not at fault too.
    part = Part(id=f"w_row_{row}", level=above)
    for column, value in enumerate(cells):
        if value is None:
            continue
        if column in setters:
            try:
                setters[column](part, value)
            except WrongCell as error:
                faults.add(sheet.name, row, column + 1, error.code, error.message, error.mend)
        elif column >= len(sheet.headings) or not sheet.headings[column]:
            message = f"“{value[:40]}” stands in a column without a heading."
            faults.doubt(sheet.name, row, column + 1, "no_heading", message, "Give the column a heading.")
    if part.variable:
        part.id = f"w_{part.variable}"[:MOST_SHORT]
    places.parts.append(row)
    return part


def _setter(faults: Faults, sheet: str, column: int, heading: str) -> Setter | None:
    match = LANG.match(heading)
    base, lang = (match["base"].strip().lower(), match["lang"]) if match else (heading.lower(), "")
    if lang and base in ("wording", "instruction"):
        return lambda part, value: getattr(part, base).__setitem__(lang, value)
    check, message = CHECK.match(base), MESSAGE.match(base)
    if check and not lang:
        return lambda part, value: setattr(_check_of(part, check), "rule", value)
    if message and lang:
        return lambda part, value: _check_of(part, message).message.__setitem__(lang, value)
    plain = BY_HEADING.get(base) if not lang else None
    if plain is not None:
        return lambda part, value: setattr(part, plain.field, plain.read(value))
    _unknown_column(faults, sheet, column, heading, base, plain)
    return None


def _unknown_column(faults: Faults, sheet: str, column: int, heading: str, base: str, plain: Column | None) -> None:
    texts = ["wording", "instruction"]
    if base in texts or MESSAGE.match(base):
        message, mend = f"“{heading}” does not say in which language.", f"Write {heading} [en]."
        faults.add(sheet, 1, column + 1, "no_language", message, mend)
        return
    hint = nearest(base, [*BY_HEADING, *texts, "must hold", "should hold"])
    mend = f"Did you mean {hint.capitalize()}?" if hint else "It is left out."
    faults.doubt(sheet, 1, column + 1, "unknown_column", f"The column “{heading}” is not known.", mend)


def _check_of(part: Part, match: re.Match[str]) -> ScriptCheck:
    checks: list[ScriptCheck] = getattr(part, match["field"].replace(" ", "_"))
    number = int(match["number"] or 1)
    if number > 50:
        raise WrongCell("too_many_checks", f"{number} checks are more than the 50 that a question may have.", "")
    while len(checks) < number:
        checks.append(ScriptCheck())
    return checks[number - 1]


def _placed(finding: Finding, places: Places) -> CellFault:
    row, column = 1, 1
    sheet = "Units" if finding.unit_list else "Code lists" if finding.code_list else "Script"
    mend = finding.mend
    if finding.unit_list:
        row = places.units.get((finding.unit_list, finding.item)) or places.unit_lists.get(finding.unit_list, 1)
        column = places.unit_headings.get(finding.field, 1)
    elif finding.code_list:
        row = places.codes.get((finding.code_list, finding.item)) or places.lists.get(finding.code_list, 1)
    elif finding.line is not None and finding.line < len(places.parts):
        row = places.parts[finding.line]
        heading = heading_of(finding.field)
        column = places.headings.get(heading) or places.headings.get("variable", 1)
        if heading and heading not in places.headings and finding.field != "id":
            mend = f"{mend} (There is no column {heading.capitalize()} yet.)".strip()
    fault = CellFault(sheet, row, column, finding.severity, finding.code, finding.message, mend)
    return replace(fault, start=finding.start, length=finding.length)
