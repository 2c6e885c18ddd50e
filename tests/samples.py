"""Small questionnaires made for tests."""

from __future__ import annotations

from typing import Any

from skavo.core.interview.engine import Engine
from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.script import Code, CodeList, Part, Script, ScriptCheck


def part(level: int, kind: str, variable: str, **more: Any) -> Part:
    """A line with a wording made of its name; `must` and `should` are lists of rules, or of checks with their messages."""
    must, should = ([_check(c) for c in more.pop(strength, [])] for strength in ("must", "should"))
    wording = more.pop("wording", {"en": f"Wording of {variable}"})
    identity = more.pop("id", f"id_{variable}")
    return Part(
        id=identity,
        level=level,
        kind=kind,
        variable=variable,
        wording=wording,
        must_hold=must,
        should_hold=should,
        **more,
    )


def _check(rule: str | ScriptCheck) -> ScriptCheck:
    return rule if isinstance(rule, ScriptCheck) else ScriptCheck(rule=rule)


def code_list(name: str, *codes: str, specify: str = "", exclusive: str = "") -> CodeList:
    entries = [
        Code(code=c, label={"en": c.capitalize()}, specify=c == specify, exclusive=c == exclusive) for c in codes
    ]
    return CodeList(name=name, codes=entries)


def script(*parts: Part, lists: tuple[CodeList, ...] = (), languages: tuple[str, ...] = ("en",)) -> Script:
    return Script(
        name="sample", title={"en": "Sample"}, languages=list(languages), parts=list(parts), code_lists=list(lists)
    )


def release_of(sample: Script) -> Release:
    """The loaded release; fails with the faults where there are any."""
    compiled = compile_script(sample)
    assert compiled.release is not None, [f"{f.field}: {f.message}" for f in compiled.errors]
    return Release(compiled.release)


def staff_script() -> Script:
    """A roster by number, a filtered list, other-specify, checks over rows, a derived value."""
    wards = CodeList(
        name="ward",
        codes=[
            Code(code="k1", label={"en": "Kesk one"}, attributes={"island": "kesk"}),
            Code(code="l1", label={"en": "Luma one"}, attributes={"island": "luma"}),
        ],
    )
    return script(
        part(1, "section", "intro"),
        part(2, "yes/no", "consent", answer_needed="yes"),
        part(1, "section", "main", asked_when="consent is yes"),
        part(2, "single answer", "island", code_list="island"),
        part(2, "single answer", "ward", code_list="ward", code_filter="ward.island is island"),
        part(2, "whole number", "workers", must=["workers between 1 and 40"], special_answers=["dont_know", "refused"]),
        part(2, "roster", "staff", repeated="workers times"),
        part(3, "text", "name", wording={"en": "Name of {row}"}),
        part(3, "whole number", "age", wording={"en": "How old is {name}?"}, should=["age >= 14"]),
        part(3, "decimal", "hours", asked_when="age >= 14"),
        part(2, "derived value", "posts", derived="round(sum(staff.hours) / 40, 2)"),
        part(2, "multiple answer", "tools", code_list="tool", must=["count(tools) <= workers"]),
        part(2, "text", "remarks", asked_when="any(staff where age < 14) or tools includes saw"),
        lists=(
            code_list("island", "kesk", "luma"),
            wards,
            code_list("tool", "saw", "vice", "other", "none", specify="other", exclusive="none"),
        ),
    )


def staff_engine(answers: dict[str, Any] | None = None) -> Engine:
    return Engine(release_of(staff_script()), answers=answers)
