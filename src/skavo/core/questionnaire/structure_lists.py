"""What is checked of code lists and unit lists."""

from __future__ import annotations

import re
from collections.abc import Iterator
from decimal import Decimal, InvalidOperation

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.script import CodeList, Script, UnitList
from skavo.core.questionnaire.variables import VARIABLE, suggest_variable
from skavo.core.rules.functions import MONTHS, SECONDS
from skavo.core.rules.units import STANDARD

_CODE = re.compile(r"[^\s/,;\"{}]+")
_UNIT = re.compile(r"[A-Za-z_][A-Za-z0-9_]*")


def check_code_lists(script: Script) -> Iterator[Finding]:
    """Names and codes of all code lists."""
    seen_lists: set[str] = set()
    for entry in script.code_lists:
        if entry.name in seen_lists:
            yield Finding(
                "error",
                "double_list",
                f"Two code lists are called “{entry.name}”.",
                "Rename one.",
                code_list=entry.name,
            )
        seen_lists.add(entry.name)
        if not VARIABLE.fullmatch(entry.name):
            mend = f"Small letters, digits and _ only: {suggest_variable(entry.name)}"
            yield Finding("error", "wrong_list_name", f"“{entry.name}” is no list name.", mend, code_list=entry.name)
        yield from _check_list(script, entry)


def _check_list(script: Script, entry: CodeList) -> Iterator[Finding]:
    if not entry.codes:
        yield _code_fault(entry, "", "empty_list", f"The list {entry.name} has no codes.", "Add one.")
    seen: set[str] = set()
    for code in entry.codes:
        if code.code in seen:
            message = f"The list {entry.name} has the code “{code.code}” twice."
            yield _code_fault(entry, code.code, "double_code", message, "Change one.")
        seen.add(code.code)
        if not _CODE.fullmatch(code.code):
            mend = "No spaces, commas, quotes, / or braces."
            yield _code_fault(entry, code.code, "wrong_code", f"“{code.code}” is no code.", mend)
        if not code.label.get(script.languages[0], "").strip():
            message = f"The code {code.code} of {entry.name} has no label."
            yield _code_fault(entry, code.code, "no_label", message, "Write one.")


def _code_fault(entry: CodeList, code: str, fault: str, message: str, mend: str) -> Finding:
    return Finding("error", fault, message, mend, code_list=entry.name, item=code)


def check_unit_lists(script: Script) -> Iterator[Finding]:
    """Names, dimensions and factors of all unit lists."""
    based = {u.dimension for u in STANDARD.values()}
    based |= {u.dimension for entry in script.unit_lists for u in entry.units if u.factor.strip() == "1"}
    seen: set[str] = set()
    for entry in script.unit_lists:
        if not VARIABLE.fullmatch(entry.name):
            mend = f"Small letters, digits and _ only: {suggest_variable(entry.name)}"
            yield _unit_fault(entry, "wrong_list_name", f"“{entry.name}” is no list name.", mend)
        if entry.name in seen:
            yield _unit_fault(entry, "double_list", f"Two unit lists are called “{entry.name}”.", "Rename one.")
        seen.add(entry.name)
        yield from _check_units(entry, based)


def _check_units(entry: UnitList, based: set[str]) -> Iterator[Finding]:
    if not entry.units:
        yield _unit_fault(entry, "empty_list", f"The unit list {entry.name} has no units.", "Add one.")
        return
    dimensions = list(dict.fromkeys(u.dimension for u in entry.units))
    if len(dimensions) > 1:
        message = f"The unit list {entry.name} mixes {' and '.join(d or 'nothing' for d in dimensions)}."
        yield _unit_fault(entry, "mixed_dimensions", message, "One list measures one dimension.")
    seen: set[str] = set()
    for unit in entry.units:
        if unit.unit in seen:
            yield _unit_fault(
                entry,
                "double_unit",
                f"{entry.name} has the unit “{unit.unit}” twice.",
                "Remove one.",
                unit.unit,
                "unit",
            )
        seen.add(unit.unit)
        if not _UNIT.fullmatch(unit.unit) or unit.unit.removesuffix("s") in (*SECONDS, *MONTHS):
            message = f"“{unit.unit}” is no name for a unit."
            yield _unit_fault(
                entry, "wrong_unit", message, "Letters, digits and _, and no unit of time.", unit.unit, "unit"
            )
        yield from _check_factor(entry, unit.unit, unit.factor)
        standard = STANDARD.get(unit.unit)
        if standard is not None and (standard.dimension, standard.factor) != (unit.dimension, unit.factor.strip()):
            message = f"{unit.unit} is always {standard.factor} of the base unit of {standard.dimension}."
            yield _unit_fault(entry, "standard_unit", message, "Give your unit another name.", unit.unit, "factor")
    missing = next((d for d in dimensions if d not in based), None)
    if missing is not None:
        message = f"No unit of {missing or 'the list ' + entry.name} has the factor 1, so nothing says what is counted."
        yield _unit_fault(entry, "no_base_unit", message, "Give one unit the factor 1.")


def _check_factor(entry: UnitList, unit: str, factor: str) -> Iterator[Finding]:
    try:
        positive = Decimal(factor.strip()) > 0
    except InvalidOperation:
        positive = bool(factor.strip())
    if not positive:
        message = f"The factor of {unit} has to be a number above 0, or a rule."
        yield _unit_fault(entry, "wrong_factor", message, "Say how many base units it is.", unit, "factor")


def _unit_fault(entry: UnitList, code: str, message: str, mend: str, unit: str = "", field: str = "") -> Finding:
    return Finding("error", code, message, mend, unit_list=entry.name, item=unit, field=field)
