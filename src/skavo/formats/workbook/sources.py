"""The sheet `Sources`: where code lists come from, and which columns of an outside table give what."""

from __future__ import annotations

from skavo.core.questionnaire.script import CodeList, ListTable, Script
from skavo.formats.workbook.columns import LANG
from skavo.formats.workbook.sheets import Faults, Sheet

NAME = "Sources"
_PLAIN = ("List", "Source", "Table", "Code column", "Attribute columns")
_LABEL = "Label column"


def write_sources(script: Script, langs: list[str]) -> list[list[str]]:
    """Headings and a row for each list with a source; nothing where none has one."""
    rows = [_row(entry, langs) for entry in script.code_lists if entry.source or entry.table]
    return [[*_PLAIN, *[f"{_LABEL} [{lang}]" for lang in langs]], *rows] if rows else []


def _row(entry: CodeList, langs: list[str]) -> list[str]:
    table = entry.table or ListTable(name="", code="")
    plain = [entry.name, entry.source, table.name, table.code, "; ".join(table.attributes)]
    return [*plain, *[table.labels.get(lang, "") for lang in langs]]


def read_sources(faults: Faults, sheet: Sheet | None, lists: list[CodeList]) -> None:
    """Say of the lists what the sheet says of them; a row about a list that is not there is doubted."""
    known = {entry.name: entry for entry in lists}
    for row, cells in sheet.rows if sheet else []:
        assert sheet is not None
        values = {h.lower(): c or "" for h, c in zip(sheet.headings, cells, strict=False) if h}
        entry = known.get(values.get("list", ""))
        if entry is None:
            message = f"There is no code list “{values.get('list', '')}”."
            faults.doubt(NAME, row, 1, "no_such_list", message, "Its row is left out.")
            continue
        entry.source = values.get("source", "")[:500]
        if values.get("table"):
            attributes = [name.strip() for name in values.get("attribute columns", "").split(";") if name.strip()]
            labels = {
                m["lang"]: cell
                for h, cell in zip(sheet.headings, cells, strict=False)
                if cell and (m := LANG.match(h)) and m["base"].lower() == _LABEL.lower()
            }
            entry.table = ListTable(
                name=values["table"], code=values.get("code column", ""), labels=labels, attributes=attributes
            )
