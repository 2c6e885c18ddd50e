"""The sheet `Phone words`: the phone's own words in languages that it does not speak by itself."""

from __future__ import annotations

from skavo.core.questionnaire.script import Script, Texts
from skavo.formats.workbook.sheets import Faults, Sheet

NAME = "Phone words"
_KEY, _LANGUAGE, _WORDS = "Key", "Language", "Words"


def write_phone_words(script: Script) -> list[list[str]]:
    """Headings and a row for each word; nothing where there are none."""
    rows = [
        [key, tag, said] for tag, words in script.phone_words.items() for key, said in sorted(words.items()) if said
    ]
    return [[_KEY, _LANGUAGE, _WORDS], *rows] if rows else []


def read_phone_words(faults: Faults, sheet: Sheet | None) -> dict[str, Texts]:
    """The words by language and key; a row without either is doubted."""
    found: dict[str, Texts] = {}
    for row, cells in sheet.rows if sheet else []:
        assert sheet is not None
        values = {h.lower(): c or "" for h, c in zip(sheet.headings, cells, strict=False) if h}
        key, tag = values.get(_KEY.lower(), ""), values.get(_LANGUAGE.lower(), "")
        if not key or not tag:
            message = "It is not said which word in which language this is."
            faults.doubt(NAME, row, 1, "no_key", message, f"Fill in {_KEY} and {_LANGUAGE}; the row is left out.")
            continue
        found.setdefault(tag, {})[key] = values.get(_WORDS.lower(), "")
    return found
