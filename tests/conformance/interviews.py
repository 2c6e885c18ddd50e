"""Whole interviews: what the engine says of each has to be the same, to the byte, in CPython and on the phone."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from skavo.core.interview.release import Release
from skavo.core.questionnaire.compile import compile_script
from skavo.core.questionnaire.help import EXAMPLE_ANSWERS, EXAMPLE_OUTSIDE, HELP, example_script
from skavo.core.questionnaire.script import Code, CodeList, Part, Script, UnitList, UnitOfMeasure
from skavo.core.rehearsal.rehearse import rehearse
from tests.conformance.cases import ANSWER_SETS, CASES, conformance_script
from tests.samples import code_list, part, script, staff_script

NOW = "2027-03-14T10:00:00+00:00"
EXAMPLES = [example for topic in HELP for example in topic.examples]
MADE_UP = 30


@dataclass(frozen=True)
class Interview:
    """A release and an interview made with it, as JSON; `rules` counts the rules with a known result in it."""

    name: str
    release: str
    interview: str
    outside: str
    rules: int = 0


def every_kind_script() -> Script:
    """Every kind of question, nested rosters, random orders, local units, in two languages."""
    both = {"en": "How is {ward} with {row}?", "fr": "Comment va {ward} avec {row} ?"}
    sample = script(
        part(1, "section", "start"),
        part(2, "single answer", "ward", code_list="ward", answer_needed="yes"),
        part(2, "multiple answer", "tools", code_list="tool", order="random", least=1, most=3, answer_needed="yes"),
        part(2, "ranking", "worst", code_list="tool", most=2),
        part(2, "quantity", "scrap", unit="scrap_unit", most=300, must=["scrap >= 1 kg"]),
        part(2, "date", "opened", must=["opened between 1990-01-01 and today"]),
        part(2, "time", "closes"),
        part(2, "date-time", "visited", must=["visited <= now"]),
        part(2, "point", "door", must=["accuracy(door) <= 12"]),
        part(2, "path", "way"),
        part(2, "area", "yard"),
        part(2, "photo", "front"),
        part(2, "signature", "signed"),
        part(2, "scanned code", "tag", mask="AA999"),
        part(2, "instrument", "scale", unit="kg"),
        part(2, "unit", "shop", register_name="shops"),
        part(2, "yes/no", "open_now", special_answers=["dont_know", "refused"]),
        part(1, "section", "people", order="random", asked_when="open_now is not no"),
        part(2, "whole number", "workers", must=["workers between 0 and 4"], default="2", answer_needed="yes"),
        part(2, "text", "remark", least=2, most=9, should=["length(remark) > 4"]),
        part(1, "roster", "staff", repeated="workers times"),
        part(2, "text", "name", wording=both),
        part(2, "whole number", "age", should=["age >= 14"], special_answers=["dont_know"]),
        part(2, "roster", "tool_of", repeated="for each code in tools"),
        part(
            3,
            "decimal",
            "hours",
            must=["hours between 0 and 50 or tool_of is drill"],
            asked_when="age > 9",
            wording={"en": "Hours with the {tool_of}?", "fr": "Heures avec {tool_of} ?"},
        ),
        part(2, "derived value", "share_of_age", derived="round(age / sum(staff.age), 6)"),
        part(2, "text", "eldest", asked_when="age = highest(staff.age)"),
        part(2, "derived value", "hours_all", derived="sum(tool_of.hours)"),
        part(2, "derived value", "hours_saw", derived="sum(tool_of.hours where tool_of is saw)"),
        part(1, "roster", "visit", repeated="while again is yes"),
        part(2, "yes/no", "again"),
        part(1, "read-back", "workers_ok", reads_back="workers"),
        part(1, "derived value", "how_far", derived="length(way)"),
        part(1, "derived value", "density", derived="round(count(staff) / size(yard) * 10000, 4)"),
        part(1, "carried value", "before", derived="earlier.workers"),
        lists=(
            CodeList(
                name="ward",
                codes=[Code(code=c, label={"en": c.upper(), "fr": f"le {c}"}) for c in ("k1", "l1")],
            ),
            code_list("tool", "saw", "vice", "drill", "other", "none", specify="other", exclusive="none"),
        ),
        languages=("en", "fr"),
    )
    sack = UnitOfMeasure(unit="sack", dimension="mass", factor="if ward is k1 then 40 else 50", label={"fr": "sac"})
    sample.unit_lists = [UnitList(name="scrap_unit", units=[UnitOfMeasure(unit="kg", dimension="mass"), sack])]
    return sample


def _interview(name: str, sample: Script, answers: dict[str, Any], rules: int = 0, **more: Any) -> Interview:
    compiled = compile_script(sample)
    assert compiled.release is not None, [f"{f.field}: {f.message}" for f in compiled.errors]
    interview = {"answers": answers, "kept": more.pop("kept", {}), "language": more.pop("language", "en")}
    outside = {"now": NOW, "interview.seed": name, "enumerator.name": "Ilse Varn", **more}
    return Interview(name, json.dumps(compiled.release), json.dumps(interview), json.dumps(outside), rules)


def interviews() -> list[Interview]:
    found = [
        _interview(f"table {i}", conformance_script(), answers, rules=len(CASES))
        for i, answers in enumerate(ANSWER_SETS)
    ]
    examples = example_script()
    examples.parts += [
        Part(id=f"r{i}", kind="derived value", variable=f"r{i}", derived=e.rule) for i, e in enumerate(EXAMPLES)
    ]
    found.append(_interview("help", examples, EXAMPLE_ANSWERS, rules=len(EXAMPLES), **EXAMPLE_OUTSIDE))
    found += [_interview(f"staff {i}", staff_script(), answers) for i, answers in enumerate(STAFF)]
    found += [_interview(f"spoiled {i}", every_kind_script(), answers) for i, answers in enumerate(SPOILED)]
    return found + _made_up()


def _made_up() -> list[Interview]:
    sample = every_kind_script()
    compiled = compile_script(sample).release
    assert compiled is not None
    rehearsal = rehearse(Release(compiled), MADE_UP, 11, now=datetime(2027, 3, 14, 10, tzinfo=UTC))
    return [
        _interview(f"made up {i}", sample, answers, language=("en", "fr")[i % 2], earlier={"workers": i})
        for i, answers in enumerate(rehearsal.answers)
    ]


STAFF: list[dict[str, Any]] = [
    {},
    {"consent": True, "workers": 60},
    {"consent": True, "island": "kesk", "ward": "l1", "workers": 2, "staff/1/name": "Bo", "staff/1/age": 12, "tools": ["other", "none"]},
    {"consent": "perhaps", "workers": "many", "gone": 1},
    {"consent": True, "workers": {"special": "refused"}, "tools": ["saw"], "remarks": "é ü ع"},
]  # fmt: skip
SPOILED: list[dict[str, Any]] = [
    {"ward": "nowhere", "scrap": 3, "opened": "soon", "door": {"latitude": 99}, "front": "p.jpg"},
    {"ward": "k1", "scrap": {"amount": "9", "unit": "sack"}, "tag": "12", "remark": "x", "workers": 3, "staff": {"removed": [2]}},
    {"ward": "l1", "tools": ["saw", "none"], "worst": ["saw", "vice", "drill"], "open_now": {"special": "dont_know"}},
    {"visit/1/again": True, "visit/2/again": True, "visit": {"removed": [1]}, "workers": 1, "workers_ok": {"wrong": 1}},
    {"visited": "2028-01-01T00:00+02:00", "closes": "24:00", "scale": {"amount": "1,5"}, "shop": "nobody"},
]  # fmt: skip
