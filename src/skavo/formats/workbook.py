"""The questionnaire workbook (.xlsx): a script written in a spreadsheet, in and out without loss."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import xlsxwriter

from skavo.core.interview.kinds import KINDS
from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.script import Check, Code, CodeList, Part, Script, Texts
from skavo.core.questionnaire.variables import suggest_variable
from skavo.core.rules.types import nearest
from skavo.formats.read_table import cell_text, open_workbook

_LANG = re.compile(r"^(?P<base>.+?)\s*\[(?P<lang>[A-Za-z0-9-]+)\]$")
_CHECK = re.compile(r"^(?P<field>must hold|should hold)(?:\s+(?P<number>\d+))?$")
_MESSAGE = re.compile(r"^(?P<field>must hold|should hold)(?:\s+(?P<number>\d+))? message$")
_SPECIAL = {"don't know": "dont_know", "refused": "refused"}
_PLAIN = {
    "level": "level", "kind": "kind", "variable": "variable", "code list": "code_list", "code filter": "code_filter",
    "asked when": "asked_when", "repeated": "repeated", "derived": "derived", "default": "default",
    "answer needed": "answer_needed", "special answers": "special_answers", "mask": "mask", "least": "least",
    "most": "most", "sensitive": "sensitive", "remark": "remark",
}  # fmt: skip


@dataclass(frozen=True)
class CellFault:
    """A fault with its cell: `row` and `column` count from 1; row 1 holds the headings."""

    sheet: str
    row: int
    column: int
    severity: str
    code: str
    message: str
    mend: str = ""


@dataclass
class _Sheet:
    name: str
    headings: list[str]
    rows: list[tuple[int, list[str | None]]]


class _Reader:
    def __init__(self) -> None:
        self.faults: list[CellFault] = []
        self.columns: dict[str, int] = {}

    def fault(
        self, sheet: str, row: int, column: int, code: str, message: str, mend: str = "", severity: str = "error"
    ) -> None:
        self.faults.append(CellFault(sheet, row, column, severity, code, message, mend))

    def sheet(self, book: Any, name: str, needed: bool) -> _Sheet | None:
        found = next((s for s in book.worksheets if s.title.strip().lower() == name.lower()), None)
        if found is None:
            if needed:
                names = [s.title for s in book.worksheets]
                hint = nearest(name, names)
                self.fault(
                    name,
                    1,
                    1,
                    "no_sheet",
                    f"The sheet “{name}” is missing.",
                    f"Rename {hint}." if hint else f"There are: {', '.join(names)}.",
                )
            return None
        rows = [[cell_text(cell) for cell in row] for row in found.iter_rows(values_only=True)]
        headings = [(h or "").strip() for h in rows[0]] if rows else []
        body = [(i, row) for i, row in enumerate(rows[1:], start=2) if any(row)]
        return _Sheet(found.title, headings, body)


def read_workbook(name: str, content: bytes) -> tuple[Script, list[CellFault]]:
    """The script of a workbook and every fault of reading it; faults of its rules are found by compile_script."""
    book = open_workbook(name, content)
    reader = _Reader()
    about = _read_about(reader, reader.sheet(book, "About", needed=False))
    lists = _read_lists(reader, reader.sheet(book, "Code lists", needed=False))
    parts = _read_script(reader, reader.sheet(book, "Script", needed=True))
    languages = about.get("languages") or _languages_of(parts) or ["en"]
    first = about.get("first", languages[0])
    ordered = [first, *[lang for lang in languages if lang != first]]
    script = Script(
        name=about.get("name") or "questionnaire",
        title=about.get("title", {}),
        languages=ordered,
        parts=parts,
        code_lists=lists,
    )
    return script, reader.faults


def _languages_of(parts: list[Part]) -> list[str]:
    return list(dict.fromkeys(lang for part in parts for lang in part.wording))


def _read_about(reader: _Reader, sheet: _Sheet | None) -> dict[str, Any]:
    about: dict[str, Any] = {"title": {}}
    for row, cells in sheet.rows if sheet else []:
        what, value = (cells[0] or "").strip(), (cells[1] if len(cells) > 1 else None) or ""
        match = _LANG.match(what)
        key = what.lower()
        if match and match["base"].lower() == "title":
            about["title"][match["lang"]] = value
        elif key == "questionnaire":
            about["name"] = value
        elif key == "languages":
            about["languages"] = [lang for lang in re.split(r"[,;\s]+", value) if lang]
        elif key == "first language":
            about["first"] = value
        else:
            known = ["Title [en]", "Questionnaire", "Languages", "First language"]
            reader.fault(
                "About", row, 1, "unknown_row", f"“{what}” says nothing here.", f"Known: {', '.join(known)}.", "doubt"
            )
    return about


def _read_lists(reader: _Reader, sheet: _Sheet | None) -> list[CodeList]:
    lists: dict[str, CodeList] = {}
    for row, cells in sheet.rows if sheet else []:
        values = {h.lower(): c for h, c in zip(sheet.headings, cells, strict=False) if h} if sheet else {}
        name, code = values.pop("list", None), values.pop("code", None)
        if not name or code is None:
            reader.fault("Code lists", row, 1, "no_code", "A row needs a list and a code.", "Fill both cells.")
            continue
        entry = Code(
            code=code, specify=_yes(values.pop("specify", None)), exclusive=_yes(values.pop("exclusive", None))
        )
        values.pop("media", None)
        for heading, value in values.items():
            match = _LANG.match(heading)
            if match and match["base"] == "label":
                if value:
                    entry.label[match["lang"]] = value
            elif value is not None:
                entry.attributes[suggest_variable(heading)] = value
        lists.setdefault(name, CodeList(name=name)).codes.append(entry)
    return list(lists.values())


def _yes(value: str | None) -> bool:
    return (value or "").strip().lower() == "yes"


def _read_script(reader: _Reader, sheet: _Sheet | None) -> list[Part]:
    if sheet is None:
        return []
    setters: dict[int, Callable[[Part, int, str], None]] = {}
    for column, heading in enumerate(sheet.headings):
        setter = _setter(reader, sheet.name, column, heading) if heading else None
        if setter is not None:
            setters[column] = setter
    parts = []
    for row, cells in sheet.rows:
        part = Part(id=f"row{row}")
        for column, value in enumerate(cells):
            if value is not None and column in setters:
                setters[column](part, row, value)
        part.id = f"w_{part.variable}" if part.variable else f"w_row_{row}"
        parts.append(part)
    return parts


def _setter(reader: _Reader, sheet: str, column: int, heading: str) -> Callable[[Part, int, str], None] | None:
    match = _LANG.match(heading)
    base, lang = (match["base"].strip().lower(), match["lang"]) if match else (heading.lower(), "")
    if lang and base in ("wording", "instruction"):
        return lambda part, row, value: getattr(part, base).__setitem__(lang, value)
    check, message = _CHECK.match(base), _MESSAGE.match(base)
    if check and not lang:
        return lambda part, row, value: setattr(_check_of(part, check), "rule", value)
    if message and lang:
        return lambda part, row, value: _check_of(part, message).message.__setitem__(lang, value)
    if base in _PLAIN:
        return lambda part, row, value: _set_plain(reader, sheet, row, column + 1, part, _PLAIN[base], value)
    hint = nearest(base, [*_PLAIN, "wording", "instruction", "must hold", "should hold"])
    mend = f"Did you mean {hint.capitalize()}?" if hint else "It is left out."
    reader.fault(sheet, 1, column + 1, "unknown_column", f"The column “{heading}” is not known.", mend, "doubt")
    return None


def _check_of(part: Part, match: re.Match[str]) -> Check:
    checks: list[Check] = getattr(part, match["field"].replace(" ", "_"))
    number = int(match["number"] or 1)
    while len(checks) < number:
        checks.append(Check())
    return checks[number - 1]


def _set_plain(reader: _Reader, sheet: str, row: int, column: int, part: Part, field: str, value: str) -> None:
    if field in ("level", "least", "most"):
        if not value.isdecimal() or (field == "level" and not 1 <= int(value) <= 12):
            reader.fault(
                sheet, row, column, "not_whole", f"“{value}” is not a whole number that fits here.", "Write 1, 2, 3 …"
            )
            return
        setattr(part, field, int(value))
    elif field == "sensitive":
        part.sensitive = _yes(value)
    elif field == "kind":
        part.kind = " ".join(value.lower().split())
    elif field == "special_answers":
        words = [w.strip().lower().replace("’", "'") for w in re.split(r"[,;]|\band\b", value) if w.strip()]
        unknown = [w for w in words if w not in _SPECIAL]
        if unknown:
            reader.fault(
                sheet, row, column, "unknown_special", f"“{unknown[0]}” is no special answer.", "don't know, refused"
            )
        part.special_answers = [_SPECIAL[w] for w in words if w in _SPECIAL]
    else:
        setattr(part, field, value)


# Writing


def write_workbook(script: Script) -> bytes:
    """The script as a workbook that read_workbook reads back to the same script."""
    packed = io.BytesIO()
    book = xlsxwriter.Workbook(
        packed, {"strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False}
    )
    bold, wrap = book.add_format({"bold": True, "bottom": 1}), book.add_format({"text_wrap": True, "valign": "top"})
    headings, rows = _script_rows(script)
    _write_sheet(book, "Script", headings, rows, bold, wrap)
    _write_sheet(book, "Code lists", *_list_rows(script), bold, wrap)
    about = [[f"Title [{lang}]", title] for lang, title in script.title.items()]
    about += [
        ["Questionnaire", script.name],
        ["Languages", ", ".join(script.languages)],
        ["First language", script.languages[0]],
    ]
    _write_sheet(book, "About", ["What", "Value"], about, bold, wrap)
    book.close()
    return packed.getvalue()


def _write_sheet(book: Any, name: str, headings: list[str], rows: list[list[str]], bold: Any, wrap: Any) -> None:
    sheet = book.add_worksheet(name)
    for c, heading in enumerate(headings):
        sheet.write_string(0, c, heading, bold)
    for r, row in enumerate(rows):
        for c, cell in enumerate(row):
            if cell:
                sheet.write_string(r + 1, c, cell, wrap)
    sheet.freeze_panes(1, 0)
    sheet.set_column(0, max(0, len(headings) - 1), 20)


def _script_rows(script: Script) -> tuple[list[str], list[list[str]]]:
    langs = script.languages
    checks = {
        "Must hold": max((len(p.must_hold) for p in script.parts), default=0),
        "Should hold": max((len(p.should_hold) for p in script.parts), default=0),
    }
    headings = ["Level", "Kind", "Variable", *[f"Wording [{x}]" for x in langs], *[f"Instruction [{x}]" for x in langs]]
    headings += ["Code list", "Code filter", "Asked when", "Repeated", "Derived", "Default"]
    for field, most in checks.items():
        for n in range(1, most + 1):
            title = field if n == 1 else f"{field} {n}"
            headings += [title, *[f"{title} message [{x}]" for x in langs]]
    headings += ["Answer needed", "Special answers", "Mask", "Least", "Most", "Sensitive", "Remark"]
    return headings, [_part_row(part, langs, checks) for part in script.parts]


def _part_row(part: Part, langs: list[str], checks: dict[str, int]) -> list[str]:
    row = [str(part.level), part.kind, part.variable, *_texts(part.wording, langs), *_texts(part.instruction, langs)]
    row += [part.code_list, part.code_filter, part.asked_when, part.repeated, part.derived, part.default]
    for held, most in ((part.must_hold, checks["Must hold"]), (part.should_hold, checks["Should hold"])):
        for n in range(most):
            check = held[n] if n < len(held) else Check()
            row += [check.rule, *_texts(check.message, langs)]
    special = ", ".join(word for word, name in _SPECIAL.items() if name in part.special_answers)
    least, most_codes = ("" if x is None else str(x) for x in (part.least, part.most))
    return [
        *row,
        part.answer_needed,
        special,
        part.mask,
        least,
        most_codes,
        "yes" if part.sensitive else "",
        part.remark,
    ]


def _texts(texts: Texts, langs: list[str]) -> list[str]:
    return [texts.get(lang, "") for lang in langs]


def _list_rows(script: Script) -> tuple[list[str], list[list[str]]]:
    attributes = sorted({key for entry in script.code_lists for code in entry.codes for key in code.attributes})
    headings = ["List", "Code", *[f"Label [{x}]" for x in script.languages], "Specify", "Exclusive", *attributes]
    rows = [
        [entry.name, code.code, *_texts(code.label, script.languages), "yes" if code.specify else "",
         "yes" if code.exclusive else "", *[code.attributes.get(a, "") for a in attributes]]
        for entry in script.code_lists
        for code in entry.codes
    ]  # fmt: skip
    return headings, rows


def place_findings(findings: list[Finding], headings: dict[str, int]) -> list[CellFault]:
    """Findings of compile_script as faults of cells; `headings` gives the column of each heading (from 1)."""
    placed = []
    for finding in findings:
        sheet = "Code lists" if finding.code_list else "Script"
        column = headings.get(_heading_of(finding.field), 1)
        row = (finding.line + 2) if finding.line is not None else 1
        placed.append(CellFault(sheet, row, column, finding.severity, finding.code, finding.message, finding.mend))
    return placed


def _heading_of(field: str) -> str:
    base, *rest = field.split(".")
    words = base.replace("_", " ")
    if base in ("must_hold", "should_hold") and rest:
        title = words if rest[0] == "0" else f"{words} {int(rest[0]) + 1}"
        return f"{title} message [{rest[2]}]" if rest[1] == "message" else title
    return f"{words} [{rest[0]}]" if rest else words


def script_headings(content: bytes) -> dict[str, int]:
    """The columns of the sheet `Script` by heading in small letters, counted from 1."""
    book = open_workbook("workbook", content)
    sheet = _Reader().sheet(book, "Script", needed=False)
    return {h.lower(): i for i, h in enumerate(sheet.headings, start=1)} if sheet else {}


KIND_NAMES = list(KINDS)
