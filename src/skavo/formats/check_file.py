"""A questionnaire file, JSON or workbook, checked whole: all its faults with their cells."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from pydantic import ValidationError

from skavo.core.errors import DataError
from skavo.core.questionnaire.compile import Compiled, compile_script
from skavo.core.questionnaire.script import Script, read_script
from skavo.formats.workbook.read import ReadWorkbook, read_folder, read_workbook
from skavo.formats.workbook.sheets import CellFault
from skavo.formats.workbook.write import write_workbook


@dataclass(frozen=True)
class CheckedFile:
    """A questionnaire file as it was read; `faults` are those of its cells and of its rules."""

    script: Script
    compiled: Compiled
    faults: list[CellFault]

    @property
    def is_sound(self) -> bool:
        return not any(f.severity == "error" for f in self.faults)


def check_file(path: Path) -> CheckedFile:
    """A workbook (.xlsx, a folder or a zip of .csv files) or a JSON script, with all its faults.

    A JSON script is placed as if it were written as a workbook. Raise DataError where it is neither.
    """
    if not path.exists():
        raise DataError("no_file", f"There is no file {path.name}.", {})
    read = _read(path)
    compiled = compile_script(read.script)
    return CheckedFile(read.script, compiled, read.all_faults(compiled.findings))


def _read(path: Path) -> ReadWorkbook:
    if path.is_dir():
        return read_folder(path)
    content = path.read_bytes()
    if content[:2] == b"PK":
        return read_workbook(path.name, content)
    script = _read_json(path.name, content)
    read = read_workbook(path.name, write_workbook(script))
    read.script = script
    return read


def _read_json(name: str, content: bytes) -> Script:
    try:
        return read_script(json.loads(content))
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise DataError("wrong_json", f"{name} is neither a workbook nor JSON: {error}.", {}) from None
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = "/".join(str(piece) for piece in first["loc"])
        raise DataError("wrong_script", f"{name}, {place}: {first['msg']}.", {"place": place}) from None
