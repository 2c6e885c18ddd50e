"""A questionnaire file, JSON or workbook, checked whole: all its faults with their cells."""

from __future__ import annotations

import json
from pathlib import Path

from pydantic import ValidationError

from skavo.core.errors import DataError
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Script
from skavo.formats.workbook import CellFault, place_findings, read_workbook, script_headings, write_workbook


def check_file(path: Path) -> list[CellFault]:
    """All faults of the questionnaire in `path`; a JSON script is placed as if it were written as a workbook."""
    if not path.exists():
        raise DataError("no_file", f"There is no file {path.name}.", {})
    content = path.read_bytes()
    if content[:2] == b"PK":
        script, faults = read_workbook(path.name, content)
        return [*faults, *place_findings(compile_script(script).findings, script_headings(content))]
    script = _read_json(path.name, content)
    headings = script_headings(write_workbook(script))
    return place_findings(compile_script(script).findings, headings)


def _read_json(name: str, content: bytes) -> Script:
    try:
        return Script.model_validate(json.loads(content))
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise DataError("wrong_json", f"{name} is neither a workbook nor JSON: {error}.", {}) from None
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = "/".join(str(piece) for piece in first["loc"])
        raise DataError("wrong_script", f"{name}, {place}: {first['msg']}.", {"place": place}) from None
