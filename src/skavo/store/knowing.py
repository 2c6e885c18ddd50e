"""What a questionnaire of a study is checked against besides itself: kinds of unit with their fields, and the shelf."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.known import Codes, Fields, Known, of_any_register
from skavo.core.questionnaire.script import read_script
from skavo.core.rules.check_names import ANY_REGISTER, list_of
from skavo.core.rules.types import TypeName
from skavo.store.models import Questionnaire
from skavo.store.registers import KindHere, kinds_of
from skavo.store.shelf import shelf_of

# What rules read of a unit as it is written; of others (quantities, files) only whether there is one.
_READ: frozenset[TypeName] = frozenset(
    {"number", "text", "yes/no", "code", "codes", "date", "time", "date-time", "duration", "point", "path", "area"}
)


def known_to(session: Session, questionnaire: Questionnaire) -> Known:
    """What the script of a questionnaire may speak of; one that describes units speaks of no other units."""
    media = shelf_of(session, questionnaire.study_id)
    if questionnaire.describes == "units":
        return Known(media=media)
    registers: dict[str, Fields] = {}
    codes: dict[str, Codes] = {}
    for kind in kinds_of(session, questionnaire.study_id):
        registers[kind.name] = _fields(kind)
        codes |= {list_of(kind.name, name): listed for name, listed in _lists(kind).items()}
    if registers:
        fields, lists = of_any_register(registers, codes)
        registers[ANY_REGISTER] = fields
        codes |= lists
    return Known(registers=registers, codes=codes, media=media)


def compiled_script(session: Session, questionnaire: Questionnaire) -> dict[str, Any] | None:
    """The script of a questionnaire as a phone would run it; None while it has errors."""
    return compile_script(read_script(questionnaire.script), known_to(session, questionnaire)).release


def _fields(kind: KindHere) -> dict[str, TypeName]:
    return {
        part.variable: part.raw["type"] if part.raw["type"] in _READ else "any"
        for part in kind.form.fields
        if part.variable
    }


def _lists(kind: KindHere) -> dict[str, list[dict[str, Any]]]:
    release = kind.form.release
    if release is None:
        return {}
    return {
        part.variable: release.lists[part.raw["code_list"]]
        for part in kind.form.fields
        if part.raw["code_list"] in release.lists
    }
