"""The standard of a study: how variables are called, and in which units things are measured."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel, ConfigDict, Field, field_validator

from skavo.core.questionnaire.findings import Finding
from skavo.core.questionnaire.outline import units_of
from skavo.core.questionnaire.script import Part, Script
from skavo.core.rules.automaton import text_fits
from skavo.core.rules.patterns import pattern_fault
from skavo.core.rules.units import STANDARD


class Standard(BaseModel):
    """`longest` is the most characters of a variable; `pattern` is one that its name has to fit, "" for any;
    `by_section` asks that it begins with the name of its outermost section; `units` are those allowed, none for any."""

    model_config = ConfigDict(extra="forbid")
    longest: int | None = Field(default=None, ge=4, le=32)
    pattern: str = Field(default="", max_length=200)
    by_section: bool = False
    units: list[str] = Field(default=[], max_length=100)

    @field_validator("pattern")
    @classmethod
    def _is_pattern(cls, pattern: str) -> str:
        fault = pattern_fault(pattern) if pattern else None
        if fault is not None:
            raise ValueError(f"{fault[1]} {fault[2]}".strip())
        return pattern


def hint_standard(script: Script, standard: Standard) -> Iterator[Finding]:
    """Hints about variables and units that are not as the study wants them."""
    section = ""
    for line, part in enumerate(script.parts):
        if part.level == 1:
            section = part.variable if part.kind == "section" else ""
        name = part.variable
        if name and part.kind not in ("section", "grid", "roster"):
            if standard.longest is not None and len(name) > standard.longest:
                yield _hint(
                    line, part, f"“{name}” has {len(name)} characters; the study wants {standard.longest} at most."
                )
            if standard.pattern and not text_fits("pattern", standard.pattern, name):
                yield _hint(line, part, f"“{name}” is not called as the study wants it: {standard.pattern}")
            if standard.by_section and section and part.level > 1 and not name.startswith(f"{section}_"):
                yield _hint(line, part, f"“{name}” does not begin with its section, {section}_.")
        other = [u.unit for u in units_of(script, part) if _measured(u.unit) and u.unit not in standard.units]
        if standard.units and part.unit and other:
            message = f"{', '.join(other)} is not among the units of this study: {', '.join(standard.units)}."
            yield Finding("hint", "other_unit", message, "Use one of them.", line, part.id, "unit")


def _measured(unit: str) -> bool:
    """Whether a unit is one of everywhere; those of the place, as sacks, are what they are."""
    return unit in STANDARD


def _hint(line: int, part: Part, message: str) -> Finding:
    return Finding("hint", "other_name", message, "Rename it; rules and texts follow.", line, part.id, "variable")
