"""The sheet `Standard`: how variables of the study are called and what is measured in. It goes along to be known of."""

from __future__ import annotations

from skavo.core.questionnaire.hints import Standard
from skavo.formats.workbook.sheets import Faults, Sheet

NAME = "Standard"
# Of a study that asks for nothing.
ANY = Standard()
_LONGEST, _PATTERN, _BY_SECTION, _UNITS = (
    "Longest variable",
    "Variables fit",
    "Variables begin with their section",
    "Units",
)


def write_standard(standard: Standard) -> list[list[str]]:
    """What is asked for, a row each; nothing where nothing is."""
    rows = [
        [_LONGEST, "" if standard.longest is None else str(standard.longest)],
        [_PATTERN, standard.pattern],
        [_BY_SECTION, "yes" if standard.by_section else ""],
        [_UNITS, ", ".join(standard.units)],
    ]
    held = [row for row in rows if row[1]]
    return [["What", "Value"], *held] if held else []


def doubt_standard(faults: Faults, sheet: Sheet | None, standard: Standard) -> None:
    """Doubt each row that the study's own `standard` says otherwise: a workbook changes no study."""
    own = {what.lower(): value for what, value in write_standard(standard)[1:]}
    for row, cells in sheet.rows if sheet else []:
        what, value = (cells[0] or "").strip(), ((cells[1] if len(cells) > 1 else None) or "").strip()
        if own.get(what.lower(), "") != value:
            message = f"“{what}” is “{value}” here and “{own.get(what.lower(), '')}” in this study."
            faults.doubt(NAME, row, 2, "other_standard", message, "Change it under Names and units, if it is to be so.")
