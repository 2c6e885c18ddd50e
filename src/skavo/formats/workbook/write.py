"""Script to workbook: read_workbook reads back the same script."""

from __future__ import annotations

from skavo.core.questionnaire.hints import Standard
from skavo.core.questionnaire.script import Part, Script, ScriptCheck, Texts
from skavo.formats.workbook.about import ABOUT, write_about
from skavo.formats.workbook.columns import PLAIN
from skavo.formats.workbook.phone_words import NAME as PHONE_WORDS
from skavo.formats.workbook.phone_words import write_phone_words
from skavo.formats.workbook.sheets import write_csv_sheets, write_xlsx_sheets
from skavo.formats.workbook.sources import NAME as SOURCES
from skavo.formats.workbook.sources import write_sources
from skavo.formats.workbook.standard import ANY, write_standard
from skavo.formats.workbook.standard import NAME as STANDARD

Rows = list[list[str]]
# Texts stand beside the columns that they belong to: after the variable, and each message after its check.
_BEFORE_TEXTS = ("level", "kind", "variable")
_BEFORE_CHECKS = ("code_list", "code_filter", "asked_when", "repeated", "derived", "default")


def write_workbook(script: Script, standard: Standard = ANY) -> bytes:
    """The script as an .xlsx file, with the standard of its study."""
    return write_xlsx_sheets(sheets_of(script, standard))


def write_folder(script: Script, standard: Standard = ANY) -> dict[str, bytes]:
    """The script as .csv files, by file name."""
    return write_csv_sheets(sheets_of(script, standard))


def sheets_of(script: Script, standard: Standard = ANY) -> dict[str, Rows]:
    """The sheets of the workbook, headings first."""
    langs = _languages(script)
    sheets = {"Script": _script_rows(script, langs), "Code lists": _list_rows(script, langs)}
    if sources := write_sources(script, langs):
        sheets[SOURCES] = sources
    if script.unit_lists:
        sheets["Units"] = _unit_rows(script, langs)
    more = {PHONE_WORDS: write_phone_words(script), STANDARD: write_standard(standard)}
    sheets |= {name: rows for name, rows in more.items() if rows}
    return {**sheets, ABOUT: write_about(script)}


def _languages(script: Script) -> list[str]:
    """The questionnaire's languages, then any other that a text is written in."""
    texts: list[Texts] = [t for p in script.parts for t in (p.wording, p.instruction)]
    texts += [c.message for p in script.parts for c in (*p.must_hold, *p.should_hold)]
    texts += [c.label for entry in script.code_lists for c in entry.codes]
    texts += [u.label for entry in script.unit_lists for u in entry.units]
    return list(dict.fromkeys([*script.languages, *(lang for text in texts for lang in text)]))


def _script_rows(script: Script, langs: list[str]) -> Rows:
    most = {
        "must_hold": max((len(p.must_hold) for p in script.parts), default=0),
        "should_hold": max((len(p.should_hold) for p in script.parts), default=0),
    }
    headings = _plain_headings(_BEFORE_TEXTS)
    headings += [f"{text} [{lang}]" for text in ("Wording", "Instruction") for lang in langs]
    headings += _plain_headings(_BEFORE_CHECKS)
    for field, count in most.items():
        for n in range(1, count + 1):
            title = field.replace("_", " ").capitalize() + ("" if n == 1 else f" {n}")
            headings += [title, *[f"{title} message [{lang}]" for lang in langs]]
    headings += [c.heading for c in PLAIN if c.field not in (*_BEFORE_TEXTS, *_BEFORE_CHECKS)]
    return [headings, *[_part_row(part, langs, most) for part in script.parts]]


def _plain_headings(fields: tuple[str, ...]) -> list[str]:
    return [c.heading for c in PLAIN if c.field in fields]


def _part_row(part: Part, langs: list[str], most: dict[str, int]) -> list[str]:
    row = [c.write(getattr(part, c.field)) for c in PLAIN if c.field in _BEFORE_TEXTS]
    row += [*_texts(part.wording, langs), *_texts(part.instruction, langs)]
    row += [c.write(getattr(part, c.field)) for c in PLAIN if c.field in _BEFORE_CHECKS]
    for field, count in most.items():
        held: list[ScriptCheck] = getattr(part, field)
        for n in range(count):
            check = held[n] if n < len(held) else ScriptCheck()
            row += [check.rule, *_texts(check.message, langs)]
    return row + [c.write(getattr(part, c.field)) for c in PLAIN if c.field not in (*_BEFORE_TEXTS, *_BEFORE_CHECKS)]


def _texts(texts: Texts, langs: list[str]) -> list[str]:
    return [texts.get(lang, "") for lang in langs]


def _list_rows(script: Script, langs: list[str]) -> Rows:
    attributes = sorted({key for entry in script.code_lists for code in entry.codes for key in code.attributes})
    headings = ["List", "Code", *[f"Label [{x}]" for x in langs], "Specify", "Exclusive", "Media", *attributes]
    rows = [
        [entry.name, code.code, *_texts(code.label, langs), "yes" if code.specify else "",
         "yes" if code.exclusive else "", "; ".join(code.media), *[code.attributes.get(a, "") for a in attributes]]
        for entry in script.code_lists
        for code in entry.codes
    ]  # fmt: skip
    return [headings, *rows]


def _unit_rows(script: Script, langs: list[str]) -> Rows:
    rows = [
        [entry.name, unit.unit, unit.dimension, unit.factor, *_texts(unit.label, langs)]
        for entry in script.unit_lists
        for unit in entry.units
    ]
    return [["Unit list", "Unit", "Dimension", "Factor", *[f"Label [{x}]" for x in langs]], *rows]
