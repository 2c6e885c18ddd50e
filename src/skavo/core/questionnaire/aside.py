"""Findings that somebody has looked at and set aside, each with a reason; errors cannot be."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from skavo.core.questionnaire.findings import Finding


@dataclass(frozen=True)
class Aside:
    """A finding that was set aside: why, by whom, and when (ISO 8601)."""

    finding: Finding
    reason: str
    by: str
    at: str


def key_of(finding: Finding) -> str:
    """What a finding is recognised by: where it stands and what it says. One that says something else is a new one."""
    place = (finding.code, finding.part_id, finding.field, finding.code_list, finding.unit_list, finding.item)
    return "|".join((*place, finding.message))


def sort_out(findings: Iterable[Finding], kept: Mapping[str, Mapping[str, Any]]) -> tuple[list[Finding], list[Aside]]:
    """The findings that stand, and those set aside; `kept` leads from keys to {reason, by, at}."""
    standing: list[Finding] = []
    aside: list[Aside] = []
    for finding in findings:
        why = kept.get(key_of(finding)) if finding.severity != "error" else None
        if why is None:
            standing.append(finding)
        else:
            aside.append(Aside(finding, str(why["reason"]), str(why["by"]), str(why["at"])))
    return standing, aside
