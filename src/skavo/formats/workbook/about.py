"""The sheet About: what is said of the whole questionnaire, a row for each."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from skavo.core.documents import MARK, Format, FormatError
from skavo.core.questionnaire.script import NotedByPhone, Part, Script
from skavo.formats.workbook.columns import LANG
from skavo.formats.workbook.sheets import Faults, Sheet

ABOUT = "About"
# A workbook that people wrote themselves may leave it out.
WORKBOOK = Format("workbook", unmarked=1)
WRITTEN_AS = "Written as"
_TITLE, _NAME, _LANGUAGES, _FIRST = "Title", "Questionnaire", "Languages", "First language"
_NOTED, _TOLD_BY = "Noted by the phone", "Told by"
_KNOWN = ", ".join([f"{_TITLE} [en]", _NAME, _LANGUAGES, _FIRST, _NOTED, _TOLD_BY, WRITTEN_AS])
# What can be chosen of NotedByPhone.
_CHOICES, _NOTHING = ("device", "place", "timing"), "nothing"


@dataclass
class About:
    """What the sheet says, "" or empty where it does not; `noted` and `told_by` with their rows."""

    title: dict[str, str] = field(default_factory=dict)
    name: str = ""
    languages: list[str] = field(default_factory=list)
    first: str = ""
    noted: tuple[int, str] | None = None
    told_by: tuple[int, str] | None = None

    def paradata(self, faults: Faults, parts: list[Part]) -> NotedByPhone:
        """What the phone notes of itself; what it notes anyway where the sheet does not say."""
        paradata = NotedByPhone()
        if self.noted is not None:
            row, written = self.noted
            names = _words(written.lower())
            for name in names:
                if name not in (*_CHOICES, _NOTHING):
                    mend = f"Known: {', '.join((*_CHOICES, _NOTHING))}."
                    faults.add(ABOUT, row, 2, "unknown_word", f"“{name}” is nothing that a phone notes.", mend)
            paradata = NotedByPhone.model_validate({name: name in names for name in _CHOICES})
        if self.told_by is not None:
            row, variable = self.told_by
            tells = next((part for part in parts if part.variable == variable), None)
            if tells is None:
                mend = "Name the variable of the statement that tells respondents."
                faults.add(ABOUT, row, 2, "unknown_name", f"There is no line “{variable}”.", mend)
            else:
                paradata.told_by = tells.id
        return paradata


def write_about(script: Script) -> list[list[str]]:
    return [["What", "Value"], *_rows(script)]


def _rows(script: Script) -> Iterator[list[str]]:
    for lang, title in script.title.items():
        yield [f"{_TITLE} [{lang}]", title]
    yield [_NAME, script.name]
    yield [_LANGUAGES, ", ".join(script.languages)]
    yield [_FIRST, script.languages[0]]
    yield [_NOTED, ", ".join(name for name in _CHOICES if getattr(script.paradata, name)) or _NOTHING]
    for part in script.parts:
        if part.variable and part.id == script.paradata.told_by:
            yield [_TOLD_BY, part.variable]
    yield [WRITTEN_AS, WORKBOOK.newest]


def read_about(faults: Faults, sheet: Sheet | None) -> About:
    """What the sheet says; a row that says nothing here is doubted."""
    about = About()
    for row, cells in sheet.rows if sheet else []:
        what, value = (cells[0] or "").strip(), (cells[1] if len(cells) > 1 else None) or ""
        match = LANG.match(what)
        key = what.lower()
        if match and match["base"].lower() == _TITLE.lower():
            about.title[match["lang"]] = value
        elif key == _NAME.lower():
            about.name = value
        elif key == _LANGUAGES.lower():
            about.languages = _words(value)
        elif key == _FIRST.lower():
            about.first = value
        elif key == _NOTED.lower():
            about.noted = (row, value)
        elif key == _TOLD_BY.lower():
            about.told_by = (row, value)
        elif key == WRITTEN_AS.lower():
            _check_format(faults, row, value)
        else:
            faults.doubt(ABOUT, row, 1, "unknown_row", f"“{what}” says nothing here.", f"Known: {_KNOWN}.")
    return about


def _words(written: str) -> list[str]:
    return [word for word in re.split(r"[,;\s]+", written) if word]


def _check_format(faults: Faults, row: int, mark: str) -> None:
    """A workbook of a newer Skavo may say what this one does not understand."""
    try:
        WORKBOOK.version_of({MARK: mark})
    except FormatError as error:
        faults.add(ABOUT, row, 2, error.code, error.message, "Leave the row empty if it is no workbook of Skavo.")
