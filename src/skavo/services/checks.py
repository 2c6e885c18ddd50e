"""The checks station: what the rules found in the interviews that arrived, and how enumerators differ."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from statistics import median
from typing import Any

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.services.desk import Conditions, Desk
from skavo.services.distances import NEAR_METRES, numbers_far
from skavo.services.source_checks import SourceCheckFound, checks_of_study
from skavo.store.models import Interview

FAR, ACROSS = "far_from_unit", "across_sources"


class CheckLine(BaseModel):
    """One rule or built-in check that was broken, and how often; `id` names it in the ledger's address."""

    id: str
    questionnaire_id: int
    code: str
    strength: str
    variable: str
    text: str
    interviews: int
    kept: int


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


def show_checks(desk: Desk, study_id: int) -> Checks:
    """What was broken, and each enumerator’s work, over all interviews that count."""
    columns = (
        Interview.enumerator, Interview.minutes, Interview.hard_findings, Interview.soft_findings, Interview.asked,
        Interview.dont_know, Interview.refused,
    )  # fmt: skip
    with desk.store.reading() as session:
        rows = list(session.execute(select(*columns).where(*_counted(desk, study_id))))
        found = _findings(session, _counted(desk, study_id))
        far = numbers_far(desk, session, study_id, _counted(desk, study_id))
        across = checks_of_study(desk, session, study_id)
    minutes = [r.minutes for r in rows if r.minutes is not None]
    return Checks(
        interviews=len(rows),
        checks=_in_order([*_checks(found), *_far(far), *_across(across)]),
        enumerators=_enumerators(rows),
        median_minutes=round(median(minutes), 1) if minutes else None,
    )


def _counted(desk: Desk, study_id: int) -> Conditions:
    """Interviews that count: neither practice nor set aside."""
    return (*desk.reach(study_id), Interview.practice.is_(False), Interview.state != "set aside")


@dataclass(frozen=True)
class _Broken:
    """A finding, with the number of its interview and the questionnaire that asks it."""

    questionnaire_id: int
    number: int
    finding: dict[str, Any]


_Found = dict[str, list[_Broken]]


def _findings(session: Session, counted: Conditions) -> _Found:
    """What was broken, by the identity of the check."""
    broken = Interview.hard_findings + Interview.soft_findings > 0
    found: _Found = defaultdict(list)
    columns = (Interview.questionnaire_id, Interview.number, Interview.findings)
    for questionnaire_id, number, findings in session.execute(select(*columns).where(*counted, broken)):
        for finding in findings:
            found[_identity(questionnaire_id, finding)].append(_Broken(questionnaire_id, number, finding))
    return found


def _identity(questionnaire_id: int, finding: dict[str, Any]) -> str:
    return f"{questionnaire_id}:{finding['code']}:{_variable(finding)}:{finding['check']}"


def _variable(finding: dict[str, Any]) -> str:
    return str(finding["path"]).split("/")[-1]


def numbers_breaking(desk: Desk, session: Session, study_id: int, check: str) -> list[int]:
    """The numbers of the interviews that break the check with this identity."""
    if f":{ACROSS}:" in check:
        return next((one.numbers for one in checks_of_study(desk, session, study_id) if _across_id(one) == check), [])
    if check.endswith(f":{FAR}"):
        far = numbers_far(desk, session, study_id, _counted(desk, study_id))
        return next((numbers for questionnaire_id, numbers in far.items() if _far_id(questionnaire_id) == check), [])
    return sorted({broken.number for broken in _findings(session, _counted(desk, study_id)).get(check, [])})


def _checks(found: _Found) -> list[CheckLine]:
    lines = []
    for identity, broken in found.items():
        first = broken[0].finding
        lines.append(
            CheckLine(
                id=identity,
                questionnaire_id=broken[0].questionnaire_id,
                code=first["code"],
                strength=first["strength"],
                variable=_variable(first),
                text=_rule_text(first),
                interviews=len({one.number for one in broken}),
                kept=sum(1 for one in broken if one.finding["kept"]),
            )
        )
    return lines


def _far(far: dict[int, list[int]]) -> list[CheckLine]:
    """A check that no interview can make of itself: whether it was taken where its unit lies."""
    text = f"taken more than {NEAR_METRES} m from where its unit lies"
    return [
        CheckLine(
            id=_far_id(questionnaire_id), questionnaire_id=questionnaire_id, code=FAR, strength="should", variable="",
            text=text, interviews=len(numbers), kept=0,
        )
        for questionnaire_id, numbers in far.items()
    ]  # fmt: skip


def _far_id(questionnaire_id: int) -> str:
    return f"{questionnaire_id}:{FAR}"


def _across(checks: list[SourceCheckFound]) -> list[CheckLine]:
    """Checks across sources that some row of the data set breaks."""
    return [
        CheckLine(
            id=_across_id(one), questionnaire_id=one.check.questionnaire_id, code=ACROSS, strength=one.check.strength,
            variable="", text=one.check.words or one.check.rule, interviews=len(one.numbers), kept=0,
        )
        for one in checks if one.numbers
    ]  # fmt: skip


def _across_id(one: SourceCheckFound) -> str:
    return f"{one.check.questionnaire_id}:{ACROSS}:{one.check.id}"


def _in_order(lines: list[CheckLine]) -> list[CheckLine]:
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
