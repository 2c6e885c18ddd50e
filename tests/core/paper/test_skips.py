"""Where an answer leads on paper: past what it alone rules out, and not a line further."""

from __future__ import annotations

import random
from datetime import UTC, datetime
from typing import Any

import pytest

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.paper.skips import END, is_met, skips_of
from skavo.core.questionnaire.script import Part, Script
from skavo.core.rehearsal.make_up import make_up
from skavo.core.rehearsal.reading import ReleaseReading
from tests.samples import code_list, part, release_of, script
from tests.workshop import workshop_script

YES_NO = {"yes": True, "no": False}


def leads(sample: Script, variable: str, answers: dict[str, Any] = YES_NO) -> dict[str, str]:
    release = release_of(sample)
    found = skips_of(release, release.parts[release.by_name[variable]], answers)
    return {name: "end" if target == END else release.parts[target].variable for name, target in found.items()}


def asked(*conditions: str) -> Script:
    """A yes/no question `q`, then a question for each condition, `a`, `b`, …"""
    parts: list[Part] = [part(1, "yes/no", "before"), part(1, "yes/no", "q")]
    parts += [part(1, "yes/no", "abcdefg"[n], asked_when=text) for n, text in enumerate(conditions)]
    return script(*parts)


@pytest.mark.parametrize(
    ("conditions", "expected"),
    [
        (("q is yes", ""), {"no": "b"}),
        (("", "q is yes"), {}),
        (("q is yes", "q is no", ""), {"no": "b"}),
        (("q is no", "q is yes", ""), {"yes": "b"}),
        (("q is yes",), {"no": "end"}),
        (("q is yes and before is yes", ""), {"no": "b"}),
        (("q is yes or before is yes", ""), {}),
        (("not (q is no or before is no)", ""), {"no": "b"}),
        (("not (q is no and before is no)", ""), {}),
        (("before is yes", ""), {}),
        # What is ruled out is not answered, and rules out what asks for its answer.
        (("q is yes", "a is yes", ""), {"no": "c"}),
        (("q is yes", "a is answered", ""), {"no": "c"}),
        (("q is yes", "a is missing", ""), {"no": "b"}),
        (("q is yes", "a is yes or before is yes", ""), {"no": "b"}),
        (("q is yes", "a is yes and before is yes", ""), {"no": "c"}),
    ],
)
def test_an_answer_leads_past_what_it_rules_out(conditions: tuple[str, ...], expected: dict[str, str]) -> None:
    assert leads(asked(*conditions), "q") == expected


def test_whole_sections_and_rosters_are_passed_over() -> None:
    sample = script(
        part(1, "yes/no", "q"),
        part(1, "multiple answer", "m", code_list="l", asked_when="q is yes"),
        part(1, "roster", "r", repeated="for each code in m"),
        part(2, "text", "name"),
        part(1, "section", "s", asked_when="q is yes"),
        part(2, "text", "inside"),
        part(1, "text", "last"),
        lists=(code_list("l", "x", "none"),),
    )
    sample.code_lists[0].codes[1].exclusive = True
    assert leads(sample, "q") == {"no": "last"}
    assert leads(sample, "m", {"x": ("x",), "none": ("none",)}) == {"none": "inside"}


def test_nothing_leads_out_of_a_line_of_a_roster() -> None:
    sample = script(
        part(1, "whole number", "n"),
        part(1, "roster", "r", repeated="n times"),
        part(2, "yes/no", "paid"),
        part(2, "decimal", "pay", asked_when="paid is yes"),
        part(1, "text", "last"),
    )
    assert leads(sample, "paid") == {"no": "end"}


@pytest.mark.parametrize("number", range(25))
def test_no_made_up_interview_is_asked_what_the_paper_skips(number: int) -> None:
    release = release_of(workshop_script())
    reading, known = ReleaseReading(release), {"now": datetime(2027, 3, 14, 10, tzinfo=UTC)}
    engine = make_up(reading, random.Random(number), dict(known)).engine
    for asking in release.parts:
        if asking.kind.name not in ("yes/no", "single answer") or asking.rosters:
            continue
        value = engine.values[asking.index].get(())
        target = None if value is None else skips_of(release, asking, {"given": value}).get("given")
        if target is not None:
            end = len(release.parts) if target == END else target
            assert asked_between(release, engine, asking.end, end) == [], asking.variable


def asked_between(release: Release, engine: Engine, start: int, end: int) -> list[str]:
    inside = [p for p in release.parts[start:end] if is_met(p)]
    return [p.variable for p in inside if any(engine.asked[p.index].values())]
