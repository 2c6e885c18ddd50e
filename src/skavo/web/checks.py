"""The checks station: what the rules found in the interviews that arrived, and how enumerators differ."""

from __future__ import annotations

from collections import defaultdict
from statistics import median
from typing import Any

from pydantic import BaseModel
from sqlalchemy import select

from skavo.store.models import Interview
from skavo.web.routing import Resource, store
from skavo.web.shapes import StudyPath

api = Resource("checks")


class CheckLine(BaseModel):
    """One rule or built-in check that was broken, and how often."""

    code: str
    strength: str
    variable: str
    text: str
    interviews: int
    kept: int
    keys: list[str]


class EnumeratorLine(BaseModel):
    enumerator: str
    interviews: int
    median_minutes: float | None
    shortest_minutes: float | None
    hard: int
    soft: int
    dont_know_share: float | None
    refused_share: float | None


class Checks(BaseModel):
    interviews: int
    checks: list[CheckLine]
    enumerators: list[EnumeratorLine]
    median_minutes: float | None


@api.route_for("get", "/studies/<int:study_id>/checks", needs="interview.read", returns=Checks)
def show(path: StudyPath) -> Checks:
    mine = (
        Interview.study_id == path.study_id, Interview.practice.is_(False), Interview.state != "set aside",
    )  # fmt: skip
    columns = (
        Interview.enumerator, Interview.minutes, Interview.hard_findings, Interview.soft_findings, Interview.asked,
        Interview.dont_know, Interview.refused,
    )  # fmt: skip
    broken = Interview.hard_findings + Interview.soft_findings > 0
    with store().reading() as session:
        rows = list(session.execute(select(*columns).where(*mine)))
        found = list(session.execute(select(Interview.number, Interview.findings).where(*mine, broken)))
    minutes = [r.minutes for r in rows if r.minutes is not None]
    return Checks(
        interviews=len(rows),
        checks=_checks(found),
        enumerators=_enumerators(rows),
        median_minutes=median(minutes) if minutes else None,
    )


def _checks(rows: list[Any]) -> list[CheckLine]:
    found: dict[tuple[str, str, int], dict[str, Any]] = {}
    for row in rows:
        for finding in row.findings:
            variable = finding["path"].split("/")[-1]
            key = (finding["code"], variable, finding["check"])
            entry = found.setdefault(key, {"finding": finding, "numbers": [], "kept": 0})
            entry["numbers"].append(row.number)
            entry["kept"] += bool(finding["kept"])
    lines = [
        CheckLine(
            code=code, strength=entry["finding"]["strength"], variable=variable, text=_rule_text(entry["finding"]),
            interviews=len(set(entry["numbers"])), kept=entry["kept"],
            keys=[f"{n:04d}" for n in sorted(set(entry["numbers"]))],
        )
        for (code, variable, _), entry in found.items()
    ]  # fmt: skip
    return sorted(lines, key=lambda line: (line.strength != "must", -line.interviews))


def _rule_text(finding: dict[str, Any]) -> str:
    built_in = {"needed": "answer needed"}.get(finding["code"], str(finding["code"]).replace("_", " "))
    return str(finding["rule"]) or built_in


def _enumerators(rows: list[Any]) -> list[EnumeratorLine]:
    by_name: dict[str, list[Any]] = defaultdict(list)
    for row in rows:
        by_name[row.enumerator].append(row)
    return [_enumerator(name, own) for name, own in sorted(by_name.items())]


def _enumerator(name: str, rows: list[Any]) -> EnumeratorLine:
    minutes = [r.minutes for r in rows if r.minutes is not None]
    asked = sum(r.asked for r in rows)
    return EnumeratorLine(
        enumerator=name, interviews=len(rows),
        median_minutes=round(median(minutes), 1) if minutes else None,
        shortest_minutes=min(minutes) if minutes else None,
        hard=sum(r.hard_findings for r in rows), soft=sum(r.soft_findings for r in rows),
        dont_know_share=sum(r.dont_know for r in rows) / asked if asked else None,
        refused_share=sum(r.refused for r in rows) / asked if asked else None,
    )  # fmt: skip
