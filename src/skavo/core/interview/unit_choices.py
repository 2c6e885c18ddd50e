"""Picking a unit of a register: those that the device knows, the ones below the visited unit first; found by typing."""

from __future__ import annotations

from typing import Any

from skavo.core.interview.release import PartSpec
from skavo.core.interview.rows import is_of_register
from skavo.core.interview.screens import CodeShown
from skavo.core.interview.state import InterviewState

Unit = dict[str, Any]
Units = dict[str, Unit]


def units_offered(state: InterviewState, part: PartSpec) -> Units:
    """The units that may be picked, by identity, those in the branch of the visited unit first."""
    units: Units = state.outside.get("units", {})
    of_kind = {key: unit for key, unit in units.items() if is_of_register(unit, part.raw["register"])}
    visited = state.outside.get("unit")
    if visited is None:
        return of_kind
    near = {key: unit for key, unit in of_kind.items() if _is_below(units, unit, visited)}
    return {**near, **of_kind}


def _is_below(units: Units, unit: Unit, above: str) -> bool:
    seen: set[str] = set()
    under = unit.get("under")
    while under is not None and under not in seen:
        if under == above:
            return True
        seen.add(under)
        under = units.get(under, {}).get("under")
    return False


def shown_unit(units: Units, key: str) -> CodeShown:
    """A unit as a code is shown: what it is called, its key where that says more, and what it lies under."""
    unit = units.get(key, {})
    label, own = str(unit.get("label") or key), str(unit.get("id") or "")
    above = str(units.get(unit.get("under") or "", {}).get("label") or "")
    pieces = [label, own if own not in ("", label) else "", above]
    return {"code": key, "label": " · ".join(piece for piece in pieces if piece), "exclusive": False, "media": []}


def units_used(state: InterviewState, parts: list[PartSpec]) -> Units:
    """What is known of the units that an interview speaks of: the one it is about, those picked, those that rows stand
    for. With them the office computes what the phone did."""
    units: Units = state.outside.get("units", {})
    used = {state.outside.get("unit")}
    for part in parts:
        if part.kind.name == "unit":
            used.update(state.values[part.index].values())
        if part.repeat is not None and part.repeat[0] == "units":
            used.update(name for names in state.rows[part.index].values() for name in names)
    return {key: unit for key, unit in units.items() if key in used}
